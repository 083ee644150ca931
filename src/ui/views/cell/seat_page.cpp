// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/cell/seat_page.h"

#include "session/live_seat.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/views/cell/call_banner.h"
#include "ui/views/cell/seat_map.h"
#include "ui/views/cell/seat_reading.h"
#include "ui/widgets/card.h"
#include "ui/widgets/painted_parts.h"
#include "ui/widgets/refresh.h"
#include "ui/widgets/report_view.h"
#include "ui/widgets/steady.h"

#include <QApplication>
#include <QCheckBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QShortcut>
#include <QStyle>
#include <QVBoxLayout>

namespace wheelwright {
namespace {

constexpr int sideWidth = 200;

QPushButton *seatButton(const QString &title, const QString &hint, QWidget *parent) {
    auto *b = new QPushButton(title, parent);
    b->setToolTip(hint);
    return b;
}

// The one thing to do next. Both buttons have the room of it, so that none moves.
void setMain(QPushButton *button, bool main) {
    if (button->property("main").toBool() == main) return;
    button->setProperty("main", main);
    button->style()->unpolish(button);
    button->style()->polish(button);
}

} // namespace

SeatPage::SeatPage(Session &session, QWidget *parent)
    : QWidget(parent), m_session(session), m_live(session.live()),
      m_banner(new CallBanner(session, m_live, this)), m_map(new SeatMap(session, m_live, this)),
      m_pull(new ReportView(tr("Last pull"), ReportView::Fit::fills, this)) {
    auto *grid = new QGridLayout;
    grid->setSpacing(6);
    for (std::size_t i = 0; i < m_readings.size(); ++i) {
        m_readings[i] = new SeatReading(session, m_live, usualSeatRoles()[i], this);
        connect(m_readings[i], &SeatReading::roleChosen, this, &SeatPage::chosenChanged);
        grid->addWidget(m_readings[i], static_cast<int>(i / 3), static_cast<int>(i % 3));
    }
    for (int i = 0; i < 3; ++i)
        grid->setColumnStretch(i, 1);
    auto *side = new QVBoxLayout;
    m_map->setFixedWidth(sideWidth);
    m_pull->setFixedWidth(sideWidth);
    side->addWidget(m_map, 3);
    side->addWidget(makeHead(tr("Last pull"), this));
    side->addWidget(m_pull, 2);
    auto *middle = new QHBoxLayout;
    middle->addLayout(grid, 1);
    middle->addLayout(side);
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(6);
    layout->addWidget(m_banner);
    layout->addLayout(middle, 1);
    layout->addWidget(makeFoot());
    bindKeys();
    connect(&m_live, &LiveSeat::ticked, this, &SeatPage::tick);
    connect(&m_live, &LiveSeat::reviewed, this, &SeatPage::refresh);
    connect(&m_live, &LiveSeat::changed, this, &SeatPage::refresh);
    connect(&m_live, &LiveSeat::called, this, [this] {
        if (m_sound->isChecked()) QApplication::beep();
    });
    (new Refresh(session, this))->on(Refresh::job | Refresh::units | Refresh::content, [this] { refresh(); });
}

QWidget *SeatPage::makeFoot() {
    auto *foot = makeCard(this);
    m_state = new QLabel(foot);
    m_last = new QLabel(foot);
    m_last->setProperty("quiet", true);
    m_sound = new QCheckBox(tr("Sound"), foot);
    m_sound->setToolTip(tr("A tone when a rule calls"));
    m_engine = seatButton(tr("Engine…"), tr("Start an engine to practise with, or listen to a bus"), foot);
    m_pullButton = seatButton(tr("Pull"), tr("The practice engine pulls through its speeds (P)"), foot);
    m_cruise = seatButton(tr("Cruise"), tr("The practice engine cruises for half a minute (C)"), foot);
    m_log = seatButton(tr("Log"), tr("Begins and ends a recording (Space; Page Down)"), foot);
    for (QPushButton *b : {m_engine, m_log}) { // as wide as they are where they are the main ones
        b->setProperty("main", true);
        b->ensurePolished();
        b->setFixedWidth(b->sizeHint().width() + b->fontMetrics().horizontalAdvance(QStringLiteral("Stop")));
    }
    m_mark = seatButton(tr("Mark"), tr("Marks this moment in the recording (M; Page Up)"), foot);
    m_abort = seatButton(tr("Abort"), tr("Ends the recording and says so in it (Esc; B)"), foot);
    connect(m_engine, &QPushButton::clicked, this, &SeatPage::engineWanted);
    connect(m_pullButton, &QPushButton::clicked, this,
            [this] { drive(QStringLiteral(R"({"do": "pull", "mode": "loaded"})")); });
    connect(m_cruise, &QPushButton::clicked, this, [this] {
        drive(QStringLiteral(
            R"({"do": "cruise", "from_rpm": 1800, "to_rpm": 3200, "from_kpa": 40, "to_kpa": 90, "seconds": 30})"));
    });
    connect(m_log, &QPushButton::clicked, this, &SeatPage::toggleLog);
    connect(m_mark, &QPushButton::clicked, this, [this] { m_live.mark(); });
    connect(m_abort, &QPushButton::clicked, this, [this] { m_live.abort(); });
    auto *words = new QVBoxLayout;
    words->setSpacing(0);
    words->addWidget(makeStill(m_state, foot));
    words->addWidget(makeStill(m_last, foot));
    auto *row = new QHBoxLayout(foot);
    row->setContentsMargins(10, 4, 10, 4);
    row->addLayout(words, 1);
    for (QWidget *w :
         std::initializer_list<QWidget *>{m_sound, m_engine, m_cruise, m_pullButton, m_mark, m_abort, m_log})
        row->addWidget(w);
    return foot;
}

// Whatever of the page has the focus: hands are on a wheel. A clicker has the keys of pages.
void SeatPage::bindKeys() {
    const auto on = [this](std::initializer_list<QKeySequence> keys, auto run) {
        for (const QKeySequence &k : keys)
            connect(new QShortcut(k, this, nullptr, nullptr, Qt::WidgetWithChildrenShortcut),
                    &QShortcut::activated, this, run);
    };
    on({Qt::Key_Space, Qt::Key_PageDown}, [this] { toggleLog(); });
    on({Qt::Key_M, Qt::Key_PageUp}, [this] { m_live.mark(); });
    on({Qt::Key_Escape, Qt::Key_B, Qt::Key_Period}, [this] { m_live.abort(); });
    on({Qt::Key_P}, [this] { m_pullButton->click(); });
    on({Qt::Key_C}, [this] { m_cruise->click(); });
    setFocusPolicy(Qt::StrongFocus);
    setProperty(spokenRole, QAccessible::Grouping);
    setAccessibleName(tr("Driver's seat: Space logs, M marks, Esc aborts"));
}

void SeatPage::toggleLog() {
    if (m_live.hearing() == LiveSeat::Hearing::off) return emit engineWanted();
    m_live.setLogging(!m_live.logging());
}

void SeatPage::drive(const QString &step) {
    if (m_live.practising()) m_live.drive(step);
}

void SeatPage::tick() {
    if (!isVisible()) return;
    for (SeatReading *r : m_readings)
        r->refresh();
    m_state->setText(stateLine());
}

QString SeatPage::stateLine() const {
    const QString bus = m_live.stateWords();
    if (!m_live.logging()) return m_live.bringingIn() ? bus + u' ' + tr("Bringing in the recording …") : bus;
    return tr("RECORDING %1 s · %2").arg(m_live.moment().recordedS, 0, 'f', 1).arg(bus);
}

void SeatPage::refresh() {
    if (!isVisible()) return;
    tick();
    m_banner->refresh();
    m_map->refresh();
    m_last->setText(m_live.lastWords());
    m_log->setText(m_live.logging() ? tr("Stop log") : tr("Log"));
    const bool deaf = m_live.hearing() == LiveSeat::Hearing::off;
    setMain(m_engine, deaf);
    setMain(m_log, !deaf);
    m_mark->setEnabled(m_live.logging());
    m_abort->setEnabled(m_live.logging() || m_live.practising());
    m_pullButton->setEnabled(m_live.practising());
    m_cruise->setEnabled(m_live.practising());
    if (const auto &pull = m_live.review().lastPull) {
        Report said;
        said.blocks.emplace_back(Sentence{inWords(*pull), pull->found.empty() ? Tone::plain : Tone::trouble});
        said.blocks.emplace_back(Sentence{numbersOf(*pull), Tone::quiet});
        m_pull->show(std::move(said), m_session.units());
    } else
        m_pull->say(Sentence{MARKED("seat.no_pull", "No pull yet."), Tone::quiet}, m_session.units());
}

QString SeatPage::lastPull() const {
    return m_pull->words();
}

QStringList SeatPage::chosen() const {
    QStringList out;
    for (const SeatReading *r : m_readings)
        out << text(definitionOf(r->role()).key);
    return out;
}

void SeatPage::choose(const QStringList &roles) {
    for (std::size_t i = 0; i < m_readings.size() && i < static_cast<std::size_t>(roles.size()); ++i)
        if (const ChannelRoleDefinition *d = roleByKey(roles[static_cast<qsizetype>(i)].toStdString()))
            m_readings[i]->setRole(d->role);
}

void SeatPage::showEvent(QShowEvent *event) {
    QWidget::showEvent(event);
    setFocus();
    refresh();
}

} // namespace wheelwright
