// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"

#include <string>
#include <vector>

namespace wheelwright {

/// One number that went into another.
struct ExplanationInput {
    std::string symbol; ///< as in the formula: "w"
    Phrase title;       ///< "weight of the top table"
    Measured value;
    std::string link; ///< where it can be changed: the path of a field, curve, table or limit; empty: nowhere
};

/// The working of a number, for the panel that shows it. All of it is made in core, beside the formula
/// itself.
struct Explanation {
    Phrase title;
    Measured result;
    Phrase formula;     ///< in symbols
    Phrase substituted; ///< with the numbers put in
    std::vector<ExplanationInput> inputs;
    Phrase source; ///< published, 'common practice' or 'from memory'
    Phrase uncertainty;
    Phrase change; ///< what would change it, or clear a finding
};

} // namespace wheelwright
