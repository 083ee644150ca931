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
        guarded("other injector data change every cell",
                number(
                    "injectors.flow_cc_min", "Injector flow", D::volumeFlow, 10, 10000,
                    [](auto &j) -> auto & { return j.injectors.flowCcMin; },
                    "Static flow of one injector at its rated pressure.")),
        guarded("other injector data change every cell",
                number(
                    "injectors.rated_pressure_kpa", "Rated at", D::pressureDifference, 50, 1500,
                    [](auto &j) -> auto & { return j.injectors.ratedPressureKpa; },
                    "Pressure difference at which the flow was measured.")),
        guarded("other injector data change every cell",
                number(
                    "injectors.rail_pressure_kpa", "Rail pressure, engine off", D::pressureGauge, 50, 1500,
                    [](auto &j) -> auto & { return j.injectors.railPressureKpa; },
                    "Base fuel pressure above the surrounding air.")),
        guarded("other injector data change every cell",
                scalar(
                    "injectors.boost_referenced", "Regulator follows boost",
                    [](auto &j) -> auto & { return j.injectors.boostReferenced; },
                    "If not, the pressure across the injector falls as boost rises.")),
        guarded("other injector data change every cell",
                number(
                    "injectors.dead_time_ms", "Dead time", D::duration, 0, 5,
                    [](auto &j) -> auto & { return j.injectors.deadTimeMs; },
                    "Opening delay at the usual battery voltage.")),
        guarded("other injector data change every cell",
                number(
                    "injectors.battery_v", "Battery voltage", D::voltage, 6, 18,
                    [](auto &j) -> auto & { return j.injectors.batteryV; },
                    "Usual, with the engine running.")),
        guarded("other injector data change every cell",
                scalar(
                    "injectors.batch", "Batch fired", [](auto &j) -> auto & { return j.injectors.batch; },
                    "Two pulses a cycle, each with its dead time.")),
        guarded("other injector data change every cell",
                number(
                    "injectors.linear_min_ms", "Linear from", D::duration, 0, 10,
                    [](auto &j) -> auto & { return j.injectors.linearMinMs; },
                    "Shortest pulse of linear flow, by its data sheet. 0: not stated.")),
        guarded("other injector data change every cell",
                number(
                    "injectors.test_fluid_kg_m3", "Rated with fluid of", D::density, 0, 1000,
                    [](auto &j) -> auto & { return j.injectors.testFluidKgM3; },
                    "Its density. 0: rated with fuel, no correction.")),
    };
    c.lists = {
        guarded("other injector data change every cell",
                deadTimes.list(
                    "injectors.dead_times", "Dead times", 64,
                    {deadTimes.number("voltage_v", "Voltage", D::voltage, 4, 20, &DeadTimePoint::volts,
                                      "Battery voltage."),
                     deadTimes.unstated("differential_kpa", "Pressure across", D::pressureDifference, 0, 2000,
                                        &DeadTimePoint::differentialKpa, "Where the sheet states it."),
                     deadTimes.number("dead_time_ms", "Dead time", D::duration, 0, 10, &DeadTimePoint::ms,
                                      "Opening delay.")})),
        measured.list("injectors.measured", "Measured injectors", 16,
                      {measured.field("label", "Injector", &MeasuredInjector::label, "Its mark."),
                       measured.number("flow_cc_min", "Flow", D::volumeFlow, 1, 20000,
                                       &MeasuredInjector::flowCcMin, "On the bench.")}),
    };
    c.same = [](const Job &a, const Job &b) {
        return a.injectors == b.injectors && a.measuredInjectors == b.measuredInjectors;
    };
    return c;
}

} // namespace wheelwright
