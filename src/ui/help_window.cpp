// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/help_window.h"

#include <QFile>
#include <QTextBrowser>
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
    m_text->setMarkdown(QString::fromUtf8(file.readAll()));
    show();
    raise();
}

QString HelpWindow::pageOf(const QWidget *widget) {
    for (; widget; widget = widget->parentWidget())
        if (QString page = widget->property("helpPage").toString(); !page.isEmpty()) return page;
    return QStringLiteral("start");
}

} // namespace wheelwright
