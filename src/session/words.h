// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"
#include "core/base/text.h"

#include <QCoreApplication>
#include <QString>

namespace wheelwright {

inline QString text(std::string_view s) {
    return QString::fromUtf8(s.data(), static_cast<qsizetype>(s.size()));
}

/// Numbers without a dimension, with the decimal mark that is chosen.
inline QString fixedText(double v, int decimals, const UnitChoice &units) {
    return text(fixedNumber(v, decimals, units.decimalPoint));
}
inline QString briefText(double v, const UnitChoice &units) {
    return text(generalNumber(v, 6, units.decimalPoint));
}
/// To be copied: it reads back as the same number.
inline QString exactText(double v, const UnitChoice &units) {
    return text(exactNumber(v, units.decimalPoint));
}

/// How core's phrases are shown in the window: the chosen units, and their translation where there is one.
inline Wording wordingOf(const UnitChoice &units) {
    return {units, [](std::string_view id, std::string_view words) {
                return QCoreApplication::translate(std::string(id).c_str(), std::string(words).c_str())
                    .toStdString();
            }};
}

/// Of what is said where nobody has chosen units: a title. The decimal mark and words of the language are in
/// it (ui/language.h).
inline UnitChoice &titleUnits() {
    static UnitChoice units;
    return units;
}

/// A phrase of core in the shown units, translated where there is a translation; of a title the units do not
/// matter.
inline QString text(const Phrase &phrase, const UnitChoice &units = titleUnits()) {
    return text(wordingOf(units).of(phrase));
}

} // namespace wheelwright
