// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/verify/troubled_places.h"

#include "core/study/content_tables.h"
#include "core/tables/table_kind.h"

#include <algorithm>

namespace wheelwright {

std::vector<TroubledPlace> troubledPlaces(const Verdict &v) {
    std::vector<TroubledPlace> places;
    for (const CheckState state : {CheckState::failing, CheckState::caution})
        for (const Verdict::Row &row : v.rows) {
            const WorstPlace *worst = row.worstIn(state, 0, v.contents.size() - 1);
            if (!worst) continue;
            const Explanation working = row.check->explain(v.study->evaluation(), *worst);
            for (const ExplanationInput &input : working.inputs)
                if (!input.link.empty()) places.push_back({input.link, state, row.check});
        }
    return places;
}

const TroubledPlace *troubleOf(const std::vector<TroubledPlace> &places, CalibratedQuantity q) {
    const std::string own = "calibration." + std::string(quantityId(q));
    const auto at = std::ranges::find_if(places, [&](const TroubledPlace &p) {
        return p.link == own || p.link == own + ".base" || p.link == own + ".top";
    });
    return at == places.end() ? nullptr : &*at;
}

const TroubledPlace *troubleOf(const std::vector<TroubledPlace> &places, const ExtraTable &extra) {
    const std::string path = "calibration.extras.";
    const auto at = std::ranges::find_if(places, [&](const TroubledPlace &p) {
        // Of a kind those count that somebody has said.
        return p.link == path + extra.name ||
               (p.link == path + std::string(definitionOf(extra.kind).id) && !whollyEstimated(extra));
    });
    return at == places.end() ? nullptr : &*at;
}

} // namespace wheelwright
