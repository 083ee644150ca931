// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"

#include <QCoreApplication>
#include <QString>

namespace wheelwright {

inline QString text(std::string_view s) {
    return QString::fromUtf8(s.data(), static_cast<qsizetype>(s.size()));
}

/// How core's phrases are shown in the window: the chosen units, and their translation where there is one.
inline Wording wordingOf(const UnitChoice &units) {
    return {units, [](std::string_view id, std::string_view words) {
                return QCoreApplication::translate(std::string(id).c_str(), std::string(words).c_str())
                    .toStdString();
            }};
}

/// A phrase of core in the shown units, translated where there is a translation; of a title the units do not
/// matter.
inline QString text(const Phrase &phrase, const UnitChoice &units = {}) {
    return text(wordingOf(units).of(phrase));
}

} // namespace wheelwright
