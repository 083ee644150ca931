// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/verify/verdict.h"
#include "session/words.h"

namespace wheelwright {

inline QString shown(double value, Dimension dimension, const UnitChoice &units, bool withUnit = true) {
    return text(format(value, dimension, units, withUnit));
}

inline QString stateText(CheckState state) {
    return text(stateWord(state));
}

} // namespace wheelwright
