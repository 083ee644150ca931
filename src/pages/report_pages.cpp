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
#include <QTextLayout>

#include <algorithm>
#include <cmath>
#include <string>
#include <vector>

namespace wheelwright {
namespace {

constexpr int footPoints = 20;

/// A report laid out on pages of one device.
class LaidOut {
  public:
    /// size: of a page between its edges, in dots of the device.
    LaidOut(QPaintDevice &device, const QSizeF &size, const Report &report, const Wording &wording,
            bool links = false)
        : m_wording(wording), m_title(QString::fromStdString(wording.of(report.title))) {
        m_foot = footPoints * device.logicalDpiY() / 72.0;
        m_page = QSizeF(size.width(), size.height() - m_foot);
        PaperSetting setting{links, {}};
        for (const Report &part : onePages(report))
            setting.onePages.push_back(sizeToFit(device, part));
        set(m_document, device, report, setting);
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

    /// What stands on each page, and where something on it leads; from the corner of the page's text.
    void read(std::vector<PagePicture> &pages) const {
        const QAbstractTextDocumentLayout &layout = *m_document.documentLayout();
        for (QTextBlock b = m_document.begin(); b.isValid(); b = b.next()) {
            const QRectF place = layout.blockBoundingRect(b);
            const auto page = static_cast<std::size_t>(std::max(0.0, place.top() / m_page.height()));
            if (page >= pages.size()) continue;
            const QPointF corner = place.topLeft() - QPointF(0, static_cast<double>(page) * m_page.height());
            if (!b.text().isEmpty()) pages[page].words += b.text() + QLatin1Char('\n');
            std::vector<PagePicture::Link> &links = pages[page].links;
            const std::size_t before = links.size();
            for (auto piece = b.begin(); !piece.atEnd(); ++piece) {
                const QTextFragment f = piece.fragment();
                if (!f.charFormat().isAnchor()) continue;
                const QRect at = placeOf(b, f).translated(corner).toAlignedRect();
                const QString leadsTo = f.charFormat().anchorHref();
                if (links.size() > before && links.back().leadsTo == leadsTo) { // bold and plain of one
                    links.back().at |= at;
                    links.back().words += f.text();
                } else {
                    links.push_back({at, leadsTo, f.text()});
                }
            }
        }
    }

  private:
    void set(QTextDocument &document, QPaintDevice &device, const Report &report,
             const PaperSetting &setting) const {
        document.documentLayout()->setPaintDevice(&device);
        document.setDocumentMargin(0); // before anything stands there: each lays out all that does
        document.setPageSize(m_page);
        writeForPaper(document, report, m_wording, setting);
    }
    // Those parts of it that are to stand on one page each, by themselves.
    static std::vector<Report> onePages(const Report &report) {
        std::vector<Report> out;
        Report page{report.title, {}};
        bool one = false;
        const auto end = [&] {
            if (one) out.push_back(page);
            page = Report{};
            one = false;
        };
        for (const Block &b : report.blocks) {
            if (std::holds_alternative<PageBreak>(b)) end();
            one = one || std::holds_alternative<OnePage>(b);
            if (!std::holds_alternative<PageBreak>(b)) page.blocks.push_back(b);
        }
        end();
        return out;
    }
    // The largest at which it does; what does not at the smallest that is read runs over.
    double sizeToFit(QPaintDevice &device, const Report &part) const {
        constexpr double smallest = 0.7, step = 0.04;
        constexpr int sizes = 8; // 1 down to 0.72
        const auto sizeOf = [](int i) { return 1 - i * step; };
        const auto fits = [&](int i) {
            QTextDocument alone;
            set(alone, device, part, {false, {sizeOf(i)}});
            return alone.pageCount() == 1;
        };
        if (fits(0)) return 1;
        int over = 0, fitting = sizes; // halved: each try lays the page out
        while (fitting - over > 1) {
            const int middle = (over + fitting) / 2;
            (fits(middle) ? fitting : over) = middle;
        }
        return fitting < sizes ? sizeOf(fitting) : smallest;
    }
    // In its block; over all lines that it stands on.
    static QRectF placeOf(const QTextBlock &block, const QTextFragment &piece) {
        const int from = piece.position() - block.position(), to = from + piece.length();
        QRectF out;
        for (int i = 0; i < block.layout()->lineCount(); ++i) {
            const QTextLine line = block.layout()->lineAt(i);
            const int first = std::max(from, line.textStart()),
                      end = std::min(to, line.textStart() + line.textLength());
            if (first >= end) continue;
            const double left = line.cursorToX(first), right = line.cursorToX(end);
            out |= QRectF(left, line.y(), right - left, line.height());
        }
        return out;
    }

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

std::vector<PagePicture> reportPictures(const Report &report, const Wording &wording, Paper paper,
                                        int widthPixels, const std::function<bool()> &stopped) {
    const QPageLayout layout = layoutOf(paper);
    const double inches = layout.fullRect(QPageLayout::Inch).width();
    const int dots = static_cast<int>(std::lround(widthPixels / inches));
    const QRect full = layout.fullRectPixels(dots), inside = layout.paintRectPixels(dots);
    QImage sheet(full.size(), QImage::Format_RGB32);
    constexpr double inchesPerMetre = 39.3700787;
    sheet.setDotsPerMeterX(static_cast<int>(std::lround(dots * inchesPerMetre)));
    sheet.setDotsPerMeterY(sheet.dotsPerMeterX());
    const LaidOut laid(sheet, inside.size(), report, wording, true);
    std::vector<PagePicture> out;
    for (int i = 0; i < laid.count(); ++i) {
        if (stopped && stopped()) return {};
        sheet.fill(Qt::white);
        QPainter painter(&sheet);
        painter.translate(inside.topLeft());
        laid.paint(painter, i);
        painter.end();
        out.push_back({sheet, {}, {}});
    }
    laid.read(out);
    for (PagePicture &page : out)
        for (PagePicture::Link &link : page.links)
            link.at.translate(inside.topLeft());
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
