// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/practice/practice_script.h"

#include "core/base/error.h"

#include <algorithm>
#include <array>

namespace wheelwright {
namespace {

using S = PracticeStep;

constexpr StepNumber rpm{"rpm", &S::rpm, 300, 20000}, load{"load_kpa", &S::loadKpa, 15, 800},
    seconds{"seconds", &S::seconds, 0.1, 7200}, gear{"gear", &S::gear, 1, 6},
    fromRpm{"from_rpm", &S::fromRpm, 300, 20000}, toRpm{"to_rpm", &S::toRpm, 300, 20000},
    fromKpa{"from_kpa", &S::fromKpa, 15, 800}, toKpa{"to_kpa", &S::toKpa, 15, 800},
    throttle{"throttle_percent", &S::throttlePercent, 1, 100}, litres{"litres", &S::litres, 0.001, 2000},
    coolant{"coolant_c", &S::coolantC, -40, 60}, duty{"solenoid_duty", &S::solenoidDuty, 0, 1};

constexpr StepNumber needed(StepNumber n) {
    n.required = true;
    return n;
}

constexpr StepText note{"note", &S::note};

const std::array kinds{
    StepKind{"warm_up",
             MARKED("step.warm_up", "Idle until the coolant is warm, at most so long."),
             {seconds},
             {note}},
    StepKind{"idle", MARKED("step.idle", "Idle."), {seconds}, {note}},
    StepKind{"hold",
             MARKED("step.hold", "The dyno holds a speed, the driver a manifold pressure."),
             {needed(rpm), needed(load), seconds, gear},
             {note}},
    StepKind{"cruise",
             MARKED("step.cruise", "Through a window of speeds and loads, up and down, as a road does."),
             {needed(fromRpm), needed(toRpm), needed(fromKpa), needed(toKpa), seconds, gear},
             {note}},
    StepKind{"pull",
             MARKED("step.pull", "From one speed to another with the throttle open."),
             {fromRpm, toRpm, gear, throttle},
             {note},
             true},
    StepKind{"tip_in",
             MARKED("step.tip_in", "The throttle opens at once at a held speed, from one load to another."),
             {needed(rpm), needed(fromKpa), needed(toKpa), seconds, gear},
             {note}},
    StepKind{"cold_start",
             MARKED("step.cold_start", "A start with everything cold, then idle."),
             {coolant, seconds},
             {note}},
    StepKind{
        "cool_down", MARKED("step.cool_down", "Engine off, fans on; not in the log."), {seconds}, {note}},
    StepKind{"pour",
             MARKED("step.pour", "A fuel of the shelf into the tank."),
             {needed(litres)},
             {StepText{"fuel", &S::fuel, true}, note}},
    StepKind{"drain", MARKED("step.drain", "Out of the tank."), {needed(litres)}, {note}},
    StepKind{
        "set",
        MARKED("step.set",
               "Changes the calibration: a field of the job and its value, cells of a table by an "
               "expression, or the solenoid's duty, whatever the tables say."),
        {StepNumber{"from_x", &S::fromX, -1e6, 1e6}, StepNumber{"to_x", &S::toX, -1e6, 1e6},
         StepNumber{"from_y", &S::fromY, -1e6, 1e6}, StepNumber{"to_y", &S::toY, -1e6, 1e6}, duty},
        {StepText{"field", &S::field}, StepText{"table", &S::table}, StepText{"change", &S::change}, note},
        false,
        true},
    StepKind{"look",
             MARKED("step.look", "Something of the engine is looked at, by hand or with an instrument."),
             {},
             {StepText{"at", &S::at, true}, note}},
    StepKind{"release", MARKED("step.release", "The solenoid goes by the tables again."), {}, {note}},
};

constexpr std::array<std::string_view, 3> modes{"inertia", "loaded", "road"};

constexpr std::array columns{
    DynoColumn{"rpm", &DynoRow::rpm, 0},
    DynoColumn{"torque_nm", &DynoRow::torqueNm, 1},
    DynoColumn{"power_kw", &DynoRow::powerKw, 2},
    DynoColumn{"boost_kpa", &DynoRow::boostKpa, 1},
    DynoColumn{"lambda", &DynoRow::lambda, 3},
    DynoColumn{"spark_deg", &DynoRow::sparkDeg, 1},
    DynoColumn{"ethanol_percent", &DynoRow::contentPercent, 1},
    DynoColumn{"intake_c", &DynoRow::intakeC, 1},
    DynoColumn{"coolant_c", &DynoRow::coolantC, 1},
};

} // namespace

bool PracticeStep::says(std::string_view key) const {
    return std::ranges::find(given, key) != given.end();
}

std::span<const StepKind> allStepKinds() {
    return kinds;
}

const StepKind &stepKindById(std::string_view id, const std::string &where) {
    const auto found = std::ranges::find(kinds, id, &StepKind::id);
    if (found != kinds.end()) return *found;
    std::string known;
    for (const StepKind &k : kinds)
        known += (known.empty() ? "" : ", ") + std::string(k.id);
    throw InputError(where, Phrase{MARKED("expected.one_of", "one of {a}"), {}, {known}},
                     "'" + std::string(id) + "'");
}

std::span<const std::string_view> dynoModeIds() {
    return modes;
}

std::span<const DynoColumn> dynoColumns() {
    return columns;
}

} // namespace wheelwright
