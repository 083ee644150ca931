// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"

#include <string_view>

namespace wheelwright {

/// What a difference that should not be there is worth, given its standard error.
enum class MoveVerdict {
    asExpected, ///< the residual with its ± lies within the tolerance
    off,        ///< it lies outside with its ±
    notSure,    ///< its ± reaches over the tolerance
    notJudged   ///< the logs do not say it, or nobody knows what to expect
};
std::string_view moveVerdictKey(MoveVerdict verdict); ///< "as_expected"
PhraseText inWords(MoveVerdict verdict);

/// around: half of its 95 % interval.
MoveVerdict judgeResidual(double residual, double around, double tolerance);

} // namespace wheelwright
