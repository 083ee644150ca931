// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/limits.h"
#include "core/verify/check.h"

namespace wheelwright {

/// What holds the boost at one content, and which of a check's questions it belongs to.
struct BoostCeiling {
    double kpa;
    PhraseText aspect;
};

/// Holds the boost target with its overshoot against a ceiling, at every speed of every content.
template <class CeilingOf>
CheckOutcome judgeBoostPeaks(const Evaluation &e, double comfortKpa, CeilingOf ceilingOf) {
    const double overshoot = limitOf(e.job(), "boost.overshoot");
    CheckOutcome out;
    for (const ContentSlice &s : e.slices()) {
        const BoostCeiling ceiling = ceilingOf(s);
        WorstFinder worst(e, s, comfortKpa);
        for (std::size_t i = 0; i < e.rpm().size(); ++i) {
            const double peak = s.reach[i].targetKpa + overshoot;
            if (s.reach[i].runs)
                worst.consider(ceiling.kpa - peak, i, s.reach[i].targetKpa, peak, ceiling.kpa,
                               ceiling.aspect);
        }
        out.byContent.push_back(worst.place());
    }
    return out;
}

/// The parts of a working that both boost checks share: the peak, its numbers and its inputs.
Explanation explainBoostPeak(const Evaluation &evaluation, const WorstPlace &place);

} // namespace wheelwright
