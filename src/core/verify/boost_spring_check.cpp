// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/limits.h"
#include "core/verify/check.h"

#include <algorithm>

namespace wheelwright {
namespace {

constexpr double floorPlayKpa =
    5; // boost may lie this much under the spring before it is called out of reach
constexpr PhraseText ratioAspect = MARKED("boost.spring.aspect.ratio_to_the", "ratio to the spring"),
                     floorAspect = MARKED("boost.spring.aspect.under_the_spring", "under the spring");

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
    x.title = MARKED("boost.spring.working", "Boost over spring pressure");
    x.result = {p.value, Dimension::none};
    x.formula = MARKED("boost.spring.formula",
                       "ratio = highest boost target / spring, both above the surrounding air");
    x.substituted = {MARKED("boost.spring.numbers", "{0} / {1}"),
                     {{gauge, Dimension::pressureGauge}, {job.boost.springKpa, Dimension::pressureGauge}}};
    x.inputs = {{"p_s",
                 MARKED("boost.spring.from.wastegate_spring_measured", "wastegate spring, measured"),
                 {job.boost.springKpa, Dimension::pressureGauge},
                 "boost.spring_kpa"},
                {"p",
                 MARKED("boost.spring.from.highest_boost_target", "highest boost target"),
                 {p.loadKpa, Dimension::pressure},
                 "calibration.boost"},
                {"max",
                 MARKED("boost.spring.from.ratio_allowed", "ratio allowed"),
                 {limitOf(job, "boost.spring_ratio"), Dimension::none},
                 "limit:boost.spring_ratio"}};
    x.source = {MARKED("boost.spring.source", "2 is usual, 3 is good: {A}"),
                {},
                {},
                {limitOrigin(job, "boost.spring_ratio")}};
    x.uncertainty = {MARKED("boost.spring.uncertainty",
                            "Advertised spring pressures are often wrong: measure it with the solenoid off."),
                     {}};
    x.change = p.aspect == floorAspect
                   ? Phrase{MARKED("boost.spring.change", "Less boost than the spring gives cannot be held: "
                                                          "a softer spring, or a target of {0}."),
                            {{job.boost.springKpa + job.conditions.ambientKpa, Dimension::pressure}}}
                   : Phrase{MARKED("boost.spring.change.spring_more", "A spring of {0} or more."),
                            {{gauge / limitOf(job, "boost.spring_ratio"), Dimension::pressureGauge}}};
    return x;
}

// A blower on the crank has no spring that holds its boost.
bool hasWastegate(const Job &job) {
    return boosted(job) && job.engine.charging == Charging::turbo;
}

} // namespace

const Check &boostSpringCheck() {
    static const Check check{
        "boost.spring",
        MARKED("boost.spring.title", "Spring"),
        MARKED("boost.spring.named", "spring"),
        QuestionId::boost,
        MARKED("boost.spring.question",
               "Can the wastegate spring hold the boost target, and let it down to the least?"),
        Dimension::none,
        {"boost.spring_ratio", "boost.spring_ratio.caution"},
        CalibratedQuantity::boost,
        1,
        MARKED("boost.spring.help",
               "A full mark is at twice the spring or less, an empty one at three times."),
        run,
        explain,
        {"spring", "boost_tables"},
        true,
        hasWastegate};
    return check;
}

} // namespace wheelwright
