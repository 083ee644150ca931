// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/auxiliary_injection.h"

#include "core/job/describe.h"

namespace wheelwright {
namespace {
using D = Dimension;
}

Chapter auxiliaryInjectionChapter() {
    Chapter c;
    c.fields = {
        scalar(
            "aux.fitted", "Spray fitted", [](auto &j) -> auto & { return j.aux.fitted; },
            "Water or methanol sprayed into the intake."),
        number(
            "aux.flow_cc_min", "Nozzle flow", D::volumeFlow, 0, 20000,
            [](auto &j) -> auto & { return j.aux.spray.ratedFlowCcMin; },
            "All nozzles, at their rated pressure."),
        number(
            "aux.rated_pressure_kpa", "Rated at", D::pressureDifference, 50, 3000,
            [](auto &j) -> auto & { return j.aux.spray.ratedPressureKpa; }, "Pressure of that flow."),
        number(
            "aux.pressure_kpa", "Spray pressure", D::pressureDifference, 0, 3000,
            [](auto &j) -> auto & { return j.aux.spray.pressureKpa; }, "In use, across the nozzle."),
        number(
            "aux.methanol", "Methanol in it", D::content, 0, 1,
            [](auto &j) -> auto & { return j.aux.spray.methanol; }, "By volume, the rest water."),
        number(
            "aux.start_kpa", "Starts at", D::pressure, 20, 1000,
            [](auto &j) -> auto & { return j.aux.spray.startKpa; }, "Manifold pressure."),
        number(
            "aux.full_kpa", "Full at", D::pressure, 20, 1000,
            [](auto &j) -> auto & { return j.aux.spray.fullKpa; },
            "Manifold pressure; the same as the start: no ramp."),
        choice(
            "aux.place", "Sprayed", {"before_compressor", "after_compressor", "ports"},
            {"Before the compressor or blower", "After it", "At the ports"},
            [](auto &j) -> auto & { return j.aux.place; },
            "Before a blower it evaporates there and cools the sensor, not the charge."),
        scalar(
            "aux.trimmed", "Tables trimmed for it", [](auto &j) -> auto & { return j.aux.trimmed; },
            "If so, a spray that stops leaves the engine lean."),
        choice(
            "aux.fail_safe", "When it stops", {"none", "boost_cut", "spark_retard"},
            {"Nothing happens", "Boost is cut", "Spark is taken back"},
            [](auto &j) -> auto & { return j.aux.failSafe; }, "By a flow or pressure switch."),
    };
    c.same = [](const Job &a, const Job &b) { return a.aux == b.aux; };
    return c;
}

} // namespace wheelwright
