// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/report_text.h"

#include "pages/report_pages.h"
#include "pages/rich_text.h"
#include "session/export_file.h"
#include "ui/text.h"
#include "ui/text_size.h"
#include "ui/theme.h"

#include <QFileInfo>
#include <QTextDocument>

namespace wheelwright {

void writeReport(QTextDocument &document, const Report &report, const UnitChoice &units) {
    writeForScreen(document, report, wordingOf(units),
                   {theme().quiet, theme().trouble, theme().heed, theme().palette().link().color(),
                    [](double content) { return theme().content(content); }, fontPixels});
}

void printReport(QPagedPaintDevice &pages, const Report &report, const UnitChoice &units) {
    paintReport(pages, report, wordingOf(units));
}

void saveReport(const QString &path, const Report &report, const UnitChoice &units) {
    const QString kind = QFileInfo(path).suffix().toLower();
    std::string out;
    if (kind == QLatin1String("pdf"))
        out = reportPdf(report, wordingOf(units), Paper::a4);
    else if (kind == QLatin1String("html") || kind == QLatin1String("htm"))
        out = htmlPage(report, wordingOf(units));
    else
        out = plainText(report, wordingOf(units));
    exportFile(path.toStdString(), out);
}

} // namespace wheelwright
