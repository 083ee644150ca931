// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/flow/injector.h"

#include <cmath>
#include <limits>

namespace wheelwright {

double injectorFlowAt(double ratedFlow, double ratedKpa, double differentialKpa) {
    return differentialKpa > 0 ? ratedFlow * std::sqrt(differentialKpa / ratedKpa) : 0;
}

double injectorDifferentialKpa(double railGaugeKpa, double manifoldKpa, double ambientKpa,
                               bool boostReferenced) {
    return boostReferenced ? railGaugeKpa : railGaugeKpa - (manifoldKpa - ambientKpa);
}

double pulseWidthMs(double fuelMm3, double flowCcMin, double deadTimeMs) {
    constexpr double mm3PerMsAtOneCcMin = 1000.0 / 60000.0; // 1 cc/min = 1000 mm³ in 60 000 ms
    if (!(flowCcMin > 0)) return std::numeric_limits<double>::infinity();
    return fuelMm3 / (flowCcMin * mm3PerMsAtOneCcMin) + deadTimeMs;
}

} // namespace wheelwright
