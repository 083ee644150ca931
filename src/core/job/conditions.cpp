// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/conditions.h"

#include "core/job/describe.h"

namespace wheelwright {
namespace {
using D = Dimension;
}

Chapter conditionsChapter() {
    Chapter c;
    c.fields = {
        number(
            MARKED("conditions.ambient_kpa", "Ambient pressure"), D::pressure, 50, 110,
            [](auto &j) -> auto & { return j.conditions.ambientKpa; },
            MARKED("conditions.ambient_kpa.help", "Zero of gauge pressures.")),
        number(
            MARKED("conditions.intake_usual_c", "Intake air, usual"), D::temperature, -40, 150,
            [](auto &j) -> auto & { return j.conditions.intakeUsualC; },
            MARKED("conditions.intake_usual_c.help", "In the manifold, on a usual pull.")),
        number(
            MARKED("conditions.intake_coldest_c", "Intake air, coldest"), D::temperature, -40, 150,
            [](auto &j) -> auto & { return j.conditions.intakeColdestC; },
            MARKED("conditions.intake_coldest_c.help",
                   "Densest charge: most fuel, the worst case for injectors.")),
    };
    c.same = [](const Job &a, const Job &b) { return a.conditions == b.conditions; };
    return c;
}

} // namespace wheelwright
