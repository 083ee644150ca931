// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/fonts.h"

#include <QFontDatabase>
#include <QGuiApplication>

// Of a static library nothing is there before it is asked for; outside of any namespace, as Qt wants it.
static void initPageFonts() {
    Q_INIT_RESOURCE(page_fonts);
}

namespace wheelwright {

void loadPageFonts() {
    initPageFonts();
    for (const char *file : {"sans-regular", "sans-bold", "mono-regular", "mono-bold"})
        QFontDatabase::addApplicationFont(
            QStringLiteral(":/fonts/wheelwright-%1.otf").arg(QLatin1String(file)));
    QGuiApplication::setFont(QFont(QStringLiteral("Wheelwright Sans")));
}

} // namespace wheelwright
