// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/content_ruler.h"

#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/widgets/refresh.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>

#include <algorithm>
#include <array>
#include <cmath>

namespace wheelwright {
namespace {

constexpr int edge = 34;     // room for half a label on either side
constexpr int scaleTop = 24; // under the handle's flag
constexpr int bandTop = 50, bandHeight = 12;

bool methanolIn(const Session &s) {
    return s.job().alcohol == Alcohol::methanol;
}

} // namespace

ContentRuler::ContentRuler(Session &session, QWidget *parent) : QWidget(parent), m_session(session) {
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setAccessibleName(tr("Content ruler"));
    setProperty("helpPage", "ruler");
    setToolTip(tr("Drag to look at another content; [ and ] move it by 1, { and } by 5. Click a notch to go "
                  "to the worst place there."));
    const auto repaint = [this] {
        describe();
        update();
    };
    const auto ask = [this, repaint] {
        m_opinions = m_session.hasJob() ? opinionsOf(m_session.job()) : ContentOpinions{};
        repaint();
    };
    (new Refresh(session, this))
        ->on(Refresh::job, ask, {"fuel.", "tank.", "content_sensor.", "conditions.", "limits."})
        .on(Refresh::content | Refresh::verdict | Refresh::units, repaint);
}

void ContentRuler::describe() {
    const auto v = m_session.verdict();
    setAccessibleDescription(tr("Looking at %1, %2. %3")
                                 .arg(text(contentName(m_session.content(), methanolIn(m_session))),
                                      text(stateWord(v ? v->overall[sliceNearest(*v, m_session.content())]
                                                       : CheckState::notJudged)),
                                      text(m_opinions.verdict, m_session.units())));
}

QRect ContentRuler::bandRect() const {
    return {edge, bandTop, std::max(1, width() - 2 * edge), bandHeight};
}

double ContentRuler::positionOf(double content) const {
    return edge + content * (width() - 2 * edge);
}

double ContentRuler::contentAt(double x) const {
    return std::clamp((x - edge) / std::max(1, width() - 2 * edge), 0.0, 1.0);
}

bool ContentRuler::failsAt(double content) const {
    const auto v = m_session.verdict();
    if (!v) return false;
    return v->overall[sliceNearest(*v, content)] == CheckState::failing;
}

void ContentRuler::paintEvent(QPaintEvent *) {
    QPainter p(this);
    p.fillRect(rect(), theme().paper);
    p.setPen(theme().line);
    p.drawLine(0, height() - 1, width(), height() - 1);
    drawScale(p);
    if (!m_session.hasJob()) return;
    drawBand(p);
    drawEnds(p);
    drawOpinions(p);
    drawHandle(p);
}

void ContentRuler::drawScale(QPainter &p) const {
    const bool methanol = methanolIn(m_session);
    p.setFont(monoFont(11));
    for (int percent = 0; percent <= 100; ++percent) {
        const double x = std::round(positionOf(percent / 100.0)) + 0.5;
        const int length = percent % 10 == 0 ? 12 : percent % 5 == 0 ? 8 : 4;
        p.setPen(percent % 10 == 0 ? theme().ink : theme().quiet);
        // Ticks hang from the line above the band, as on a scale rule.
        p.drawLine(QPointF(x, bandTop - 2 - length), QPointF(x, bandTop - 2));
        if (percent % 10 == 0) {
            p.setPen(theme().quiet);
            p.drawText(QRectF(x - 24, scaleTop - 6, 48, 14), Qt::AlignCenter,
                       text(contentName(percent / 100.0, methanol)));
        }
    }
}

void ContentRuler::drawBand(QPainter &p) const {
    const auto v = m_session.verdict();
    const QRect band = bandRect();
    if (!v) {
        p.setPen(theme().quiet);
        p.drawRect(band);
        return;
    }
    const auto edgeBetween = [&](std::size_t i) { // half-way to the neighbour before
        return i == 0 ? 0.0 : i == v->contents.size() ? 1.0 : (v->contents[i - 1] + v->contents[i]) / 2;
    };
    p.save();
    p.setRenderHint(QPainter::Antialiasing);
    for (std::size_t i = 0; i < v->contents.size(); ++i) {
        const double from = positionOf(edgeBetween(i)), to = positionOf(edgeBetween(i + 1));
        const QRectF piece(from, band.top(), to - from + 0.5, band.height());
        const QColor hue = theme().content(v->contents[i]);
        QColor wash = hue;
        wash.setAlphaF(0.22f);
        if (v->overall[i] == CheckState::failing) {
            // A notch: the band is cut out, only a saw edge is left.
            QPainterPath tooth(QPointF(from, band.bottom() + 1));
            tooth.lineTo((from + to) / 2, band.top() + 3);
            tooth.lineTo(to, band.bottom() + 1);
            tooth.closeSubpath();
            p.fillPath(tooth, theme().trouble);
            continue;
        }
        if (v->overall[i] == CheckState::notJudged) {
            // Open: two lines and nothing between them.
            p.fillRect(QRectF(from, band.top(), to - from + 0.5, 1), theme().quiet);
            p.fillRect(QRectF(from, band.bottom(), to - from + 0.5, 1), theme().quiet);
            continue;
        }
        p.fillRect(piece, wash);
        if (v->overall[i] == CheckState::proven)
            p.fillRect(piece, hue);
        else // hatched: the model speaks, no clean pull has been made here yet
            p.fillRect(piece, QBrush(hue, Qt::BDiagPattern));
        if (v->overall[i] == CheckState::caution)
            p.fillRect(QRectF(from, band.bottom() - 2, to - from + 0.5, 3), theme().heed);
    }
    // Under whatever the verdict is: solid where logs hold clean pulls, dotted where they have been.
    for (std::size_t i = 0; i < v->contents.size(); ++i) {
        if (v->pulls[i] == BeenThere::never) continue;
        const double from = positionOf(edgeBetween(i)), to = positionOf(edgeBetween(i + 1));
        const QRectF line(from, band.bottom() - 3, to - from + 0.5, 3);
        const QColor hue = theme().content(v->contents[i]);
        p.fillRect(line, v->pulls[i] == BeenThere::proven ? QBrush(hue) : QBrush(hue, Qt::Dense5Pattern));
    }
    p.restore();
}

void ContentRuler::drawEnds(QPainter &p) const {
    const Calibration &c = m_session.job().calibration;
    p.save();
    p.setRenderHint(QPainter::Antialiasing);
    for (const double end : {c.baseContent, c.topContent}) {
        // A surveyor's stake under the band: here a table was calibrated.
        const double x = positionOf(end);
        p.setPen(QPen(theme().content(end), 2));
        p.drawLine(QPointF(x, bandTop - 2), QPointF(x, bandTop + bandHeight + 4));
        p.drawLine(QPointF(x - 5, bandTop + bandHeight + 4), QPointF(x + 5, bandTop + bandHeight + 4));
    }
    p.restore();
}

// Who says what the tank holds: a line through the band, its ± as a bar under it, and a word. Words that
// would cover each other stand side by side.
void ContentRuler::drawOpinions(QPainter &p) const {
    constexpr int barTop = bandTop + bandHeight + 2, wordTop = barTop + 7, wordGap = 6;
    p.setFont(sansFont(10));
    std::vector<Opinion> sorted = m_opinions.all;
    std::ranges::sort(sorted, {}, [](const Opinion &o) { return o.content.value; });
    const std::array words{tr("sum"), tr("sensor"), tr("tube")};
    double free = 0;
    for (const Opinion &o : sorted) {
        const double value = std::clamp(o.content.value, 0.0, 1.0);
        const double x = std::round(positionOf(value)) + 0.5;
        const double low = positionOf(std::max(0.0, value - o.content.sigma)),
                     high = positionOf(std::min(1.0, value + o.content.sigma));
        p.setPen(QPen(theme().ink, 1, o.source == OpinionSource::arithmetic ? Qt::DotLine : Qt::SolidLine));
        p.drawLine(QPointF(x, bandTop - 2), QPointF(x, bandTop + bandHeight + 2));
        p.setPen(QPen(theme().content(value), 2));
        const double bar = barTop + 2.5 * static_cast<double>(o.source) + 0.5; // one above the other
        p.drawLine(QPointF(low, bar), QPointF(high, bar));
        const QString &word = words[static_cast<std::size_t>(o.source)];
        const double width = p.fontMetrics().horizontalAdvance(word);
        const double left = std::max(free, x - width / 2);
        free = left + width + wordGap;
        p.setPen(theme().ink);
        p.drawText(QRectF(left, wordTop, width + 2, height() - wordTop - 1), Qt::AlignLeft | Qt::AlignVCenter,
                   word);
    }
}

void ContentRuler::drawHandle(QPainter &p) const {
    const double x = std::round(positionOf(m_session.content())) + 0.5;
    const QColor hue = theme().content(m_session.content());
    p.save();
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(theme().ink, 1.5));
    p.drawLine(QPointF(x, 18), QPointF(x, bandTop + bandHeight));
    const QRectF flag(std::clamp(x - 27, 2.0, width() - 56.0), 1, 54, 19);
    p.setPen(hasFocus() ? QPen(theme().ink, 2) : QPen(Qt::NoPen));
    p.setBrush(hue);
    p.drawRoundedRect(flag, 3, 3);
    p.setPen(theme().textOn(hue));
    p.setFont(monoFont(13, true));
    p.drawText(flag, Qt::AlignCenter, text(contentName(m_session.content(), methanolIn(m_session))));
    p.restore();
}

void ContentRuler::mousePressEvent(QMouseEvent *event) {
    if (event->button() != Qt::LeftButton || !m_session.hasJob()) return;
    const double content = std::round(contentAt(event->position().x()) * 100) / 100;
    if (bandRect().adjusted(0, -2, 0, 6).contains(event->position().toPoint()) && failsAt(content)) {
        emit worstPlaceWanted(content);
        return;
    }
    m_dragging = true;
    m_session.setContent(content);
}

void ContentRuler::mouseMoveEvent(QMouseEvent *event) {
    if (m_dragging) {
        m_session.setContent(std::round(contentAt(event->position().x()) * 100) / 100);
        return;
    }
    const bool notch = bandRect().adjusted(0, -2, 0, 6).contains(event->position().toPoint()) &&
                       failsAt(contentAt(event->position().x()));
    setCursor(notch ? Qt::PointingHandCursor : Qt::SizeHorCursor);
}

void ContentRuler::mouseReleaseEvent(QMouseEvent *) {
    m_dragging = false;
}

void ContentRuler::keyPressEvent(QKeyEvent *event) {
    const double c = m_session.content();
    switch (event->key()) {
    case Qt::Key_Left:
        m_session.setContent(c - 0.01);
        break;
    case Qt::Key_Right:
        m_session.setContent(c + 0.01);
        break;
    case Qt::Key_PageDown:
        m_session.setContent(c - 0.05);
        break;
    case Qt::Key_PageUp:
        m_session.setContent(c + 0.05);
        break;
    case Qt::Key_Home:
        m_session.setContent(0);
        break;
    case Qt::Key_End:
        m_session.setContent(1);
        break;
    case Qt::Key_Return:
    case Qt::Key_Enter:
        if (m_session.hasJob() && failsAt(c)) emit worstPlaceWanted(c);
        break;
    default:
        QWidget::keyPressEvent(event);
    }
}

std::vector<ContentRuler::Mark> ContentRuler::marks() const {
    if (!m_session.hasJob()) return {};
    const Calibration &c = m_session.job().calibration;
    const auto name = [this](double content) { return text(contentName(content, methanolIn(m_session))); };
    std::vector<Mark> out{{tr("Base table: %1").arg(name(c.baseContent)), c.baseContent},
                          {tr("Top table: %1").arg(name(c.topContent)), c.topContent}};
    for (const Opinion &o : m_opinions.all) {
        const double value = std::clamp(o.content.value, 0.0, 1.0);
        out.push_back({tr("%1: %2 ± %3")
                           .arg(text(opinionTitle(o.source)), name(value),
                                shown(o.content.sigma, Dimension::contentDifference, m_session.units())),
                       value});
    }
    return out;
}

int ContentRuler::partCount() const {
    return static_cast<int>(marks().size());
}

PaintedPart ContentRuler::part(int index) const {
    const Mark mark = marks()[static_cast<std::size_t>(index)];
    constexpr int reach = 5;
    const int x = static_cast<int>(positionOf(mark.content));
    return {mark.words, QRect(x - reach, bandTop - 2, 2 * reach, height() - bandTop)};
}

void ContentRuler::choosePart(int index) {
    m_session.setContent(std::round(marks()[static_cast<std::size_t>(index)].content * 100) / 100);
}

double ContentRuler::shownValue() const {
    return std::round(m_session.content() * 100);
}

void ContentRuler::setShownValue(double percent) {
    m_session.setContent(std::clamp(percent, leastValue(), mostValue()) / 100);
}

} // namespace wheelwright
