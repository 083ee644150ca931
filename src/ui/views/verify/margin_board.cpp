// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/verify/margin_board.h"

#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/widgets/refresh.h"
#include "ui/widgets/verdict_mark.h"

#include <QApplication>
#include <QClipboard>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>

#include <algorithm>

namespace wheelwright {
namespace {

constexpr int labelWidth = 270, scaleHeight = 18, rightEdge = 20;
constexpr int columns = 101; // one per cent each

// Of a row over all contents, or of one content; the engine is asked elsewhere, maybe, where this one is not.
QString placeWords(const Check &check, const WorstPlace &p, const Session &s, bool ofAll) {
    const UnitChoice &u = s.units();
    if (!p.asked)
        return ofAll ? MarginBoard::tr("nothing to ask of this engine")
                     : MarginBoard::tr("nothing to ask at this content");
    return MarginBoard::tr("%1 at %2, %3, %4")
        .arg(shown(p.value, check.dimensionOf(p), u),
             text(contentName(p.content, s.job().alcohol == Alcohol::methanol)),
             shown(p.rpm, Dimension::engineSpeed, u), shown(p.loadKpa, Dimension::pressure, u));
}

} // namespace

MarginBoard::MarginBoard(Session &session, QWidget *parent) : QWidget(parent), m_session(session) {
    setFocusPolicy(Qt::StrongFocus);
    setProperty("helpPage", "verify");
    setAccessibleName(tr("Margin board"));
    connect(&session, &Session::verdictChanged, this, [this] {
        m_row = std::min(m_row, rows() - 1); // another job may have fewer questions to answer
    });
    (new Refresh(session, this))
        ->on(Refresh::job | Refresh::verdict | Refresh::units | Refresh::content, [this] { update(); });
}

void MarginBoard::setRow(std::size_t row) {
    m_row = std::min(row, rows() - 1);
    if (const auto v = m_session.verdict()) setAccessibleDescription(text(v->rows[m_row].check->title));
    partWasChosen(*this);
    update();
    emit rowChanged();
}

// Checks that the job says too little for have no row.
std::size_t MarginBoard::rows() const {
    const auto v = m_session.verdict();
    return v && !v->rows.empty() ? v->rows.size() : allChecks().size();
}

// A row of words that can still be told apart; the texts around it scroll before it is less.
QSize MarginBoard::minimumSizeHint() const {
    constexpr int width = 420, row = 13;
    return {width, static_cast<int>(allChecks().size()) * row + scaleHeight};
}

double MarginBoard::rowHeight() const {
    return (height() - scaleHeight) / static_cast<double>(rows());
}

QRect MarginBoard::wordsRect(std::size_t row) const {
    const double h = rowHeight();
    return {30, static_cast<int>(static_cast<double>(row) * h + h / 2), labelWidth - 36,
            static_cast<int>(h / 2)};
}

QRect MarginBoard::barsRect(std::size_t row) const {
    const double h = rowHeight();
    return {labelWidth, static_cast<int>(static_cast<double>(row) * h) + 2,
            std::max(10, width() - labelWidth - rightEdge), static_cast<int>(h) - 4};
}

double MarginBoard::xOf(double content) const {
    const QRect bars = barsRect(0);
    const double pitch = bars.width() / static_cast<double>(columns);
    return bars.left() + pitch / 2 + content * (bars.width() - pitch);
}

std::size_t MarginBoard::sliceAt(double x) const {
    const auto v = m_session.verdict();
    const QRect bars = barsRect(0);
    const double pitch = bars.width() / static_cast<double>(columns);
    return sliceNearest(*v, std::clamp((x - bars.left() - pitch / 2) / (bars.width() - pitch), 0.0, 1.0));
}

std::optional<std::size_t> MarginBoard::rowAt(double y) const {
    const auto row = static_cast<std::size_t>(std::max(0.0, y) / rowHeight());
    return row < rows() ? std::optional(row) : std::nullopt;
}

void MarginBoard::paintEvent(QPaintEvent *) {
    QPainter p(this);
    p.fillRect(rect(), theme().raised);
    const auto v = m_session.verdict();
    if (!v) {
        p.setPen(theme().quiet);
        p.drawText(rect(), Qt::AlignCenter,
                   m_session.hasJob() ? tr("Working it out…") : tr("No job is open."));
        return;
    }
    for (std::size_t row = 0; row < v->rows.size(); ++row)
        drawRow(p, row);
    drawScale(p);
    const double x = xOf(m_session.content());
    p.setPen(QPen(theme().ink, 1.5));
    p.drawLine(QPointF(x, 0), QPointF(x, height() - scaleHeight));
}

void MarginBoard::drawRow(QPainter &p, std::size_t row) const {
    const Verdict::Row &r = m_session.verdict()->rows[row];
    const double h = rowHeight();
    const QRect area(0, static_cast<int>(static_cast<double>(row) * h), width(), static_cast<int>(h));
    if (row == m_row) {
        p.fillRect(area, theme().paper);
        p.setPen(QPen(hasFocus() ? theme().ink : theme().line, hasFocus() ? 2 : 1));
        p.drawRect(area.adjusted(1, 1, -2, -2));
    }
    // With many checks there is one line for each; where it is worst stands below the board.
    constexpr double roomForTwoLines = 26;
    const bool oneLine = h < roomForTwoLines;
    const double mark = std::min(18.0, h - 3);
    drawVerdictMark(p, QRectF(7, area.top() + h / 2 - mark / 2, mark, mark), r.state);
    p.setPen(theme().ink);
    constexpr double roomForLargeWords = 32;
    const bool tight = h < roomForLargeWords;
    constexpr double roomForUsualWords = 16;
    p.setFont(sansFont(h < roomForUsualWords ? 11 : tight ? 12 : 13, true));
    const int inset = h < roomForUsualWords ? 0 : 2;
    const QRect title(30, area.top() + inset, labelWidth - 36,
                      oneLine ? static_cast<int>(h) - 2 * inset : static_cast<int>(h / 2));
    p.drawText(title, Qt::AlignLeft | Qt::AlignVCenter, text(r.check->title));
    p.setFont(sansFont(11));
    p.setPen(r.state == CheckState::failing   ? theme().trouble
             : r.state == CheckState::caution ? theme().heed
                                              : theme().quiet);
    p.drawText(title, Qt::AlignRight | Qt::AlignVCenter, stateText(r.state));
    if (!oneLine) {
        p.setPen(theme().quiet);
        QFont link = sansFont(tight ? 9 : 11);
        link.setUnderline(true);
        p.setFont(link);
        p.drawText(wordsRect(row), Qt::AlignLeft | Qt::AlignTop,
                   placeWords(*r.check, r.outcome.worst(), m_session, true));
    }
    drawBars(p, row);
}

void MarginBoard::drawBars(QPainter &p, std::size_t row) const {
    const auto v = m_session.verdict();
    const Verdict::Row &r = v->rows[row];
    const QRect bars = barsRect(row);
    const double base = bars.top() + bars.height() * 0.66;
    const double up = base - bars.top(), down = bars.bottom() - base;
    p.setPen(theme().line);
    p.drawLine(QPointF(bars.left(), base), QPointF(bars.right(), base));
    const double pitch = bars.width() / static_cast<double>(columns);
    p.save();
    p.setRenderHint(QPainter::Antialiasing);
    for (std::size_t i = 0; i < v->contents.size(); ++i) {
        const WorstPlace &place = r.outcome.byContent[i];
        const double x = xOf(v->contents[i]) - pitch / 2;
        const double margin = place.margin;
        const QColor hue = theme().content(v->contents[i]);
        switch (r.byContent[i]) {
        case CheckState::failing: {
            const double depth = std::max(5.0, std::min(1.0, -margin) * down);
            QPainterPath tooth(QPointF(x, base));
            tooth.lineTo(x + pitch / 2, base + depth);
            tooth.lineTo(x + pitch, base);
            tooth.closeSubpath();
            p.fillPath(tooth, theme().trouble);
            break;
        }
        case CheckState::caution:
            p.setPen(QPen(theme().heed, 1));
            p.setBrush(Qt::NoBrush);
            p.drawRect(QRectF(x + 1, base - std::max(2.0, margin * up), std::max(1.0, pitch - 2),
                              std::max(2.0, margin * up)));
            break;
        case CheckState::notJudged: // an outline, however comfortable: nobody has stated these numbers
            p.setPen(QPen(theme().quiet, 1, Qt::DotLine));
            p.drawLine(QPointF(x, base - std::max(1.5, margin * up)),
                       QPointF(x + pitch, base - std::max(1.5, margin * up)));
            break;
        case CheckState::proven:
        case CheckState::held:
            p.fillRect(QRectF(x + 0.5, base - std::max(1.5, margin * up), std::max(1.0, pitch - 1),
                              std::max(1.5, margin * up)),
                       hue);
            break;
        }
    }
    p.restore();
}

void MarginBoard::drawScale(QPainter &p) const {
    p.setFont(monoFont(10));
    p.setPen(theme().quiet);
    for (int percent = 0; percent <= 100; percent += 20) {
        const double x = xOf(percent / 100.0);
        p.drawText(QRectF(x - 22, height() - scaleHeight, 44, scaleHeight), Qt::AlignCenter,
                   text(contentName(percent / 100.0, m_session.job().alcohol == Alcohol::methanol)));
    }
}

void MarginBoard::mousePressEvent(QMouseEvent *event) {
    const auto v = m_session.verdict();
    const auto row = rowAt(event->position().y());
    if (!v || !row) return;
    const QPoint at = event->position().toPoint();
    if (barsRect(*row).contains(at)) m_session.setContent(v->contents[sliceAt(at.x())]);
    setRow(*row);
    if (wordsRect(*row).contains(at)) emit placeWanted(v->rows[*row].outcome.worst());
}

void MarginBoard::mouseDoubleClickEvent(QMouseEvent *event) {
    const auto v = m_session.verdict();
    const auto row = rowAt(event->position().y());
    if (v && row && barsRect(*row).contains(event->position().toPoint()))
        emit placeWanted(v->rows[*row].outcome.byContent[sliceAt(event->position().x())]);
}

void MarginBoard::keyPressEvent(QKeyEvent *event) {
    const auto v = m_session.verdict();
    switch (event->key()) {
    case Qt::Key_Up:
        setRow(m_row > 0 ? m_row - 1 : 0);
        break;
    case Qt::Key_Down:
        setRow(m_row + 1);
        break;
    case Qt::Key_Left:
        m_session.setContent(m_session.content() - 0.01);
        break;
    case Qt::Key_Right:
        m_session.setContent(m_session.content() + 0.01);
        break;
    case Qt::Key_Return:
    case Qt::Key_Enter:
        if (v) emit placeWanted(v->rows[m_row].outcome.worst());
        break;
    default:
        QWidget::keyPressEvent(event);
    }
}

void MarginBoard::copy() {
    const auto v = m_session.verdict();
    if (!v) return;
    QString out = QStringLiteral("check");
    for (double c : v->contents)
        out += QLatin1Char('\t') + briefText(c * 100, m_session.units());
    for (const Verdict::Row &r : v->rows) {
        out += QLatin1Char('\n') + text(r.check->id);
        for (std::size_t i = 0; i < v->contents.size(); ++i)
            out += QLatin1Char('\t') + (r.byContent[i] == CheckState::notJudged
                                            ? stateText(CheckState::notJudged)
                                            : fixedText(r.outcome.byContent[i].margin, 3, m_session.units()));
    }
    QApplication::clipboard()->setText(out + QLatin1Char('\n'));
}

void MarginBoard::copyPicture() {
    QApplication::clipboard()->setPixmap(grab());
}

int MarginBoard::partColumns() const {
    const auto v = m_session.verdict();
    return v ? static_cast<int>(v->contents.size()) : 0;
}

int MarginBoard::partCount() const {
    const auto v = m_session.verdict();
    return v ? static_cast<int>(v->rows.size() * v->contents.size()) : 0;
}

PaintedPart MarginBoard::part(int index) const {
    const auto v = m_session.verdict();
    const auto row = static_cast<std::size_t>(index / partColumns()),
               slice = static_cast<std::size_t>(index % partColumns());
    const Verdict::Row &r = v->rows[row];
    const QRect bars = barsRect(row);
    const double pitch = bars.width() / static_cast<double>(columns), x = xOf(v->contents[slice]) - pitch / 2;
    const QString worst = placeWords(*r.check, r.outcome.byContent[slice], m_session, false);
    return {tr("%1: %2, %3").arg(text(r.check->title), stateText(r.byContent[slice]), worst),
            QRectF(x, bars.top(), pitch, bars.height()).toAlignedRect()};
}

int MarginBoard::chosenPart() const {
    const auto v = m_session.verdict();
    if (!v || v->contents.empty()) return -1;
    return static_cast<int>(m_row * v->contents.size() + sliceNearest(*v, m_session.content()));
}

void MarginBoard::choosePart(int index) {
    m_session.setContent(m_session.verdict()->contents[static_cast<std::size_t>(index % partColumns())]);
    setRow(static_cast<std::size_t>(index / partColumns()));
}

QString MarginBoard::columnName(int column) const {
    return text(contentName(m_session.verdict()->contents[static_cast<std::size_t>(column)],
                            m_session.job().alcohol == Alcohol::methanol));
}

QString MarginBoard::rowName(int row) const {
    return text(m_session.verdict()->rows[static_cast<std::size_t>(row)].check->title);
}

} // namespace wheelwright
