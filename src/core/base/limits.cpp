// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/limits.h"

#include "core/base/error.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace wheelwright {
namespace {

using D = Dimension;
constexpr PhraseText common = MARKED("origin.common_practice", "common practice");
constexpr PhraseText memory = MARKED("origin.from_memory", "common practice, from memory");

constexpr std::array limits{
    LimitDefinition{"lambda.lean.100kpa",
                    MARKED("limit.lambda.lean.100kpa", "Leanest λ on gasoline up to 100 kPa"), D::mixture,
                    1.05, 0.6, 1.4, common},
    LimitDefinition{
        "lambda.lean.full_load",
        MARKED("limit.lambda.lean.full_load", "Leanest λ on gasoline at full throttle without boost"),
        D::mixture, 0.96, 0.6, 1.4, common},
    LimitDefinition{"lambda.lean.120kpa",
                    MARKED("limit.lambda.lean.120kpa", "Leanest λ on gasoline at 120 kPa"), D::mixture, 0.92,
                    0.6, 1.4, common},
    LimitDefinition{"lambda.lean.150kpa",
                    MARKED("limit.lambda.lean.150kpa", "Leanest λ on gasoline at 150 kPa"), D::mixture, 0.86,
                    0.6, 1.4, common},
    LimitDefinition{"lambda.lean.200kpa",
                    MARKED("limit.lambda.lean.200kpa", "Leanest λ on gasoline at 200 kPa"), D::mixture, 0.82,
                    0.6, 1.4, common},
    LimitDefinition{"lambda.lean.250kpa",
                    MARKED("limit.lambda.lean.250kpa", "Leanest λ on gasoline from 250 kPa"), D::mixture,
                    0.80, 0.6, 1.4, common},
    LimitDefinition{"lambda.lean.ethanol_allowance",
                    MARKED("limit.lambda.lean.ethanol_allowance", "Leaner allowed on pure ethanol by"),
                    D::mixture, 0.03, 0, 0.2, common},
    LimitDefinition{"lambda.lean.methanol_150kpa",
                    MARKED("limit.lambda.lean.methanol_150kpa", "Leanest λ on methanol from 150 kPa"),
                    D::mixture, 0.90, 0.6, 1.4, common},
    LimitDefinition{"lambda.rich.gasoline", MARKED("limit.lambda.rich.gasoline", "Richest λ on gasoline"),
                    D::mixture, 0.70, 0.4, 1, common},
    LimitDefinition{"lambda.rich.ethanol", MARKED("limit.lambda.rich.ethanol", "Richest λ on ethanol"),
                    D::mixture, 0.66, 0.4, 1, common},
    LimitDefinition{"lambda.rich.methanol", MARKED("limit.lambda.rich.methanol", "Richest λ on methanol"),
                    D::mixture, 0.60, 0.4, 1, common},
    LimitDefinition{
        "lambda.model.tolerance",
        MARKED("limit.lambda.model.tolerance", "Fuelling against the need of the content, either way"),
        D::ratio, 0.03, 0.001, 0.5, common},
    LimitDefinition{"spark.monotone.tolerance",
                    MARKED("limit.spark.monotone.tolerance", "Spark that may go the wrong way"),
                    D::sparkAngle, 0.5, 0, 10, common},
    LimitDefinition{"spark.step.cell",
                    MARKED("limit.spark.step.cell", "Spark step between neighbouring cells"), D::sparkAngle,
                    4, 0.1, 30, common},
    LimitDefinition{"spark.step.content",
                    MARKED("limit.spark.step.content", "Spark step per per cent of content"), D::sparkAngle,
                    0.5, 0.01, 10, common},
    LimitDefinition{"boost.overshoot", MARKED("limit.boost.overshoot", "Overshoot above the boost target"),
                    D::pressureDifference, 14, 0, 100, common},
    LimitDefinition{"boost.sensors", MARKED("limit.boost.sensors", "Two sensors of manifold pressure apart"),
                    D::pressureDifference, 5, 0.5, 50, memory},
    LimitDefinition{"boost.map_range.span",
                    MARKED("limit.boost.map_range.span", "Share of the MAP sensor's span that may be used"),
                    D::ratio, 0.95, 0.5, 1, common},
    LimitDefinition{"flow.duty.caution", MARKED("limit.flow.duty.caution", "Injector duty, caution"),
                    D::ratio, 0.85, 0.3, 1, common},
    LimitDefinition{"flow.duty.stop", MARKED("limit.flow.duty.stop", "Injector duty, stop"), D::ratio, 0.95,
                    0.3, 1.2, common},
    LimitDefinition{"flow.min_pulse.room",
                    MARKED("limit.flow.min_pulse.room", "Room over the shortest linear pulse"), D::duration,
                    0.2, 0, 5, common},
    LimitDefinition{"flow.pump.caution",
                    MARKED("limit.flow.pump.caution", "Share of the pump's flow, caution"), D::ratio, 0.9,
                    0.3, 1, common},
    LimitDefinition{"flow.pump.stop", MARKED("limit.flow.pump.stop", "Share of the pump's flow, stop"),
                    D::ratio, 1, 0.3, 1.2, common},
    LimitDefinition{"flow.sag", MARKED("limit.flow.sag", "Rail under the commanded pressure"), D::ratio, 0.05,
                    0, 0.5, common},
    LimitDefinition{"boost.spring_ratio",
                    MARKED("limit.boost.spring_ratio", "Boost over spring pressure, stop"), D::none, 3, 1, 10,
                    common},
    LimitDefinition{"boost.spring_ratio.caution",
                    MARKED("limit.boost.spring_ratio.caution", "Boost over spring pressure, caution"),
                    D::none, 2, 1, 10, common},
    LimitDefinition{"boost.cut.room", MARKED("limit.boost.cut.room", "Overboost cut over the target, least"),
                    D::pressureDifference, 10.342, 0, 100, common},
    LimitDefinition{"boost.step", MARKED("limit.boost.step", "Boost added in one pull, most"),
                    D::pressureDifference, 17.2, 1, 100, common},
    LimitDefinition{"boost.step.duty",
                    MARKED("limit.boost.step.duty", "Solenoid duty added in one pull, most"), D::ratio, 0.1,
                    0.01, 1, common},
    LimitDefinition{"spark.ceiling.margin",
                    MARKED("limit.spark.ceiling.margin", "Spark under its ceiling by"), D::sparkAngle, 1, 0,
                    20, common},
    LimitDefinition{"spark.best.tolerance",
                    MARKED("limit.spark.best.tolerance", "Spark past best spark, most"), D::sparkAngle, 2, 0,
                    20, common},
    LimitDefinition{"correct.steals",
                    MARKED("limit.correct.steals", "Spark that corrections may take on a usual pull"),
                    D::sparkAngle, 2, 0, 30, common},
    LimitDefinition{"content.fault.lean",
                    MARKED("limit.content.fault.lean", "Leaner when the content sensor fails, most"),
                    D::ratio, 0.08, 0, 1, common},
    LimitDefinition{"content.slew", MARKED("limit.content.slew", "Content followed in a second, most"),
                    D::content, 0.02, 0.001, 1, common},
    LimitDefinition{"base.timing", MARKED("limit.base.timing", "Base timing off by, most"), D::sparkAngle, 1,
                    0, 20, common},
    LimitDefinition{"mechanical.lambda.lean",
                    MARKED("limit.mechanical.lambda.lean", "Leanest λ of mechanical methanol"), D::mixture,
                    0.93, 0.4, 1.3, common},
    LimitDefinition{"mechanical.lambda.rich",
                    MARKED("limit.mechanical.lambda.rich", "Richest λ of mechanical methanol"), D::mixture,
                    0.51, 0.3, 1, common},
    LimitDefinition{"aux.loss.tolerance",
                    MARKED("limit.aux.loss.tolerance", "Leaner by, when the spray stops"), D::ratio, 0.03, 0,
                    1, common},
    LimitDefinition{"content.disagreement",
                    MARKED("limit.content.disagreement", "Two opinions on the content that still agree"),
                    D::content, 0.03, 0.001, 0.5, common},
    LimitDefinition{"storage.opened_days", MARKED("limit.storage.opened_days", "Opened alcohol keeps for"),
                    D::days, 14, 0, 3650, common},
    LimitDefinition{"watch.lean", MARKED("limit.watch.lean", "λ in a log over its target, under boost"),
                    D::mixture, 0.03, 0.001, 0.5, common},
    LimitDefinition{"watch.lean.load", MARKED("limit.watch.lean.load", "… from this manifold pressure"),
                    D::pressure, 120, 20, 1000, common},
    LimitDefinition{"watch.knock", MARKED("limit.watch.knock", "Knock retard in a log, most"), D::sparkAngle,
                    0.5, 0, 20, common},
    LimitDefinition{"watch.spark", MARKED("limit.watch.spark", "Spark in a log beside its tables, most"),
                    D::sparkAngle, 1, 0.1, 20, common},
    LimitDefinition{"watch.target",
                    MARKED("limit.watch.target", "Boost target in a log beside its table, most"),
                    D::pressureDifference, 5, 0.1, 100, memory},
    LimitDefinition{"watch.content.jump",
                    MARKED("limit.watch.content.jump", "Content beside its reading before the load, most"),
                    D::content, 0.03, 0.001, 1, memory},
    LimitDefinition{"watch.content.pull",
                    MARKED("limit.watch.content.pull", "Content that may move in a pull"), D::content, 0.02,
                    0.001, 1, memory},
    LimitDefinition{"watch.intake_rise",
                    MARKED("limit.watch.intake_rise", "Intake air hotter by, in a pull, most"),
                    D::temperatureDifference, 20, 1, 200, common},
    LimitDefinition{"watch.coolant", MARKED("limit.watch.coolant", "Coolant in a log, most"), D::temperature,
                    105, 50, 150, common},
    LimitDefinition{"watch.oil", MARKED("limit.watch.oil", "Oil pressure for each 1000 rpm, least"),
                    D::pressureDifference, 69, 0, 500, common},
    LimitDefinition{"watch.battery", MARKED("limit.watch.battery", "Battery in a log, least"), D::voltage,
                    12.5, 6, 30, common},
    LimitDefinition{"watch.flat.shut",
                    MARKED("limit.watch.flat.shut", "Manifold over the open air with a shut throttle, most"),
                    D::ratio, 0.85, 0.3, 2, memory},
    LimitDefinition{
        "watch.flat.open",
        MARKED("limit.watch.flat.open", "Manifold over the open air with an open throttle, least"), D::ratio,
        0.6, 0.1, 1, memory},
    LimitDefinition{"watch.rev_limit",
                    MARKED("limit.watch.rev_limit", "Fuel cut under the stated rev limit by, most"),
                    D::engineSpeed, 200, 0, 5000, memory},
    LimitDefinition{"watch.solenoid",
                    MARKED("limit.watch.solenoid", "Boost beside what its duty usually gives, most"),
                    D::pressureDifference, 20, 1, 200, memory},
    LimitDefinition{"clean.coolant", MARKED("limit.clean.coolant", "Cleaning: coolant from"), D::temperature,
                    70, -40, 150, common},
    LimitDefinition{"clean.after_start",
                    MARKED("limit.clean.after_start", "Cleaning: after a start, not before"), D::seconds, 30,
                    0, 3600, common},
    LimitDefinition{"clean.throttle_rate",
                    MARKED("limit.clean.throttle_rate", "Cleaning: throttle moves in a second by, most"),
                    D::ratio, 0.5, 0.01, 100, memory},
    LimitDefinition{"clean.rpm_rate",
                    MARKED("limit.clean.rpm_rate", "Cleaning: speed moves in a second by, most"),
                    D::engineSpeed, 1500, 1, 100000, memory},
    LimitDefinition{"clean.content",
                    MARKED("limit.clean.content", "Cleaning: content moves in a minute by, most"), D::content,
                    0.005, 0.0001, 1, common},
    LimitDefinition{
        "evidence.delay.at_once",
        MARKED("limit.evidence.delay.at_once", "Delay of λ at any flow; 0 with the next: by the log"),
        D::duration, 0, 0, 2000, common},
    LimitDefinition{"evidence.delay.by_flow",
                    MARKED("limit.evidence.delay.by_flow", "Delay of λ at 1 g/s of air, over that, in ms"),
                    D::none, 0, 0, 100000, common},
    LimitDefinition{"evidence.delay.lag", MARKED("limit.evidence.delay.lag", "Lag of the λ sensor"),
                    D::duration, 0, 0, 2000, common},
    LimitDefinition{"evidence.least_hits", MARKED("limit.evidence.least_hits", "Samples in a cell, least"),
                    D::none, 5, 0.1, 100000, common},
    LimitDefinition{"evidence.content_window",
                    MARKED("limit.evidence.content_window", "Samples count for a content within"), D::content,
                    0.05, 0.005, 0.5, common},
    LimitDefinition{"evidence.knock_from",
                    MARKED("limit.evidence.knock_from", "Spark is sought from this manifold pressure"),
                    D::pressure, 80, 0, 300, common},
    LimitDefinition{"evidence.clean_times",
                    MARKED("limit.evidence.clean_times", "Clean logs before a search for spark ends"),
                    D::count, 2, 1, 20, common},
    LimitDefinition{"evidence.sweep.lambda",
                    MARKED("limit.evidence.sweep.lambda", "λ moves over a sweep of spark by, most"),
                    D::mixture, 0.02, 0.001, 0.5, common},
    LimitDefinition{"evidence.damping",
                    MARKED("limit.evidence.damping", "Share of an error that is corrected"), D::ratio, 0.7,
                    0.05, 1, common},
    LimitDefinition{"evidence.clamp", MARKED("limit.evidence.clamp", "Correction of a cell at once, most"),
                    D::ratio, 0.08, 0.005, 1, common},
    LimitDefinition{"evidence.ceiling_sigma",
                    MARKED("limit.evidence.ceiling_sigma", "Learned ceilings count while known to ± 1 σ of"),
                    D::sparkAngle, 1.5, 0.2, 6, common},
    LimitDefinition{"usual.level", MARKED("limit.usual.level", "Usual ± of a fuel gauge, of the tank"),
                    D::ratio, 0.04, 0, 0.5, memory},
    LimitDefinition{"usual.pour", MARKED("limit.usual.pour", "Usual ± of a station's meter, of the pour"),
                    D::ratio, 0.005, 0, 0.5, memory},
    LimitDefinition{"usual.burn", MARKED("limit.usual.burn", "Usual ± of fuel burned or drained, of it"),
                    D::ratio, 0.1, 0, 1, memory},
    LimitDefinition{"usual.content.label",
                    MARKED("limit.usual.content.label", "Usual ± of a pump fuel's content"), D::content, 0.01,
                    0, 0.5, memory},
    LimitDefinition{"usual.content.high_ethanol",
                    MARKED("limit.usual.content.high_ethanol", "Usual ± of a high-ethanol label"), D::content,
                    0.05, 0, 0.5, common},
    LimitDefinition{"usual.content.sensor",
                    MARKED("limit.usual.content.sensor", "Usual ± of a content sensor"), D::content, 0.02, 0,
                    0.5, memory},
    LimitDefinition{"usual.content.tube", MARKED("limit.usual.content.tube", "Usual ± of a test tube"),
                    D::content, 0.02, 0, 0.5, common},
};

} // namespace

std::span<const LimitDefinition> allLimits() {
    return limits;
}

const LimitDefinition &limitById(std::string_view id) {
    const auto at = std::ranges::find(limits, id, &LimitDefinition::id);
    if (at == limits.end())
        throw InputError("limits", MARKED("expected.the_id_of_a_limit", "the id of a limit"),
                         "'" + std::string(id) + "'");
    return *at;
}

void validateLimit(const std::string &id, double value) {
    const LimitDefinition &l = limitById(id);
    if (!std::isfinite(value) || value < l.least || value > l.most)
        throw InputError("limits." + id,
                         Phrase{MARKED("expected.between", "{a} to {b}"),
                                {},
                                {std::to_string(l.least), std::to_string(l.most)}},
                         std::to_string(value));
}

double limitOf(const Limits &own, std::string_view id) {
    const auto at = own.find(id);
    return at == own.end() ? limitById(id).shipped : at->second;
}

PhraseText limitOrigin(const Limits &own, std::string_view id) {
    return own.contains(id) ? MARKED("origin.user", "user") : limitById(id).origin;
}

} // namespace wheelwright
