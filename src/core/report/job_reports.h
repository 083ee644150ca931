// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/report/flow_reports.h"

#include <span>
#include <string>
#include <string_view>

namespace wheelwright {

/// A report that a job gives at a content. today: ISO 8601 or empty; what keeps only for so long is judged by
/// it.
struct JobReport {
    std::string_view id; ///< stable: "flow.pumps"
    PhraseText title;
    WorkedReport (*make)(const FlowLook &look, std::string_view today);
};
/// Adding one is a line here.
std::span<const JobReport> allJobReports();
/// Throws InputError naming the known ids.
const JobReport &jobReportById(std::string_view id);

} // namespace wheelwright
