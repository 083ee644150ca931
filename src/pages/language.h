// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"

#include <QString>

#include <functional>
#include <span>
#include <string>

class QTranslator;

namespace wheelwright {

/// In which window and pages speak, and core's sentences with them. Files and what scripts read do not.
struct Language {
    const char *code; ///< ISO 639-1: "de"
    const char *name; ///< in itself: "Deutsch"
    char decimalPoint;
};
/// English, which the sources are written in, first.
std::span<const Language> allLanguages();
/// None: nobody has translated it.
const Language *languageBy(const QString &code);

/// Loads what was translated into it; false for the language of the sources, which needs none.
bool loadCatalogue(QTranslator &to, const Language &language);

/// The same units with that decimal mark and the words that units have in the language of `translate`.
UnitChoice unitsIn(UnitChoice units, char decimalPoint,
                   const std::function<std::string(std::string_view id, std::string_view text)> &translate);

/// How pages are written for somebody without a window. Throws InputError naming the languages there are.
Wording wordingIn(const std::string &code, const UnitChoice &units);

} // namespace wheelwright
