// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "pages/language.h"

namespace wheelwright {

/// From now on; what has been shown before keeps its words until it is made anew. Of a code that is not
/// known: English.
void useLanguage(const QString &code);
QString usedLanguage(); ///< its code

/// "." or ","; anything else: as the language has it. Fields that count up and down and the axes of charts
/// take it when they are made.
void useDecimalMark(const QString &mark);
QString usedDecimalMark(); ///< as it was chosen: empty where the language says

/// The same units with the decimal mark and the words for units that are used now.
UnitChoice spokenUnits(const UnitChoice &units);

} // namespace wheelwright
