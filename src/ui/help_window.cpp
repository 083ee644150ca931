// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/help_window.h"

#include "ui/theme.h"

#include <QApplication>
#include <QDir>
#include <QFile>
#include <QTextBrowser>
#include <QTextTable>
#include <QVBoxLayout>

namespace wheelwright {

HelpWindow::HelpWindow(QWidget *parent) : QDialog(parent), m_text(new QTextBrowser(this)) {
    setWindowTitle(tr("Help"));
    setObjectName(QStringLiteral("help"));
    resize(640, 640);
    m_text->setOpenLinks(false);
    m_text->setAccessibleName(tr("Help text"));
    auto *layout = new QVBoxLayout(this);
    layout->addWidget(m_text);
    connect(m_text, &QTextBrowser::anchorClicked, this, [this](const QUrl &url) { open(url.toString()); });
}

void HelpWindow::open(const QString &page) {
    QFile file(QStringLiteral(":/help/%1.md").arg(page));
    m_page = file.exists() ? page : QStringLiteral("start");
    if (!file.exists()) file.setFileName(QStringLiteral(":/help/start.md"));
    if (!file.open(QIODevice::ReadOnly)) return;
    m_text->setMarkdown(QString::fromUtf8(file.readAll())
                            .replace(QLatin1String("{version}"), QApplication::applicationVersion()));
    calmTables();
    show();
    raise();
}

// Lines of a table are said by their rows: a grid of boxes is louder than what stands in it.
void HelpWindow::calmTables() {
    for (QTextFrame *frame : m_text->document()->rootFrame()->childFrames()) {
        auto *table = qobject_cast<QTextTable *>(frame);
        if (!table) continue;
        QTextTableFormat format = table->format();
        format.setBorder(0);
        format.setCellSpacing(0);
        constexpr double padding = 4;
        format.setCellPadding(padding);
        table->setFormat(format);
        for (int row = 0; row < table->rows(); ++row)
            for (int column = 0; column < table->columns(); ++column) {
                QTextTableCell cell = table->cellAt(row, column);
                QTextTableCellFormat look = cell.format().toTableCellFormat();
                look.setBottomBorder(1);
                look.setBottomBorderStyle(QTextFrameFormat::BorderStyle_Solid);
                look.setBottomBorderBrush(theme().line);
                cell.setFormat(look);
            }
    }
}

std::vector<std::pair<QString, QString>> HelpWindow::pages() {
    std::vector<std::pair<QString, QString>> all;
    for (const QString &name : QDir(QStringLiteral(":/help")).entryList({QStringLiteral("*.md")})) {
        QFile file(QStringLiteral(":/help/") + name);
        if (!file.open(QIODevice::ReadOnly)) continue;
        const QString heading = QString::fromUtf8(file.readLine()).trimmed();
        all.emplace_back(name.chopped(3), heading.mid(heading.indexOf(QLatin1Char(' ')) + 1));
    }
    return all;
}

QString HelpWindow::pageOf(const QWidget *widget) {
    for (; widget; widget = widget->parentWidget())
        if (QString page = widget->property("helpPage").toString(); !page.isEmpty()) return page;
    return QStringLiteral("start");
}

} // namespace wheelwright
