#include "ui/widgets/content_ruler.h"

#include "core/fuel/tank_history.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>

#include <algorithm>
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
    connect(&session, &Session::contentChanged, this, repaint);
    connect(&session, &Session::verdictChanged, this, repaint);
    connect(&session, &Session::jobReplaced, this, repaint);
    connect(&session, &Session::jobChanged, this, repaint);
}

void ContentRuler::describe() {
    setAccessibleDescription(
        tr("Looking at %1").arg(text(contentName(m_session.content(), methanolIn(m_session)))));
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
    const auto at =
        std::ranges::min_element(v->contents, {}, [content](double c) { return std::abs(c - content); });
    return v->overall[static_cast<std::size_t>(at - v->contents.begin())] == CheckState::failing;
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
    drawTank(p);
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
        p.fillRect(piece, wash);
        // Hatched: the model speaks, no clean pull has been made here yet.
        p.fillRect(piece, QBrush(hue, Qt::BDiagPattern));
        if (v->overall[i] == CheckState::caution)
            p.fillRect(QRectF(from, band.bottom() - 2, to - from + 0.5, 3), theme().heed);
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

// What the tank holds by arithmetic: a dotted line through the band and a word under it.
void ContentRuler::drawTank(QPainter &p) const {
    if (m_session.job().tankEvents.empty()) return;
    const double x = std::round(positionOf(alcoholOf(tankNow(m_session.job()).content))) + 0.5;
    p.setPen(QPen(theme().ink, 1, Qt::DotLine));
    p.drawLine(QPointF(x, bandTop - 2), QPointF(x, bandTop + bandHeight));
    p.setPen(theme().ink);
    p.setFont(sansFont(10));
    p.drawText(QRectF(x - 24, bandTop + bandHeight, 48, height() - bandTop - bandHeight - 1), Qt::AlignCenter,
               tr("tank"));
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
    default:
        QWidget::keyPressEvent(event);
    }
}

} // namespace wheelwright
