// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/report_pages.h"

#include "pages/pdf_outline.h"
#include "pages/rich_text.h"

#include <QAbstractTextDocumentLayout>
#include <QBuffer>
#include <QPageLayout>
#include <QPageSize>
#include <QPainter>
#include <QPdfWriter>
#include <QTextBlock>
#include <QTextDocument>

#include <algorithm>
#include <cmath>
#include <string>
#include <utility>
#include <vector>

namespace wheelwright {
namespace {

constexpr int footPoints = 20;

/// A report laid out on pages of one device.
class LaidOut {
  public:
    /// size: of a page between its edges, in dots of the device.
    LaidOut(QPaintDevice &device, const QSizeF &size, const Report &report, const Wording &wording)
        : m_wording(wording), m_title(QString::fromStdString(wording.of(report.title))) {
        m_document.documentLayout()->setPaintDevice(&device);
        writeForPaper(m_document, report, wording);
        m_foot = footPoints * device.logicalDpiY() / 72.0;
        m_page = QSizeF(size.width(), size.height() - m_foot);
        m_document.setDocumentMargin(0);
        m_document.setPageSize(m_page);
        m_small = m_document.defaultFont();
        constexpr double footSize = 7.5;
        m_small.setPointSizeF(footSize);
    }
    int count() const { return m_document.pageCount(); }

    void paint(QPainter &painter, int page) const {
        painter.save();
        painter.translate(0, -page * m_page.height());
        QAbstractTextDocumentLayout::PaintContext context;
        context.palette.setColor(QPalette::Text, Qt::black);
        context.clip = QRectF(0, page * m_page.height(), m_page.width(), m_page.height());
        painter.setClipRect(context.clip, Qt::IntersectClip);
        m_document.documentLayout()->draw(&painter, context);
        painter.restore();
        painter.setPen(Qt::black);
        painter.setFont(QFont(m_small, painter.device()));
        const QRectF line(0, m_page.height(), m_page.width(), m_foot);
        painter.drawText(line, Qt::AlignLeft | Qt::AlignBottom, m_title);
        const Phrase place{
            MARKED("pages.foot", "{0} of {1}"),
            {{page + 1.0, Dimension::count}, {static_cast<double>(count()), Dimension::count}}};
        painter.drawText(line, Qt::AlignRight | Qt::AlignBottom, QString::fromStdString(m_wording.of(place)));
    }
    std::vector<OutlineEntry> outline() const {
        std::vector<OutlineEntry> out{{m_title.toStdString(), 0, 1}};
        for (QTextBlock b = m_document.begin(); b.isValid(); b = b.next()) {
            const int level = b.blockFormat().headingLevel();
            constexpr int deepest = 2; // what stands below is found on the page
            if (level < 1 || level > deepest) continue;
            const double top = m_document.documentLayout()->blockBoundingRect(b).top();
            out.push_back({b.text().toStdString(), static_cast<int>(top / m_page.height()), level});
        }
        return out;
    }

  private:
    QTextDocument m_document;
    const Wording &m_wording;
    QString m_title;
    double m_foot = 0;
    QSizeF m_page;
    QFont m_small;
};

std::vector<OutlineEntry> paint(QPagedPaintDevice &pages, const Report &report, const Wording &wording) {
    QPainter painter(&pages);
    const LaidOut laid(pages, QSizeF(pages.width(), pages.height()), report, wording);
    for (int i = 0; i < laid.count(); ++i) {
        if (i > 0) pages.newPage();
        laid.paint(painter, i);
    }
    return laid.outline();
}

QPageLayout layoutOf(Paper paper) {
    constexpr int edgeMm = 13;
    return QPageLayout(QPageSize(paper == Paper::a4 ? QPageSize::A4 : QPageSize::Letter),
                       QPageLayout::Portrait, QMarginsF(edgeMm, edgeMm, edgeMm, edgeMm),
                       QPageLayout::Millimeter);
}

} // namespace

void paintReport(QPagedPaintDevice &pages, const Report &report, const Wording &wording) {
    paint(pages, report, wording);
}

std::vector<QImage> reportPictures(const Report &report, const Wording &wording, Paper paper, int widthPixels,
                                   const std::function<bool()> &stopped) {
    const QPageLayout layout = layoutOf(paper);
    const double inches = layout.fullRect(QPageLayout::Inch).width();
    const int dots = static_cast<int>(std::lround(widthPixels / inches));
    const QRect full = layout.fullRectPixels(dots), inside = layout.paintRectPixels(dots);
    QImage sheet(full.size(), QImage::Format_RGB32);
    constexpr double inchesPerMetre = 39.3700787;
    sheet.setDotsPerMeterX(static_cast<int>(std::lround(dots * inchesPerMetre)));
    sheet.setDotsPerMeterY(sheet.dotsPerMeterX());
    const LaidOut laid(sheet, inside.size(), report, wording);
    std::vector<QImage> out;
    for (int i = 0; i < laid.count(); ++i) {
        if (stopped && stopped()) return {};
        sheet.fill(Qt::white);
        QPainter painter(&sheet);
        painter.translate(inside.topLeft());
        laid.paint(painter, i);
        painter.end();
        out.push_back(sheet);
    }
    return out;
}

std::string reportPdf(const Report &report, const Wording &wording, Paper paper, const std::string &remark) {
    QBuffer bytes;
    bytes.open(QIODevice::WriteOnly);
    QPdfWriter pdf(&bytes);
    pdf.setPageLayout(layoutOf(paper));
    pdf.setTitle(QString::fromStdString(wording.of(report.title)));
    pdf.setCreator(QStringLiteral("Wheelwright"));
    const std::vector<OutlineEntry> entries = paint(pdf, report, wording);
    return withOutline(bytes.data().toStdString(), entries, remark);
}

} // namespace wheelwright
