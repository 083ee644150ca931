// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/cell/trainer_page.h"

#include "core/base/error.h"
#include "core/report/trainer_reports.h"
#include "session/live_seat.h"
#include "session/session.h"
#include "session/training_room.h"
#include "ui/text.h"
#include "ui/widgets/card.h"
#include "ui/widgets/refresh.h"
#include "ui/widgets/report_view.h"

#include <QComboBox>
#include <QFile>
#include <QHBoxLayout>
#include <QListWidget>
#include <QPushButton>
#include <QStandardPaths>
#include <QVBoxLayout>

namespace wheelwright {

TrainerPage::TrainerPage(Session &session, QWidget *parent)
    : QWidget(parent), m_session(session), m_room(session.training()) {
    auto *layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(makeList());
    layout->addWidget(makeRoom(), 1);
    connect(&m_room, &TrainingRoom::changed, this, &TrainerPage::refresh);
    connect(&session.live(), &LiveSeat::changed, this, &TrainerPage::refresh);
    connect(&m_room, &TrainingRoom::scored, this, [this](const QString &id, int points, bool passed) {
        Best &best = m_best[id];
        best.points = std::max(best.points, points);
        best.passed = best.passed || passed;
        refresh();
        emit progressed();
    });
    (new Refresh(session, this))->on(Refresh::job | Refresh::units, [this] { refresh(); });
    refreshList();
    m_list->setCurrentRow(0);
}

QWidget *TrainerPage::makeList() {
    auto *card = makeCard(this);
    constexpr int wide = 300;
    card->setFixedWidth(wide);
    m_list = new QListWidget(card);
    m_list->setAccessibleName(tr("Scenarios"));
    for (const Scenario *s : allScenarios()) {
        auto *item = new QListWidgetItem(text(s->title), m_list);
        item->setData(Qt::UserRole, text(s->id));
    }
    m_begin = new QPushButton(tr("Begin"), card);
    m_begin->setProperty("main", true);
    m_begin->setToolTip(tr("Opens a job of its own for it; the one that is open is saved and closed"));
    connect(m_begin, &QPushButton::clicked, this, &TrainerPage::begin);
    connect(m_list, &QListWidget::currentRowChanged, this, &TrainerPage::refreshWords);
    connect(m_list, &QListWidget::itemActivated, this, &TrainerPage::begin);
    auto *layout = new QVBoxLayout(card);
    QLabel *head = makeHead(tr("Twelve engines to find out about"), card);
    head->setWordWrap(true);
    layout->addWidget(head);
    layout->addWidget(m_list, 1);
    layout->addWidget(m_begin);
    return card;
}

QWidget *TrainerPage::makeRoom() {
    auto *card = makeCard(this);
    m_words = new ReportView(tr("What is to be found out"), ReportView::Fit::fills, card);
    m_inspection = new QComboBox(card);
    m_inspection->setAccessibleName(tr("What to look at"));
    for (const Inspection &i : allInspections())
        m_inspection->addItem(
            tr("%1 (%2)").arg(text(i.title), text(formatWith(i.minutes, Dimension::minutes, {}, 0))),
            text(i.id));
    m_look = new QPushButton(tr("Look"), card);
    m_answer = new QComboBox(card);
    m_answer->setAccessibleName(tr("What it is"));
    m_answer->addItem(tr("What is it?"), QString());
    for (const TrainingCause &c : trainingCauses())
        m_answer->addItem(text(c.title), text(c.id));
    m_finish = new QPushButton(tr("That is it"), card);
    m_finish->setToolTip(tr("Ends the engine and opens the envelope"));
    m_hint = new QPushButton(tr("Hint"), card);
    m_hint->setToolTip(tr("Three in all, each costs %1 points").arg(hintCosts));
    m_seat = new QPushButton(tr("To the seat"), card);
    connect(m_look, &QPushButton::clicked, this, [this] {
        m_room.look(allInspections()[static_cast<std::size_t>(m_inspection->currentIndex())]);
    });
    connect(m_finish, &QPushButton::clicked, this,
            [this] { m_room.finish(m_answer->currentData().toString().toStdString()); });
    connect(m_hint, &QPushButton::clicked, this, [this] { m_room.takeHint(); });
    connect(m_seat, &QPushButton::clicked, this, &TrainerPage::seatWanted);
    connect(m_answer, &QComboBox::currentIndexChanged, this, &TrainerPage::refresh);
    auto *look = new QHBoxLayout;
    look->addWidget(m_inspection, 1);
    look->addWidget(m_look);
    auto *answer = new QHBoxLayout;
    answer->addWidget(m_hint);
    answer->addWidget(m_seat);
    answer->addWidget(m_answer, 1);
    answer->addWidget(m_finish);
    auto *layout = new QVBoxLayout(card);
    layout->addWidget(m_words, 1);
    layout->addLayout(look);
    layout->addLayout(answer);
    return card;
}

void TrainerPage::begin() {
    QListWidgetItem *item = m_list->currentItem();
    QFile sound(QStringLiteral(":/demo/thistle.json"));
    if (!item || m_room.ending() || !sound.open(QIODevice::ReadOnly)) return;
    const QString folder =
        QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + QStringLiteral("/training");
    try {
        const QByteArray document = sound.readAll();
        m_room.begin(scenarioById(item->data(Qt::UserRole).toString().toStdString(), "scenario"),
                     document.toStdString(), folder.toStdString());
    } catch (const InputError &e) {
        m_session.report(text(e.words(), m_session.units()));
    }
    m_answer->setCurrentIndex(0);
    refresh();
}

void TrainerPage::chooseScenario(const QString &id) {
    for (int i = 0; i < m_list->count(); ++i)
        if (m_list->item(i)->data(Qt::UserRole).toString() == id) m_list->setCurrentRow(i);
}

void TrainerPage::refresh() {
    const bool on = m_room.underWay() && !m_room.ending();
    m_begin->setEnabled(!m_room.ending());
    m_begin->setText(m_room.underWay() ? tr("Begin anew") : tr("Begin"));
    const bool engine = on && m_session.live().practising();
    m_look->setEnabled(engine);
    m_seat->setEnabled(on);
    m_hint->setEnabled(on && m_room.hints() < 3);
    m_finish->setEnabled(on && m_answer->currentIndex() > 0);
    refreshList();
    refreshWords();
}

void TrainerPage::refreshList() {
    for (int i = 0; i < m_list->count(); ++i) {
        QListWidgetItem *item = m_list->item(i);
        const QString id = item->data(Qt::UserRole).toString();
        const auto best = m_best.constFind(id);
        const QString title = text(scenarioById(id.toStdString(), "scenario").title);
        const bool on = m_room.underWay() && m_room.scenario() && text(m_room.scenario()->id) == id;
        item->setText(on                          ? tr("%1 · under way").arg(title)
                      : best == m_best.constEnd() ? title
                      : best->passed              ? tr("%1 · passed, %2").arg(title).arg(best->points)
                                                  : tr("%1 · not yet, %2").arg(title).arg(best->points));
    }
}

void TrainerPage::refreshWords() {
    QListWidgetItem *item = m_list->currentItem();
    if (!item) return;
    const Scenario &chosen = scenarioById(item->data(Qt::UserRole).toString().toStdString(), "scenario");
    const bool here = m_room.scenario() == &chosen;
    Report report;
    if (here && m_room.result()) {
        report = trainingReport(chosen, m_room.result()->training);
    } else {
        report = scenarioReport(chosen, here ? m_room.hints() : 0);
        if (here)
            for (const Phrase &p : m_room.found())
                report.blocks.emplace_back(Sentence{p, Tone::strong});
        if (here && m_room.ending())
            report.blocks.emplace_back(
                Sentence{MARKED("train.opening", "The envelope is being opened …"), Tone::quiet});
        else if (!here || !m_room.underWay())
            report.blocks.emplace_back(Sentence{
                MARKED("train.how",
                       "Begin starts its engine on a bus. Drive it from the seat, read its logs on "
                       "Evidence, look at what you suspect, then say what it is. Nothing real can break."),
                Tone::quiet});
    }
    m_words->show(std::move(report), m_session.units());
}

QString TrainerPage::words() const {
    return m_words->words();
}

int TrainerPage::passed() const {
    return static_cast<int>(
        std::count_if(m_best.begin(), m_best.end(), [](const Best &b) { return b.passed; }));
}

QStringList TrainerPage::progress() const {
    QStringList out;
    for (auto b = m_best.constBegin(); b != m_best.constEnd(); ++b)
        out << QStringLiteral("%1=%2%3").arg(b.key()).arg(b->points).arg(b->passed ? QStringLiteral("+")
                                                                                   : QString());
    return out;
}

void TrainerPage::setProgress(const QStringList &progress) {
    for (const QString &one : progress) {
        const QString id = one.section(QLatin1Char('='), 0, 0);
        QString points = one.section(QLatin1Char('='), 1);
        const bool known =
            std::ranges::any_of(allScenarios(), [&](const Scenario *s) { return text(s->id) == id; });
        const bool passed = points.endsWith(QLatin1Char('+'));
        if (passed) points.chop(1);
        if (known) m_best[id] = {std::clamp(points.toInt(), 0, 100), passed};
    }
    refreshList();
}

void TrainerPage::showEvent(QShowEvent *event) {
    QWidget::showEvent(event);
    refresh();
}

} // namespace wheelwright
