// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/return_flow.h"
#include "core/verify/check.h"
#include "core/verify/flow_demand.h"

#include <algorithm>

namespace wheelwright {
namespace {

CheckOutcome run(const Evaluation &e) {
    const Job &job = e.job();
    const ByPoint pump = pumpFlowOver(e);
    const double least = job.supply.sensorReturnLMin;
    const double comfort = std::max(least, 0.01);
    return judgeReachablePoints(e, comfort, [&](const ContentSlice &s) {
        return [&, demand = FlowDemand(e, s, job.conditions.intakeColdestC)](const auto &p) {
            const double back = p.of(pump) - demand.lMin(p);
            return askedIf(!frozenAt(job.supply, p.rpm, p.loadKpa), {back - least, back, least});
        };
    });
}

Explanation explain(const Evaluation &e, const WorstPlace &p) {
    const Job &job = e.job();
    const FreezeLine line = freezeLine(e.study());
    Explanation x;
    x.title = MARKED("content.freeze.working", "Flow past the sensor");
    x.result = {p.value, Dimension::flowLMin};
    x.formula = MARKED("content.freeze.formula", "return = pump flow − engine's flow");
    x.substituted = {MARKED("content.freeze.numbers", "{0} comes back, {1} is needed"),
                     {{p.value, Dimension::flowLMin}, {job.supply.sensorReturnLMin, Dimension::flowLMin}}};
    x.inputs = {{"min",
                 MARKED("content.freeze.from.sensor_needs", "the sensor needs"),
                 {job.supply.sensorReturnLMin, Dimension::flowLMin},
                 "supply.sensor_return_l_min"},
                {"load",
                 MARKED("content.freeze.from.reading_frozen_above", "reading frozen above"),
                 {job.supply.freezeLoadKpa, Dimension::pressure},
                 "supply.freeze_load_kpa"},
                {"rpm",
                 MARKED("content.freeze.from.above", "and above"),
                 {job.supply.freezeRpm, Dimension::engineSpeed},
                 "supply.freeze_rpm"},
                {"U",
                 MARKED("content.freeze.from.voltage_pumps", "voltage at the pumps"),
                 {job.supply.volts, Dimension::voltage},
                 "supply.volts"}};
    x.source =
        MARKED("content.freeze.source",
               "Balance of flows; pump data as entered; the sensor's need: common practice, from memory");
    x.uncertainty = {
        MARKED("content.freeze.uncertainty",
               "A reading from a return that runs dry jumps at high load, and the tables follow it."),
        {}};
    x.change = line.needed
                   ? Phrase{MARKED("content.freeze.change", "Freeze the reading above {0} and {1}."),
                            {{line.loadKpa, Dimension::pressure}, {line.rpm, Dimension::engineSpeed}}}
                   : Phrase{MARKED("content.freeze.change.nothing_has", "Nothing has to be frozen."), {}};
    return x;
}

} // namespace

const Check &contentFreezeCheck() {
    static const Check check{
        "content.freeze",
        MARKED("content.freeze.title", "Sensor in the return"),
        MARKED("content.freeze.named", "sensor in the return"),
        QuestionId::sensor,
        MARKED("content.freeze.question",
               "Does enough fuel come back past the content sensor wherever its reading is used?"),
        Dimension::flowLMin,
        {},
        CalibratedQuantity::fuel,
        0,
        MARKED("content.freeze.help",
               "A full mark is twice what the sensor needs, or a reading that is frozen there."),
        run,
        explain,
        {"pump_sheet", "rail_table", "fuel_tables", "boost_tables"},
        true,
        [](const Job &job) {
            return job.fuelSystem.contentSensor && job.supply.returns &&
                   job.tank.sensorPlace == SensorPlace::returnLine;
        }};
    return check;
}

} // namespace wheelwright
