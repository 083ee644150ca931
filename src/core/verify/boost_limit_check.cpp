// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/verify/boost_peaks.h"

namespace wheelwright {
namespace {

constexpr double comfortKpa = 20; // under the limit at which a margin is called comfortable: common practice

CheckOutcome run(const Evaluation &e) {
    return judgeBoostPeaks(e, comfortKpa, [](const ContentSlice &s) {
        return BoostCeiling{s.boostLimitKpa, {}};
    });
}

Explanation explain(const Evaluation &e, const WorstPlace &p) {
    Explanation x = explainBoostPeak(e, p);
    x.title = MARKED("boost.limit.working", "Boost against the engine's limit");
    x.formula = MARKED("boost.limit.formula", "peak = boost target + overshoot ≤ limit(E)");
    x.inputs.push_back({"limit",
                        MARKED("boost.limit.from.engine_fuel_content", "of engine and fuel at this content"),
                        {p.limit, Dimension::pressure},
                        "engine.boost_limit_kpa"});
    x.source = {MARKED("boost.limit.source", "Limit: the job's own curve. Overshoot: {A}"),
                {},
                {},
                {limitOrigin(e.job(), "boost.overshoot")}};
    x.uncertainty = {MARKED("boost.limit.uncertainty",
                            "Boost sensors commonly differ by a few kPa; check the overshoot in a log."),
                     {}};
    x.change = {MARKED("boost.limit.change", "Clears with a boost target of {0} or less at {1}, {2}."),
                {{p.limit - limitOf(e.job(), "boost.overshoot"), Dimension::pressure},
                 {p.rpm, Dimension::engineSpeed},
                 {p.content, Dimension::content}}};
    return x;
}

} // namespace

const Check &boostLimitCheck() {
    static const Check check{
        "boost.limit",
        MARKED("boost.limit.title", "Boost limit"),
        MARKED("boost.limit.named", "boost limit"),
        QuestionId::boost,
        MARKED("boost.limit.question",
               "Does the boost target with its overshoot stay under what engine and fuel stand?"),
        Dimension::pressure,
        {"boost.overshoot"},
        CalibratedQuantity::boost,
        0,
        MARKED("boost.limit.help", "A full mark is 20 kPa or more under the limit."),
        run,
        explain,
        {"boost_limit", "boost_tables", "engine"}};
    return check;
}

} // namespace wheelwright
