// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/evidence/time_strip.h"

#include "session/evidence.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"

#include <QApplication>
#include <QClipboard>
#include <QHelpEvent>
#include <QKeyEvent>
#include <QPainter>
#include <QPainterPath>
#include <QToolTip>
#include <QWheelEvent>

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

constexpr int titleWidth = 0, readingWidth = 76;
constexpr int overviewHeight = 30, ribbonHeight = 22, keptHeight = 8, axisHeight = 20, gap = 3;
constexpr double leastSpanS = 0.05;

// Whatever a sensor says at its ends, λ matters between these.
constexpr double lambdaLow = 0.6, lambdaHigh = 1.4;

double leastSpanOf(Dimension dimension) {
    switch (dimension) {
    case Dimension::content:
    case Dimension::ratio:
        return 0.05;
    case Dimension::mixture:
        return 0.1;
    case Dimension::engineSpeed:
        return 200;
    case Dimension::voltage:
    case Dimension::duration:
    case Dimension::count:
        return 1;
    default:
        return 5;
    }
}

std::pair<double, double> scaleFor(const LogChannel &c) {
    double a = c.internal(c.least), b = c.internal(c.most);
    if (a > b) std::swap(a, b);
    if (c.role == ChannelRole::lambda || c.role == ChannelRole::lambdaTarget) {
        a = std::clamp(a, lambdaLow, 0.9);
        b = std::clamp(b, 1.05, lambdaHigh);
    }
    // A channel that stands still shows a line, not its noise.
    const double least = leastSpanOf(definitionOf(c.role).dimension);
    const double pad = std::max((b - a) * 0.06, (least - (b - a)) / 2);
    return {a - pad, b + pad};
}

double niceStep(double span, int most) {
    const double rough = span / std::max(1, most);
    const double power = std::pow(10, std::floor(std::log10(rough)));
    for (const double m : {1.0, 2.0, 5.0, 10.0})
        if (m * power >= rough) return m * power;
    return rough;
}

QString clockText(double s, double stepS) {
    constexpr int perMinute = 60;
    if (std::abs(s) < perMinute) return QString::number(s, 'f', stepS < 0.1 ? 2 : stepS < 1 ? 1 : 0);
    const auto minutes = static_cast<long long>(s / perMinute);
    const double rest = s - static_cast<double>(minutes) * perMinute;
    return QStringLiteral("%1:%2").arg(minutes).arg(rest, stepS < 1 ? 4 : 2, 'f', stepS < 1 ? 1 : 0,
                                                    QLatin1Char('0'));
}

} // namespace

TimeStrip::TimeStrip(Session &session, QWidget *parent) : QWidget(parent), m_session(session) {
    setFocusPolicy(Qt::StrongFocus);
    setProperty("helpPage", "evidence");
    setAccessibleName(tr("Strip of the log over time"));
    setMouseTracking(true);
    m_wanted = {ChannelRole::rpm,    ChannelRole::map,   ChannelRole::throttle,
                ChannelRole::lambda, ChannelRole::spark, ChannelRole::ethanol};
    Evidence &evidence = session.evidence();
    connect(&evidence, &Evidence::logsChanged, this, &TimeStrip::refreshLog);
    connect(&evidence, &Evidence::reviewsChanged, this, [this] {
        fold();
        describe();
        update();
    });
    connect(&evidence, &Evidence::momentChanged, this, [this] {
        // The moment stays in view, wherever it was set.
        const double at = foldedOf(m_session.evidence().momentS());
        if (m_drag == Drag::none && (at < m_from || at > m_to)) {
            const double half = (m_to - m_from) / 2;
            setFolded(at - half, at + half);
        }
        describe();
        update();
    });
    connect(&evidence, &Evidence::delayChanged, this, qOverload<>(&QWidget::update));
    connect(&evidence.samples(), &StripSamples::arrived, this, qOverload<>(&QWidget::update));
    connect(&session, &Session::unitsChanged, this, qOverload<>(&QWidget::update));
    refreshLog();
}

void TimeStrip::setLanes(std::vector<ChannelRole> roles) {
    m_wanted = std::move(roles);
    refreshLanes();
}

void TimeStrip::setShowsMoved(bool on) {
    m_showsMoved = on;
    update();
}

void TimeStrip::refreshLog() {
    const std::string log = m_session.evidence().log();
    m_channels.clear();
    for (const LogChannel *c : channelsOf(m_session.job(), log))
        m_channels.push_back(*c);
    const LogInfo *info = logById(m_session.job(), log);
    if (log != m_log) {
        m_log = log;
        m_marked.reset();
        m_beginS = info ? info->beginS : 0;
        m_endS = info ? std::max(info->endS, info->beginS + leastSpanS) : 1;
        m_pieces = {{m_beginS, m_endS, 0}};
        m_from = 0;
        m_to = m_length = m_endS - m_beginS;
        fold();
    }
    refreshLanes();
    describe();
}

// Holes are known once the log has been read through. What was seen before stays in view.
void TimeStrip::fold() {
    const auto review = m_session.evidence().review(m_log);
    if (!review || review->trace().size() == 0) return;
    const LogTrace &t = review->trace();
    std::vector<Piece> pieces{{m_beginS, t.timeS(0), 0}};
    for (std::size_t i = 1; i < t.size(); ++i) {
        if (!t.follows(i)) pieces.push_back({t.timeS(i), t.timeS(i), 0});
        pieces.back().endS = t.timeS(i);
    }
    pieces.back().endS = std::max(pieces.back().endS, m_endS);
    constexpr std::size_t most = 60; // more than that is a slow channel, not a log with holes
    if (pieces.size() > most) pieces = {{m_beginS, m_endS, 0}};
    double run = 0;
    for (const Piece &piece : pieces)
        run += piece.endS - piece.beginS;
    constexpr double holeShare = 0.015;
    double at = 0;
    for (Piece &piece : pieces) {
        piece.at = at;
        at += piece.endS - piece.beginS + run * holeShare;
    }
    const bool whole = m_from <= 0 && m_to >= m_length;
    const double from = fromS(), to = toS();
    m_pieces = std::move(pieces);
    m_length = std::max(leastSpanS, at - run * holeShare);
    if (whole)
        setFolded(0, m_length);
    else
        setWindow(from, to);
}

double TimeStrip::foldedOf(double timeS) const {
    if (m_pieces.empty()) return 0;
    auto after = std::ranges::upper_bound(m_pieces, timeS, {}, &Piece::beginS);
    const Piece &piece = after == m_pieces.begin() ? *after : *(after - 1);
    const double into = timeS - piece.beginS, length = piece.endS - piece.beginS;
    if (into <= length || after == m_pieces.end()) return piece.at + into;
    // Inside of a hole: as far through the fold.
    const double hole = after->beginS - piece.endS, fold = after->at - piece.at - length;
    return piece.at + length + (into - length) / hole * fold;
}

double TimeStrip::timeOf(double folded) const {
    if (m_pieces.empty()) return folded;
    auto after = std::ranges::upper_bound(m_pieces, folded, {}, &Piece::at);
    const Piece &piece = after == m_pieces.begin() ? *after : *(after - 1);
    const double into = folded - piece.at, length = piece.endS - piece.beginS;
    if (into <= length || after == m_pieces.end()) return piece.beginS + into;
    const double hole = after->beginS - piece.endS, fold = after->at - piece.at - length;
    return piece.endS + (into - length) / fold * hole;
}

std::vector<TimeStrip::Seen> TimeStrip::seenIn(const QRect &box, double from, double to) const {
    std::vector<Seen> out;
    const double perFolded = box.width() / (to - from);
    for (const Piece &piece : m_pieces) {
        const double begin = std::max(from, piece.at),
                     end = std::min(to, piece.at + piece.endS - piece.beginS);
        if (!(end > begin)) continue;
        const int left = box.left() + static_cast<int>(std::lround((begin - from) * perFolded));
        const int right = box.left() + static_cast<int>(std::lround((end - from) * perFolded));
        out.push_back({piece.beginS + (begin - piece.at), piece.beginS + (end - piece.at),
                       QRect(left, box.top(), std::max(1, right - left), box.height())});
    }
    return out;
}

void TimeStrip::refreshLanes() {
    m_lanes.clear();
    m_roles.clear();
    for (const ChannelRole role : m_wanted)
        if (const LogChannel *c = channelOf(role)) {
            const auto [low, high] = scaleFor(*c);
            m_lanes.push_back({role, low, high});
            m_roles.push_back(role);
        }
    update();
}

const LogChannel *TimeStrip::channelOf(ChannelRole role) const {
    const auto at = std::ranges::find_if(m_channels, [role](const LogChannel &c) {
        return c.role == role && c.kind == ChannelKind::number && c.samples > 0;
    });
    return at == m_channels.end() ? nullptr : &*at;
}

QRect TimeStrip::plot() const {
    return {titleWidth, 0, std::max(1, width() - titleWidth - readingWidth), height()};
}
QRect TimeStrip::overviewRect() const {
    return {plot().left(), 0, plot().width(), overviewHeight};
}
QRect TimeStrip::ribbonRect() const {
    return {plot().left(), overviewHeight + gap, plot().width(), ribbonHeight};
}

QRect TimeStrip::laneRect(std::size_t lane) const {
    const int top = ribbonRect().bottom() + 1 + keptHeight + gap;
    const int room = std::max(1, height() - axisHeight - top);
    const auto count = static_cast<int>(std::max<std::size_t>(1, m_lanes.size()));
    const auto i = static_cast<int>(lane);
    return {plot().left(), top + room * i / count, plot().width(),
            room * (i + 1) / count - room * i / count - gap};
}

double TimeStrip::timeAt(double x) const {
    return timeOf(m_from + (x - plot().left()) / plot().width() * (m_to - m_from));
}
double TimeStrip::positionOf(double timeS) const {
    return plot().left() + (foldedOf(timeS) - m_from) / (m_to - m_from) * plot().width();
}
double TimeStrip::overviewAt(double x) const {
    return (x - plot().left()) / plot().width() * m_length;
}

void TimeStrip::setFolded(double from, double to) {
    const double span = std::clamp(to - from, std::min(leastSpanS, m_length), m_length);
    m_from = std::clamp(from, 0.0, m_length - span);
    m_to = m_from + span;
    update();
}

void TimeStrip::setWindow(double fromS, double toS) {
    setFolded(foldedOf(fromS), foldedOf(toS));
}

void TimeStrip::showAll() {
    setFolded(0, m_length);
}

void TimeStrip::showEpisode(const Episode &e) {
    const double pad = std::max(0.5, (e.endS - e.beginS) * 0.1);
    setWindow(e.beginS - pad, e.endS + pad);
}

void TimeStrip::showFinding(const LogFinding &f) {
    const double pad = std::max(2.0, (f.endS - f.beginS));
    m_marked = {f.beginS, f.endS};
    setWindow(f.beginS - pad, f.endS + pad);
    m_session.evidence().setMoment(f.worstS);
    update();
}

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

// What the cleaning keeps is a line, what it takes is a gap; where the content moves it is hatched.
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

void TimeStrip::drawMoment(QPainter &p) const {
    const double x = std::round(positionOf(m_session.evidence().momentS())) + 0.5;
    if (x < plot().left() || x > plot().right() + 1) return;
    p.setPen(QPen(theme().ink, 1));
    p.drawLine(QPointF(x, ribbonRect().top()), QPointF(x, height() - axisHeight));
    p.setFont(sansFont(11, true));
    const QString words = clockText(m_session.evidence().momentS(), 0.5) + QStringLiteral(" s");
    const double w = p.fontMetrics().horizontalAdvance(words) + 8;
    const QRectF flag(std::clamp(x - w / 2, static_cast<double>(plot().left()), plot().right() - w),
                      height() - axisHeight + 1, w, axisHeight - 2);
    p.fillRect(flag, theme().ink);
    p.setPen(theme().paper);
    p.drawText(flag, Qt::AlignCenter, words);
}

void TimeStrip::drawTimes(QPainter &p) const {
    const QRect box(plot().left(), height() - axisHeight, plot().width(), axisHeight);
    constexpr int pixelsApart = 70;
    const double step = niceStep(m_to - m_from, box.width() / pixelsApart);
    p.setFont(sansFont(10));
    double free = box.left(); // words of neighbouring pieces do not cover each other
    for (const Seen &seen : seenIn(box, m_from, m_to))
        for (double s = std::ceil(seen.fromS / step) * step; s <= seen.toS; s += step) {
            const double x = positionOf(s);
            p.setPen(theme().line);
            p.drawLine(QPointF(x, box.top() - gap), QPointF(x, box.top() + 3));
            const QString words = clockText(s, step);
            const double w = p.fontMetrics().horizontalAdvance(words) + 8;
            if (x - w / 2 < free) continue;
            free = x + w / 2;
            p.setPen(theme().quiet);
            p.drawText(QRectF(x - w / 2, box.top() + 2, w, axisHeight - 2), Qt::AlignCenter, words);
        }
}

void TimeStrip::zoom(double factor, double about) {
    setFolded(about - (about - m_from) * factor, about + (m_to - about) * factor);
}

void TimeStrip::mousePressEvent(QMouseEvent *event) {
    const double x = event->position().x();
    m_dragX = x;
    m_dragFrom = m_from;
    if (overviewRect().contains(event->position().toPoint())) {
        m_drag = Drag::overview;
        const double half = (m_to - m_from) / 2, at = overviewAt(x);
        setFolded(at - half, at + half);
    } else if (event->button() == Qt::MiddleButton || (event->modifiers() & Qt::ShiftModifier)) {
        m_drag = Drag::window;
    } else if (event->button() == Qt::LeftButton) {
        m_drag = Drag::moment;
        m_session.evidence().setMoment(timeAt(std::clamp<double>(x, plot().left(), plot().right())));
    }
}

void TimeStrip::mouseMoveEvent(QMouseEvent *event) {
    const double x = event->position().x();
    if (event->buttons() == Qt::NoButton) m_drag = Drag::none;
    const double perPixel = (m_to - m_from) / plot().width();
    switch (m_drag) {
    case Drag::moment:
        m_session.evidence().setMoment(timeAt(std::clamp<double>(x, plot().left(), plot().right())));
        break;
    case Drag::window: {
        const double from = m_dragFrom - (x - m_dragX) * perPixel;
        setFolded(from, from + (m_to - m_from));
        break;
    }
    case Drag::overview: {
        const double half = (m_to - m_from) / 2, at = overviewAt(x);
        setFolded(at - half, at + half);
        break;
    }
    case Drag::none:
        break;
    }
}

void TimeStrip::mouseDoubleClickEvent(QMouseEvent *event) {
    if (overviewRect().contains(event->position().toPoint())) return showAll();
    if (ribbonRect().contains(event->position().toPoint())) {
        if (const Episode *e = m_session.evidence().episodeNow()) showEpisode(*e);
        return;
    }
    emit placeWanted();
}

void TimeStrip::wheelEvent(QWheelEvent *event) {
    constexpr double perNotch = 120, factor = 0.8;
    const QPoint turned = event->angleDelta();
    if (std::abs(turned.x()) > std::abs(turned.y()) || (event->modifiers() & Qt::ShiftModifier)) {
        const double by = -(turned.x() + turned.y()) / perNotch * (m_to - m_from) * 0.1;
        setFolded(m_from + by, m_to + by);
    } else {
        zoom(std::pow(factor, turned.y() / perNotch), foldedOf(timeAt(event->position().x())));
    }
    event->accept();
}

void TimeStrip::step(int samples) {
    Evidence &evidence = m_session.evidence();
    const auto review = evidence.review(m_log);
    const auto now = evidence.sampleNow();
    if (!review || !now) return;
    const auto last = static_cast<std::ptrdiff_t>(review->trace().size()) - 1;
    const auto to = std::clamp(static_cast<std::ptrdiff_t>(*now) + samples, std::ptrdiff_t{0}, last);
    evidence.setMoment(review->trace().timeS(static_cast<std::size_t>(to)));
}

void TimeStrip::stepFinding(int by) {
    const auto review = m_session.evidence().review(m_log);
    if (!review) return;
    const double now = m_session.evidence().momentS();
    const LogFinding *next = nullptr;
    constexpr double apart = 1e-6;
    for (const LogFinding &f : review->findings().found)
        if (by > 0 ? f.worstS > now + apart && (!next || f.worstS < next->worstS)
                   : f.worstS < now - apart && (!next || f.worstS > next->worstS))
            next = &f;
    if (next) showFinding(*next);
}

void TimeStrip::keyPressEvent(QKeyEvent *event) {
    const double span = m_to - m_from;
    const int many = event->modifiers() & Qt::ShiftModifier ? 10 : 1;
    switch (event->key()) {
    case Qt::Key_Left:
        return step(-many);
    case Qt::Key_Right:
        return step(many);
    case Qt::Key_Home:
        return m_session.evidence().setMoment(m_beginS);
    case Qt::Key_End:
        return m_session.evidence().setMoment(m_endS);
    case Qt::Key_PageUp:
        return setFolded(m_from - span * 0.8, m_to - span * 0.8);
    case Qt::Key_PageDown:
        return setFolded(m_from + span * 0.8, m_to + span * 0.8);
    case Qt::Key_Plus:
    case Qt::Key_Equal:
        return zoom(0.5, foldedOf(m_session.evidence().momentS()));
    case Qt::Key_Minus:
        return zoom(2, foldedOf(m_session.evidence().momentS()));
    case Qt::Key_0:
        return showAll();
    case Qt::Key_Period:
        return stepFinding(1);
    case Qt::Key_Comma:
        return stepFinding(-1);
    case Qt::Key_Return:
    case Qt::Key_Enter:
        emit placeWanted();
        return;
    default:
        QWidget::keyPressEvent(event);
    }
}

bool TimeStrip::event(QEvent *event) {
    if (event->type() != QEvent::ToolTip) return QWidget::event(event);
    const auto *help = static_cast<QHelpEvent *>(event);
    const auto review = m_session.evidence().review(m_log);
    if (ribbonRect().contains(help->pos()) && review) {
        if (const Episode *e = review->episodeAt(timeAt(help->pos().x()))) {
            QToolTip::showText(help->globalPos(),
                               text(inWords(*e), m_session.units()) + QLatin1Char('\n') +
                                   text(definitionOf(e->kind).help, m_session.units()),
                               this);
            return true;
        }
    }
    QToolTip::showText(
        help->globalPos(),
        tr("Drag: the moment. Wheel or + −: closer. Shift and drag: along. . and , go from finding to "
           "finding, Enter to the tables at this moment, 0 shows all."),
        this);
    return true;
}

void TimeStrip::describe() {
    const auto sample = m_session.evidence().sampleNow();
    const auto review = m_session.evidence().review(m_log);
    QStringList words{clockText(m_session.evidence().momentS(), 0.5) + QStringLiteral(" s")};
    if (sample && review)
        for (const Lane &lane : m_lanes) {
            const ChannelRoleDefinition &role = definitionOf(lane.role);
            const double v = review->trace().at(lane.role, *sample);
            if (v == v)
                words << text(role.title) + QLatin1Char(' ') + shown(v, role.dimension, m_session.units());
        }
    setAccessibleDescription(words.join(QStringLiteral(", ")));
}

void TimeStrip::copy() const {
    const auto review = m_session.evidence().review(m_log);
    if (!review) return;
    const UnitChoice &units = m_session.units();
    QString out = tr("Time, s");
    for (const Lane &lane : m_lanes)
        out += QLatin1Char('\t') + text(definitionOf(lane.role).title) + QStringLiteral(", ") +
               text(unitSymbol(definitionOf(lane.role).dimension, units));
    const LogTrace &t = review->trace();
    constexpr std::size_t mostRows = 50000;
    const std::size_t first = t.indexAt(fromS()),
                      end = std::min({t.indexAt(toS()) + 1, t.size(), first + mostRows});
    for (std::size_t i = first; i < end; ++i) {
        out += QLatin1Char('\n') + QString::number(t.timeS(i), 'f', 3);
        for (const Lane &lane : m_lanes) {
            const double v = t.at(lane.role, i);
            out += QLatin1Char('\t');
            if (v == v) out += shown(v, definitionOf(lane.role).dimension, units, false);
        }
    }
    QApplication::clipboard()->setText(out + QLatin1Char('\n'));
}

void TimeStrip::copyPicture() {
    QApplication::clipboard()->setPixmap(grab());
}

} // namespace wheelwright
