// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/help_pages.h"

#include "ui/language.h"

#include <QApplication>
#include <QDir>
#include <QFile>
#include <QRegularExpression>

#include <map>

namespace wheelwright {
namespace {

const QString helpFolder = QStringLiteral(":/help/");

// "## Pour": its depth; 0 for what is no heading.
int depthOf(const QString &line) {
    static const QRegularExpression heading(QStringLiteral("^(#+) "));
    return static_cast<int>(heading.match(line).capturedLength(1));
}

QString plain(QString words) {
    static const QRegularExpression link(QStringLiteral("\\[([^\\]]*)\\]\\([^)]*\\)")),
        marks(QStringLiteral("[*`|]|^- "));
    return words.replace(link, QStringLiteral("\\1")).remove(marks).simplified();
}

std::vector<HelpSection> sectionsOf(const QString &name) {
    std::vector<HelpSection> out;
    QString title;
    for (const QString &line : helpPage(name).split(u'\n')) {
        if (const int depth = depthOf(line)) {
            const QString words = plain(line.mid(depth + 1));
            if (out.empty()) title = words;
            out.push_back({name, words, title, {}, static_cast<int>(out.size())});
        } else if (!out.empty()) {
            out.back().words += plain(line) + u' ';
        }
    }
    return out;
}

} // namespace

QString helpPage(const QString &name) {
    for (const QString &path : {helpFolder + usedLanguage() + u'/' + name, helpFolder + name}) {
        QFile file(path + QStringLiteral(".md"));
        if (!name.isEmpty() && file.open(QIODevice::ReadOnly))
            return QString::fromUtf8(file.readAll())
                .replace(QLatin1String("{version}"), QApplication::applicationVersion());
    }
    return {};
}

namespace {

std::vector<HelpSection> sectionsAsRead() {
    // As they are needed: where to begin, the stations in the order of work, what lies over them, and what is
    // looked up. A page that is not named here stands at the end.
    QStringList names =
        QStringLiteral("start tour tasks job fuel flow tables ladder cell evidence runs verify "
                       "handover ruler working revisions keys glossary formulas sources safety about")
            .split(u' ');
    for (const QString &file : QDir(helpFolder).entryList({QStringLiteral("*.md")}, QDir::Files))
        if (!names.contains(file.chopped(3))) names << file.chopped(3);
    std::vector<HelpSection> all;
    for (const QString &name : names) {
        const std::vector<HelpSection> page = sectionsOf(name);
        all.insert(all.end(), page.begin(), page.end());
    }
    return all;
}

} // namespace

const std::vector<HelpSection> &helpSections() {
    static std::map<QString, std::vector<HelpSection>> read; // the pages are part of the program
    const auto [of, fresh] = read.try_emplace(usedLanguage());
    if (fresh) of->second = sectionsAsRead();
    return of->second;
}

std::vector<TourStop> tourStops() {
    static const QRegularExpression look(QStringLiteral("^\\[[^\\]]*\\]\\(at:([^)]*)\\) *"));
    std::vector<TourStop> out;
    for (const QString &line : helpPage(QStringLiteral("tour")).split(u'\n')) {
        if (const int depth = depthOf(line)) {
            if (depth > 1) out.push_back({line.mid(depth + 1), {}, {}});
        } else if (!out.empty()) {
            const auto place = look.match(line);
            if (place.hasMatch()) out.back().place = place.captured(1);
            out.back().words += line.mid(place.capturedLength()) + u' ';
        }
    }
    for (TourStop &stop : out)
        stop.words = stop.words.trimmed();
    return out;
}

} // namespace wheelwright
