// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/verify/verify_view.h"

#include "core/report/calibration_reports.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/views/verify/question_strip.h"
#include "ui/widgets/refresh.h"
#include "ui/widgets/report_view.h"
#include "ui/widgets/steady.h"

#include <QEvent>
#include <QFrame>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

#include <algorithm>

namespace wheelwright {
namespace {

QLabel *wrapping(QWidget *parent) {
    auto *label = new QLabel(parent);
    label->setWordWrap(true);
    label->setTextInteractionFlags(Qt::TextSelectableByMouse);
    return label;
}

} // namespace

VerifyView::VerifyView(Session &session, QWidget *parent)
    : View(parent), m_session(session),
      m_sentence(new ReportView(tr("Verdict"), ReportView::Fit::steady, this, 2)),
      m_parts(new ReportView(tr("Verdict in parts"), ReportView::Fit::steady, this, 5)),
      m_questions(new QuestionStrip(session, this)), m_board(new MarginBoard(session, this)) {
    setProperty("helpPage", "verify");
    auto *card = new QFrame(this);
    card->setProperty("card", true);
    auto *words = new QVBoxLayout(card);
    words->addWidget(m_sentence);
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(8, 8, 8, 6);
    layout->addWidget(card);
    layout->addWidget(m_questions);
    layout->addWidget(m_board, 1);
    layout->addWidget(makeDetail());
    connect(m_questions, &QuestionStrip::questionWanted, this, [this](QuestionId question) {
        const auto &rows = m_session.verdict()->rows;
        // The worst of its checks.
        const Verdict::Row *worst = nullptr;
        for (const Verdict::Row &r : rows)
            if (r.check->answers == question && (!worst || r.state > worst->state)) worst = &r;
        if (worst) m_board->setRow(static_cast<std::size_t>(worst - rows.data()));
    });
    connect(m_board, &MarginBoard::rowChanged, this, &VerifyView::refreshDetail);
    connect(m_board, &MarginBoard::placeWanted, this, [this](const WorstPlace &place) {
        showPlace(*m_session.verdict()->rows[m_board->row()].check, place);
    });
    (new Refresh(session, this))
        ->on(Refresh::verdict | Refresh::units, [this] { refresh(); })
        .on(Refresh::content, [this] { refreshDetail(); });
}

QWidget *VerifyView::makeDetail() {
    auto *card = new QFrame(this);
    card->setProperty("card", true);
    m_question = wrapping(card);
    m_question->setProperty("head", true);
    m_answer = wrapping(card);
    m_remedy = wrapping(card);
    m_show = new QPushButton(tr("Show me"), card);
    m_show->setProperty("main", true);
    m_show->setToolTip(tr("Opens the tables at this content, speed and load (Enter)"));
    connect(m_show, &QPushButton::clicked, this, [this] {
        if (const WorstPlace *place = placeInView())
            showPlace(*m_session.verdict()->rows[m_board->row()].check, *place);
    });
    auto *words = new QWidget(card);
    auto *texts = new QVBoxLayout(words);
    texts->setContentsMargins(0, 0, 0, 0);
    texts->setSpacing(2);
    for (QLabel *l : {m_question, m_answer, m_remedy})
        texts->addWidget(l);
    texts->addStretch(1);
    constexpr int lines = 5;
    auto *layout = new QHBoxLayout(card);
    layout->addWidget(makeSteady(words, lines, card), 1);
    layout->addWidget(m_show, 0, Qt::AlignVCenter);
    auto *bottom = new QWidget(this);
    auto *beside = new QHBoxLayout(bottom);
    beside->setContentsMargins(0, 0, 0, 0);
    auto *parts = new QFrame(bottom);
    parts->setProperty("card", true);
    (new QHBoxLayout(parts))->addWidget(m_parts);
    beside->addWidget(card, 5);
    beside->addWidget(parts, 4);
    return bottom;
}

QString VerifyView::sentence() const {
    return m_sentence->words() + u'\n' + m_parts->words();
}

void VerifyView::refresh() {
    const auto v = m_session.verdict();
    if (!v) {
        m_sentence->say(m_session.hasJob()
                            ? MARKED("verify.working", "Working it out…")
                            : MARKED("verify.no_job", "Open a job to see what holds on which fuel."),
                        m_session.units());
        m_parts->show(Report{}, m_session.units());
        refreshDetail();
        return;
    }
    // The answer and what it does not speak of stand over the picture, its other parts under it.
    Report answer = verdictReport(*v), parts;
    const auto over = static_cast<std::ptrdiff_t>(std::min<std::size_t>(2, answer.blocks.size()));
    std::move(answer.blocks.begin() + over, answer.blocks.end(), std::back_inserter(parts.blocks));
    answer.blocks.erase(answer.blocks.begin() + over, answer.blocks.end());
    m_sentence->show(std::move(answer), m_session.units());
    m_parts->show(std::move(parts), m_session.units());
    // Open on the worst finding rather than on the first row.
    const auto worst =
        std::ranges::min_element(v->rows, {}, [](const Verdict::Row &r) { return r.outcome.worst().margin; });
    const bool selectedFails =
        m_board->row() < v->rows.size() && v->rows[m_board->row()].state == CheckState::failing;
    if (!selectedFails)
        m_board->setRow(static_cast<std::size_t>(worst - v->rows.begin()));
    else
        refreshDetail();
}

const WorstPlace *VerifyView::placeInView() const {
    const auto v = m_session.verdict();
    if (!v || m_board->row() >= v->rows.size()) return nullptr;
    const Verdict::Row &row = v->rows[m_board->row()];
    const std::size_t here = sliceNearest(*v, m_session.content());
    return row.byContent[here] == CheckState::failing ? &row.outcome.byContent[here] : &row.outcome.worst();
}

CheckState VerifyView::stateInView() const {
    const Verdict::Row &row = m_session.verdict()->rows[m_board->row()];
    return row.byContent[static_cast<std::size_t>(placeInView() - row.outcome.byContent.data())];
}

void VerifyView::refreshDetail() {
    const WorstPlace *place = placeInView();
    m_show->setEnabled(place && place->asked);
    if (!place) {
        m_question->setText({});
        m_answer->setText({});
        m_remedy->setText({});
        return;
    }
    const auto v = m_session.verdict();
    const Check &check = *v->rows[m_board->row()].check;
    const UnitChoice &units = m_session.units();
    m_question->setText(text(check.question));
    if (!place->asked) {
        m_answer->setText(tr("There is nothing to ask of this engine. %1").arg(text(check.help)));
        m_remedy->setText(text(missingFor(check, *v), units));
        if (isVisible()) m_session.explainNothing();
        return;
    }
    const Explanation x = check.explain(v->study->evaluation(), *place);
    m_answer->setText(
        tr("Worst: %1 against %2 (limit from: %3) at %4, %5, %6. %7")
            .arg(shown(place->value, check.dimensionOf(*place), units),
                 shown(place->limit, check.dimensionOf(*place), units), text(check.origin(m_session.job())),
                 text(contentName(place->content, m_session.job().alcohol == Alcohol::methanol)),
                 shown(place->rpm, Dimension::engineSpeed, units),
                 shown(place->loadKpa, Dimension::pressure, units), text(check.help)));
    switch (stateInView()) {
    case CheckState::proven:
    case CheckState::held:
        m_remedy->setText(tr("Holds. Limits are a starting point, not a promise about this engine."));
        break;
    case CheckState::notJudged:
        m_remedy->setText(tr("Inside its limit by numbers that nobody has stated: not judged. %1")
                              .arg(text(missingFor(check, *v), units)));
        break;
    default:
        m_remedy->setText(text(x.change, units));
    }
    if (isVisible()) m_session.explain(x);
}

void VerifyView::showPlace(const Check &check, const WorstPlace &place) {
    if (!place.asked) return;
    m_session.goTo({place.content, place.rpm, place.loadKpa}, check.tables);
    emit stationWanted(QStringLiteral("tables"));
}

void VerifyView::showEvent(QShowEvent *event) {
    View::showEvent(event);
    refreshDetail();
    m_board->setFocus();
}

void VerifyView::changeEvent(QEvent *event) {
    View::changeEvent(event);
    if (event->type() == QEvent::PaletteChange) m_board->update();
}

bool VerifyView::showInput(const QString &) {
    return false;
}

const ViewDefinition &verifyView() {
    static const ViewDefinition definition{
        "verify", QT_TRANSLATE_NOOP("view", "Verify"), ":/icons/verify.svg", 9,
        [](Session &s, QWidget *parent) -> View * { return new VerifyView(s, parent); }};
    return definition;
}

} // namespace wheelwright
