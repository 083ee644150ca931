// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/flow/spray.h"

#include "core/base/error.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {

double sprayFlowCcMin(const Spray &s) {
    if (!(s.ratedPressureKpa > 0))
        throw InputError("rated pressure", MARKED("expected.more_than_0_kpa", "more than 0 kPa"),
                         exactly(s.ratedPressureKpa));
    return s.pressureKpa > 0 ? s.ratedFlowCcMin * std::sqrt(s.pressureKpa / s.ratedPressureKpa) : 0;
}

double sprayFlowAt(const Spray &s, double manifoldKpa) {
    if (manifoldKpa < s.startKpa) return 0;
    const double ramp = s.fullKpa > s.startKpa ? (manifoldKpa - s.startKpa) / (s.fullKpa - s.startKpa) : 1;
    return sprayFlowCcMin(s) * std::min(1.0, ramp);
}

double sprayTrim(double mainFuelLMin, const BlendProperties &fuel, double sprayCcMin, double methanol,
                 const Component &methanolFuel) {
    if (!(sprayCcMin > 0) || !(methanol > 0)) return 1;
    const double airOfMain = mainFuelLMin * 1e3 * fuel.densityKgM3 * fuel.stoichiometricAfr;
    const double airOfSpray =
        sprayCcMin * methanol * methanolFuel.densityKgM3 * methanolFuel.stoichiometricAfr;
    return 1 - airOfSpray / airOfMain;
}

SprayedMixture withSpray(double airGS, double lambda, const BlendProperties &fuel, double sprayCcMin,
                         double methanol, const Component &methanolFuel) {
    const auto require = [](bool holds, const char *where, PhraseText expected, double found) {
        if (!holds) throw InputError(where, expected, exactly(found));
    };
    require(airGS > 0 && std::isfinite(airGS), "air flow",
            MARKED("expected.more_than_0_g_per_s", "more than 0 g/s"), airGS);
    require(lambda > 0 && std::isfinite(lambda), "lambda", MARKED("expected.more_than_0", "more than 0"),
            lambda);
    require(sprayCcMin >= 0 && std::isfinite(sprayCcMin), "spray",
            MARKED("expected.0_cc_per_min_or_more", "0 cc/min or more"), sprayCcMin);
    require(methanol >= 0 && methanol <= 1, "methanol in the spray",
            MARKED("expected.a_volume_fraction_from_0_to_1", "a volume fraction from 0 to 1"), methanol);
    constexpr double gPerCcAtOneKgM3 = 1e-3;
    SprayedMixture m;
    m.mainFuelGS = airGS / (lambda * fuel.stoichiometricAfr);
    m.sprayFuelGS = sprayCcMin * methanol * methanolFuel.densityKgM3 * gPerCcAtOneKgM3 / 60;
    const double airOfMain = m.mainFuelGS * fuel.stoichiometricAfr;
    const double airOfSpray = m.sprayFuelGS * methanolFuel.stoichiometricAfr;
    m.lambda = airGS / (airOfMain + airOfSpray);
    m.trim = sprayTrim(m.mainFuelGS / (fuel.densityKgM3 * gPerCcAtOneKgM3) * 60 * 1e-3, fuel, sprayCcMin,
                       methanol, methanolFuel);
    if (!(m.trim > 0))
        throw InputError(
            "spray",
            MARKED("expected.less_fuel_than_whole_mixture", "less fuel than the whole mixture asks for"),
            Phrase{MARKED("found.methanol_flow", "{0} of methanol"),
                   {{m.sprayFuelGS, Dimension::massFlow, allDecimals}}});
    m.lambdaIfLost = lambda / m.trim;
    return m;
}

} // namespace wheelwright
