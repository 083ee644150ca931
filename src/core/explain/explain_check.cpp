// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/explain/explain_check.h"

#include "core/base/limits.h"

namespace wheelwright {

Explanation explainLimitOf(const Check &check, const Job &job, const WorstPlace &place) {
    Explanation x;
    x.title = {MARKED("working.check_limit.title", "{A}: what it is held against"), {}, {}, {check.title}};
    x.result = {place.limit, check.dimensionOf(place)};
    x.formula = check.help;
    x.substituted = {MARKED("working.check_limit.numbers", "{0} at {a}, {1}, {2}"),
                     {x.result, {place.rpm, Dimension::engineSpeed}, {place.loadKpa, Dimension::pressure}},
                     {contentName(place.content, job.alcohol == Alcohol::methanol)}};
    for (const std::string_view id : check.limits) {
        const LimitDefinition &l = limitById(id);
        x.inputs.push_back(
            {"", l.title, {limitOf(job, id), l.dimension, allDecimals}, "limits." + std::string(id)});
    }
    x.source = check.origin(job);
    x.uncertainty = MARKED("handover.limits.caution",
                           "Shipped limits are starting points, not promises about an engine.");
    x.change = MARKED("working.check_limit.change",
                      "Another limit of this job's own, or the tables and parts that it is taken from.");
    return x;
}

} // namespace wheelwright
