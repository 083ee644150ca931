// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/language.h"

#include "core/base/error.h"

#include <QTranslator>

#include <algorithm>
#include <array>
#include <memory>

// In no namespace, where alone it works.
static void languageResources() {
    Q_INIT_RESOURCE(translations);
}

namespace wheelwright {
namespace {

constexpr std::array languages{Language{"en", "English", '.'}, Language{"de", "Deutsch", ','},
                               Language{"es", "Español", ','}};

} // namespace

std::span<const Language> allLanguages() {
    return languages;
}

const Language *languageBy(const QString &code) {
    const auto *at =
        std::ranges::find_if(languages, [&](const Language &l) { return code == QLatin1String(l.code); });
    return at == languages.end() ? nullptr : at;
}

bool loadCatalogue(QTranslator &to, const Language &language) {
    languageResources();
    return to.load(QStringLiteral("wheelwright_") + QLatin1String(language.code), QStringLiteral(":/i18n"));
}

UnitChoice unitsIn(UnitChoice units, char decimalPoint,
                   const std::function<std::string(std::string_view, std::string_view)> &translate) {
    units.decimalPoint = decimalPoint;
    auto words = std::make_shared<UnitWords>();
    for (const UnitWord &w : allUnitWords())
        words->emplace(w.id, translate(w.phraseId, w.text));
    units.words = std::move(words);
    return units;
}

Wording wordingIn(const std::string &code, const UnitChoice &units) {
    const Language *language = languageBy(QString::fromStdString(code));
    if (!language) {
        std::string known;
        for (const Language &l : languages)
            known += (known.empty() ? "" : ", ") + std::string(l.code);
        throw InputError("language", Phrase{MARKED("expected.one_of", "one of {a}"), {}, {known}},
                         "'" + echoed(code, 20) + "'");
    }
    auto catalogue = std::make_shared<QTranslator>();
    if (!loadCatalogue(*catalogue, *language)) return {units, {}};
    const auto translate = [catalogue](std::string_view id, std::string_view text) {
        const QString said = catalogue->translate(std::string(id).c_str(), std::string(text).c_str());
        return said.isEmpty() ? std::string(text) : said.toStdString();
    };
    return {unitsIn(units, language->decimalPoint, translate), translate};
}

} // namespace wheelwright
