// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/ladder/ladder_drawing.h"

#include "core/report/ladder_reports.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/widgets/sheet_buttons.h"

#include <QApplication>
#include <QClipboard>

#include <QEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include <algorithm>

namespace wheelwright {
namespace {

constexpr int namesWidth = 152, scaleHeight = 26, edge = 6;
constexpr double leastLambda = 0.5, mostLambda = 1.0; // of passes
constexpr int passedHeight = 20, laterHeight = 27, nextHeight = 104;

// The words go first where it is narrow, and take two fifths of the room that there is more.
int wordsWidth(int width) {
    constexpr int narrow = 440, usual = 520, words = 196;
    return width < narrow ? 16 : words + std::max(0, width - usual) * 2 / 5;
}

} // namespace

LadderDrawing::LadderDrawing(Session &session, QWidget *parent) : QWidget(parent), m_session(session) {
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Ladder"));
    connect(&session, &Session::contentChanged, this, qOverload<>(&QWidget::update));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Minimum);
}

void LadderDrawing::setLadder(const Ladder &ladder) {
    m_ladder = ladder;
    if (!m_ladder.byId(m_chosen)) {
        const Rung *next = m_ladder.next();
        m_chosen = next ? next->id : m_ladder.rungs.empty() ? std::string() : m_ladder.rungs.back().id;
    }
    setMinimumHeight(minimumSizeHint().height());
    describe();
    update();
}

void LadderDrawing::choose(const std::string &id) {
    if (id == m_chosen || !m_ladder.byId(id)) return;
    m_chosen = id;
    describe();
    partWasChosen(*this);
    update();
    emit chosenChanged();
}

int LadderDrawing::heightOf(const Rung &r) const {
    if (r.state == RungState::next) return nextHeight;
    return r.state == RungState::passed ? passedHeight : laterHeight;
}

QSize LadderDrawing::minimumSizeHint() const {
    int height = scaleHeight + edge;
    for (const Rung &r : m_ladder.rungs)
        height += heightOf(r);
    constexpr int least = 300;
    return {least, height};
}

QSize LadderDrawing::sizeHint() const {
    return minimumSizeHint();
}

// Of a large screen all the height, as long as it is still one ladder.
double LadderDrawing::stretch() const {
    constexpr double most = 2;
    const int least = minimumSizeHint().height() - scaleHeight - edge;
    return least > 0 ? std::clamp(static_cast<double>(height() - scaleHeight - edge) / least, 1.0, most) : 1;
}

// The first rung at the bottom, over the scale.
QRect LadderDrawing::rectOf(std::size_t rung) const {
    const double by = stretch();
    int below = 0;
    for (std::size_t i = 0; i < rung; ++i)
        below += heightOf(m_ladder.rungs[i]);
    const int bottom = height() - scaleHeight - static_cast<int>(below * by),
              top = height() - scaleHeight - static_cast<int>((below + heightOf(m_ladder.rungs[rung])) * by);
    return {0, top, width(), bottom - top};
}

double LadderDrawing::xOf(double value) const {
    const double left = namesWidth, right = width() - wordsWidth(width());
    const double share = m_ladder.passes ? (value - leastLambda) / (mostLambda - leastLambda) : value;
    return left + share * (right - left);
}

double LadderDrawing::placeOf(const Rung &r) const {
    if (!m_ladder.passes) return r.content;
    if (r.pass) return std::clamp(r.pass->lambda, leastLambda, mostLambda);
    // What is no pass stands over the end that it is at.
    return r.kind == RungKind::preflight ? leastLambda : mostLambda;
}

void LadderDrawing::paintEvent(QPaintEvent *) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    if (m_ladder.rungs.empty()) return;
    drawScale(p);
    if (!m_ladder.passes) drawLookedAt(p);
    drawWay(p);
    for (std::size_t i = 0; i < m_ladder.rungs.size(); ++i)
        drawRung(p, m_ladder.rungs[i], rectOf(i));
}

void LadderDrawing::drawScale(QPainter &p) const {
    const int y = height() - scaleHeight + 3;
    p.setFont(monoFont(10));
    constexpr int tenth = 10;
    for (int i = 0; i <= tenth; ++i) {
        const double share = i / static_cast<double>(tenth);
        const double x = xOf(m_ladder.passes ? leastLambda + share * (mostLambda - leastLambda) : share);
        const bool named = i % 2 == 0;
        p.setPen(QPen(theme().line, 1));
        p.drawLine(QPointF(x, edge), QPointF(x, y + (named ? 6 : 3)));
        if (!named) continue;
        p.setPen(theme().quiet);
        p.drawText(QRectF(x - 20, y + 6, 40, 14), Qt::AlignCenter,
                   m_ladder.passes
                       ? fixedText(leastLambda + share * (mostLambda - leastLambda), 1, m_session.units())
                       : shown(share, Dimension::content, m_session.units()));
    }
    p.drawText(QRectF(0, y + 6, namesWidth - 20, 14), Qt::AlignRight | Qt::AlignVCenter,
               m_ladder.passes ? tr("λ") : tr("content"));
}

// The content that everything looks at.
void LadderDrawing::drawLookedAt(QPainter &p) const {
    const double x = xOf(m_session.content());
    p.setPen(QPen(theme().content(m_session.content()), 2));
    p.drawLine(QPointF(x, edge), QPointF(x, height() - scaleHeight));
}

// From rung to rung.
void LadderDrawing::drawWay(QPainter &p) const {
    QPointF before;
    bool first = true;
    for (std::size_t i = 0; i < m_ladder.rungs.size(); ++i) {
        const Rung &r = m_ladder.rungs[i];
        const QPointF here(xOf(placeOf(r)), rectOf(i).center().y());
        if (!first) {
            const bool done = r.state == RungState::passed;
            p.setPen(
                QPen(done ? theme().ink : theme().line, done ? 1.6 : 1, done ? Qt::SolidLine : Qt::DotLine));
            p.drawLine(before, here);
        }
        before = here;
        first = false;
    }
}

void LadderDrawing::drawRung(QPainter &p, const Rung &r, const QRect &row) const {
    if (r.id == m_chosen) {
        p.setPen(QPen(theme().ink, hasFocus() ? 1.6 : 0.8));
        p.setBrush(Qt::NoBrush);
        p.drawRoundedRect(QRectF(row).adjusted(1.5, 1.5, -1.5, -1.5), 3, 3);
    }
    drawBar(p, r, row);
    drawWords(p, r, row);
}

// As wide as the content is known, and never narrower than can be seen.
void LadderDrawing::drawBar(QPainter &p, const Rung &r, const QRect &row) const {
    const bool open = r.state == RungState::next || r.state == RungState::later;
    const double at = open && r.volumeL > 0 && hasPulls(r.kind) ? r.expected.value : placeOf(r);
    constexpr double within95 = 1.96, leastHalf = 0.022, ends = 7;
    const double half = m_ladder.passes ? leastHalf / 2 : std::max(leastHalf, within95 * r.expected.sigma);
    double thick = 3;
    if (r.state == RungState::next)
        thick = 20;
    else if (r.state != RungState::passed)
        thick = 9;
    const QRectF bar(xOf(at - half), row.center().y() - thick / 2, xOf(at + half) - xOf(at - half), thick);
    QColor hue = theme().content(r.content);
    switch (r.state) {
    case RungState::passed:
        p.setPen(Qt::NoPen);
        p.setBrush(hue);
        p.drawRect(bar);
        return;
    case RungState::next:
        p.setPen(QPen(theme().ink, 1));
        p.setBrush(hue);
        p.drawRect(bar);
        break;
    case RungState::later:
        hue.setAlphaF(0.45F);
        p.setPen(Qt::NoPen);
        p.setBrush(hue);
        p.drawRect(bar);
        break;
    case RungState::notNeeded:
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(theme().quiet, 1, Qt::DotLine));
        p.drawRect(bar);
        return;
    case RungState::outOfReach:
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(theme().trouble, 1.4, Qt::DashLine));
        p.drawRect(bar);
        return;
    }
    // What is aimed at, on what is expected.
    if (hasPulls(r.kind)) {
        p.setPen(QPen(theme().ink, 1.2));
        p.drawLine(QPointF(xOf(r.content), bar.top() - ends / 2),
                   QPointF(xOf(r.content), bar.bottom() + ends / 2));
    }
}

void LadderDrawing::drawWords(QPainter &p, const Rung &r, const QRect &row) const {
    const bool next = r.state == RungState::next;
    const bool passed = r.state == RungState::passed;
    const UnitChoice &units = m_session.units();
    const bool roomy = stretch() > 1.4; // it is read from further away
    const int big = roomy ? 20 : 15, usual = roomy ? 14 : 12, small = roomy ? 13 : 11;
    constexpr int margin = 10;
    p.setPen(next || passed ? theme().ink : theme().quiet);
    p.setFont(sansFont(next ? big : usual, next));
    const QRectF names(margin, row.top(), namesWidth - 2 * margin, row.height());
    const QString name = text(rungName(r), units);
    if (next)
        p.drawText(names, Qt::AlignVCenter | Qt::AlignLeft | Qt::TextWordWrap, name);
    else
        p.drawText(names, Qt::AlignVCenter | Qt::AlignLeft,
                   p.fontMetrics().elidedText(name, Qt::ElideRight, static_cast<int>(names.width())));
    const int room = wordsWidth(width());
    const QRectF words(width() - room + margin, row.top() + 2, room - 2 * margin, row.height() - 4);
    if (next) {
        p.setFont(sansFont(small));
        p.drawText(words, Qt::AlignVCenter | Qt::AlignLeft | Qt::TextWordWrap, text(rungInBrief(r), units));
        return;
    }
    p.setFont(sansFont(small));
    QString line;
    if (r.state == RungState::later)
        line = text(rungInLine(r), units);
    else if (!passed)
        line = text(r.why, units);
    else
        line = text(rungStateWord(r.state));
    if (r.state == RungState::outOfReach) p.setPen(theme().trouble);
    if (words.height() >= 2 * p.fontMetrics().lineSpacing() &&
        p.boundingRect(words, Qt::TextWordWrap, line).height() <= words.height()) {
        p.drawText(words, Qt::AlignVCenter | Qt::AlignLeft | Qt::TextWordWrap, line);
        return;
    }
    p.drawText(words, Qt::AlignVCenter | Qt::AlignLeft,
               p.fontMetrics().elidedText(line, Qt::ElideRight, static_cast<int>(words.width())));
}

void LadderDrawing::mousePressEvent(QMouseEvent *event) {
    for (std::size_t i = 0; i < m_ladder.rungs.size(); ++i)
        if (rectOf(i).contains(event->position().toPoint())) choose(m_ladder.rungs[i].id);
}

void LadderDrawing::keyPressEvent(QKeyEvent *event) {
    const auto at = std::ranges::find(m_ladder.rungs, m_chosen, &Rung::id);
    if (at == m_ladder.rungs.end()) return QWidget::keyPressEvent(event);
    switch (event->key()) {
    case Qt::Key_Up:
        if (at + 1 != m_ladder.rungs.end()) choose((at + 1)->id);
        return;
    case Qt::Key_Down:
        if (at != m_ladder.rungs.begin()) choose((at - 1)->id);
        return;
    case Qt::Key_Home:
        if (const Rung *next = m_ladder.next()) choose(next->id);
        return;
    default:
        QWidget::keyPressEvent(event);
    }
}

void LadderDrawing::changeEvent(QEvent *event) {
    QWidget::changeEvent(event);
    if (event->type() == QEvent::PaletteChange) update();
}

void LadderDrawing::describe() {
    const Rung *r = m_ladder.byId(m_chosen);
    setAccessibleDescription(
        r ? tr("%1: %2").arg(text(rungName(*r), m_session.units()), text(rungStateWord(r->state)))
          : QString());
}

void LadderDrawing::copy() const {
    QApplication::clipboard()->setText(gridsAsText(ladderReport(m_ladder).report, m_session.units()));
}

void LadderDrawing::copyPicture() {
    QApplication::clipboard()->setPixmap(grab());
}

int LadderDrawing::partCount() const {
    return static_cast<int>(m_ladder.rungs.size());
}

PaintedPart LadderDrawing::part(int index) const {
    const Rung &r = m_ladder.rungs[static_cast<std::size_t>(index)];
    return {tr("%1: %2").arg(text(rungName(r), m_session.units()), text(rungStateWord(r.state))),
            rectOf(static_cast<std::size_t>(index))};
}

int LadderDrawing::chosenPart() const {
    const auto at = std::ranges::find(m_ladder.rungs, m_chosen, &Rung::id);
    return at == m_ladder.rungs.end() ? -1 : static_cast<int>(at - m_ladder.rungs.begin());
}

void LadderDrawing::choosePart(int index) {
    choose(m_ladder.rungs[static_cast<std::size_t>(index)].id);
}

} // namespace wheelwright
