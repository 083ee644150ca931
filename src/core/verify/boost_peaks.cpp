// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/verify/boost_peaks.h"

namespace wheelwright {

Explanation explainBoostPeak(const Evaluation &e, const WorstPlace &p) {
    const double overshoot = limitOf(e.job(), "boost.overshoot");
    Explanation x;
    x.result = {p.value, Dimension::pressure};
    x.substituted = {MARKED("boost_peaks.boost_peak.numbers", "{0} + {1} = {2} against {3}"),
                     {{p.value - overshoot, Dimension::pressure},
                      {overshoot, Dimension::pressureDifference},
                      {p.value, Dimension::pressure},
                      {p.limit, Dimension::pressure}}};
    x.inputs = {{"target",
                 MARKED("boost_peaks.boost_peak.from.boost_target_full", "boost target at full throttle"),
                 {p.value - overshoot, Dimension::pressure},
                 "calibration.boost"},
                {"overshoot",
                 MARKED("boost_peaks.boost_peak.from.above_target", "above the target"),
                 {overshoot, Dimension::pressureDifference},
                 "limit:boost.overshoot"}};
    return x;
}

} // namespace wheelwright
