// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/report_text.h"

#include "session/export_file.h"
#include "ui/text.h"
#include "ui/text_size.h"
#include "ui/theme.h"

#include <QBuffer>
#include <QFileInfo>
#include <QImage>
#include <QPageLayout>
#include <QPageSize>
#include <QPainter>
#include <QPdfWriter>
#include <QSvgRenderer>
#include <QTextCursor>
#include <QTextDocument>
#include <QTextList>
#include <QTextTable>

#include <algorithm>
#include <array>

namespace wheelwright {
namespace {

constexpr double pointsPerPixel = 72.0 / 96; // of a usual screen

class RichText {
  public:
    RichText(QTextDocument &document, const UnitChoice &units, bool print)
        : m_cursor(&document), m_wording(wordingOf(units)), m_print(print) {}

    void operator()(const Heading &h) {
        constexpr std::array sizes{20, 16, 14, 13};
        constexpr int above = 9;
        paragraph(above);
        const int level = std::clamp(h.level, 0, 3);
        const std::vector<Wording::Piece> pieces = m_wording.piecesOf(h.words);
        const bool marked = std::ranges::any_of(pieces, &Wording::Piece::matters);
        for (const Wording::Piece &piece : pieces) {
            QTextCharFormat format = toned(level == 3 ? Tone::quiet : Tone::plain);
            setSize(format, sizes[static_cast<std::size_t>(level)]);
            if (piece.matters || (level < 3 && !marked)) format.setFontWeight(QFont::Bold);
            m_cursor.insertText(text(piece.text), format);
        }
    }
    void operator()(const Sentence &s) {
        constexpr int above = 1;
        paragraph(above);
        write(s, m_cursor);
    }
    void operator()(const Steps &s) {
        QTextList *list = nullptr;
        for (const Sentence &step : s.steps) {
            paragraph(0);
            write(step, m_cursor);
            if (s.steps.size() < 2) continue; // one step needs no number
            if (list)
                list->add(m_cursor.block());
            else
                list = m_cursor.createList(QTextListFormat::ListDecimal);
        }
    }
    void operator()(const Grid &g) {
        paragraph(0);
        QTextTableFormat format;
        format.setBorderStyle(QTextFrameFormat::BorderStyle_None);
        format.setCellPadding(2);
        const int columns = static_cast<int>(g.heads.size());
        if (columns == 0) return;
        QTextTable *table = m_cursor.insertTable(static_cast<int>(g.rows.size()) + 1, columns, format);
        for (int c = 0; c < columns; ++c)
            table->cellAt(0, c).firstCursorPosition().insertText(words(g.heads[static_cast<std::size_t>(c)]),
                                                                 toned(Tone::quiet));
        for (std::size_t r = 0; r < g.rows.size(); ++r)
            for (int c = 0; c < columns; ++c)
                write(g.rows[r][static_cast<std::size_t>(c)],
                      table->cellAt(static_cast<int>(r) + 1, c).firstCursorPosition());
        m_cursor.movePosition(QTextCursor::End);
    }
    void operator()(const ReportChart &c) {
        constexpr int width = 640, height = 320;
        QSvgRenderer drawing(QByteArray::fromStdString(chartSvg(c, m_wording, width, height)));
        QImage picture(width, height, QImage::Format_ARGB32_Premultiplied);
        picture.fill(Qt::white);
        QPainter painter(&picture);
        drawing.render(&painter);
        painter.end();
        paragraph(0);
        m_cursor.insertImage(picture);
    }
    void title(const Phrase &phrase) {
        QTextCharFormat format;
        constexpr int size = 20;
        setSize(format, size);
        format.setFontWeight(QFont::Bold);
        paragraph(0);
        m_cursor.insertText(words(phrase), format);
    }

  private:
    QString words(const Phrase &phrase) const { return text(m_wording.of(phrase)); }

    // On paper in points: a pixel of a printer is a twelfth of one of a screen.
    void setSize(QTextCharFormat &format, int pixels) const {
        if (m_print)
            format.setFontPointSize(pixels * pointsPerPixel);
        else
            format.setProperty(QTextFormat::FontPixelSize, fontPixels(pixels));
    }

    QTextCharFormat toned(Tone tone) const {
        QTextCharFormat format;
        if (tone == Tone::trouble) format.setFontWeight(QFont::Bold);
        if (m_print) return format;
        if (tone == Tone::quiet) format.setForeground(theme().quiet);
        if (tone == Tone::trouble) format.setForeground(theme().trouble);
        return format;
    }

    // Of a strong sentence what matters in it is large, of an answer larger; all of it is when nothing is
    // marked.
    void write(const Sentence &s, QTextCursor at) {
        const std::vector<Wording::Piece> pieces = m_wording.piecesOf(s.words);
        const bool marked = std::ranges::any_of(pieces, &Wording::Piece::matters);
        if (s.tone == Tone::caution) { // told by a shape, not by colour alone
            QTextCharFormat mark;
            if (!m_print) mark.setForeground(theme().heed);
            at.insertText(QStringLiteral("◖ "), mark);
        }
        for (const Wording::Piece &piece : pieces) {
            QTextCharFormat format = toned(s.tone);
            if (s.tone == Tone::leading && !piece.matters && !m_print) {
                format.setForeground(theme().palette().link());
                format.setFontUnderline(true);
            }
            const bool loud = s.tone == Tone::strong || s.tone == Tone::answer;
            const bool strong = piece.matters || (loud && !marked);
            constexpr int large = 16, larger = 28;
            if (strong) format.setFontWeight(QFont::Bold);
            if (strong && loud) setSize(format, s.tone == Tone::answer ? larger : large);
            if (strong && s.content && !m_print) format.setForeground(theme().content(*s.content));
            if (!s.link.empty() && !m_print) {
                format.setAnchor(true);
                format.setAnchorHref(text(s.link));
            }
            at.insertText(text(piece.text), format);
        }
    }

    void paragraph(int above) {
        QTextBlockFormat block;
        block.setTopMargin(m_first ? 0 : above);
        if (m_first)
            m_cursor.setBlockFormat(block);
        else
            m_cursor.insertBlock(block, QTextCharFormat());
        m_first = false;
    }

    QTextCursor m_cursor;
    Wording m_wording;
    bool m_print, m_first = true;
};

} // namespace

void writeReport(QTextDocument &document, const Report &report, const UnitChoice &units) {
    document.setUndoRedoEnabled(false);
    // One edit: what shows the document lays it out once, not after every piece.
    QTextCursor whole(&document);
    whole.beginEditBlock();
    whole.select(QTextCursor::Document);
    whole.removeSelectedText();
    whole.setBlockFormat({});
    whole.setCharFormat({});
    RichText out(document, units, false);
    for (const Block &block : report.blocks)
        std::visit(out, block);
    whole.endEditBlock();
}

void writeForPrint(QTextDocument &document, const Report &report, const UnitChoice &units) {
    document.clear();
    QFont font = document.defaultFont();
    constexpr int usualPixels = 13;
    font.setPointSizeF(usualPixels * pointsPerPixel);
    document.setDefaultFont(font);
    RichText out(document, units, true);
    out.title(report.title);
    for (const Block &block : report.blocks)
        std::visit(out, block);
}

void paintReport(QPagedPaintDevice &pages, const Report &report, const UnitChoice &units) {
    QTextDocument document;
    writeForPrint(document, report, units);
    document.print(&pages);
}

namespace {

std::string pdfOf(const Report &report, const UnitChoice &units) {
    QBuffer bytes;
    bytes.open(QIODevice::WriteOnly);
    QPdfWriter pdf(&bytes);
    pdf.setPageSize(QPageSize(QPageSize::A4));
    constexpr int edgeMm = 18;
    pdf.setPageMargins(QMarginsF(edgeMm, edgeMm, edgeMm, edgeMm), QPageLayout::Millimeter);
    pdf.setTitle(text(report.title, units));
    paintReport(pdf, report, units);
    return bytes.data().toStdString();
}

} // namespace

void saveReport(const QString &path, const Report &report, const UnitChoice &units) {
    const QString kind = QFileInfo(path).suffix().toLower();
    std::string out;
    if (kind == QLatin1String("pdf"))
        out = pdfOf(report, units);
    else if (kind == QLatin1String("html") || kind == QLatin1String("htm"))
        out = htmlPage(report, wordingOf(units));
    else
        out = plainText(report, wordingOf(units));
    exportFile(path.toStdString(), out);
}

} // namespace wheelwright
