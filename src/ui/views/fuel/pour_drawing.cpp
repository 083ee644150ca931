// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/fuel/pour_drawing.h"

#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/widgets/verdict_mark.h"

#include <QApplication>
#include <QClipboard>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

constexpr int titleHeight = 18, pictureHeight = 48, tankWidth = 84, gap = 8, rowGap = 10, markSize = 11;
constexpr int wordSize = 12, smallSize = 11;
constexpr int widest = 620;    // in a wide window it stays one sentence to the eye
constexpr int amountSize = 17; // it is read at the pump, with one hand, by a torch

QRect wrapped(const QString &words, int size, int width) {
    return QFontMetrics(sansFont(size)).boundingRect(QRect(0, 0, width, 1000), Qt::TextWordWrap, words);
}

} // namespace

PourDrawing::PourDrawing(Session &session, QWidget *parent) : QWidget(parent), m_session(session) {
    setAccessibleName(tr("Plans to pour"));
    setFocusPolicy(Qt::StrongFocus);
    setProperty("helpPage", "fuel");
    QSizePolicy policy(QSizePolicy::Preferred, QSizePolicy::Preferred);
    policy.setHeightForWidth(true);
    setSizePolicy(policy);
}

void PourDrawing::show(const PourRequest &request, const PourAnswer &answer, bool methanol) {
    m_request = request;
    m_answer = answer;
    m_plans = saidPlans(request, answer);
    m_methanol = methanol;
    m_chosen = m_plans.empty() ? 0 : std::min(m_chosen, m_plans.size() - 1);
    setAccessibleDescription(words());
    setMinimumHeight(heightForWidth(width()));
    updateGeometry();
    update();
}

void PourDrawing::clear() {
    show({}, {}, m_methanol);
}

QString PourDrawing::words() const {
    if (m_plans.empty()) return {};
    return text(plainText(pourPlans(m_methanol, m_request, m_answer), wordingOf(m_session.units())));
}

QString PourDrawing::amountWords(const PourStep &s) const {
    if (s.cans > 1) return tr("%1 cans").arg(s.cans);
    if (s.cans == 1) return tr("1 can");
    return shown(s.litres, Dimension::displacement, m_session.units());
}

QString PourDrawing::nameWords(const PourStep &s) const {
    if (s.drain) return tr("drain");
    const QString name = text(s.name);
    return s.cans > 0 ? tr("%1, %2").arg(name, shown(s.litres, Dimension::displacement, m_session.units()))
                      : name;
}

QString PourDrawing::tankWords(double content, double litres, double sigma) const {
    QString words = text(contentName(content, m_methanol));
    if (sigma > 0) words += tr(" ±%1").arg(std::lround(sigma * 100));
    return words + QLatin1Char('\n') + shown(litres, Dimension::displacement, m_session.units());
}

double PourDrawing::stepWidth(const SaidPlan &plan, int width) const {
    const double room = std::min(width, widest) - 2.0 * tankWidth - 2 * gap;
    return room / static_cast<double>(std::max<std::size_t>(plan.steps.size(), 1));
}

// Pictures with the words under them.
int PourDrawing::stepHeight(const SaidPlan &plan, int width) const {
    const int wide = static_cast<int>(stepWidth(plan, width)) - 4;
    int tallest = wrapped(QStringLiteral("E\nL"), wordSize, tankWidth).height();
    for (const PourStep &s : plan.steps)
        tallest = std::max(tallest, wrapped(amountWords(s), amountSize, wide).height() +
                                        wrapped(nameWords(s), smallSize, wide).height());
    return pictureHeight + 2 + tallest;
}

std::vector<PourDrawing::Row> PourDrawing::rowsFor(int width) const {
    std::vector<Row> rows;
    int y = 0;
    for (const SaidPlan &plan : m_plans) {
        Row row{y, 0, 0};
        const int title = wrapped(text(plan.title, m_session.units()), smallSize, width).height() + 4;
        row.remarksTop = y + std::max(title, titleHeight) + stepHeight(plan, width) + 2;
        int high = row.remarksTop - y;
        for (const Sentence &s : plan.remarks)
            high += wrapped(text(s.words, m_session.units()), smallSize, width - markSize - 6).height() + 2;
        row.height = high + 4;
        y += row.height + rowGap;
        rows.push_back(row);
    }
    return rows;
}

int PourDrawing::heightForWidth(int width) const {
    const std::vector<Row> rows = rowsFor(std::max(width, 2 * tankWidth + 120));
    return rows.empty() ? 0 : rows.back().top + rows.back().height;
}

QSize PourDrawing::sizeHint() const {
    constexpr int usual = 420;
    return {usual, heightForWidth(usual)};
}

QRect PourDrawing::rowRect(std::size_t row) const {
    const Row at = rowsFor(width())[row];
    return {0, at.top, width(), at.height};
}

QRectF PourDrawing::stepRect(std::size_t row, std::size_t step) const {
    const Row at = rowsFor(width())[row];
    const SaidPlan &plan = m_plans[row];
    const double wide = stepWidth(plan, width());
    const double top = at.remarksTop - 2 - stepHeight(plan, width());
    return {tankWidth + gap + static_cast<double>(step) * wide, top, wide,
            static_cast<double>(pictureHeight)};
}

double PourDrawing::levelShown(std::size_t row, bool after) const {
    const SaidPlan &plan = m_plans[row];
    const double litres = after && !plan.steps.empty() ? plan.steps.back().volumeL : m_request.volumeL;
    return m_request.capacityL > 0 ? std::clamp(litres / m_request.capacityL, 0.0, 1.0) : 0;
}

void PourDrawing::paintEvent(QPaintEvent *) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const std::vector<Row> rows = rowsFor(width());
    for (std::size_t i = 0; i < rows.size(); ++i)
        drawRow(p, i, rows[i]);
}

void PourDrawing::drawRow(QPainter &p, std::size_t row, const Row &at) {
    const SaidPlan &plan = m_plans[row];
    if (row == m_chosen && hasFocus()) {
        p.setPen(QPen(theme().content(0.5), 1));
        p.setBrush(Qt::NoBrush);
        p.drawRoundedRect(QRectF(rowRect(row)).adjusted(0.5, 0.5, -0.5, -0.5), 4, 4);
    }
    p.setPen(theme().quiet);
    p.setFont(sansFont(smallSize));
    p.drawText(QRect(2, at.top + 2, width() - 4, at.height), Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap,
               text(plan.title, m_session.units()));
    const double top = stepRect(row, 0).top();
    const auto tank = [&](double left, bool after, double content, const QString &words) {
        drawTank(p, QRectF(left + 10, top + 4, tankWidth - 20, pictureHeight - 8), levelShown(row, after),
                 content);
        p.setPen(theme().ink);
        p.setFont(sansFont(wordSize, true));
        p.drawText(QRectF(left, top + pictureHeight, tankWidth, 40), Qt::AlignHCenter | Qt::AlignTop, words);
    };
    tank(0, false, m_request.content, tankWords(m_request.content, m_request.volumeL, 0));
    const double middle = top + pictureHeight / 2.0;
    for (std::size_t i = 0; i < plan.steps.size(); ++i) {
        const PourStep &s = plan.steps[i];
        const QRectF box = stepRect(row, i);
        drawCan(p, QRectF(box.center().x() - 17, box.top() + 3, 34, box.height() - 6), s);
        p.setPen(theme().ink);
        const QString amount = amountWords(s);
        p.setFont(sansFont(amountSize, true));
        p.drawText(QRectF(box.left() + 2, box.bottom(), box.width() - 4, 200),
                   Qt::AlignHCenter | Qt::AlignTop | Qt::TextWordWrap, amount);
        const int below = wrapped(amount, amountSize, static_cast<int>(box.width()) - 4).height();
        p.setFont(sansFont(smallSize));
        p.drawText(QRectF(box.left() + 2, box.bottom() + below, box.width() - 4, 200),
                   Qt::AlignHCenter | Qt::AlignTop | Qt::TextWordWrap, nameWords(s));
        p.setFont(sansFont(15, true));
        p.setPen(theme().quiet);
        p.drawText(QRectF(box.left() - 10, middle - 10, 20, 20), Qt::AlignCenter,
                   s.drain ? QStringLiteral("−") : QStringLiteral("+"));
    }
    const double right = std::min(width(), widest) - tankWidth;
    p.setFont(sansFont(15, true));
    p.setPen(theme().quiet);
    p.drawText(QRectF(right - 14, middle - 10, 20, 20), Qt::AlignCenter, QStringLiteral("→"));
    if (plan.steps.empty())
        tank(right, false, m_request.content, tr("nothing\nto pour"));
    else
        tank(right, true, plan.steps.back().content.value,
             tankWords(plan.steps.back().content.value, plan.steps.back().volumeL,
                       plan.steps.back().content.sigma));
    int y = at.remarksTop;
    for (const Sentence &s : plan.remarks) {
        const QString words = text(s.words, m_session.units());
        const int wide = width() - markSize - 6, high = wrapped(words, smallSize, wide).height();
        if (s.tone == Tone::caution || s.tone == Tone::trouble)
            drawVerdictMark(p, QRectF(1, y + 2, markSize, markSize),
                            s.tone == Tone::caution ? CheckState::caution : CheckState::failing);
        p.setFont(sansFont(smallSize));
        p.setPen(s.tone == Tone::trouble ? theme().trouble : theme().ink);
        p.drawText(QRect(markSize + 6, y, wide, high + 2), Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap,
                   words);
        y += high + 2;
    }
}

void PourDrawing::drawTank(QPainter &p, const QRectF &box, double share, double content) const {
    QPainterPath body;
    body.addRoundedRect(box, 8, 8);
    p.fillPath(body, theme().raised);
    p.save();
    p.setClipPath(body, Qt::IntersectClip);
    QColor hue = theme().content(content);
    hue.setAlpha(150);
    p.fillRect(QRectF(box.left(), box.bottom() - share * box.height(), box.width(), share * box.height()),
               hue);
    p.restore();
    p.setPen(QPen(theme().ink, 1.6));
    p.setBrush(Qt::NoBrush);
    p.drawPath(body);
    p.drawRect(QRectF(box.right() - 22, box.top() - 5, 12, 5));
}

// A can in the hue of what it holds; what is drained is an empty one with a broken line.
void PourDrawing::drawCan(QPainter &p, const QRectF &box, const PourStep &s) const {
    QPainterPath body;
    body.addRoundedRect(box.adjusted(0, 9, 0, 0), 4, 4);
    QColor hue = s.drain ? theme().raised : theme().content(m_request.shelf[s.fuel].content);
    if (!s.drain) hue.setAlpha(170);
    p.fillPath(body, hue);
    p.setPen(QPen(theme().ink, 1.6, s.drain ? Qt::DashLine : Qt::SolidLine));
    p.setBrush(Qt::NoBrush);
    p.drawPath(body);
    p.drawRect(QRectF(box.right() - 12, box.top() + 3, 8, 6));
    p.drawArc(QRectF(box.left() + 4, box.top() + 1, 16, 16), 0, 180 * 16);
    if (s.cans < 2) return;
    p.setPen(theme().textOn(hue));
    p.setFont(sansFont(15, true));
    p.drawText(box.adjusted(0, 9, 0, 0), Qt::AlignCenter, tr("×%1").arg(s.cans));
}

void PourDrawing::choose(std::size_t row) {
    if (row >= m_plans.size()) return;
    m_chosen = row;
    update();
    emit planWanted(m_plans[row].plan);
}

void PourDrawing::mousePressEvent(QMouseEvent *event) {
    setFocus();
    for (std::size_t i = 0; i < m_plans.size(); ++i)
        if (rowRect(i).contains(event->position().toPoint())) choose(i);
}

void PourDrawing::keyPressEvent(QKeyEvent *event) {
    switch (event->key()) {
    case Qt::Key_Up:
        return choose(m_chosen > 0 ? m_chosen - 1 : 0);
    case Qt::Key_Down:
        return choose(std::min(m_chosen + 1, m_plans.empty() ? 0 : m_plans.size() - 1));
    case Qt::Key_Return:
    case Qt::Key_Enter:
        return choose(m_chosen);
    default:
        QWidget::keyPressEvent(event);
    }
}

void PourDrawing::copy() const {
    QApplication::clipboard()->setText(words());
}

void PourDrawing::copyPicture() {
    QApplication::clipboard()->setPixmap(grab());
}

int PourDrawing::partCount() const {
    return static_cast<int>(m_plans.size());
}

PaintedPart PourDrawing::part(int index) const {
    const auto row = static_cast<std::size_t>(index);
    const SaidPlan &plan = m_plans[row];
    QStringList words;
    for (const PourStep &s : plan.steps)
        words << tr("%1 %2").arg(amountWords(s), nameWords(s));
    for (const Sentence &s : plan.remarks)
        words << text(s.words, m_session.units());
    return {tr("%1: %2").arg(text(plan.title, m_session.units()), words.join(QStringLiteral(", "))),
            rowRect(row)};
}

int PourDrawing::chosenPart() const {
    return m_plans.empty() ? -1 : static_cast<int>(m_chosen);
}

void PourDrawing::choosePart(int index) {
    choose(static_cast<std::size_t>(index));
}

} // namespace wheelwright
