#pragma once
#include "core/base/unit.h"

#include <string>
#include <vector>

namespace wheelwright {

/// A number and what it measures.
struct Measured {
    double value = 0;
    Dimension dimension = Dimension::none;
};

/// A sentence with numbers in it: "{0}" in the text stands for values[0]. Core speaks in phrases so that the
/// same finding can be shown in any unit, and the text translated, without computing anything again.
struct Phrase {
    std::string text;
    std::vector<Measured> values;
};

/// The sentence with its numbers put in. "{0}" without a value stays as it is.
std::string format(const Phrase &phrase, const UnitChoice &choice);

/// The same with another text of the same placeholders (a translation).
std::string format(const std::string &text, const std::vector<Measured> &values, const UnitChoice &choice);

/// Contents are spoken of as E85 (ethanol) or M50 (methanol).
std::string contentName(double content, bool methanol);

} // namespace wheelwright
