#pragma once
#include "core/base/phrase.h"
#include "core/verify/verdict.h"

#include <QCoreApplication>
#include <QString>

namespace wheelwright {

inline QString text(std::string_view s) {
    return QString::fromUtf8(s.data(), static_cast<qsizetype>(s.size()));
}

/// A phrase of core in the shown units, translated where there is a translation.
inline QString text(const Phrase &phrase, const UnitChoice &units) {
    const QString translated = QCoreApplication::translate("core", phrase.text.c_str());
    return text(format(translated.toStdString(), phrase.values, units));
}

inline QString shown(double value, Dimension dimension, const UnitChoice &units, bool withUnit = true) {
    return text(format(value, dimension, units, withUnit));
}

inline QString stateText(CheckState state) {
    return QCoreApplication::translate("core", stateWord(state).data());
}

} // namespace wheelwright
