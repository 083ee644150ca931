// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/commands.h"
#include "apps/cli/options.h"
#include "apps/cli/report.h"
#include "core/base/error.h"
#include "core/base/iso_date.h"
#include "core/ladder/ladder_plan.h"
#include "core/report/ladder_reports.h"

#include <nlohmann/json.hpp>

namespace wheelwright {
namespace {

using Json = nlohmann::ordered_json;

struct LadderArguments {
    std::string job, on;
    bool json = false;
};

Json orNull(const std::optional<double> &v) {
    return v ? Json(*v) : Json(nullptr);
}

Json describe(const Rung &r) {
    Json out{{"id", r.id},
             {"kind", rungKindKey(r.kind)},
             {"state", rungStateKey(r.state)},
             {"content", r.content},
             {"boost_kpa", orNull(r.boostKpa)},
             {"cut_kpa", r.cutKpa > 0 ? Json(r.cutKpa) : Json(nullptr)},
             {"solenoid_duty", orNull(r.solenoidDuty)},
             {"pulls", r.pulls}};
    if (!r.why.empty()) out["why"] = r.why;
    Json pours = Json::array();
    for (const RungPour &p : r.pours)
        pours.push_back({{"fuel", p.name},
                         {"count", p.count},
                         {"can_l", p.canL > 0 ? Json(p.canL) : Json(nullptr)},
                         {"litres", p.litres},
                         {"price", p.price}});
    if (r.state == RungState::next || r.state == RungState::later) {
        out["drain_l"] = r.drainL;
        out["drain_cans"] = r.drainCans;
        out["pours"] = std::move(pours);
        out["price"] = r.price;
        out["minutes"] = r.minutes;
        out["burn_l"] = r.burnL;
        if (r.volumeL > 0) {
            out["volume_l"] = r.volumeL;
            out["expected_content"] = r.expected.value;
            out["expected_content_sigma"] = r.expected.sigma;
            out["settle_min"] = r.settleMin;
            out["settle_injectors_min"] = r.settleInjectorsMin;
        }
    }
    if (hasPulls(r.kind)) {
        const RungDemand &d = r.demand;
        out["fuel_multiplier"] = r.multiplier;
        out["duty"] = d.duty;
        out["duty_rpm"] = d.rpm;
        out["duty_load_kpa"] = d.loadKpa;
        out["pump_share"] = orNull(d.pumpShare);
        out["spark_deg"] = d.sparkDeg;
        out["lambda"] = d.lambda;
        out["spark_rpm"] = d.sparkRpm;
        out["spark_load_kpa"] = d.sparkLoadKpa;
        out["peak_kpa"] = orNull(d.peakKpa);
    }
    out["remarks"] = r.remarks;
    return out;
}

Json describe(const Ladder &l) {
    Json rungs = Json::array(), shopping = Json::array();
    for (const Rung &r : l.rungs)
        rungs.push_back(describe(r));
    for (const ShoppingItem &i : l.shopping)
        shopping.push_back({{"fuel", i.name},
                            {"count", i.count},
                            {"can_l", i.canL > 0 ? Json(i.canL) : Json(nullptr)},
                            {"litres", i.litres},
                            {"price", i.price},
                            {"cautions", i.cautions}});
    const Rung *next = l.next();
    Json out{{"next", next ? Json(next->id) : Json(nullptr)}};
    if (!l.ends.empty()) out["ends"] = l.ends;
    out["remarks"] = l.remarks;
    out["rungs"] = std::move(rungs);
    out["shopping"] = std::move(shopping);
    out["poured_l"] = l.pouredL;
    out["drained_l"] = l.drainedL;
    out["burned_l"] = l.burnedL;
    out["price"] = l.price;
    out["spent"] = l.spent;
    out["minutes"] = l.minutes;
    out["every_way_tried"] = !l.thinned;
    return out;
}

void requireDate(const std::string &on) {
    if (!on.empty() && !isIsoDate(on))
        throw InputError("--today", verbatim("a date such as 2001-02-03"), "'" + echoed(on, 40) + "'");
}

int plan(const LadderArguments &a) {
    requireDate(a.on);
    const Study study(loadJob(a.job));
    const Ladder ladder = planLadder(study, a.on);
    if (a.json)
        print(describe(ladder), true);
    else
        writeText("-", plainText(ladderReport(ladder), {}));
    return ladder.ends.empty() ? exitGood : exitFindings;
}

} // namespace

void addLadderCommand(CLI::App &app, int &exitCode) {
    CLI::App *ladder = app.add_subcommand("ladder", "The way up, rung by rung, and what passes them");
    ladder->require_subcommand(1);
    auto a = std::make_shared<LadderArguments>();
    CLI::App *sub = ladder->add_subcommand(
        "plan", "All rungs from the first start to the hand-over, with what to pour. Exit code 1 where "
                "something ends it before the goal");
    sub->add_option("job", a->job, "Job file")->required();
    sub->add_option("--today", a->on, "Date, ISO 8601: flags what was opened too long ago");
    sub->add_flag("--json", a->json, "Print JSON");
    sub->callback([a, &exitCode] { exitCode = plan(*a); });
}

} // namespace wheelwright
