// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/proposal/move_verdict.h"

#include <array>
#include <cmath>

namespace wheelwright {

std::string_view moveVerdictKey(MoveVerdict verdict) {
    constexpr std::array<std::string_view, 4> keys{"as_expected", "off", "not_sure", "not_judged"};
    return keys[static_cast<std::size_t>(verdict)];
}

PhraseText inWords(MoveVerdict verdict) {
    switch (verdict) {
    case MoveVerdict::asExpected:
        return MARKED("move_verdict.as_expected", "as expected");
    case MoveVerdict::off:
        return MARKED("move_verdict.off", "off");
    case MoveVerdict::notSure:
        return MARKED("move_verdict.not_sure", "cannot say: the ± reaches over the tolerance");
    case MoveVerdict::notJudged:
        break;
    }
    return MARKED("move_verdict.not_judged", "not judged");
}

MoveVerdict judgeResidual(double residual, double around, double tolerance) {
    const double size = std::abs(residual);
    return size + around <= tolerance  ? MoveVerdict::asExpected
           : size - around > tolerance ? MoveVerdict::off
                                       : MoveVerdict::notSure;
}

} // namespace wheelwright
