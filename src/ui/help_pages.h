// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QString>

#include <vector>

namespace wheelwright {

/// A page of the help that ships inside, as Markdown: in the language of the window where it is translated.
/// Empty: there is no such page.
QString helpPage(const QString &name);

/// A heading with what stands under it, for who searches.
struct HelpSection {
    QString page;    ///< "fuel"
    QString title;   ///< "Pour"; of what stands before the first heading of a page: the page's own title
    QString of;      ///< the page's title
    QString words;   ///< plain, without marks of Markdown
    int heading = 0; ///< which of the page's headings, from 0
};
/// All pages in the language of the window, in the order in which they are needed. Read once.
const std::vector<HelpSection> &helpSections();

/// A stop of the tour: a question, where the answer is, and what to see there.
struct TourStop {
    QString title;
    QString place; ///< as Shell::showPlace takes it: "fuel/pour"
    QString words; ///< Markdown
};
std::vector<TourStop> tourStops();

} // namespace wheelwright
