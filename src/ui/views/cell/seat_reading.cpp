// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/cell/seat_reading.h"

#include "session/live_seat.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/widgets/painted_parts.h"
#include "ui/widgets/verdict_mark.h"

#include <QKeyEvent>
#include <QMenu>
#include <QPainter>

#include <algorithm>
#include <cmath>
#include <limits>

namespace wheelwright {
namespace {

constexpr int headHeight = 26, scaleHeight = 30, wordsHeight = 20, edge = 7, narrow = 90;
constexpr int mostDigitPixels = 150, leastDigitPixels = 24;

// Fewer decimals than on a page: nobody reads a third one in passing.
int seatDecimals(ChannelRole role, const UnitChoice &units) {
    const Dimension d = definitionOf(role).dimension;
    switch (d) {
    case Dimension::mixture:
        return 2;
    case Dimension::sparkAngle:
        return 1;
    default:
        return std::min(1, shownDecimals(d, units));
    }
}

int decimalsAt(ChannelRole role, double shownValue, const UnitChoice &units) {
    constexpr double manyDigits = 100; // of which nobody reads a tenth in passing
    return std::abs(shownValue) >= manyDigits ? 0 : seatDecimals(role, units);
}

CheckState stateOf(SeatStanding s) {
    switch (s) {
    case SeatStanding::within:
        return CheckState::proven;
    case SeatStanding::caution:
        return CheckState::caution;
    case SeatStanding::over:
        return CheckState::failing;
    case SeatStanding::notJudged:
        break;
    }
    return CheckState::notJudged;
}

} // namespace

SeatReading::SeatReading(Session &session, LiveSeat &live, ChannelRole role, QWidget *parent)
    : QWidget(parent), m_session(session), m_live(live), m_role(role),
      m_value(std::numeric_limits<double>::quiet_NaN()) {
    setFocusPolicy(Qt::TabFocus);
    setProperty(spokenRole, QAccessible::ButtonMenu);
    setCursor(Qt::PointingHandCursor);
    setRole(role);
}

void SeatReading::setRole(ChannelRole role) {
    m_role = role;
    setToolTip(tr("Click for another reading"));
    m_drawn.clear();
    refresh();
}

void SeatReading::refresh() {
    if (!m_session.hasJob()) return;
    const UnitChoice &units = m_session.units();
    const Dimension dimension = definitionOf(m_role).dimension;
    m_value = m_live.value(m_role);
    m_content = m_live.content();
    m_marks = m_live.review().marksOf(m_role);
    m_span = spanOf(m_role, m_session.study());
    m_standing = standingOf(m_value, m_marks);
    const auto said = [&](double v) {
        const int decimals = decimalsAt(m_role, toShown(v, dimension, units), units);
        return text(formatWith(v, dimension, units, decimals));
    };
    const double number = toShown(m_value, dimension, units);
    m_digits =
        number == number ? fixedText(number, decimalsAt(m_role, number, units), units) : QStringLiteral("–");
    QStringList words;
    if (m_value != m_value)
        words << (m_live.has(m_role) ? tr("silent") : tr("not on this bus"));
    else if (m_standing == SeatStanding::notJudged)
        words << tr("no limit here");
    else if (m_standing == SeatStanding::over)
        words << tr("PAST ITS LIMIT");
    else if (m_standing == SeatStanding::caution)
        words << tr("CAUTION");
    for (const SeatMark &m : m_marks)
        words << (m.kind == SeatMark::Kind::target    ? tr("target %1")
                  : m.kind == SeatMark::Kind::caution ? tr("caution %1")
                  : m.least                           ? tr("least %1")
                                                      : tr("limit %1"))
                     .arg(said(m.value));
    m_words = words.join(QStringLiteral(" · "));
    // What can be seen of it.
    const double share = (m_value - m_span.from) / (m_span.to - m_span.from);
    QString drawn = m_digits + QLatin1Char('|') + m_words + QLatin1Char('|') +
                    QString::number(std::lround(400 * (share == share ? share : -1))) + QLatin1Char('|') +
                    QString::number(std::lround(100 * m_content));
    if (drawn == m_drawn) return;
    m_drawn = std::move(drawn);
    setAccessibleName(tr("%1: %2, %3").arg(text(definitionOf(m_role).title), m_digits, m_words));
    update();
}

QFont SeatReading::digitFont() const {
    QFont font = sansFont(m_digitPixels, true);
    font.setStretch(narrow); // higher digits in the same width
    return font;
}

int SeatReading::digitHeight() const {
    return QFontMetrics(digitFont()).tightBoundingRect(QStringLiteral("8")).height();
}

// As large as four digits and a point find room.
void SeatReading::resizeEvent(QResizeEvent *event) {
    QWidget::resizeEvent(event);
    const int high = height() - headHeight - scaleHeight - wordsHeight - 8, wide = width() - 2 * edge;
    constexpr int probe = 100;
    QFont font = sansFont(probe, true);
    font.setStretch(narrow);
    const QFontMetrics m(font);
    const double perPixelHigh = m.tightBoundingRect(QStringLiteral("8")).height() / double(probe);
    const double perPixelWide =
        std::max(m.horizontalAdvance(QStringLiteral("8888")), m.horizontalAdvance(QStringLiteral("-88.8"))) /
        double(probe);
    forgetPictures();
    m_digitPixels = std::clamp(int(std::min(high / perPixelHigh, wide / perPixelWide)), leastDigitPixels,
                               mostDigitPixels);
}

// What stands still between two numbers.
void SeatReading::drawGround() {
    const qreal scale = devicePixelRatioF();
    m_ground = QPixmap((QSizeF(size()) * scale).toSize());
    m_ground.setDevicePixelRatio(scale);
    m_ground.fill(Qt::transparent);
    QPainter p(&m_ground);
    p.setRenderHint(QPainter::Antialiasing);
    const Theme &t = theme();
    const bool over = m_standing == SeatStanding::over, caution = m_standing == SeatStanding::caution;
    const QRectF frame = QRectF(rect()).adjusted(1.5, 1.5, -1.5, -1.5);
    p.setBrush(t.raised);
    p.setPen(QPen(over         ? t.trouble
                  : caution    ? t.heed
                  : hasFocus() ? t.ink
                               : t.line,
                  over || caution ? 3 : 1));
    p.drawRoundedRect(frame, 4, 4);

    const QRectF head(edge, 4, width() - 2 * edge, headHeight);
    p.setPen(t.ink);
    p.setFont(sansFont(15, true));
    const QString title = text(definitionOf(m_role).title),
                  unit = text(unitSymbol(definitionOf(m_role).dimension, m_session.units()));
    p.drawText(head.adjusted(22, 0, 0, 0), Qt::AlignLeft | Qt::AlignVCenter, title);
    p.setFont(sansFont(15));
    p.setPen(t.quiet);
    if (unit != title) p.drawText(head, Qt::AlignRight | Qt::AlignVCenter, unit); // λ is its own unit
    drawVerdictMark(p, QRectF(edge, head.center().y() - 7, 14, 14), stateOf(m_standing));
}

// Outlines of this size are filled anew each time a font draws them: once is enough for each of a dozen
// signs.
const SeatReading::Sign &SeatReading::sign(QChar c) {
    Sign &s = m_signs[c];
    if (!s.picture.isNull()) return s;
    const QFontMetrics m(digitFont());
    s.advance = m.horizontalAdvance(c);
    const qreal scale = devicePixelRatioF();
    s.picture = QPixmap((QSizeF(s.advance + 2, m.ascent() + m.descent()) * scale).toSize());
    s.picture.setDevicePixelRatio(scale);
    s.picture.fill(Qt::transparent);
    QPainter p(&s.picture);
    p.setRenderHint(QPainter::Antialiasing);
    p.setFont(digitFont());
    p.setPen(theme().ink);
    p.drawText(QPointF(1, m.ascent()), QString(c));
    return s;
}

void SeatReading::paintEvent(QPaintEvent *) {
    const Theme &t = theme();
    const bool over = m_standing == SeatStanding::over, caution = m_standing == SeatStanding::caution;
    const QString ground = QStringLiteral("%1|%2|%3").arg(int(m_standing)).arg(hasFocus()).arg(int(m_role)) +
                           text(unitSymbol(definitionOf(m_role).dimension, m_session.units()));
    if (ground != m_groundIs) {
        m_groundIs = ground;
        drawGround();
    }
    QPainter p(this);
    p.drawPixmap(0, 0, m_ground);
    const QRectF digits(edge, headHeight + 4, width() - 2 * edge,
                        height() - headHeight - 4 - scaleHeight - wordsHeight - 4);
    // In the middle by the digits themselves: their font has room for accents above them.
    const QFontMetrics metrics(digitFont());
    const double top = digits.center().y() + metrics.tightBoundingRect(QStringLiteral("8")).height() / 2.0 -
                       metrics.ascent();
    double wide = 0;
    const QString drawn = m_value == m_value ? m_digits : QString(); // a dash of this size is a beam
    for (const QChar c : drawn)
        wide += sign(c).advance;
    double x = digits.center().x() - wide / 2;
    for (const QChar c : drawn) {
        p.drawPixmap(QPointF(x - 1, top), sign(c).picture);
        x += sign(c).advance;
    }
    p.setRenderHint(QPainter::Antialiasing);

    drawScale(p, QRectF(edge, height() - scaleHeight - wordsHeight - 2, width() - 2 * edge, scaleHeight - 6));
    p.setFont(sansFont(13, over || caution));
    p.setPen(over ? t.trouble : caution ? t.ink : t.quiet);
    p.drawText(QRectF(edge, height() - wordsHeight - 4, width() - 2 * edge, wordsHeight),
               Qt::AlignLeft | Qt::AlignVCenter,
               p.fontMetrics().elidedText(m_words, Qt::ElideRight, width() - 2 * edge));
}

// The filled part is the reading, in the hue of the content; a target is a tick under it, a caution a short
// bar over it, a limit a thick one through it, with teeth to the side that is refused.
void SeatReading::drawScale(QPainter &p, const QRectF &box) const {
    const Theme &t = theme();
    const auto at = [&](double v) {
        return box.left() + box.width() * std::clamp((v - m_span.from) / (m_span.to - m_span.from), 0.0, 1.0);
    };
    const QRectF bar(box.left(), box.center().y() - 4, box.width(), 8);
    p.setPen(Qt::NoPen);
    p.setBrush(t.line);
    p.drawRect(bar);
    if (m_value == m_value) {
        p.setBrush(t.content(m_content));
        p.drawRect(QRectF(bar.left(), bar.top(), at(m_value) - bar.left(), bar.height()));
    }
    for (const SeatMark &m : m_marks) {
        const double x = at(m.value);
        if (m.kind == SeatMark::Kind::target) {
            QPolygonF tick{QPointF(x, bar.bottom() - 1), QPointF(x - 6, box.bottom()),
                           QPointF(x + 6, box.bottom())};
            p.setPen(Qt::NoPen);
            p.setBrush(t.ink);
            p.drawPolygon(tick);
            continue;
        }
        const bool stop = m.kind == SeatMark::Kind::stop;
        p.setPen(QPen(t.ink, stop ? 3 : 1.5));
        p.drawLine(QPointF(x, box.top()), QPointF(x, stop ? bar.bottom() + 2 : bar.center().y()));
        if (stop) {
            const double side = m.least ? -5 : 5;
            p.drawLine(QPointF(x, box.top() + 1), QPointF(x + side, box.top() + 1));
        }
    }
}

void SeatReading::chooseRole() {
    QMenu menu(this);
    for (const ChannelRole role : seatRoles()) {
        QAction *a = menu.addAction(text(definitionOf(role).title));
        a->setCheckable(true);
        a->setChecked(role == m_role);
        connect(a, &QAction::triggered, this, [this, role] {
            setRole(role);
            emit roleChosen();
        });
    }
    menu.exec(mapToGlobal(QPoint(edge, headHeight)));
}

void SeatReading::mousePressEvent(QMouseEvent *) {
    chooseRole();
}

void SeatReading::keyPressEvent(QKeyEvent *event) {
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter || event->key() == Qt::Key_Menu)
        return chooseRole();
    QWidget::keyPressEvent(event);
}

void SeatReading::changeEvent(QEvent *event) {
    QWidget::changeEvent(event);
    if (event->type() != QEvent::PaletteChange && event->type() != QEvent::StyleChange) return;
    forgetPictures();
    update();
}

void SeatReading::forgetPictures() {
    m_signs.clear();
    m_groundIs.clear();
}

} // namespace wheelwright
