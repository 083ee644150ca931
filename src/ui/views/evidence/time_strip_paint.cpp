// SPDX-License-Identifier: GPL-3.0-or-later
// How the strip is drawn; what it shows and how it is driven stands in time_strip.cpp.
#include "core/base/nice_step.h"
#include "session/evidence.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/views/evidence/strip_scale.h"
#include "ui/views/evidence/time_strip.h"

#include <QPainter>
#include <QPainterPath>

#include <algorithm>
#include <cmath>

namespace wheelwright {
using namespace strip;

QColor TimeStrip::hue() const {
    const LogInfo *info = logById(m_session.job(), m_log);
    if (!info || info->contentBasis == ContentBasis::none) return theme().ink;
    return theme().content(info->content);
}

void TimeStrip::paintEvent(QPaintEvent *) {
    QPainter p(this);
    p.fillRect(rect(), theme().raised);
    if (m_log.empty()) return;
    drawOverview(p);
    drawRibbon(p);
    drawKept(p);
    for (std::size_t i = 0; i < m_lanes.size(); ++i)
        drawLane(p, i);
    drawFindings(p);
    drawHoles(p);
    drawTimes(p);
    drawMoment(p);
    if (hasFocus()) {
        p.setPen(QPen(theme().ink, 1, Qt::DotLine));
        p.setBrush(Qt::NoBrush);
        p.drawRect(rect().adjusted(0, 0, -1, -1));
    }
}

// All of the log, with what is seen of it between two brackets.
void TimeStrip::drawOverview(QPainter &p) {
    const QRect box = overviewRect();
    p.fillRect(box, theme().paper);
    if (const LogChannel *rpm = channelOf(ChannelRole::rpm)) {
        const auto [low, high] = scaleFor(*rpm);
        p.setPen(theme().quiet);
        for (const Seen &seen : seenIn(box.adjusted(0, 2, 0, -2), 0, m_length))
            if (const auto outline =
                    m_session.evidence().samples().outline(*rpm, seen.fromS, seen.toS, seen.columns()))
                drawOutline(p, *outline, seen, {ChannelRole::rpm, low, high});
    }
    const auto x = [&](double folded) { return box.left() + folded / m_length * box.width(); };
    QColor veil = theme().paper;
    veil.setAlpha(170);
    p.fillRect(QRectF(box.left(), box.top(), x(m_from) - box.left(), box.height()), veil);
    p.fillRect(QRectF(x(m_to), box.top(), box.right() + 1 - x(m_to), box.height()), veil);
    p.setPen(QPen(theme().ink, 2));
    for (const auto &[at, foot] : {std::pair{x(m_from) + 1, 5.0}, {x(m_to) - 1, -5.0}}) {
        p.drawLine(QPointF(at, box.top() + 1), QPointF(at, box.bottom()));
        p.drawLine(QPointF(at, box.top() + 1), QPointF(at + foot, box.top() + 1));
        p.drawLine(QPointF(at, box.bottom()), QPointF(at + foot, box.bottom()));
    }
    if (const auto review = m_session.evidence().review(m_log)) {
        p.setPen(Qt::NoPen);
        p.setBrush(theme().trouble);
        p.setRenderHint(QPainter::Antialiasing);
        for (const LogFinding &f : review->findings().found) {
            const double at = x(foldedOf(f.worstS)), y = box.bottom() + 1.0;
            p.drawPolygon(QPolygonF({{at - 4, y}, {at + 4, y}, {at, y - 7}}));
        }
        p.setRenderHint(QPainter::Antialiasing, false);
    }
    p.setBrush(Qt::NoBrush);
    p.setPen(theme().ink);
    const double at = x(foldedOf(m_session.evidence().momentS()));
    p.drawLine(QPointF(at, box.top()), QPointF(at, box.bottom()));
}

// Each kind has its own shape: what rises, what falls, what stands, what jumps.
void TimeStrip::drawEpisode(QPainter &p, const Episode &e, const QRectF &box) const {
    const QColor fill = hue();
    QPainterPath shape;
    switch (e.kind) {
    case EpisodeKind::pull: // a wedge that rises
        shape.moveTo(box.bottomLeft());
        shape.lineTo(box.topRight());
        shape.lineTo(box.bottomRight());
        shape.closeSubpath();
        p.fillPath(shape, fill);
        break;
    case EpisodeKind::overrun: // one that falls
        shape.moveTo(box.topLeft());
        shape.lineTo(box.bottomRight());
        shape.lineTo(box.bottomLeft());
        shape.closeSubpath();
        p.fillPath(shape, QBrush(theme().quiet, Qt::Dense5Pattern));
        break;
    case EpisodeKind::hold:
        p.fillRect(box.adjusted(0, box.height() * 0.25, 0, 0), fill);
        break;
    case EpisodeKind::cruise:
        p.fillRect(QRectF(box.left(), box.bottom() - box.height() * 0.3, box.width(), box.height() * 0.3),
                   QBrush(fill, Qt::Dense4Pattern));
        break;
    case EpisodeKind::idle:
        p.setPen(QPen(theme().quiet, 1, Qt::DotLine));
        p.drawLine(QPointF(box.left(), box.bottom() - 2), QPointF(box.right(), box.bottom() - 2));
        break;
    case EpisodeKind::tipIn:
        p.setPen(QPen(theme().ink, 1));
        p.drawLine(QPointF(box.left(), box.bottom()), QPointF(box.left(), box.top()));
        p.drawLine(QPointF(box.left(), box.top()), QPointF(box.left() + 4, box.top() + 4));
        break;
    case EpisodeKind::start:
        p.setPen(QPen(theme().ink, 1));
        p.drawRect(QRectF(box.left(), box.top() + 1, 4, box.height() - 2));
        break;
    case EpisodeKind::cold:
        p.fillRect(QRectF(box.left(), box.top(), box.width(), 3), QBrush(theme().ink, Qt::FDiagPattern));
        break;
    }
}

void TimeStrip::drawRibbon(QPainter &p) const {
    const QRect ribbon = ribbonRect();
    p.fillRect(ribbon, theme().paper);
    const auto review = m_session.evidence().review(m_log);
    p.setFont(sansFont(10));
    if (!review) {
        p.setPen(theme().quiet);
        const QString trouble = m_session.evidence().trouble(m_log);
        p.drawText(ribbon.adjusted(4, 0, 0, 0), Qt::AlignVCenter,
                   trouble.isEmpty() ? tr("Reading through the log …") : trouble);
        return;
    }
    p.save();
    p.setClipRect(ribbon);
    p.setRenderHint(QPainter::Antialiasing);
    for (const Episode &e : review->episodes()) {
        const QRectF box(positionOf(e.beginS), ribbon.top() + 2,
                         std::max(2.0, positionOf(e.endS) - positionOf(e.beginS)), ribbon.height() - 4);
        if (box.right() < ribbon.left() || box.left() > ribbon.right()) continue;
        drawEpisode(p, e, box);
        const QString word = text(definitionOf(e.kind).title);
        const bool over = e.kind == EpisodeKind::cold || e.kind == EpisodeKind::start;
        if (over || box.width() < p.fontMetrics().horizontalAdvance(word) + 6) continue;
        const bool solid = e.kind == EpisodeKind::hold;
        p.setPen(solid ? theme().textOn(hue()) : theme().ink);
        const QRectF room = box.adjusted(3, 0, -2, 0).intersected(QRectF(ribbon));
        p.drawText(room,
                   (e.kind == EpisodeKind::overrun ? Qt::AlignRight : Qt::AlignLeft) |
                       (solid ? Qt::AlignBottom : Qt::AlignTop),
                   word);
    }
    p.restore();
}

// What the cleaning keeps is a line, what it takes is a partGap; where the content moves it is hatched.
void TimeStrip::drawKept(QPainter &p) const {
    const auto review = m_session.evidence().review(m_log);
    if (!review) return;
    const QRect box(plot().left(), ribbonRect().bottom() + 1, plot().width(), keptHeight);
    p.save();
    p.setClipRect(box);
    const LogTrace &t = review->trace();
    const std::vector<bool> &kept = review->cleaned().kept;
    const std::size_t first = t.indexAt(fromS()), end = std::min(t.indexAt(toS()) + 1, t.size());
    // A pixel is kept where any sample of it is.
    int lastX = -1;
    for (std::size_t i = first; i < end; ++i) {
        if (!kept[i]) continue;
        const int x = static_cast<int>(positionOf(t.timeS(i)));
        const int to = i + 1 < end && t.follows(i + 1) ? static_cast<int>(positionOf(t.timeS(i + 1))) : x;
        if (to <= lastX) continue;
        p.fillRect(QRect(std::max(x, lastX), box.top() + 1, std::max(1, to - std::max(x, lastX)), 3), hue());
        lastX = to;
    }
    for (const ContentStretch &s : review->content().stretches)
        if (!s.settled)
            p.fillRect(
                QRectF(positionOf(s.beginS), box.top() + 5, positionOf(s.endS) - positionOf(s.beginS), 3),
                QBrush(theme().heed, Qt::BDiagPattern));
    p.restore();
}

void TimeStrip::drawUnsettled(QPainter &p, const QRect &box) const {
    const auto review = m_session.evidence().review(m_log);
    if (!review) return;
    QColor wash = theme().heed;
    wash.setAlpha(110);
    for (const ContentStretch &s : review->content().stretches) {
        if (s.settled) continue;
        const QRectF where(positionOf(s.beginS), box.top(), positionOf(s.endS) - positionOf(s.beginS),
                           box.height());
        p.fillRect(where.intersected(QRectF(box)), QBrush(wash, Qt::BDiagPattern));
    }
}

// Upright strokes from least to most, joined where nothing lies between.
void TimeStrip::drawOutline(QPainter &p, const SeriesOutline &outline, const Seen &seen,
                            const Lane &lane) const {
    const QRect &box = seen.box;
    const double perUnit = (box.height() - 1) / (lane.high - lane.low);
    const auto y = [&](float v) {
        return std::clamp(box.bottom() - (v - lane.low) * perUnit, box.top() - 1.0, box.bottom() + 1.0);
    };
    QVector<QLineF> lines;
    lines.reserve(static_cast<qsizetype>(outline.size()) * 2);
    const double perColumn = static_cast<double>(box.width()) / static_cast<double>(outline.size());
    const double widestGap =
        std::max(2.0, heldForS / (seen.toS - seen.fromS) * static_cast<double>(outline.size()));
    std::optional<std::size_t> last;
    for (std::size_t i = 0; i < outline.size(); ++i) {
        const LevelPair &c = outline[i];
        if (c.least != c.least) continue;
        const double x = box.left() + (static_cast<double>(i) + 0.5) * perColumn;
        const double top = y(c.most), bottom = y(c.least);
        if (last && static_cast<double>(i - *last) <= widestGap) {
            const LevelPair &b = outline[*last];
            const double fromX = box.left() + (static_cast<double>(*last) + 0.5) * perColumn;
            if (y(b.least) < top)
                lines.append({fromX, y(b.least), x, top});
            else if (y(b.most) > bottom)
                lines.append({fromX, y(b.most), x, bottom});
            else if (i > *last + 1)
                lines.append({fromX, std::max(y(b.most), top), x, std::max(y(b.most), top)});
        }
        lines.append({x, top, x, std::max(bottom, top + 1)});
        last = i;
    }
    p.drawLines(lines);
}

// What the lane's channel should have been: broken lines, as nobody measured them.
void TimeStrip::drawCompanions(QPainter &p, const Lane &lane, const QRect &box) const {
    const auto review = m_session.evidence().review(m_log);
    if (!review) return;
    const std::vector<Seen> pieces = seenIn(box, m_from, m_to);
    const auto put = [&](std::span<const double> values, const QPen &pen) {
        if (values.empty()) return;
        p.setPen(pen);
        for (const Seen &seen : pieces)
            drawOutline(
                p, outlineOfSamples(review->trace().times(), values, seen.fromS, seen.toS, seen.columns()),
                seen, lane);
    };
    const QPen asked(theme().quiet, 1);
    switch (lane.role) {
    case ChannelRole::lambda:
        put(review->asked(CalibratedQuantity::lambda), asked);
        if (m_showsMoved) put(m_session.evidence().movedLambda(m_log), QPen(theme().ink, 1));
        break;
    case ChannelRole::map:
        put(review->asked(CalibratedQuantity::boost), asked);
        break;
    case ChannelRole::spark:
        put(review->asked(CalibratedQuantity::spark), asked);
        break;
    default:
        break;
    }
}

void TimeStrip::drawLane(QPainter &p, std::size_t i) {
    const Lane &lane = m_lanes[i];
    const QRect box = laneRect(i);
    p.fillRect(box, theme().paper);
    const LogChannel *channel = channelOf(lane.role);
    if (!channel) return;
    const ChannelRoleDefinition &role = definitionOf(lane.role);
    p.save();
    p.setClipRect(box);
    if (lane.role == ChannelRole::ethanol) drawUnsettled(p, box);
    if (m_marked) {
        QColor wash = theme().trouble;
        wash.setAlpha(36);
        p.fillRect(QRectF(positionOf(m_marked->first), box.top(),
                          std::max(2.0, positionOf(m_marked->second) - positionOf(m_marked->first)),
                          box.height()),
                   wash);
    }
    drawCompanions(p, lane, box);
    p.setPen(QPen(hue(), 1));
    for (const Seen &seen : seenIn(box, m_from, m_to))
        if (const auto outline =
                m_session.evidence().samples().outline(*channel, seen.fromS, seen.toS, seen.columns()))
            drawOutline(p, *outline, seen, lane);
    p.setFont(sansFont(10));
    const QString title = text(role.title);
    const QRectF where(box.left() + 3, box.top() + 1, p.fontMetrics().horizontalAdvance(title) + 6,
                       p.fontMetrics().height());
    QColor ground = theme().paper;
    ground.setAlpha(200);
    p.fillRect(where, ground);
    p.setPen(theme().quiet);
    p.drawText(where.adjusted(2, 0, 0, 0), Qt::AlignLeft | Qt::AlignVCenter, title);
    p.restore();

    // The number at the moment, and the ends of the scale.
    const QRect reading(box.right() + 1, box.top(), readingWidth, box.height());
    const UnitChoice &units = m_session.units();
    const auto sample = m_session.evidence().sampleNow();
    const auto review = m_session.evidence().review(m_log);
    p.setPen(theme().ink);
    p.setFont(sansFont(box.height() > 44 ? 17 : 13, true));
    if (sample && review) {
        const double v = review->trace().at(lane.role, *sample);
        p.drawText(reading.adjusted(4, 0, -2, 0), Qt::AlignRight | Qt::AlignVCenter,
                   v == v ? shown(v, role.dimension, units, false) : QStringLiteral("–"));
    }
    if (box.height() > 44) {
        p.setFont(sansFont(9));
        p.setPen(theme().quiet);
        p.drawText(reading.adjusted(4, 1, -2, -1), Qt::AlignRight | Qt::AlignTop,
                   text(unitSymbol(role.dimension, units)));
    }
}

void TimeStrip::drawFindings(QPainter &p) const {
    const auto review = m_session.evidence().review(m_log);
    if (!review || m_lanes.empty()) return;
    p.save();
    p.setClipRect(plot());
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(Qt::NoPen);
    p.setBrush(theme().trouble);
    const double top = laneRect(0).top();
    for (const LogFinding &f : review->findings().found) {
        const double x = positionOf(f.worstS);
        p.drawPolygon(QPolygonF({{x - 5, top}, {x + 5, top}, {x, top + 9}}));
    }
    p.restore();
}

// Torn edges: here the log was not running.
void TimeStrip::drawHoles(QPainter &p) const {
    for (std::size_t i = 0; i + 1 < m_pieces.size(); ++i) {
        const double left = positionOf(m_pieces[i].endS), right = positionOf(m_pieces[i + 1].beginS);
        if (right < plot().left() || left > plot().right()) continue;
        const QRectF tear(left + 1, ribbonRect().top(), right - left - 1,
                          height() - axisHeight - ribbonRect().top());
        p.fillRect(tear, theme().raised);
        p.setPen(QPen(theme().quiet, 1, Qt::DotLine));
        p.drawLine(tear.topLeft(), tear.bottomLeft());
        p.drawLine(tear.topRight(), tear.bottomRight());
    }
}

QString TimeStrip::momentWords() const {
    return clockText(m_session.evidence().momentS(), 0.5, m_session.units()) + QStringLiteral(" s");
}

// Where the time of the moment is said; empty: it is not in sight.
QRectF TimeStrip::momentFlag() const {
    const double x = std::round(positionOf(m_session.evidence().momentS())) + 0.5;
    if (x < plot().left() || x > plot().right() + 1) return {};
    const double w = QFontMetricsF(sansFont(11, true)).horizontalAdvance(momentWords()) + 8;
    return {std::clamp(x - w / 2, static_cast<double>(plot().left()), plot().right() - w),
            static_cast<double>(height() - axisHeight + 1), w, axisHeight - 2.0};
}

void TimeStrip::drawMoment(QPainter &p) const {
    const QRectF flag = momentFlag();
    if (flag.isEmpty()) return;
    const double x = std::round(positionOf(m_session.evidence().momentS())) + 0.5;
    p.setPen(QPen(theme().ink, 1));
    p.drawLine(QPointF(x, ribbonRect().top()), QPointF(x, height() - axisHeight));
    p.setFont(sansFont(11, true));
    p.fillRect(flag, theme().ink);
    p.setPen(theme().paper);
    p.drawText(flag, Qt::AlignCenter, momentWords());
}

void TimeStrip::drawTimes(QPainter &p) const {
    const QRect box(plot().left(), height() - axisHeight, plot().width(), axisHeight);
    constexpr int pixelsApart = 70;
    const double step = niceStep(m_to - m_from, box.width() / pixelsApart);
    p.setFont(sansFont(10));
    const QRectF flag = momentFlag(); // no half of a number looks out from under it
    double free = box.left();         // words of neighbouring pieces do not cover each other
    for (const Seen &seen : seenIn(box, m_from, m_to))
        for (double s = std::ceil(seen.fromS / step) * step; s <= seen.toS; s += step) {
            const double x = positionOf(s);
            p.setPen(theme().line);
            p.drawLine(QPointF(x, box.top() - partGap), QPointF(x, box.top() + 3));
            const QString words = clockText(s, step, m_session.units());
            const double w = p.fontMetrics().horizontalAdvance(words) + 8;
            if (x - w / 2 < free) continue;
            if (!flag.isEmpty() && x + w / 2 > flag.left() && x - w / 2 < flag.right()) continue;
            free = x + w / 2;
            p.setPen(theme().quiet);
            p.drawText(QRectF(x - w / 2, box.top() + 2, w, axisHeight - 2), Qt::AlignCenter, words);
        }
}

} // namespace wheelwright
