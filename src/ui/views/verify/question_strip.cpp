// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/verify/question_strip.h"

#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/widgets/refresh.h"
#include "ui/widgets/verdict_mark.h"

#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>

#include <algorithm>

namespace wheelwright {

QuestionStrip::QuestionStrip(Session &session, QWidget *parent) : QWidget(parent), m_session(session) {
    setFocusPolicy(Qt::StrongFocus);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setProperty("helpPage", "verify");
    setAccessibleName(tr("Questions"));
    (new Refresh(session, this))->on(Refresh::verdict | Refresh::content, [this] {
        QStringList words;
        for (const Verdict::Answer &a : answers())
            words << wordsOf(a);
        setAccessibleDescription(words.join(QStringLiteral(". ")));
        update();
    });
}

const std::vector<Verdict::Answer> &QuestionStrip::answers() const {
    static const std::vector<Verdict::Answer> none;
    const auto v = m_session.verdict();
    return v ? v->answers : none;
}

QString QuestionStrip::wordsOf(const Verdict::Answer &a) const {
    return text(a.question->title) + QStringLiteral(": ") + stateHere(a);
}

// What is held here may fail elsewhere, so that it is said where.
QString QuestionStrip::stateHere(const Verdict::Answer &a) const {
    const Verdict &v = *m_session.verdict();
    const std::size_t here = sliceNearest(v, m_session.content());
    QString word = text(stateWord(a.byContent[here]));
    if (a.question->beside) return word; // of the day, whatever the fuel
    return tr("%2: %1").arg(
        word, text(contentName(v.contents[here], m_session.job().alcohol == Alcohol::methanol)));
}

QRect QuestionStrip::rectOf(std::size_t answer) const {
    // Long titles get more of the room.
    constexpr double besideTitle = 34; // mark and edges
    const QFontMetrics metrics(sansFont(12, true));
    // The longest answer: nothing moves while the content does.
    const int answerWidth = QFontMetrics(sansFont(11)).horizontalAdvance(tr("E100: not judged"));
    double all = 0, before = 0, own = 0;
    for (std::size_t i = 0; i < answers().size(); ++i) {
        const Question &question = *answers()[i].question;
        const int title = metrics.horizontalAdvance(text(question.title));
        const double wanted = besideTitle + (question.beside ? title : std::max(title, answerWidth));
        all += wanted;
        if (i < answer) before += wanted;
        if (i == answer) own = wanted;
    }
    if (all == 0) return {};
    const int left = static_cast<int>(before / all * width());
    return {left, 0, static_cast<int>((before + own) / all * width()) - left, height()};
}

void QuestionStrip::paintEvent(QPaintEvent *) {
    QPainter p(this);
    const auto v = m_session.verdict();
    if (!v) return;
    const std::size_t here = sliceNearest(*v, m_session.content());
    for (std::size_t i = 0; i < v->answers.size(); ++i) {
        const Verdict::Answer &a = v->answers[i];
        const QRect box = rectOf(i).adjusted(2, 2, -2, -2);
        const CheckState state = a.byContent[here];
        p.fillRect(box, theme().raised);
        const bool chosen = i == m_chosen && hasFocus();
        p.setPen(
            QPen(chosen ? theme().ink : theme().line, chosen ? 2 : 1,
                 a.question->beside ? Qt::DashLine : Qt::SolidLine)); // beside: of the day, not of the fuel
        p.drawRect(box.adjusted(0, 0, -1, -1));
        constexpr double mark = 16;
        drawVerdictMark(p, QRectF(box.left() + 5, box.center().y() - mark / 2, mark, mark), state);
        const QRect words = box.adjusted(26, 2, -2, -2);
        p.setFont(sansFont(12, true));
        p.setPen(theme().ink);
        p.drawText(words, Qt::AlignLeft | Qt::AlignTop,
                   p.fontMetrics().elidedText(text(a.question->title), Qt::ElideRight, words.width()));
        p.setFont(sansFont(11));
        p.setPen(state == CheckState::failing   ? theme().trouble
                 : state == CheckState::caution ? theme().heed
                                                : theme().quiet);
        p.drawText(words, Qt::AlignLeft | Qt::AlignBottom,
                   p.fontMetrics().elidedText(stateHere(a), Qt::ElideRight, words.width()));
    }
}

void QuestionStrip::choose(std::size_t answer) {
    if (answer >= answers().size()) return;
    m_chosen = answer;
    partWasChosen(*this);
    update();
    emit questionWanted(answers()[answer].question->id);
}

void QuestionStrip::mousePressEvent(QMouseEvent *event) {
    for (std::size_t i = 0; i < answers().size(); ++i)
        if (rectOf(i).contains(event->position().toPoint())) return choose(i);
}

void QuestionStrip::keyPressEvent(QKeyEvent *event) {
    if (event->key() == Qt::Key_Left && m_chosen > 0)
        choose(m_chosen - 1);
    else if (event->key() == Qt::Key_Right)
        choose(m_chosen + 1);
    else
        QWidget::keyPressEvent(event);
}

bool QuestionStrip::event(QEvent *event) {
    if (event->type() != QEvent::ToolTip) return QWidget::event(event);
    const auto *help = static_cast<QHelpEvent *>(event);
    for (std::size_t i = 0; i < answers().size(); ++i)
        if (rectOf(i).contains(help->pos())) {
            QStringList words{text(answers()[i].question->help), wordsOf(answers()[i])};
            for (const Need *n : answers()[i].missing)
                words << text(n->find);
            QToolTip::showText(help->globalPos(), words.join(QLatin1Char('\n')), this);
        }
    return true;
}

int QuestionStrip::partCount() const {
    return static_cast<int>(answers().size());
}

PaintedPart QuestionStrip::part(int index) const {
    const auto answer = static_cast<std::size_t>(index);
    return {wordsOf(answers()[answer]), rectOf(answer)};
}

int QuestionStrip::chosenPart() const {
    return m_chosen < answers().size() ? static_cast<int>(m_chosen) : -1;
}

void QuestionStrip::choosePart(int index) {
    choose(static_cast<std::size_t>(index));
}

} // namespace wheelwright
