// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/limits.h"
#include "core/study/school.h"
#include "core/verify/check.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

CheckOutcome run(const Evaluation &e) {
    const double off = e.job().sparkDelivery.baseTimingErrorDeg, most = limitOf(e.job(), "base.timing");
    CheckOutcome out;
    for (const ContentSlice &s : e.slices()) {
        WorstFinder worst(e, s, std::max(most, 0.1));
        worst.consider(most - std::abs(off), 0, e.load().front(), off, std::copysign(most, off));
        out.byContent.push_back(worst.place());
    }
    return out;
}

Explanation explain(const Evaluation &e, const WorstPlace &p) {
    const Job &job = e.job();
    Explanation x;
    x.title = MARKED("base.timing.working", "Base timing");
    x.result = {p.value, Dimension::sparkAngle};
    x.formula = MARKED("base.timing.formula", "|delivered − commanded| ≤ limit");
    x.substituted = {MARKED("base.timing.numbers", "{0} off, at most {1}"),
                     {{p.value, Dimension::sparkAngle}, {std::abs(p.limit), Dimension::sparkAngle}}};
    x.inputs = {{"Δα",
                 MARKED("base.timing.from.timing_light", "by a timing light"),
                 {p.value, Dimension::sparkAngle},
                 "spark.base_timing_error_deg"},
                {"lim",
                 MARKED("base.timing.from.most", "most"),
                 {std::abs(p.limit), Dimension::sparkAngle},
                 "limit:base.timing"}};
    x.source = {MARKED("base.timing.source", "Limit: {A}"), {}, {}, {limitOrigin(job, "base.timing")}};
    x.uncertainty = {MARKED("base.timing.uncertainty",
                            "A timing light reads to about half a degree, and drifts with speed."),
                     {}};
    x.change = {
        MARKED("base.timing.change", "Set the base timing, and check it again after mechanical work."), {}};
    return x;
}

} // namespace

const Check &baseTimingCheck() {
    static const Check check{
        "base.timing",
        MARKED("base.timing.title", "Base timing"),
        MARKED("base.timing.named", "base timing"),
        QuestionId::knock,
        MARKED("base.timing.question", "Is the delivered spark the commanded one?"),
        Dimension::sparkAngle,
        {"base.timing"},
        CalibratedQuantity::spark,
        0,
        MARKED("base.timing.help", "A full mark is no error; an empty one the whole limit."),
        run,
        explain,
        {"base_timing"}};
    return check;
}

} // namespace wheelwright
