// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/injectors.h"

#include "core/job/describe.h"

namespace wheelwright {
namespace {
using D = Dimension;
}

Chapter injectorsChapter() {
    const auto deadTimes = listOf<DeadTimePoint>([](auto &j) -> auto & { return j.injectors.deadTimes; });
    const auto measured = listOf<MeasuredInjector>([](auto &j) -> auto & { return j.measuredInjectors; });
    Chapter c;
    c.fields = {
        guarded(
            MARKED("guarded.other_injector_data_change_every_cell", "other injector data change every cell"),
            number(
                MARKED("injectors.flow_cc_min", "Injector flow"), D::volumeFlow, 10, 10000,
                [](auto &j) -> auto & { return j.injectors.flowCcMin; },
                MARKED("injectors.flow_cc_min.help", "Static flow of one injector at its rated pressure."))),
        guarded(
            MARKED("guarded.other_injector_data_change_every_cell", "other injector data change every cell"),
            number(
                MARKED("injectors.rated_pressure_kpa", "Rated at"), D::pressureDifference, 50, 1500,
                [](auto &j) -> auto & { return j.injectors.ratedPressureKpa; },
                MARKED("injectors.rated_pressure_kpa.help",
                       "Pressure difference at which the flow was measured."))),
        guarded(
            MARKED("guarded.other_injector_data_change_every_cell", "other injector data change every cell"),
            number(
                MARKED("injectors.rail_pressure_kpa", "Rail pressure, engine off"), D::pressureGauge, 50,
                1500, [](auto &j) -> auto & { return j.injectors.railPressureKpa; },
                MARKED("injectors.rail_pressure_kpa.help", "Base fuel pressure above the surrounding air."))),
        guarded(
            MARKED("guarded.other_injector_data_change_every_cell", "other injector data change every cell"),
            scalar(
                MARKED("injectors.boost_referenced", "Regulator follows boost"),
                [](auto &j) -> auto & { return j.injectors.boostReferenced; },
                MARKED("injectors.boost_referenced.help",
                       "If not, the pressure across the injector falls as boost rises."))),
        guarded(
            MARKED("guarded.other_injector_data_change_every_cell", "other injector data change every cell"),
            number(
                MARKED("injectors.dead_time_ms", "Dead time"), D::duration, 0, 5,
                [](auto &j) -> auto & { return j.injectors.deadTimeMs; },
                MARKED("injectors.dead_time_ms.help", "Opening delay at the usual battery voltage."))),
        guarded(
            MARKED("guarded.other_injector_data_change_every_cell", "other injector data change every cell"),
            number(
                MARKED("injectors.battery_v", "Battery voltage"), D::voltage, 6, 18,
                [](auto &j) -> auto & { return j.injectors.batteryV; },
                MARKED("injectors.battery_v.help", "Usual, with the engine running."))),
        guarded(
            MARKED("guarded.other_injector_data_change_every_cell", "other injector data change every cell"),
            scalar(
                MARKED("injectors.batch", "Batch fired"), [](auto &j) -> auto & { return j.injectors.batch; },
                MARKED("injectors.batch.help", "Two pulses a cycle, each with its dead time."))),
        guarded(
            MARKED("guarded.other_injector_data_change_every_cell", "other injector data change every cell"),
            zeroIs(MARKED("zero.not_stated", "not stated"),
                   number(
                       MARKED("injectors.linear_min_ms", "Linear from"), D::duration, 0, 10,
                       [](auto &j) -> auto & { return j.injectors.linearMinMs; },
                       MARKED("injectors.linear_min_ms.help",
                              "Shortest pulse of linear flow, by its data sheet. 0: not stated.")))),
        guarded(
            MARKED("guarded.other_injector_data_change_every_cell", "other injector data change every cell"),
            zeroIs(MARKED("zero.test_fluid", "fuel"),
                   number(
                       MARKED("injectors.test_fluid_kg_m3", "Rated with fluid of"), D::density, 0, 1000,
                       [](auto &j) -> auto & { return j.injectors.testFluidKgM3; },
                       MARKED("injectors.test_fluid_kg_m3.help",
                              "Its density. 0: rated with fuel, no correction.")))),
    };
    c.curves = {
        held(curve(
            MARKED("injectors.rail_by_load_kpa", "Commanded rail pressure over load"), D::pressure,
            D::pressureGauge, 0, 1500, [](auto &j) -> auto & { return j.injectors.railByLoadKpa; }, 0, 1000)),
    };
    c.lists = {
        guarded(
            MARKED("guarded.other_injector_data_change_every_cell", "other injector data change every cell"),
            deadTimes.list(
                MARKED("injectors.dead_times", "Dead times"), 64,
                {deadTimes.number(MARKED("injectors.dead_times.voltage_v", "Voltage"), D::voltage, 4, 20,
                                  &DeadTimePoint::volts,
                                  MARKED("injectors.dead_times.voltage_v.help", "Battery voltage.")),
                 deadTimes.unstated(
                     MARKED("injectors.dead_times.differential_kpa", "Pressure across"),
                     D::pressureDifference, 0, 2000, &DeadTimePoint::differentialKpa,
                     MARKED("injectors.dead_times.differential_kpa.help", "Where the sheet states it.")),
                 deadTimes.number(MARKED("injectors.dead_times.dead_time_ms", "Dead time"), D::duration, 0,
                                  10, &DeadTimePoint::ms,
                                  MARKED("injectors.dead_times.dead_time_ms.help", "Opening delay."))})),
        measured.list(
            MARKED("injectors.measured", "Measured injectors"), 16,
            {measured.field(MARKED("injectors.measured.label", "Injector"), &MeasuredInjector::label,
                            MARKED("injectors.measured.label.help", "Its mark.")),
             measured.number(MARKED("injectors.measured.flow_cc_min", "Flow"), D::volumeFlow, 1, 20000,
                             &MeasuredInjector::flowCcMin,
                             MARKED("injectors.measured.flow_cc_min.help", "On the bench."))}),
    };
    c.same = [](const Job &a, const Job &b) {
        return a.injectors == b.injectors && a.measuredInjectors == b.measuredInjectors;
    };
    return c;
}

} // namespace wheelwright
