// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/language.h"

#include <QCoreApplication>
#include <QLibraryInfo>
#include <QTranslator>

#include <algorithm>
#include <array>
#include <memory>
#include <vector>

// In no namespace, where alone it works.
static void languageResources() {
    Q_INIT_RESOURCE(translations);
}

namespace wheelwright {
namespace {

constexpr std::array languages{Language{"en", "English"}, Language{"de", "Deutsch"},
                               Language{"es", "Español"}};

struct Spoken {
    QString code = QString::fromLatin1(languages.front().code);
    std::vector<std::unique_ptr<QTranslator>> by; ///< ours, and the library's own words
};

Spoken &spoken() {
    static Spoken now;
    return now;
}

} // namespace

std::span<const Language> allLanguages() {
    return languages;
}

QString usedLanguage() {
    return spoken().code;
}

void useLanguage(const QString &code) {
    languageResources();
    Spoken &now = spoken();
    now.by.clear(); // a translator that goes is taken out by itself
    const auto *known =
        std::ranges::find_if(languages, [&](const Language &l) { return code == QLatin1String(l.code); });
    now.code = QString::fromLatin1(known == languages.end() ? languages.front().code : known->code);
    const auto install = [&now](const QString &file, const QString &folder) {
        auto translator = std::make_unique<QTranslator>();
        if (!translator->load(file, folder)) return;
        QCoreApplication::installTranslator(translator.get());
        now.by.push_back(std::move(translator));
    };
    if (now.code == QLatin1String(languages.front().code)) return;
    install(QStringLiteral("qtbase_") + now.code, QLibraryInfo::path(QLibraryInfo::TranslationsPath));
    install(QStringLiteral("wheelwright_") + now.code, QStringLiteral(":/i18n"));
}

} // namespace wheelwright
