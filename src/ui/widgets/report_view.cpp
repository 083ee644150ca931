// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/report_view.h"

#include "ui/widgets/report_text.h"

#include <QEvent>
#include <QUrl>

#include <algorithm>
#include <cmath>
#include <memory>

namespace wheelwright {

ReportView::ReportView(const QString &accessibleName, Fit fit, QWidget *parent, int lines)
    : QTextBrowser(parent), m_fit(fit), m_lines(lines) {
    setFrameShape(QFrame::NoFrame);
    setOpenLinks(false);
    setAccessibleName(accessibleName);
    QPalette clear = palette(); // not a style sheet: that would change its scroll bars too
    clear.setColor(QPalette::Base, Qt::transparent);
    setPalette(clear);
    connect(this, &QTextBrowser::anchorClicked, this, [this](const QUrl &link) { follow(link.toString()); });
    if (fit == Fit::fills) return;
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    document()->setDocumentMargin(0);
    if (fit == Fit::steady) {
        setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Maximum);
        return;
    }
    setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    QSizePolicy policy(QSizePolicy::Expanding, QSizePolicy::Preferred);
    policy.setHeightForWidth(true);
    setSizePolicy(policy);
}

void ReportView::show(Report report, const UnitChoice &units) {
    show(WorkedReport{std::move(report), {}}, units);
}

void ReportView::show(WorkedReport report, const UnitChoice &units) {
    m_report = std::move(report);
    m_units = units;
    write();
}

void ReportView::say(Sentence sentence, const UnitChoice &units) {
    Report one;
    one.blocks.push_back(std::move(sentence));
    show(std::move(one), units);
}

void ReportView::write() {
    writeReport(*document(), m_report.report, m_units);
    if (m_fit == Fit::grows) updateGeometry();
}

QString ReportView::words() const {
    return toPlainText();
}

int ReportView::heightForWidth(int width) const {
    if (m_fit != Fit::grows) return -1;
    const std::unique_ptr<QTextDocument> copy(document()->clone());
    copy->setTextWidth(width);
    return static_cast<int>(std::ceil(copy->size().height()));
}

QSize ReportView::sizeHint() const {
    constexpr int usual = 420;
    if (m_fit == Fit::fills) return QTextBrowser::sizeHint();
    if (m_fit == Fit::steady) return {usual, heightOf(m_lines)};
    const int wide = width() > 0 && isVisible() ? width() : usual;
    return {usual, heightForWidth(wide)};
}

QSize ReportView::minimumSizeHint() const {
    constexpr int narrow = 80, least = 3;
    if (m_fit == Fit::fills) return QTextBrowser::minimumSizeHint();
    return {narrow, heightOf(m_fit == Fit::steady ? std::min(least, m_lines) : 1)};
}

int ReportView::heightOf(int lines) const {
    constexpr int slack = 8; // a first line that is larger, space between paragraphs
    return lines * fontMetrics().lineSpacing() + fontMetrics().descent() + (lines > 1 ? slack : 0);
}

void ReportView::follow(const QString &link) {
    if (!link.startsWith(QLatin1String("working:"))) {
        emit linkWanted(link);
        return;
    }
    const auto at = static_cast<std::size_t>(link.section(QLatin1Char(':'), 1).toUInt());
    if (at >= m_report.workings.size()) return;
    const auto explain = m_report.workings[at]; // who hears of it may show another report
    emit explained(explain());
}

void ReportView::changeEvent(QEvent *event) {
    if (event->type() == QEvent::PaletteChange && !m_report.report.blocks.empty()) write();
    QTextBrowser::changeEvent(event);
}

} // namespace wheelwright
