// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/limits.h"
#include "core/verify/check.h"

#include <algorithm>

namespace wheelwright {
namespace {

constexpr double floorPlayKpa =
    5; // boost may lie this much under the spring before it is called out of reach
constexpr std::string_view ratioAspect = "ratio to the spring", floorAspect = "under the spring";

// The highest target counts for both: lower ones, at speeds where the turbine makes nothing, ask nothing.
CheckOutcome run(const Evaluation &e) {
    const Job &job = e.job();
    const double spring = job.boost.springKpa, ambient = job.conditions.ambientKpa;
    const double stop = limitOf(job, "boost.spring_ratio");
    const double comfort = std::max(stop - limitOf(job, "boost.spring_ratio.caution"), 0.01);
    CheckOutcome out;
    for (const ContentSlice &s : e.slices()) {
        WorstFinder worst(e, s, comfort);
        const auto at = static_cast<std::size_t>(
            std::ranges::max_element(s.reach, {}, &ReachAtSpeed::targetKpa) - s.reach.begin());
        const double gauge = s.reach[at].targetKpa - ambient, ratio = gauge / spring;
        worst.consider(stop - ratio, at, s.reach[at].targetKpa, ratio, stop, ratioAspect);
        worst.consider(comfort * (gauge - spring + floorPlayKpa) / floorPlayKpa, at, s.reach[at].targetKpa,
                       ratio, 1, floorAspect);
        out.byContent.push_back(worst.place());
    }
    return out;
}

Explanation explain(const Evaluation &e, const WorstPlace &p) {
    const Job &job = e.job();
    const double gauge = p.loadKpa - job.conditions.ambientKpa;
    Explanation x;
    x.title = "Boost over spring pressure";
    x.result = {p.value, Dimension::none};
    x.formula = "ratio = highest boost target / spring, both above the surrounding air";
    x.substituted = {"{0} / {1}",
                     {{gauge, Dimension::pressureGauge}, {job.boost.springKpa, Dimension::pressureGauge}}};
    x.inputs = {{"p_s",
                 "wastegate spring, measured",
                 {job.boost.springKpa, Dimension::pressureGauge},
                 "boost.spring_kpa"},
                {"p", "highest boost target", {p.loadKpa, Dimension::pressure}, "calibration.boost"},
                {"max",
                 "ratio allowed",
                 {limitOf(job, "boost.spring_ratio"), Dimension::none},
                 "limit:boost.spring_ratio"}};
    x.source = "2 is usual, 3 is good: " + limitOrigin(job, "boost.spring_ratio");
    x.uncertainty = {"Advertised spring pressures are often wrong: measure it with the solenoid off.", {}};
    x.change =
        p.aspect == floorAspect
            ? Phrase{"Less boost than the spring gives cannot be held: a softer spring, or a target of {0}.",
                     {{job.boost.springKpa + job.conditions.ambientKpa, Dimension::pressure}}}
            : Phrase{"A spring of {0} or more.",
                     {{gauge / limitOf(job, "boost.spring_ratio"), Dimension::pressureGauge}}};
    return x;
}

} // namespace

const Check &boostSpringCheck() {
    static const Check check{"boost.spring",
                             "Spring",
                             "Can the wastegate spring hold the boost target, and let it down to the least?",
                             Dimension::none,
                             {"boost.spring_ratio", "boost.spring_ratio.caution"},
                             CalibratedQuantity::boost,
                             1,
                             "A full mark is at twice the spring or less, an empty one at three times.",
                             run,
                             explain,
                             [](const Job &job) { return job.boost.springKpa > 0; },
                             "the spring has not been measured"};
    return check;
}

} // namespace wheelwright
