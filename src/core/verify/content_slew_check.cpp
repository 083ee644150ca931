// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/limits.h"
#include "core/study/school.h"
#include "core/verify/check.h"

namespace wheelwright {
namespace {

CheckOutcome run(const Evaluation &e) {
    const double slew = e.job().contentSensing.slewPerS, most = limitOf(e.job(), "content.slew");
    CheckOutcome out;
    for (const ContentSlice &s : e.slices()) {
        WorstFinder worst(e, s, most / 2); // half of the limit is comfortable
        worst.consider(most - slew, 0, e.load().front(), slew, most);
        out.byContent.push_back(worst.place());
    }
    return out;
}

Explanation explain(const Evaluation &e, const WorstPlace &p) {
    const Job &job = e.job();
    Explanation x;
    x.title = MARKED("content.slew.working", "Content followed in a second");
    x.result = {p.value, Dimension::contentDifference};
    x.formula = MARKED("content.slew.formula", "slew ≤ limit");
    x.substituted = {MARKED("content.slew.numbers", "{0} in a second, at most {1}"),
                     {{p.value, Dimension::contentDifference}, {p.limit, Dimension::contentDifference}}};
    x.inputs = {{"s",
                 MARKED("content.slew.from.follows_second", "follows a second"),
                 {p.value, Dimension::contentDifference},
                 "content_sensor.slew_per_s"},
                {"lim",
                 MARKED("content.slew.from.most", "most"),
                 {p.limit, Dimension::contentDifference},
                 "limit:content.slew"}};
    x.source = {MARKED("content.slew.source", "Limit: {A}"), {}, {}, {limitOrigin(job, "content.slew")}};
    x.uncertainty = {MARKED("content.slew.uncertainty",
                            "Fuel in the line changes slowly; a fast reading is noise or a fault."),
                     {}};
    x.change = {MARKED("content.slew.change", "A filter that follows {0} a second or less."),
                {{p.limit, Dimension::contentDifference}}};
    return x;
}

} // namespace

const Check &contentSlewCheck() {
    static const Check check{
        "content.slew",
        MARKED("content.slew.title", "Content slew"),
        MARKED("content.slew.named", "content slew"),
        QuestionId::sensor,
        MARKED("content.slew.question", "Is the content filtered, so that no noise moves fuel and spark?"),
        Dimension::contentDifference,
        {"content.slew"},
        CalibratedQuantity::fuel,
        0,
        MARKED("content.slew.help", "A full mark is half of the limit or less."),
        run,
        explain,
        {"slew"},
        true,
        followsSensor};
    return check;
}

} // namespace wheelwright
