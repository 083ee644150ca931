// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/fuel/pour_page.h"

#include "core/base/error.h"
#include "core/explain/explain_fuel.h"
#include "core/job/tank_history.h"
#include "core/report/fuel_reports.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/views/fuel/opinion_strip.h"
#include "ui/views/fuel/pour_drawing.h"
#include "ui/widgets/card.h"
#include "ui/widgets/record_table.h"
#include "ui/widgets/refresh.h"
#include "ui/widgets/report_view.h"
#include "ui/widgets/sheet_buttons.h"

#include <QComboBox>
#include <QEvent>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QUrl>
#include <QVBoxLayout>

namespace wheelwright {
PourPage::PourPage(Session &session, QWidget *parent)
    : QWidget(parent), m_session(session), m_refresh(new Refresh(session, this)) {
    m_history = new RecordTable(session, tr("Tank history"),
                                tr("Type into the last row for what happened next."), "tank.events", this);
    constexpr int opinionsWidth = 412;
    auto *left = new QVBoxLayout; // of its own: in one grid the plans would take height from the tank's words
    left->addWidget(makeTankCard());
    left->addWidget(m_history, 1);
    left->addStrut(opinionsWidth);
    auto *layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addLayout(left, 10);
    layout->addWidget(makePlanCard(), 11);
    m_refresh->on(Refresh::job | Refresh::units | Refresh::state, [this] { refresh(); })
        .on(Refresh::content, [this] { refreshPlans(); });
}

QWidget *PourPage::makeTankCard() {
    auto *card = makeCard(this);
    m_tank = makeText(tr("In the tank"), ReportView::Fit::grows, card);
    m_opinions = new OpinionStrip(m_session, card);
    m_tankWords = makeText(tr("Whether it agrees"), ReportView::Fit::grows, card);
    auto *layout = new QVBoxLayout(card);
    layout->addWidget(makeHead(tr("In the tank"), card));
    layout->addWidget(m_tank);
    layout->addWidget(m_opinions);
    layout->addWidget(m_tankWords);
    return card;
}

ReportView *PourPage::makeText(const QString &name, ReportView::Fit fit, QWidget *parent, int lines) {
    auto *view = new ReportView(name, fit, parent, lines);
    connect(view, &ReportView::linkWanted, this, [this](const QString &to) { explainLink(QUrl(to)); });
    connect(view, &ReportView::explained, this, [this](const Explanation &x) { m_session.explain(x); });
    return view;
}

QWidget *PourPage::makePlanCard() {
    auto *card = makeCard(this);
    m_level = new QLineEdit(card);
    m_level->setPlaceholderText(tr("any level"));
    m_level->setAccessibleName(tr("Wanted level in litres"));
    m_level->setToolTip(tr("Litres in the tank afterwards; empty: any"));
    m_level->setFixedWidth(84);
    connect(m_level, &QLineEdit::textChanged, this, [this] {
        refreshPlans();
        refreshEffects();
    });
    m_plans = makeText(tr("Pour plans"), ReportView::Fit::steady, card, 2);
    m_drawing = new PourDrawing(m_session, card);
    connect(m_drawing, &PourDrawing::planWanted, this,
            [this](std::size_t plan) { explainLink(QUrl(QStringLiteral("plan:%1").arg(plan))); });
    auto *drawn = new QScrollArea(card);
    drawn->setWidgetResizable(true);
    drawn->setFrameShape(QFrame::NoFrame);
    drawn->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    drawn->setFocusPolicy(Qt::NoFocus);
    drawn->setWidget(m_drawing);
    auto *layout = new QGridLayout(card);
    QLabel *head = makeHead(tr("To pour for this content"), card);
    head->setWordWrap(true); // the buttons beside it are read whole
    layout->addWidget(head, 0, 0);
    layout->addWidget(m_level, 0, 1);
    const auto now = [this] {
        m_refresh->now();
        return sheet();
    };
    layout->addWidget(
        new SheetButtons(m_session,
                         {tr("the plans"), QStringLiteral("pour"), now,
                          [this, now] { return text(plainText(now(), wordingOf(m_session.units()))); },
                          tr("The plans as text, for a message or a note")},
                         card),
        0, 2);
    layout->addWidget(m_plans, 1, 0, 1, 3);
    layout->addWidget(drawn, 2, 0, 1, 3);
    layout->addWidget(makeFlushRow(card), 3, 0, 1, 3);
    m_effectsText = makeText(tr("If it is just filled up"), ReportView::Fit::fills, card);
    // Not a label: a label that changes its text lays out the whole page anew, at every step of the content.
    constexpr int twoLines = 46;
    m_flushText = makeText(tr("Flush plan"), ReportView::Fit::fills, card);
    m_flushText->setFixedHeight(twoLines);
    m_flushText->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    layout->addWidget(m_flushText, 4, 0, 1, 3);
    layout->addWidget(m_effectsText, 5, 0, 1, 3);
    layout->setRowStretch(2, 7);
    layout->setRowStretch(5, 3);
    layout->setColumnStretch(0, 1);
    return card;
}

QWidget *PourPage::makeFlushRow(QWidget *parent) {
    auto *row = new QWidget(parent);
    m_flushFuel = new QComboBox(row);
    m_flushFuel->setAccessibleName(tr("Fuel to flush with"));
    m_flushFuel->setMinimumContentsLength(6);
    m_flushFuel->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    connect(m_flushFuel, &QComboBox::activated, this, &PourPage::refreshPlans);
    const auto field = [&](const QString &shown, const QString &name) {
        auto *edit = new QLineEdit(shown, row);
        edit->setAccessibleName(name);
        edit->setToolTip(name);
        edit->setFixedWidth(58);
        connect(edit, &QLineEdit::textChanged, this, &PourPage::refreshPlans);
        return edit;
    };
    m_flushRest = field(QStringLiteral("10 L"), tr("Run down to this before each fill"));
    m_flushWithin = field(QStringLiteral("2 %"), tr("Near enough"));
    auto *layout = new QHBoxLayout(row);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(new QLabel(tr("Flush: down to"), row));
    layout->addWidget(m_flushRest);
    layout->addWidget(new QLabel(tr("then"), row));
    layout->addWidget(m_flushFuel, 1);
    layout->addWidget(new QLabel(tr("within"), row));
    layout->addWidget(m_flushWithin);
    return row;
}

bool PourPage::methanol() const {
    return m_session.job().alcohol == Alcohol::methanol;
}

void PourPage::refresh() {
    if (!m_session.hasJob()) return;
    m_shelf = shelfOf(m_session.job(), m_session.today().toStdString());
    const QString kept = m_flushFuel->currentText();
    m_flushFuel->clear();
    for (const Fuel &f : m_shelf)
        if (f.kind != FuelKind::booster) m_flushFuel->addItem(text(f.name), f.alcohol.value);
    m_flushFuel->setCurrentIndex(std::max(0, m_flushFuel->findText(kept)));
    refreshTank();
    refreshEffects();
    refreshPlans();
}

void PourPage::refreshTank() {
    const Job &job = m_session.job();
    const ContentOpinions opinions = opinionsOf(job);
    m_tank->show(tankReport(job), m_session.units());
    m_tankWords->show(tankWordsReport(job, opinions), m_session.units());
    m_opinions->show(opinions);
}

// What happens when the tank is filled up with each fuel does not depend on the content looked at.
void PourPage::refreshEffects() {
    const Job &job = m_session.job();
    m_effects.clear();
    const TankState tank = tankNow(job);
    double level = job.tank.capacityL;
    try {
        level = wantedLevel().value_or(level);
    } catch (const InputError &) {
        // The plans say what is wrong with it.
    }
    const double room = std::min(level, job.tank.capacityL) - tank.volumeL;
    for (std::size_t i = 0; room > 0 && tank.volumeL > 0 && i < m_shelf.size(); ++i)
        if (m_shelf[i].kind != FuelKind::booster)
            m_effects.push_back(
                {m_shelf[i].name, m_shelf[i].content.methanol.fraction() > 0,
                 effectOfPour(m_session.study(), tank, room, m_shelf[i].content, m_shelf[i].hydrocarbon)});
    m_effectsText->show(pourEffects(methanol(), m_effects), m_session.units());
}

std::optional<double> PourPage::wantedLevel() const {
    if (m_level->text().trimmed().isEmpty()) return std::nullopt;
    return parse(m_level->text().toStdString(), Dimension::displacement, m_session.units(),
                 tr("Level").toStdString());
}

void PourPage::plan() {
    const Job &job = m_session.job();
    m_problem = {};
    m_answer = {};
    try {
        m_request = pourRequestOf(job, m_session.content(), wantedLevel(), m_session.today().toStdString());
        m_answer = planPour(m_request);
    } catch (const InputError &e) {
        m_problem = e.words();
        if (job.shelf.empty())
            m_problem =
                MARKED("pour.no_shelf", "Put the fuels within reach on the shelf, and say in the history "
                                        "what is in the tank: a level read and a content believed are "
                                        "enough.");
    }
    const TankState tank = tankNow(job);
    m_flushProblem = {};
    m_flush = {};
    try {
        const UnitChoice &units = m_session.units();
        m_flushFill = m_flushFuel->currentData().toDouble();
        m_flushRestL =
            parse(m_flushRest->text().toStdString(), Dimension::displacement, units, "run down to");
        m_flushTolerance =
            parse(m_flushWithin->text().toStdString(), Dimension::contentDifference, units, "within");
        if (m_flushFuel->count() > 0)
            m_flush =
                planFlush(std::min(tank.volumeL, job.tank.capacityL), alcoholOf(tank.content), m_flushFill,
                          m_flushRestL, job.tank.capacityL, m_session.content(), m_flushTolerance);
    } catch (const InputError &e) {
        m_flushProblem = e.words();
    }
}

void PourPage::refreshPlans() {
    if (!m_session.hasJob() || !isVisible()) return; // shown again, it asks again
    plan();
    if (m_problem.empty()) {
        m_plans->show(pourHead(methanol(), m_request, m_answer), m_session.units());
        m_drawing->show(m_request, m_answer, methanol());
    } else {
        m_plans->say({m_problem, Tone::trouble}, m_session.units());
        m_drawing->clear();
    }
    if (m_flushFuel->count() == 0)
        m_flushText->show(Report{}, m_session.units());
    else if (!m_flushProblem.empty())
        m_flushText->say({m_flushProblem, Tone::trouble}, m_session.units());
    else
        m_flushText->show(pourFlush(methanol(), m_flush, m_session.content()), m_session.units());
}

void PourPage::explainLink(const QUrl &to) {
    const Job &job = m_session.job();
    const auto index = static_cast<std::size_t>(to.path().toUInt());
    if (to.scheme() == QLatin1String("plan") && index < m_answer.plans.size())
        m_session.explain(explainPlan(m_answer.plans[index], m_request));
    else if (to.scheme() == QLatin1String("effect") && index < m_effects.size())
        m_session.explain(explainEffect(m_effects[index].effect));
    else if (to.scheme() == QLatin1String("flush") && m_flushProblem.empty())
        m_session.explain(explainFlush(m_flush, tankNow(job), m_flushFill, m_flushRestL, job.tank.capacityL,
                                       m_session.content(), m_flushTolerance));
}

Report PourPage::sheet() const {
    return pourSheet(m_session.job().name, methanol(), m_request, m_answer, m_session.today().toStdString());
}

QString PourPage::plansText() const {
    return m_plans->toPlainText() + QLatin1Char('\n') + m_drawing->words() + QLatin1Char('\n') +
           m_flushText->toPlainText() + QLatin1Char('\n') + m_effectsText->toPlainText();
}

} // namespace wheelwright
