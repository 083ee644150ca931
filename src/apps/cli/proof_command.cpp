// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/commands.h"
#include "apps/cli/log_evidence.h"
#include "apps/cli/log_options.h"
#include "apps/cli/options.h"
#include "apps/cli/report.h"
#include "apps/cli/table_target.h"
#include "core/base/error.h"
#include "core/proposal/boost_pulls.h"
#include "core/proposal/boost_sensors.h"
#include "core/proposal/fuel_change_proof.h"
#include "core/study/boost_plan.h"

#include <nlohmann/json.hpp>

namespace wheelwright {
namespace {

using Json = nlohmann::ordered_json;

struct ProofArguments : ThroughLogs {
    std::string delay = "auto";
    double content = 0;
    bool apply = false;
};

std::string_view unitOf(Dimension dimension) {
    switch (dimension) {
    case Dimension::sparkAngle:
        return "deg";
    case Dimension::pressureDifference:
        return "kpa";
    case Dimension::volumeFlow:
        return "cc_min";
    default:
        return "share";
    }
}

int proveChange(const ProofArguments &a) {
    const Study study(loadJob(a.job));
    if (a.logs.size() != 2)
        throw InputError("--log", verbatim("two logs, one after the other"), std::to_string(a.logs.size()));
    const auto reviews = reviewsOf(study.job(), a.job, a.logs);
    if (reviews.size() != 2)
        throw InputError("--log", verbatim("two logs that can be read"), std::string("fewer"));
    FuelSampleOptions options;
    if (a.delay != "auto") options.delayMs = numberFrom("--delay-ms", a.delay, between(0, 2000));
    const FuelChangeProof proof = proveFuelChange(study, *reviews[0], *reviews[1], options);
    Json moves = Json::array();
    for (const FuelMove &m : proof.moves) {
        const bool judged = m.verdict != MoveVerdict::notJudged;
        const auto number = [judged](double v) { return judged ? Json(v) : Json(nullptr); };
        Json move{{"quantity", m.quantity},
                  {"unit", unitOf(m.dimension)},
                  {"expected", number(m.expected)},
                  {"measured", number(m.measured)},
                  {"residual", number(m.residual)},
                  {"sigma", number(m.sigma)},
                  {"within_95", number(m.around())},
                  {"tolerance", m.tolerance},
                  {"places", m.places},
                  {"calibrations", proof.twoCalibrations ? 2 : 1},
                  {"verdict", moveVerdictKey(m.verdict)}};
        if (!m.why.empty()) move["why"] = m.why;
        moves.push_back(std::move(move));
    }
    print(moves, a.json);
    return proof.holds() ? exitGood : exitFindings;
}

int readBoost(const CLI::App &sub, const ProofArguments &a) {
    JobEdit edit(a.job, a.apply);
    const Study study(edit.before());
    const auto reviews = reviewsOf(study.job(), a.job, a.logs);
    std::vector<PullBoost> pulls = readPulls(reviews);
    const double window = limitOf(study.job(), "evidence.content_window");
    if (given(sub, "--content"))
        std::erase_if(pulls,
                      [&](const PullBoost &p) { return !(std::abs(p.content - a.content) <= window); });
    Json list = Json::array();
    bool odd = false;
    const auto known = [](double v) { return v == v ? Json(v) : Json(nullptr); };
    for (const PullBoost &p : pulls) {
        odd = odd || !p.said.empty();
        Json one{{"log", p.log},   {"from_s", p.beginS},          {"to_s", p.endS},
                 {"gear", p.gear}, {"content", known(p.content)}, {"reached", p.reached}};
        if (p.reached) {
            one["reached_rpm"] = p.reachedRpm;
            one["target_kpa_gauge"] = known(p.targetKpa);
            one["held_kpa_gauge"] = p.heldKpa;
            one["solenoid_duty"] = known(p.duty);
            one["solenoid_moved"] = p.dutyMoved;
            one["overshoot_kpa"] = p.overshootKpa;
            one["drift_kpa"] = p.driftKpa;
            one["drift_sigma_kpa"] = p.driftSigmaKpa;
            one["wave_kpa"] = p.waveKpa;
            one["wave_hz"] = p.waveHz;
            one["said"] = p.said;
        }
        list.push_back(std::move(one));
    }
    Json out{{"pulls", list}};
    const Job after = withBoostPoints(edit.before(), pulls);
    Json groups = Json::array();
    for (const BoostGroup &g : boostGroups(after)) {
        Json group{{"gear", g.gear},
                   {"content", g.content},
                   {"points", g.points.size()},
                   {"fitted", g.fit.has_value()}};
        groups.push_back(std::move(group));
    }
    out["groups"] = groups;
    if (const auto line = boostOverContent(pulls))
        out["content_boost"] = {{"pulls", line->pulls},
                                {"contents_from", line->from},
                                {"contents_to", line->to},
                                {"held_kpa_gauge_per_content", line->held},
                                {"standard_error", line->heldError},
                                {"target_kpa_gauge_per_content", known(line->target)}};
    else
        out["content_boost"] = nullptr;
    Json sensors = Json::array();
    for (const SensorComparison &c : compareBoostSensors(reviews)) {
        odd = odd || c.verdict == MoveVerdict::off;
        const bool judged = c.verdict != MoveVerdict::notJudged;
        const auto number = [judged](double v) { return judged ? Json(v) : Json(nullptr); };
        sensors.push_back({{"log", c.log},
                           {"seconds", c.stretches},
                           {"from_kpa", number(c.fromKpa)},
                           {"to_kpa", number(c.toKpa)},
                           {"at_kpa", number(c.middleKpa)},
                           {"dyno_less_controller_kpa", number(c.offKpa)},
                           {"standard_error", number(c.offError)},
                           {"per_100_kpa", number(c.perKpa * 100)},
                           {"per_100_kpa_standard_error", number(c.perKpaError * 100)},
                           {"tolerance_kpa", c.toleranceKpa},
                           {"verdict", moveVerdictKey(c.verdict)},
                           {"said", c.said}});
    }
    out["sensors"] = sensors;
    out["points_added"] = after.boost.points.size() - edit.before().boost.points.size();
    if (a.apply && after.boost.points.size() > edit.before().boost.points.size())
        edit.commit(after, "Points of boost from pulls", CellOrigin::log);
    print(out, a.json);
    return odd ? exitFindings : exitGood;
}

} // namespace

void addProofCommands(CLI::App *evidence, int &exitCode) {
    const auto a = std::make_shared<ProofArguments>();
    CLI::App *boost =
        evidence->add_subcommand("boost", "What boost did in each pull, and its curve over duty");
    addLogOptions(boost, *a, currentLogs);
    addNumber(boost, "--content", a->content, fraction(), "Only pulls near this content");
    boost->add_flag("--apply", a->apply, "Write the points of pulls that held still");
    boost->callback([a, boost, &exitCode] { exitCode = readBoost(*boost, *a); });
    CLI::App *proof = evidence->add_subcommand(
        "proof", "One calibration, two logs at two contents: did everything move as its tables say?");
    addLogOptions(proof, *a, currentLogs);
    proof->add_option("--delay-ms", a->delay, "Delay of λ: auto, or one number for all");
    proof->callback([a, &exitCode] { exitCode = proveChange(*a); });
}

} // namespace wheelwright
