// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"
#include "core/verify/verdict.h"

#include <QCoreApplication>
#include <QString>

namespace wheelwright {

inline QString text(std::string_view s) {
    return QString::fromUtf8(s.data(), static_cast<qsizetype>(s.size()));
}

/// How core's phrases are shown in the window: the chosen units, and their translation where there is one.
inline Wording wordingOf(const UnitChoice &units) {
    return {units, [](std::string_view id, const std::string &words) {
                const std::string context(id.empty() ? "core" : id);
                return QCoreApplication::translate(context.c_str(), words.c_str()).toStdString();
            }};
}

/// A phrase of core in the shown units, translated where there is a translation.
inline QString text(const Phrase &phrase, const UnitChoice &units) {
    return text(wordingOf(units).of(phrase));
}

inline QString shown(double value, Dimension dimension, const UnitChoice &units, bool withUnit = true) {
    return text(format(value, dimension, units, withUnit));
}

inline QString stateText(CheckState state) {
    return QCoreApplication::translate("core", stateWord(state).data());
}

} // namespace wheelwright
