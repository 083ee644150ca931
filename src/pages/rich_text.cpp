// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/rich_text.h"

#include "pages/chart_object.h"
#include "pages/photo_object.h"

#include <QAbstractTextDocumentLayout>
#include <QImage>
#include <QPainter>
#include <QSvgRenderer>
#include <QTextCursor>
#include <QTextDocument>
#include <QTextList>
#include <QTextTable>

#include <algorithm>
#include <array>
#include <utility>

namespace wheelwright {
namespace {

constexpr double pointsPerPixel = 72.0 / 96; // of a usual screen
constexpr int usualPixels = 12;              // of text on paper

QString shown(const std::string &text) {
    return QString::fromStdString(text);
}

class RichText {
  public:
    /// ink: nullptr for paper.
    RichText(QTextDocument &document, const Wording &wording, const ScreenInk *ink, PaperSetting setting = {})
        : m_cursor(&document), m_wording(wording), m_ink(ink), m_setting(std::move(setting)) {}

    void operator()(const Heading &h) {
        constexpr std::array sizes{20, 16, 14, 13};
        paragraph(m_ink ? 9 : 5); // a page for the owner is one page
        const int level = std::clamp(h.level, 0, 3);
        if (!m_ink) {
            QTextBlockFormat block = m_cursor.blockFormat();
            block.setHeadingLevel(level);
            m_cursor.setBlockFormat(block);
        }
        const std::vector<Wording::Piece> pieces = m_wording.piecesOf(h.words);
        const bool marked = std::ranges::any_of(pieces, &Wording::Piece::matters);
        for (const Wording::Piece &piece : pieces) {
            QTextCharFormat format = toned(level == 3 ? Tone::quiet : Tone::plain);
            setSize(format, sizes[static_cast<std::size_t>(level)]);
            if (piece.matters || (level < 3 && !marked)) format.setFontWeight(QFont::Bold);
            m_cursor.insertText(shown(piece.text), format);
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
        const int columns = static_cast<int>(g.heads.size());
        if (columns == 0) return;
        QTextTable *table = insertTable(static_cast<int>(g.rows.size()) + 1, columns, m_ink ? 2 : 0);
        for (int c = 0; c < columns; ++c)
            table->cellAt(0, c).firstCursorPosition().insertText(words(g.heads[static_cast<std::size_t>(c)]),
                                                                 toned(Tone::quiet));
        for (std::size_t r = 0; r < g.rows.size(); ++r)
            for (int c = 0; c < columns; ++c)
                write(g.rows[r][static_cast<std::size_t>(c)],
                      table->cellAt(static_cast<int>(r) + 1, c).firstCursorPosition());
        for (int r = 0; !m_ink && r < table->rows(); ++r)
            for (int c = 0; c < columns; ++c) {
                QTextTableCellFormat beside = table->cellAt(r, c).format().toTableCellFormat();
                constexpr double gap = 8;
                beside.setRightPadding(gap);
                table->cellAt(r, c).setFormat(beside);
            }
        m_cursor.movePosition(QTextCursor::End);
    }
    void operator()(const ReportChart &c) {
        const std::string svg = chartSvg(c, m_wording, ChartObject::width, ChartObject::height);
        if (!m_ink) (*this)(Heading{c.title, 3}); // a window has it over its own drawing
        paragraph(0);
        if (!m_ink) {
            QTextCharFormat format;
            format.setObjectType(ChartObject::type);
            format.setProperty(ChartObject::drawing, QByteArray::fromStdString(svg));
            m_cursor.insertText(QString(QChar::ObjectReplacementCharacter), format);
            return;
        }
        QSvgRenderer drawing(QByteArray::fromStdString(svg));
        QImage picture(ChartObject::width, ChartObject::height, QImage::Format_ARGB32_Premultiplied);
        picture.fill(Qt::white);
        QPainter painter(&picture);
        drawing.render(&painter);
        painter.end();
        m_cursor.insertImage(picture);
    }
    void operator()(const ShadedTable &t) {
        const int columns = static_cast<int>(t.x.points.size()), rows = static_cast<int>(t.y.points.size());
        (*this)(Heading{t.title, 3});
        QTextTable *table = insertTable(rows + 1, columns + 1, 1);
        // As small as all columns need to stand beside each other; a number is never broken.
        constexpr int small = 9, smallest = 7, manyColumns = 16;
        QTextCharFormat format, head = toned(Tone::quiet);
        for (QTextCharFormat *f : {&format, &head})
            setSize(*f, columns > manyColumns ? smallest : small);
        QTextBlockFormat whole;
        whole.setNonBreakableLines(true);
        whole.setAlignment(Qt::AlignRight);
        const auto put = [&](int row, int column, double v, Dimension d, const QTextCharFormat &how) {
            QTextTableCell cell = table->cellAt(row, column);
            QTextCursor at = cell.firstCursorPosition();
            at.setBlockFormat(whole);
            at.insertText(shown(wheelwright::format(v, d, m_wording.units, false)), how);
            return cell;
        };
        table->cellAt(0, 0).firstCursorPosition().insertText(
            shown(unitSymbol(t.y.dimension, m_wording.units) + " \\ " +
                  unitSymbol(t.x.dimension, m_wording.units)),
            head);
        for (int x = 0; x < columns; ++x)
            put(0, x + 1, t.x.points[static_cast<std::size_t>(x)], t.x.dimension, head);
        for (int y = 0; y < rows; ++y) {
            const int row = rows - y; // the highest on top
            put(row, 0, t.y.points[static_cast<std::size_t>(y)], t.y.dimension, head);
            for (int x = 0; x < columns; ++x) {
                const auto at = static_cast<std::size_t>(y) * t.x.points.size() + static_cast<std::size_t>(x);
                QTextTableCell cell = put(row, x + 1, t.cells[at], t.dimension, format);
                QTextCharFormat shade = cell.format();
                constexpr double white = 255, darkest = 95; // ink stays readable on it
                const int grey = static_cast<int>(white - darkest * t.shade(at));
                shade.setBackground(m_ink ? Qt::NoBrush : QBrush(QColor(grey, grey, grey)));
                cell.setFormat(shade);
            }
        }
        m_cursor.movePosition(QTextCursor::End);
    }
    void operator()(const Picture &p) {
        QImage photo;
        photo.loadFromData(QByteArray::fromBase64(QByteArray::fromStdString(p.jpegBase64)));
        constexpr int above = 4;
        paragraph(above);
        if (m_ink) {
            constexpr QSize room(480, 330);
            m_cursor.insertImage(photo.scaled(room, Qt::KeepAspectRatio, Qt::SmoothTransformation));
        } else {
            QTextCharFormat format;
            format.setObjectType(PhotoObject::type);
            format.setProperty(PhotoObject::photo, photo);
            m_cursor.insertText(QString(QChar::ObjectReplacementCharacter), format);
        }
        (*this)(Sentence{p.caption, Tone::quiet});
    }
    void operator()(const PageBreak &) {
        m_page = true;
        m_scale = 1;
    }
    void operator()(const OnePage &) {
        if (m_onePage < m_setting.onePages.size()) m_scale = m_setting.onePages[m_onePage++];
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
    QString words(const Phrase &phrase) const { return shown(m_wording.of(phrase)); }

    QTextTable *insertTable(int rows, int columns, int padding) {
        paragraph(0);
        QTextTableFormat format;
        format.setBorderStyle(QTextFrameFormat::BorderStyle_None);
        format.setCellPadding(padding);
        if (!m_ink) format.setCellSpacing(1);
        format.setHeaderRowCount(1); // again where a table goes on over a page
        return m_cursor.insertTable(rows, columns, format);
    }

    // On paper in points: a pixel of a printer is a twelfth of one of a screen.
    void setSize(QTextCharFormat &format, int pixels) const {
        if (m_ink)
            format.setProperty(QTextFormat::FontPixelSize, m_ink->pixels(pixels));
        else
            format.setFontPointSize(pixels * pointsPerPixel * m_scale);
    }

    QTextCharFormat toned(Tone tone) const {
        QTextCharFormat format;
        if (tone == Tone::trouble) format.setFontWeight(QFont::Bold);
        if (!m_ink && m_scale < 1) setSize(format, usualPixels);
        if (!m_ink) return format;
        if (tone == Tone::quiet) format.setForeground(m_ink->quiet);
        if (tone == Tone::trouble) format.setForeground(m_ink->trouble);
        return format;
    }

    // Of a strong sentence what matters in it is large, of an answer larger; all of it is when nothing is
    // marked.
    void write(const Sentence &s, QTextCursor at) {
        const std::vector<Wording::Piece> pieces = m_wording.piecesOf(s.words);
        const bool marked = std::ranges::any_of(pieces, &Wording::Piece::matters);
        if (s.tone == Tone::caution) { // told by a shape, not by colour alone
            QTextCharFormat mark;
            if (m_ink) mark.setForeground(m_ink->heed);
            at.insertText(QStringLiteral("◖ "), mark);
        }
        for (const Wording::Piece &piece : pieces) {
            QTextCharFormat format = toned(s.tone);
            if (s.tone == Tone::leading && !piece.matters && m_ink) {
                format.setForeground(m_ink->link);
                format.setFontUnderline(true);
            }
            const bool loud = s.tone == Tone::strong || s.tone == Tone::answer;
            const bool strong = piece.matters || (loud && !marked);
            constexpr int large = 16, larger = 28;
            if (strong) format.setFontWeight(QFont::Bold);
            if (strong && loud) setSize(format, s.tone == Tone::answer ? larger : large);
            if (strong && s.content && m_ink) format.setForeground(m_ink->content(*s.content));
            if (!s.link.empty() && (m_ink || m_setting.links)) {
                format.setAnchor(true);
                format.setAnchorHref(shown(s.link));
            }
            at.insertText(shown(piece.text), format);
        }
    }

    void paragraph(int above) {
        QTextBlockFormat block;
        block.setTopMargin(m_first ? 0 : above);
        if (std::exchange(m_page, false)) block.setPageBreakPolicy(QTextFormat::PageBreak_AlwaysBefore);
        if (m_first)
            m_cursor.setBlockFormat(block);
        else
            m_cursor.insertBlock(block, QTextCharFormat());
        m_first = false;
    }

    QTextCursor m_cursor;
    const Wording &m_wording;
    const ScreenInk *m_ink;
    PaperSetting m_setting;
    double m_scale = 1; ///< of what is to stand on one page
    std::size_t m_onePage = 0;
    bool m_first = true, m_page = false;
};

} // namespace

void writeForScreen(QTextDocument &document, const Report &report, const Wording &wording,
                    const ScreenInk &ink) {
    document.setUndoRedoEnabled(false);
    // One edit: what shows the document lays it out once, not after every piece.
    QTextCursor whole(&document);
    whole.beginEditBlock();
    whole.select(QTextCursor::Document);
    whole.removeSelectedText();
    whole.setBlockFormat({});
    whole.setCharFormat({});
    RichText out(document, wording, &ink);
    for (const Block &block : report.blocks)
        std::visit(out, block);
    whole.endEditBlock();
}

void writeForPaper(QTextDocument &document, const Report &report, const Wording &wording,
                   const PaperSetting &setting) {
    document.clear();
    QFont font = document.defaultFont();
    font.setPointSizeF(usualPixels * pointsPerPixel);
    document.setDefaultFont(font);
    document.documentLayout()->registerHandler(ChartObject::type, new ChartObject(&document));
    document.documentLayout()->registerHandler(PhotoObject::type, new PhotoObject(&document));
    QTextCursor whole(&document); // one edit, laid out once: not after each cell of a table
    whole.beginEditBlock();
    RichText out(document, wording, nullptr, setting);
    if (!report.title.empty()) out.title(report.title);
    for (const Block &block : report.blocks)
        std::visit(out, block);
    whole.endEditBlock();
}

} // namespace wheelwright
