#include "core/verify/check.h"
#include "core/verify/limits.h"

namespace wheelwright {
namespace {

constexpr double comfortKpa = 20; // under the limit at which a margin is called comfortable: common practice

CheckOutcome run(const Evaluation &e) {
    const double overshoot = limitOf(e.job(), "boost.overshoot");
    CheckOutcome out;
    for (const ContentSlice &s : e.slices()) {
        WorstFinder worst(e, s, comfortKpa);
        for (std::size_t i = 0; i < e.rpm().size(); ++i) {
            const double peak = s.targetKpa[i] + overshoot;
            if (s.reachable[i] > 0)
                worst.consider(s.boostLimitKpa - peak, i, s.targetKpa[i], peak, s.boostLimitKpa);
        }
        out.byContent.push_back(worst.place());
    }
    return out;
}

Explanation explain(const Evaluation &e, const WorstPlace &p) {
    Explanation x;
    const double overshoot = limitOf(e.job(), "boost.overshoot");
    x.title = "Boost against the engine's limit";
    x.result = {p.value, Dimension::pressure};
    x.formula = "peak = boost target + overshoot ≤ limit(E)";
    x.substituted = {"{0} + {1} = {2} against {3}",
                     {{p.value - overshoot, Dimension::pressure},
                      {overshoot, Dimension::pressureDifference},
                      {p.value, Dimension::pressure},
                      {p.limit, Dimension::pressure}}};
    x.inputs = {{"target",
                 "boost target at full throttle",
                 {p.value - overshoot, Dimension::pressure},
                 "calibration.boost"},
                {"overshoot",
                 "above the target",
                 {overshoot, Dimension::pressureDifference},
                 "limit:boost.overshoot"},
                {"limit",
                 "of engine and fuel at this content",
                 {p.limit, Dimension::pressure},
                 "engine.boost_limit_kpa"}};
    x.source = "Limit: the job's own curve. Overshoot: " + limitOrigin(e.job(), "boost.overshoot");
    x.uncertainty = {"Boost sensors commonly differ by a few kPa; check the overshoot in a log.", {}};
    x.change = {"Clears with a boost target of {0} or less at {1}, {2}.",
                {{p.limit - overshoot, Dimension::pressure},
                 {p.rpm, Dimension::engineSpeed},
                 {p.content, Dimension::content}}};
    return x;
}

} // namespace

const Check &boostLimitCheck() {
    static const Check check{
        "boost.limit",
        "Boost limit",
        "Does the boost target with its overshoot stay under what engine and fuel stand?",
        Dimension::pressure,
        {"boost.overshoot"},
        CalibratedQuantity::boost,
        0,
        "A full mark is 20 kPa or more under the limit.",
        run,
        explain};
    return check;
}

} // namespace wheelwright
