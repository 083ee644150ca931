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
            MARKED("aux.fitted", "Spray fitted"), [](auto &j) -> auto & { return j.aux.fitted; },
            MARKED("aux.fitted.help", "Water or methanol sprayed into the intake.")),
        number(
            MARKED("aux.flow_cc_min", "Nozzle flow"), D::volumeFlow, 0, 20000,
            [](auto &j) -> auto & { return j.aux.spray.ratedFlowCcMin; },
            MARKED("aux.flow_cc_min.help", "All nozzles, at their rated pressure.")),
        number(
            MARKED("aux.rated_pressure_kpa", "Rated at"), D::pressureDifference, 50, 3000,
            [](auto &j) -> auto & { return j.aux.spray.ratedPressureKpa; },
            MARKED("aux.rated_pressure_kpa.help", "Pressure of that flow.")),
        number(
            MARKED("aux.pressure_kpa", "Spray pressure"), D::pressureDifference, 0, 3000,
            [](auto &j) -> auto & { return j.aux.spray.pressureKpa; },
            MARKED("aux.pressure_kpa.help", "In use, across the nozzle.")),
        number(
            MARKED("aux.methanol", "Methanol in it"), D::methanolContent, 0, 1,
            [](auto &j) -> auto & { return j.aux.spray.methanol; },
            MARKED("aux.methanol.help", "By volume, the rest water.")),
        number(
            MARKED("aux.start_kpa", "Starts at"), D::pressure, 20, 1000,
            [](auto &j) -> auto & { return j.aux.spray.startKpa; },
            MARKED("aux.start_kpa.help", "Manifold pressure.")),
        number(
            MARKED("aux.full_kpa", "Full at"), D::pressure, 20, 1000,
            [](auto &j) -> auto & { return j.aux.spray.fullKpa; },
            MARKED("aux.full_kpa.help", "Manifold pressure; the same as the start: no ramp.")),
        choice(
            MARKED("aux.place", "Sprayed"), {"before_compressor", "after_compressor", "ports"},
            {MARKED("aux.place.before_compressor", "Before the compressor or blower"),
             MARKED("aux.place.after_compressor", "After it"), MARKED("aux.place.ports", "At the ports")},
            [](auto &j) -> auto & { return j.aux.place; },
            MARKED("aux.place.help",
                   "Before a blower it evaporates there and cools the sensor, not the charge.")),
        scalar(
            MARKED("aux.trimmed", "Tables trimmed for it"), [](auto &j) -> auto & { return j.aux.trimmed; },
            MARKED("aux.trimmed.help", "If so, a spray that stops leaves the engine lean.")),
        choice(
            MARKED("aux.fail_safe", "When it stops"), {"none", "boost_cut", "spark_retard"},
            {MARKED("aux.fail_safe.none", "Nothing happens"),
             MARKED("aux.fail_safe.boost_cut", "Boost is cut"),
             MARKED("aux.fail_safe.spark_retard", "Spark is taken back")},
            [](auto &j) -> auto & { return j.aux.failSafe; },
            MARKED("aux.fail_safe.help", "By a flow or pressure switch.")),
    };
    c.same = [](const Job &a, const Job &b) { return a.aux == b.aux; };
    return c;
}

} // namespace wheelwright
