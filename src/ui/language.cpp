// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/language.h"

#include "session/words.h"

#include <QCoreApplication>
#include <QLibraryInfo>
#include <QLocale>
#include <QTranslator>

#include <memory>
#include <vector>

namespace wheelwright {
namespace {

struct Spoken {
    const Language *language = allLanguages().data();
    std::vector<std::unique_ptr<QTranslator>> by; ///< the library's own words, and ours
    QString mark;                                 ///< chosen; empty: of the language
};

Spoken &spoken() {
    static Spoken now;
    return now;
}

char decimalPoint() {
    return spoken().mark.isEmpty() ? spoken().language->decimalPoint : spoken().mark[0].toLatin1();
}

// Whatever the surroundings of the process say: a number that is typed and one that is read are written
// alike. The locale stands for its mark alone.
void writeNumbersAlike() {
    QLocale marks = decimalPoint() == ',' ? QLocale(QLocale::German, QLocale::Germany) : QLocale::c();
    marks.setNumberOptions(QLocale::OmitGroupSeparator);
    QLocale::setDefault(marks);
    titleUnits() = spokenUnits({});
}

} // namespace

QString usedLanguage() {
    return QString::fromLatin1(spoken().language->code);
}

void useLanguage(const QString &code) {
    Spoken &now = spoken();
    now.by.clear(); // a translator that goes is taken out by itself
    const Language *known = languageBy(code);
    now.language = known ? known : allLanguages().data();
    auto library = std::make_unique<QTranslator>(), own = std::make_unique<QTranslator>();
    const bool translated = loadCatalogue(*own, *now.language);
    if (translated && library->load(QStringLiteral("qtbase_") + usedLanguage(),
                                    QLibraryInfo::path(QLibraryInfo::TranslationsPath)))
        now.by.push_back(std::move(library));
    if (translated) now.by.push_back(std::move(own));
    for (const auto &translator : now.by)
        QCoreApplication::installTranslator(translator.get());
    writeNumbersAlike();
}

void useDecimalMark(const QString &mark) {
    const bool one = mark == QLatin1String(".") || mark == QLatin1String(",");
    spoken().mark = one ? mark : QString();
    writeNumbersAlike();
}

QString usedDecimalMark() {
    return spoken().mark;
}

UnitChoice spokenUnits(const UnitChoice &units) {
    return unitsIn(units, decimalPoint(), wordingOf({}).translate);
}

} // namespace wheelwright
