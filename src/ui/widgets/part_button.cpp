// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/part_button.h"

#include "core/report/sheet_reports.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/widgets/verdict_mark.h"

#include <QKeyEvent>
#include <QPainter>

#include <algorithm>

namespace wheelwright {
namespace {

constexpr double glyphHeight = 34, titleHeight = 15, lineHeight = 14, gap = 4;
constexpr double titleSize = 12, lineSize = 11;
constexpr double leastWidth = 104, besideHeight = 58;
constexpr int mostLines = 2; ///< of numbers: a third one is on the second line

} // namespace

PartButton::PartButton(const Part &part, Shape shape, QWidget *parent)
    : QAbstractButton(parent), m_part(part), m_shape(shape), m_state{.part = &part} {
    const QString id = QString::fromUtf8(part.id.data(), static_cast<qsizetype>(part.id.size()));
    setObjectName(QStringLiteral("part-") + id);
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::PointingHandCursor);
    setProperty("helpPage", "job");
}

void PartButton::show(const PartState &state, const GlyphLook &look, const UnitChoice &units) {
    m_state = state;
    m_units = units;
    m_look = look;
    const QString said = lines().join(QStringLiteral(", "));
    setAccessibleName(state.fitted ? title() : tr("Add: %1").arg(title()));
    setAccessibleDescription(said + QStringLiteral("; ") + wheelwright::text(partStateWords(state), units));
    setToolTip(
        state.fitted
            ? tr("%1\n%2").arg(wheelwright::text(m_part.help),
                               wheelwright::text(partStateWords(state), units))
            : tr("Not on this engine. A click puts it there.\n%1").arg(wheelwright::text(m_part.help)));
    setEnabled(state.fitted || state.canFit);
    update();
}

void PartButton::setLook(const GlyphLook &look) {
    m_look = look;
    update();
}

void PartButton::setChosen(bool chosen) {
    m_chosen = chosen;
    update();
}

void PartButton::setScale(double scale) {
    m_scale = scale;
    updateGeometry();
    update();
}

void PartButton::setWideDrawing(bool wide) {
    m_wide = wide;
}

int PartButton::px(double size) const {
    return static_cast<int>(size * m_scale + 0.5);
}

QSize PartButton::sizeHint() const {
    if (m_shape == Shape::beside) return {px(leastWidth * 2), px(besideHeight)};
    return {px(leastWidth), px(glyphHeight + gap + titleHeight + mostLines * lineHeight)};
}

QRectF PartButton::glyphBox() const {
    const double side = glyphHeight * m_scale;
    if (m_shape == Shape::beside) return {gap * m_scale, (height() - side) / 2, side, side};
    const double wide = m_wide ? width() * 0.8 : side;
    return {(width() - wide) / 2, 2, wide, side};
}

QString PartButton::title() const {
    return wheelwright::text(m_part.title);
}

// Two lines at most: what is more goes on the second.
QStringList PartButton::lines() const {
    QStringList out;
    for (const FigureState &f : m_state.figures)
        out << wheelwright::text(f.said, m_units);
    while (out.size() > mostLines) {
        const QString last = out.takeLast();
        out.back() += QStringLiteral(" · ") + last;
    }
    return out;
}

double PartButton::roomForWords() const {
    return m_shape == Shape::beside ? width() - glyphBox().right() - gap * 2 * m_scale : width();
}

QFont PartButton::fitting(const QString &words, QFont font) const {
    constexpr int least = 9; // pixels: no smaller digit is ever shown
    while (font.pixelSize() > least && QFontMetricsF(font).horizontalAdvance(words) > roomForWords())
        font.setPixelSize(font.pixelSize() - 1);
    return font;
}

bool PartButton::wordsFit() const {
    const auto fits = [&](const QString &words, const QFont &font) {
        return QFontMetricsF(fitting(words, font)).horizontalAdvance(words) <= roomForWords();
    };
    const QStringList all = m_state.fitted ? lines() : QStringList();
    return fits(title(), sansFont(px(titleSize), true)) &&
           std::ranges::all_of(all, [&](const QString &l) { return fits(l, sansFont(px(lineSize))); });
}

void PartButton::paintEvent(QPaintEvent *) {
    QPainter p(this);
    if (m_state.fitted)
        paintFitted(p);
    else
        paintPlace(p);
    if (!hasFocus() && !m_chosen) return;
    p.setRenderHint(QPainter::Antialiasing);
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(theme().content(0.5), m_chosen ? 2 : 1, hasFocus() ? Qt::SolidLine : Qt::DotLine));
    p.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 5, 5);
}

void PartButton::paintFitted(QPainter &p) {
    const QRectF box = glyphBox();
    drawPartGlyph(p, box, m_part.id, m_state.known, m_look);
    const bool beside = m_shape == Shape::beside;
    const double left = beside ? box.right() + gap * 2 * m_scale : 0, wide = width() - left;
    double y = beside ? gap * m_scale : box.bottom() + 2;
    const int flags = (beside ? Qt::AlignLeft : Qt::AlignHCenter) | Qt::AlignVCenter;
    const auto write = [&](const QString &words, const QFont &font, const QColor &color, double high) {
        p.setFont(fitting(words, font));
        const QRectF row(left, y, wide, high);
        // The words interrupt the line that runs behind them, as on a drawing.
        if (!beside)
            p.fillRect(QRectF(p.boundingRect(row, flags, words)).adjusted(-3, 0, 3, 0), theme().paper);
        p.setPen(color);
        p.drawText(row, flags, words);
        y += high;
    };
    write(title(), sansFont(px(titleSize), true), theme().ink, titleHeight * m_scale);
    const bool sure = m_state.known == Knowledge::stated;
    for (const QString &words : lines())
        write(words, sansFont(px(lineSize)), sure ? theme().ink : theme().quiet, lineHeight * m_scale);
    const double mark = 11 * m_scale;
    if (!m_state.inspections.empty()) {
        const QRectF tag(beside ? box.left() : box.right() + 3 * m_scale,
                         beside ? height() - mark * 0.8 - 1 : box.top(), mark * 1.25, mark * 0.8);
        drawInspectionTag(p, tag, m_state.inspected);
    }
    if (m_state.verdict && *m_state.verdict >= CheckState::caution)
        drawVerdictMark(p,
                        QRectF(beside ? width() - mark - 4 : box.left() - mark - 4 * m_scale,
                               beside ? gap * m_scale : box.top(), mark, mark),
                        *m_state.verdict);
}

void PartButton::paintPlace(QPainter &p) {
    const QRectF box = glyphBox();
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(theme().quiet, 1.2, Qt::DashLine));
    p.setBrush(theme().paper);
    const double side = box.height() * 0.7;
    const QRectF place(box.center().x() - side / 2, box.center().y() - side / 2, side, side);
    p.drawEllipse(place);
    p.setPen(QPen(theme().quiet, 1.6));
    p.drawLine(QPointF(place.left() + side * 0.3, place.center().y()),
               QPointF(place.right() - side * 0.3, place.center().y()));
    p.drawLine(QPointF(place.center().x(), place.top() + side * 0.3),
               QPointF(place.center().x(), place.bottom() - side * 0.3));
    const bool beside = m_shape == Shape::beside;
    const double left = beside ? box.right() + gap * 2 * m_scale : 0;
    p.setFont(sansFont(px(lineSize)));
    p.setPen(theme().quiet);
    p.drawText(QRectF(left, beside ? 0 : box.bottom() + 2, width() - left,
                      beside ? height() : height() - box.bottom() - 2),
               (beside ? Qt::AlignLeft | Qt::AlignVCenter : Qt::AlignHCenter | Qt::AlignTop) |
                   Qt::TextWordWrap,
               title());
}

void PartButton::keyPressEvent(QKeyEvent *event) {
    switch (event->key()) {
    case Qt::Key_Return:
    case Qt::Key_Enter:
        click();
        return;
    case Qt::Key_Left:
    case Qt::Key_Up:
        emit stepWanted(-1);
        return;
    case Qt::Key_Right:
    case Qt::Key_Down:
        emit stepWanted(1);
        return;
    default:
        QAbstractButton::keyPressEvent(event);
    }
}

} // namespace wheelwright
