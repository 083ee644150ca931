// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/report/report.h"

#include <QImage>
#include <QRect>
#include <QString>

#include <functional>
#include <string>
#include <vector>

class QPagedPaintDevice;

namespace wheelwright {

enum class Paper { a4, letter };

/// A report on the pages of a printer or a file, numbered at their foot. Needs an application with fonts.
void paintReport(QPagedPaintDevice &pages, const Report &report, const Wording &wording);

/// A page as it will be printed, for a screen.
struct PagePicture {
    struct Link {
        QRect at;        ///< in pixels of the picture
        QString leadsTo; ///< as the sentence has it
        QString words;
    };
    QImage picture;
    std::vector<Link> links; ///< as they are read
    QString words;           ///< all that stands on it, for who cannot see it
};

/// The same pages as pictures, as wide as that; in any thread. stopped: looked at between pages, none then.
std::vector<PagePicture> reportPictures(const Report &report, const Wording &wording, Paper paper,
                                        int widthPixels, const std::function<bool()> &stopped = {});

/// The bytes of a PDF: fonts embedded, charts as lines, an outline of the report's headings, the title in its
/// information, and a remark beside it. Needs an application with fonts.
std::string reportPdf(const Report &report, const Wording &wording, Paper paper,
                      const std::string &remark = {});

} // namespace wheelwright
