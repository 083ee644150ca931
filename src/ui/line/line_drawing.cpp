// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/line/line_drawing.h"

#include "core/report/ladder_reports.h"
#include "core/report/work_line_reports.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"

#include <QApplication>
#include <QClipboard>
#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>

#include <algorithm>

namespace wheelwright {
namespace {

constexpr int columnWidth = 180, margin = 10;
constexpr int laneHeight = 24, laneTop = 16, node = 7;
constexpr int nameHeight = 18, lineHeight = 15;
constexpr int mapWidth = 78, mapHeight = 44, mapGap = 8, mapsShown = 2;
constexpr int settingsShown = 3;

// Steps of a table as the tables show differences: two hues around blank, as far as the largest.
void drawSteps(QPainter &p, const QRect &box, const Difference &d) {
    const std::size_t rows = d.steps.size() / d.columns;
    const double w = box.width() / static_cast<double>(d.columns),
                 h = box.height() / static_cast<double>(rows);
    const double most = std::abs(d.worst);
    for (std::size_t i = 0; i < d.steps.size(); ++i) {
        if (d.steps[i] == 0 || most == 0) continue;
        const std::size_t row = i / d.columns, column = i % d.columns;
        const double x = box.left() + static_cast<double>(column) * w;
        const double y = box.top() + static_cast<double>(row) * h;
        constexpr double faintest = 0.25; // a step that is there is seen, however small beside the largest
        const double share = d.steps[i] / most;
        p.fillRect(QRectF(x, y, w, h),
                   theme().difference(share < 0 ? std::min(share, -faintest) : std::max(share, faintest)));
    }
    p.setPen(theme().line);
    p.setBrush(Qt::NoBrush);
    p.drawRect(QRectF(box).adjusted(0.5, 0.5, -0.5, -0.5));
}

} // namespace

LineDrawing::LineDrawing(Session &session, QWidget *parent) : QWidget(parent), m_session(session) {
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Line of work"));
    setProperty("helpPage", "tables");
}

void LineDrawing::show(std::shared_ptr<const Job> job, std::shared_ptr<const WorkLine> line) {
    // What is chosen stays chosen by its name: the line grows at its end, and marks come and go.
    const auto nameOfChosen = [this](std::optional<std::size_t> mark) {
        return mark && m_line ? std::optional(text(nameOf(*m_job, m_line->marks[*mark]))) : std::nullopt;
    };
    const auto chosen = nameOfChosen(m_chosen), second = nameOfChosen(m_second);
    m_job = std::move(job);
    m_line = std::move(line);
    const auto find = [this](const std::optional<QString> &name) -> std::optional<std::size_t> {
        if (!name || !m_line) return std::nullopt;
        for (std::size_t i = 0; i < m_line->marks.size(); ++i)
            if (text(nameOf(*m_job, m_line->marks[i])) == *name) return i;
        return std::nullopt;
    };
    m_chosen = find(chosen);
    m_second = find(second);
    if (!m_chosen && m_line) { // now, wherever it stands
        m_second.reset();
        const auto now = std::ranges::find(m_line->marks, true, &WorkMark::now);
        m_chosen = static_cast<std::size_t>(now - m_line->marks.begin());
    }
    updateGeometry();
    resize(sizeHint().expandedTo(size()));
    describe();
    partWasChosen(*this);
    update();
    emit chosenChanged();
}

QSize LineDrawing::sizeHint() const {
    const int marks = m_line ? static_cast<int>(m_line->marks.size()) : 0;
    const int lanes = m_line ? static_cast<int>(m_line->lanes) : 1;
    const int height = laneTop + lanes * laneHeight + nameHeight + lineHeight + 8 + mapHeight +
                       2 * lineHeight + settingsShown * lineHeight + lineHeight + 10;
    return {marks * columnWidth + margin, height};
}

QRect LineDrawing::rectOf(std::size_t mark) const {
    return {static_cast<int>(mark) * columnWidth, 0, columnWidth, height()};
}

QPointF LineDrawing::nodeOf(std::size_t mark) const {
    const int lanes = static_cast<int>(m_line->lanes), lane = static_cast<int>(m_line->marks[mark].lane);
    const int y = laneTop + (lanes - 1 - lane) * laneHeight + laneHeight / 2;
    return {static_cast<double>(rectOf(mark).left() + margin + node), static_cast<double>(y)};
}

std::vector<const Difference *> LineDrawing::tablesOf(std::size_t mark) const {
    std::vector<const Difference *> out;
    for (const Difference &d : m_line->marks[mark].changed)
        if (d.cells > 0) out.push_back(&d);
    // Those that changed in most cells first: they are what was worked on.
    std::ranges::stable_sort(out, std::greater{}, &Difference::cells);
    return out;
}

QRect LineDrawing::mapOf(std::size_t mark, std::size_t map) const {
    if (!m_line || map >= mapsShown || map >= tablesOf(mark).size()) return {};
    const int top = laneTop + static_cast<int>(m_line->lanes) * laneHeight + nameHeight + lineHeight + 6;
    return {rectOf(mark).left() + margin + static_cast<int>(map) * (mapWidth + mapGap), top, mapWidth,
            mapHeight};
}

void LineDrawing::paintEvent(QPaintEvent *) {
    if (!m_line) return;
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    for (std::size_t i = 0; i < m_line->marks.size(); ++i) {
        if (i != m_chosen && i != m_second) continue;
        QColor wash = theme().line;
        wash.setAlphaF(i == m_chosen ? 0.45F : 0.25F);
        p.fillRect(rectOf(i), wash);
    }
    drawIntake(p);
    drawWays(p);
    for (std::size_t i = 0; i < m_line->marks.size(); ++i) {
        drawNode(p, i);
        drawColumn(p, i);
    }
    if (hasFocus() && m_chosen) {
        p.setPen(QPen(theme().ink, 1, Qt::DotLine));
        p.setBrush(Qt::NoBrush);
        p.drawRect(QRectF(rectOf(*m_chosen)).adjusted(1.5, 1.5, -1.5, -1.5));
    }
}

// Where it all began: what was looked at before the first change, on the Job station.
void LineDrawing::drawIntake(QPainter &p) const {
    if (m_line->marks.empty()) return;
    const QPointF first = nodeOf(0);
    constexpr double begin = 2, half = 9;
    p.setPen(QPen(theme().ink, 2.5));
    p.drawLine(QPointF(begin, first.y()), first);
    p.drawLine(QPointF(begin, first.y() - half), QPointF(begin, first.y() + half));
    p.setFont(sansFont(11));
    p.setPen(theme().quiet);
    p.drawText(QPointF(begin, 12), text(intakeWords(*m_job), m_session.units()));
}

// From each mark to what was made from it: along its own lane, then over to the other's.
void LineDrawing::drawWays(QPainter &p) const {
    for (std::size_t i = 0; i < m_line->marks.size(); ++i) {
        const WorkMark &mark = m_line->marks[i];
        if (!mark.from) continue;
        const QPointF from = nodeOf(*mark.from), to = nodeOf(i);
        const bool onTheWay = mark.lane == 0;
        p.setPen(QPen(onTheWay ? theme().ink : theme().quiet, onTheWay ? 2.5 : 1.2));
        const double turn = to.x() - columnWidth / 2.0;
        if (from.y() == to.y()) {
            p.drawLine(from, to);
            continue;
        }
        // Away from the line at the mark that was gone back to, so that it does not run over others.
        const double bend = std::max(from.x() + laneHeight, from.y() > to.y() ? from.x() + laneHeight : turn);
        p.drawLine(from, QPointF(bend, to.y()));
        p.drawLine(QPointF(bend, to.y()), to);
    }
}

// A peg in the line: hollow as long as it is only kept, filled when the controller has it, with a bar under
// it when it came back, and a cap when it was released. Now is a plumb line down to its words.
void LineDrawing::drawNode(QPainter &p, std::size_t i) const {
    const WorkMark &mark = m_line->marks[i];
    const QPointF at = nodeOf(i);
    const Revision *r = mark.revision ? &m_job->revisions.values()[*mark.revision] : nullptr;
    const QRectF peg(at.x() - node + 1, at.y() - node, 2 * node - 2, 2 * node);
    p.setPen(QPen(theme().ink, 1.8, r ? Qt::SolidLine : Qt::DotLine));
    p.setBrush(r && r->sent ? theme().ink : theme().raised);
    p.drawRect(peg);
    p.setPen(QPen(theme().ink, 2));
    if (r && !r->cameBack.empty())
        p.drawLine(QPointF(peg.left() - 3, peg.bottom() + 3.5), QPointF(peg.right() + 3, peg.bottom() + 3.5));
    if (r && !r->released.empty())
        p.drawLine(QPointF(peg.left() - 3, peg.top() - 3.5), QPointF(peg.right() + 3, peg.top() - 3.5));
    if (mark.now) {
        p.setFont(sansFont(10, true));
        p.drawText(QPointF(at.x() + node + 5, at.y() - 5), tr("now"));
    }
}

void LineDrawing::drawColumn(QPainter &p, std::size_t i) const {
    const WorkMark &mark = m_line->marks[i];
    const QRect column = rectOf(i);
    const int left = column.left() + margin, width = columnWidth - 2 * margin + 6;
    int y = laneTop + static_cast<int>(m_line->lanes) * laneHeight;
    const auto line = [&](const QString &words, const QFont &font, const QColor &color, int height) {
        p.setFont(font);
        p.setPen(color);
        p.drawText(QRect(left, y, width, height), Qt::AlignLeft | Qt::AlignVCenter,
                   p.fontMetrics().elidedText(words, Qt::ElideRight, width));
        y += height;
    };
    line(text(nameOf(*m_job, mark)), sansFont(13, true), theme().ink, nameHeight);
    const QFont small = sansFont(11);
    constexpr int day = 10;
    const QString stages = text(stagesOf(*m_job, mark), m_session.units());
    const QString when =
        mark.revision ? text(m_job->revisions.values()[*mark.revision].at).left(day) : tr("not kept yet");
    line(stages.isEmpty() ? when : when + QStringLiteral(" · ") + stages, small, theme().quiet, lineHeight);
    y = drawMaps(p, i, y + 6);
    std::vector<const Difference *> settings;
    for (const Difference &d : mark.changed)
        if (d.cells == 0) settings.push_back(&d);
    const int room = tablesOf(i).empty() ? settingsShown + 3 : settingsShown;
    for (std::size_t k = 0; k < settings.size(); ++k) {
        if (static_cast<int>(k) + 1 == room && settings.size() > k + 1) {
            line(tr("and %1 more settings").arg(settings.size() - k), small, theme().quiet, lineHeight);
            break;
        }
        line(text(settings[k]->title) + QStringLiteral(": ") + text(settings[k]->is, m_session.units()),
             small, theme().ink, lineHeight);
    }
    if (!mark.unread.empty()) line(tr("cannot be read"), small, theme().trouble, lineHeight);
    if (mark.from && mark.unread.empty() && mark.changed.empty())
        line(tr("nothing differs"), small, theme().quiet, lineHeight);
    y = height() - lineHeight - 6;
    line(madeWords(mark), sansFont(11, true), theme().ink, lineHeight);
}

int LineDrawing::drawMaps(QPainter &p, std::size_t i, int y) const {
    const std::vector<const Difference *> tables = tablesOf(i);
    if (tables.empty()) return y;
    p.setRenderHint(QPainter::Antialiasing, false);
    for (std::size_t k = 0; k < tables.size() && k < mapsShown; ++k) {
        const QRect box = mapOf(i, k);
        drawSteps(p, box, *tables[k]);
        p.setFont(sansFont(10));
        p.setPen(theme().ink);
        p.drawText(QRect(box.left(), box.bottom() + 2, box.width() + mapGap, lineHeight), Qt::AlignLeft,
                   p.fontMetrics().elidedText(text(tables[k]->title), Qt::ElideRight, box.width() + 2));
    }
    p.setRenderHint(QPainter::Antialiasing);
    const int below = mapOf(i, 0).bottom() + 2 + lineHeight;
    std::size_t cells = 0;
    for (const Difference *d : tables)
        cells += d->cells;
    p.setFont(sansFont(10));
    p.setPen(theme().quiet);
    const QString more =
        tables.size() > mapsShown ? tr(", %1 more tables").arg(tables.size() - mapsShown) : QString();
    p.drawText(QRect(mapOf(i, 0).left(), below, columnWidth - 2 * margin, lineHeight), Qt::AlignLeft,
               (cells == 1 ? tr("1 cell") : tr("%1 cells").arg(cells)) + more);
    return below + lineHeight + 2;
}

QString LineDrawing::madeWords(const WorkMark &mark) const {
    QStringList parts;
    const auto count = [&](std::size_t n, const QString &one, const QString &many) {
        if (n > 0) parts << (n == 1 ? one : many.arg(n));
    };
    count(mark.logs.size(), tr("1 log"), tr("%1 logs"));
    count(mark.runs.size(), tr("1 run"), tr("%1 runs"));
    if (mark.rungs.size() == 1)
        parts << tr("passed: %1")
                     .arg(text(rungName(m_job->ladderPassed.values()[mark.rungs.front()].rung),
                               m_session.units()));
    else
        count(mark.rungs.size(), {}, tr("%1 rungs passed"));
    return parts.join(QStringLiteral(" · "));
}

QString LineDrawing::words(std::size_t i) const {
    const Report report = workMarkReport(*m_job, *m_line, i);
    return text(plainText(report, wordingOf(m_session.units()))).trimmed();
}

void LineDrawing::describe() {
    if (!m_line || !m_chosen) return setAccessibleDescription({});
    setAccessibleDescription(words(*m_chosen));
}

std::optional<std::size_t> LineDrawing::markAt(QPointF at) const {
    if (!m_line || at.x() < 0) return std::nullopt;
    const auto i = static_cast<std::size_t>(at.x() / columnWidth);
    return i < m_line->marks.size() ? std::optional(i) : std::nullopt;
}

void LineDrawing::choose(std::size_t mark, bool asSecond) {
    if (!m_line || mark >= m_line->marks.size()) return;
    if (asSecond) {
        m_second = mark == m_chosen || mark == m_second ? std::nullopt : std::optional(mark);
    } else {
        m_chosen = mark;
        m_second.reset();
    }
    describe();
    update();
    emit chosenChanged();
}

void LineDrawing::mousePressEvent(QMouseEvent *event) {
    if (const auto mark = markAt(event->position()); mark && event->button() == Qt::LeftButton)
        choose(*mark, event->modifiers() & (Qt::ShiftModifier | Qt::ControlModifier));
}

void LineDrawing::mouseDoubleClickEvent(QMouseEvent *event) {
    if (markAt(event->position()) && event->button() == Qt::LeftButton) emit opened();
}

void LineDrawing::keyPressEvent(QKeyEvent *event) {
    if (!m_line || !m_chosen) return QWidget::keyPressEvent(event);
    const bool second = event->modifiers() & Qt::ShiftModifier;
    const std::size_t at = second ? m_second.value_or(*m_chosen) : *m_chosen, last = m_line->marks.size() - 1;
    const auto go = [&](std::size_t to) {
        if (second && to == m_chosen) to = to > at ? std::min(to + 1, last) : to > 0 ? to - 1 : to;
        choose(to, second);
    };
    switch (event->key()) {
    case Qt::Key_Left:
        return go(at > 0 ? at - 1 : 0);
    case Qt::Key_Right:
        return go(std::min(at + 1, last));
    case Qt::Key_Home:
        return go(0);
    case Qt::Key_End:
        return go(last);
    case Qt::Key_Return:
    case Qt::Key_Enter:
        emit opened();
        return;
    default:
        QWidget::keyPressEvent(event);
    }
}

bool LineDrawing::event(QEvent *event) {
    if (event->type() == QEvent::ToolTip) {
        auto *help = static_cast<QHelpEvent *>(event);
        if (const auto mark = markAt(help->pos())) QToolTip::showText(help->globalPos(), words(*mark), this);
        return true;
    }
    return QWidget::event(event);
}

void LineDrawing::copy() const {
    if (!m_line) return;
    QStringList all;
    for (std::size_t i = 0; i < m_line->marks.size(); ++i)
        all << words(i);
    QApplication::clipboard()->setText(all.join(QStringLiteral("\n\n")));
}

void LineDrawing::copyPicture() {
    QApplication::clipboard()->setPixmap(grab());
}

int LineDrawing::partCount() const {
    return m_line ? static_cast<int>(m_line->marks.size()) : 0;
}

PaintedPart LineDrawing::part(int index) const {
    return {words(static_cast<std::size_t>(index)), rectOf(static_cast<std::size_t>(index))};
}

int LineDrawing::chosenPart() const {
    return m_line && m_chosen ? static_cast<int>(*m_chosen) : -1;
}

void LineDrawing::choosePart(int index) {
    choose(static_cast<std::size_t>(index));
}

} // namespace wheelwright
