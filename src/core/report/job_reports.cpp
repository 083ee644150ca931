// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/job_reports.h"

#include "core/base/error.h"
#include "core/report/calibration_reports.h"
#include "core/report/fuel_reports.h"
#include "core/report/ladder_reports.h"
#include "core/report/run_reports.h"

#include <algorithm>
#include <array>

namespace wheelwright {
namespace {

using Look = const FlowLook &;
using Day = std::string_view;

constexpr std::array reports{
    JobReport{"verdict", MARKED("verdict.title", "Verdict"),
              [](Look l, Day) {
                  return WorkedReport{verdictReport(*l.verdict), {}};
              }},
    JobReport{"flow.frontier", MARKED("flow.frontier", "What ends the boost first"),
              [](Look l, Day) {
                  const bool controller = l.study->job().control == FuelControl::controller;
                  return frontierReport(
                      l, std::make_shared<const Frontier>(controller ? frontier(*l.study) : Frontier{}));
              }},
    JobReport{"flow.injectors", MARKED("flow.injectors", "Injectors"),
              [](Look l, Day) { return injectorsReport(l); }},
    JobReport{"flow.pumps", MARKED("flow.pumps", "Pumps and return"),
              [](Look l, Day) { return pumpsReport(l); }},
    JobReport{"flow.boost", MARKED("flow.boost", "Boost"), [](Look l, Day) { return boostReport(l); }},
    JobReport{"flow.spray", MARKED("flow.spray", "Water and methanol spray"),
              [](Look l, Day) {
                  return sprayReport(l, sprays(l.study->job()) ? sprayMap(*l.study, l.content)
                                                               : std::vector<SprayCell>{});
              }},
    JobReport{"flow.pills", MARKED("flow.pills", "Mechanical injection"),
              [](Look l, Day) { return pillsReport(l); }},
    JobReport{"fuel.tank", MARKED("tank.now", "In the tank"),
              [](Look l, Day) { return tankReport(l.study->job()); }},
    JobReport{"fuel.shelf", MARKED("shelf.must_be_known", "What must be known before pouring"),
              [](Look l, Day day) {
                  return WorkedReport{shelfReport(shelfOf(l.study->job(), day)), {}};
              }},
    JobReport{"fuel.settling", MARKED("settling", "Until it has settled"),
              [](Look l, Day) {
                  const Job &job = l.study->job();
                  return settlingReport(job, uncertainTankNow(job).content().value, l.content);
              }},
    JobReport{"runs.sheet", MARKED("runs.sheet", "Run sheet"),
              [](Look l, Day) { return runSheetReport(l.study->job(), readableRuns(l.study->job())); }},
    JobReport{
        "runs.scatter", MARKED("runs.scatter.title", "What runs scatter by"),
        [](Look l, Day) {
            const auto sets =
                RunDifferenceFinder(l.study->job()).controlSets(ofOneKind(readableRuns(l.study->job())));
            return scatterReport(sets, scatterOf(sets, {}));
        }},
    JobReport{"runs.boost", MARKED("runs.boost.title", "What boost did"),
              [](Look l, Day) {
                  std::vector<BoostShape> shapes;
                  for (const auto &r : readableRuns(l.study->job()))
                      shapes.push_back(boostShape(*r, ambientOf(l.study->job(), r->run)));
                  return boostShapesReport(shapes);
              }},
    JobReport{"runs.dynos", MARKED("runs.dynos.title", "Dynos against each other"),
              [](Look l, Day) {
                  return dynosReport(dynoFactors(l.study->job(), readableRuns(l.study->job()), {}));
              }},
    JobReport{"ladder.sheet", MARKED("ladder.title", "Ladder"),
              [](Look l, Day day) { return ladderReport(planLadder(*l.study, day)); }},
};

} // namespace

std::span<const JobReport> allJobReports() {
    return reports;
}

const JobReport &jobReportById(std::string_view id) {
    const auto at = std::ranges::find(reports, id, &JobReport::id);
    if (at != reports.end()) return *at;
    std::string known;
    for (const JobReport &r : reports)
        known += (known.empty() ? "" : ", ") + std::string(r.id);
    throw InputError("report", Phrase{MARKED("expected.one_of", "one of {a}"), {}, {known}},
                     "'" + echoed(id, 40) + "'");
}

} // namespace wheelwright
