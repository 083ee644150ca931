// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/evidence/time_strip.h"

#include "session/evidence.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/views/evidence/strip_scale.h"

#include <QApplication>
#include <QClipboard>
#include <QHelpEvent>
#include <QKeyEvent>
#include <QToolTip>
#include <QWheelEvent>

#include <algorithm>
#include <cmath>

namespace wheelwright {
using namespace strip;
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
    return {0, 0, std::max(1, width() - readingWidth), height()};
}
QRect TimeStrip::overviewRect() const {
    return {plot().left(), 0, plot().width(), overviewHeight};
}
QRect TimeStrip::ribbonRect() const {
    return {plot().left(), overviewHeight + partGap, plot().width(), ribbonHeight};
}

QRect TimeStrip::laneRect(std::size_t lane) const {
    const int top = ribbonRect().bottom() + 1 + keptHeight + partGap;
    const int room = std::max(1, height() - axisHeight - top);
    const auto count = static_cast<int>(std::max<std::size_t>(1, m_lanes.size()));
    const auto i = static_cast<int>(lane);
    return {plot().left(), top + room * i / count, plot().width(),
            room * (i + 1) / count - room * i / count - partGap};
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
    QStringList words{clockText(m_session.evidence().momentS(), 0.5, m_session.units()) +
                      QStringLiteral(" s")};
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
        out += QLatin1Char('\n') + fixedText(t.timeS(i), 3, units);
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

int TimeStrip::partCount() const {
    const auto review = m_session.evidence().review(m_log);
    return review ? static_cast<int>(review->findings().found.size() + review->episodes().size()) : 0;
}

PaintedPart TimeStrip::part(int index) const {
    const auto review = m_session.evidence().review(m_log);
    const auto at = static_cast<std::size_t>(index);
    const std::vector<LogFinding> &found = review->findings().found;
    const auto clock = [this](double s) {
        return clockText(s, 0.5, m_session.units()) + QStringLiteral(" s");
    };
    if (at < found.size()) {
        constexpr int reach = 6;
        const LogFinding &f = found[at];
        const int x = static_cast<int>(positionOf(f.worstS));
        const int top = m_lanes.empty() ? ribbonRect().bottom() : laneRect(0).top();
        return {tr("%1: %2").arg(clock(f.worstS), text(inWords(f), m_session.units())),
                QRect(x - reach, top, 2 * reach, 2 * reach)};
    }
    const Episode &e = review->episodes()[at - found.size()];
    const QRect ribbon = ribbonRect();
    const double left = positionOf(e.beginS), right = std::max(left + 2, positionOf(e.endS));
    return {tr("%1: %2").arg(clock(e.beginS), text(inWords(e), m_session.units())),
            QRectF(left, ribbon.top(), right - left, ribbon.height()).toAlignedRect().intersected(ribbon)};
}

void TimeStrip::choosePart(int index) {
    const auto review = m_session.evidence().review(m_log);
    const auto at = static_cast<std::size_t>(index);
    const std::vector<LogFinding> &found = review->findings().found;
    if (at < found.size())
        showFinding(found[at]);
    else
        showEpisode(review->episodes()[at - found.size()]);
}

} // namespace wheelwright
