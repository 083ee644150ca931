// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/report/worked_report.h"
#include "core/study/headroom.h"
#include "core/study/return_flow.h"
#include "core/study/spray_map.h"
#include "core/verify/verdict.h"

#include <memory>
#include <vector>

namespace wheelwright {

/// What the hardware is asked about: a job, what has been judged of it, and the content looked at.
struct FlowLook {
    std::shared_ptr<const Study> study;
    std::shared_ptr<const Verdict> verdict{}; ///< nullptr: not judged yet; its numbers are left out
    double content = 0;
};

/// What ends the boost first, and the power that the fuel is enough for.
/// The same as lines over content, as far as they are near what is asked; none without a frontier.
std::optional<ReportChart> frontierChart(const Frontier &frontier);
WorkedReport frontierReport(const FlowLook &look, const std::shared_ptr<const Frontier> &frontier);
/// Duty and pulses at their worst, and which injector goes where.
WorkedReport injectorsReport(const FlowLook &look);
/// The least that comes back, the pumps' share, where to freeze a sensor in the return, and sag. The map and
/// the line are returnFlow() and freezeLine() of the same study. Without fitted pumps it says what is wanted.
WorkedReport pumpsReport(const FlowLook &look, const EngineMap &returned, const FreezeLine &freeze);
WorkedReport pumpsReport(const FlowLook &look);
/// Spring, logged pulls, and the steps up to the target.
WorkedReport boostReport(const FlowLook &look);
/// What the spray is, and what happens when it stops. cells: sprayMap() of the same study.
WorkedReport sprayReport(const FlowLook &look, const std::vector<SprayCell> &cells);
/// Mechanical injection: mixture, weather, passes, pills one by one.
WorkedReport pillsReport(const FlowLook &look);
/// Main and high-speed pills together, by their area.
Report pillChartReport(const Job &job);

/// Whether a spray is fitted to a job whose fuel a controller meters.
bool sprays(const Job &job);
/// Whether what comes back can be worked out: a controller meters the fuel and pumps are fitted.
bool returnKnown(const Job &job);

} // namespace wheelwright
