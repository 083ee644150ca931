// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QString>

#include <span>

namespace wheelwright {

/// In which window, reports and core's sentences speak. Files and the command line do not go by it.
struct Language {
    const char *code; ///< ISO 639-1: "de"
    const char *name; ///< in itself: "Deutsch"
};
/// English, which the sources are written in, first.
std::span<const Language> allLanguages();

/// From now on; what has been shown before keeps its words until it is made anew. Of a code that is not
/// known: English.
void useLanguage(const QString &code);
QString usedLanguage(); ///< its code

} // namespace wheelwright
