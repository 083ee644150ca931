// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/cell/engine_page.h"

#include "core/base/error.h"
#include "core/practice/fault.h"
#include "session/live_seat.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/widgets/card.h"
#include "ui/widgets/refresh.h"
#include "ui/widgets/steady.h"

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QFileDialog>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QJsonDocument>
#include <QJsonObject>
#include <QLineEdit>
#include <QPushButton>
#include <QSpinBox>
#include <QTableWidget>
#include <QVBoxLayout>

namespace wheelwright {
namespace {

template <class T>
T *namedInput(T *input, const QString &name) {
    input->setAccessibleName(name);
    for (auto *line : input->template findChildren<QLineEdit *>()) // of a spin box
        line->setAccessibleName(name);
    return input;
}

enum ChannelColumn { channelName, channelRole, channelValue, channelUnit, channelColumns };

QString unitOfPractice(const Fault &f) {
    return text(f.unit);
}

} // namespace

EnginePage::EnginePage(Session &session, QWidget *parent)
    : QWidget(parent), m_session(session), m_live(session.live()) {
    auto *top = new QHBoxLayout;
    top->addWidget(makePractice(), 1);
    top->addWidget(makeBus(), 1);
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addLayout(top);
    layout->addWidget(makeChannels(), 1);
    connect(&m_live, &LiveSeat::changed, this, &EnginePage::refresh);
    connect(&m_live, &LiveSeat::reviewed, this, &EnginePage::refreshValues);
    (new Refresh(session, this))->on(Refresh::job, [this] { refresh(); }, {"fuel.shelf"});
}

QWidget *EnginePage::makePractice() {
    auto *card = makeCard(this);
    m_seed = namedInput(new QSpinBox(card), tr("Number of the practice engine"));
    m_seed->setRange(1, 1000000);
    m_engineFile = namedInput(new QLineEdit(card), tr("File of a practice engine"));
    m_engineFile->setPlaceholderText(tr("drawn by its number"));
    auto *browse = new QPushButton(tr("Choose…"), card);
    connect(browse, &QPushButton::clicked, this, [this] { choose(m_engineFile, tr("Truth of an engine")); });
    m_fault = namedInput(new QComboBox(card), tr("Fault"));
    m_fault->addItem(tr("none"), QString());
    for (const Fault &f : allFaults())
        m_fault->addItem(text(f.title), text(f.name));
    m_strength = namedInput(new QDoubleSpinBox(card), tr("Strength of the fault"));
    m_strength->setEnabled(false);
    connect(m_fault, &QComboBox::currentIndexChanged, this, [this](int i) {
        m_strength->setEnabled(i > 0);
        if (i <= 0) return;
        const Fault &f = allFaults()[static_cast<std::size_t>(i - 1)];
        m_strength->setRange(f.least, f.most);
        m_strength->setSingleStep((f.most - f.least) / 20);
        m_strength->setSuffix(QLatin1Char(' ') + unitOfPractice(f));
        m_strength->setValue(f.usual);
    });
    auto *file = new QHBoxLayout;
    file->addWidget(m_engineFile, 1);
    file->addWidget(browse);
    auto *fault = new QHBoxLayout;
    fault->addWidget(m_fault, 1);
    fault->addWidget(m_strength);
    m_fuel = namedInput(new QComboBox(card), tr("Fuel to pour"));
    m_litres = namedInput(new QDoubleSpinBox(card), tr("Litres to pour"));
    m_litres->setRange(0.5, 200);
    m_litres->setValue(10);
    m_litres->setSuffix(tr(" L"));
    m_pour = new QPushButton(tr("Pour"), card);
    m_pour->setToolTip(tr("Into the practice engine's tank"));
    connect(m_pour, &QPushButton::clicked, this, &EnginePage::pour);
    auto *fuel = new QHBoxLayout;
    fuel->addWidget(m_fuel, 1);
    fuel->addWidget(m_litres);
    fuel->addWidget(m_pour);
    auto *form = new QFormLayout;
    form->addRow(tr("Number"), m_seed);
    form->addRow(tr("Engine file"), file);
    form->addRow(tr("Fault"), fault);
    form->addRow(tr("Fuel"), fuel);
    m_start = new QPushButton(tr("Start"), card);
    m_start->setProperty("main", true);
    m_start->setToolTip(tr("Starts an engine that runs this job's calibration"));
    m_end = new QPushButton(tr("End"), card);
    m_load = new QPushButton(tr("Take the tables"), card);
    m_load->setToolTip(tr("The practice engine runs the calibration as it is now"));
    m_cool = new QPushButton(tr("Cool down"), card);
    m_cool->setToolTip(tr("Five minutes with fans and the engine off, at once"));
    connect(m_start, &QPushButton::clicked, this, &EnginePage::startPractice);
    connect(m_end, &QPushButton::clicked, this, [this] { m_live.leave(); });
    connect(m_load, &QPushButton::clicked, this, [this] { m_live.drive(QStringLiteral("load")); });
    connect(m_cool, &QPushButton::clicked, this,
            [this] { m_live.drive(QStringLiteral(R"({"do": "cool_down", "seconds": 300})")); });
    auto *buttons = new QHBoxLayout;
    buttons->addWidget(m_load);
    buttons->addWidget(m_cool);
    buttons->addStretch(1);
    buttons->addWidget(m_end);
    buttons->addWidget(m_start);
    auto *layout = new QVBoxLayout(card);
    layout->addWidget(makeHead(tr("An engine to practise with"), card));
    layout->addLayout(form);
    layout->addStretch(1);
    layout->addLayout(buttons);
    return card;
}

QWidget *EnginePage::makeBus() {
    auto *card = makeCard(this);
    m_kind = namedInput(new QComboBox(card), tr("Kind of bus"));
    m_kind->addItem(tr("Interface of this machine"), QStringLiteral("socketcan:"));
    m_kind->addItem(tr("Virtual bus of this machine"), QStringLiteral("virtual:"));
    m_address = namedInput(new QLineEdit(QStringLiteral("can0"), card), tr("Interface or port"));
    connect(m_kind, &QComboBox::currentIndexChanged, this, [this](int i) {
        m_address->setText(i == 0 ? QStringLiteral("can0") : QString());
        m_address->setPlaceholderText(i == 0 ? QString() : tr("port, 1 to 65535"));
    });
    m_map = namedInput(new QLineEdit(card), tr("Map of the frames"));
    m_map->setPlaceholderText(tr("a map, or a description (.dbc)"));
    auto *browse = new QPushButton(tr("Choose…"), card);
    connect(browse, &QPushButton::clicked, this, [this] { choose(m_map, tr("Map of the frames")); });
    auto *file = new QHBoxLayout;
    file->addWidget(m_map, 1);
    file->addWidget(browse);
    auto *form = new QFormLayout;
    form->addRow(tr("Bus"), m_kind);
    form->addRow(tr("Where"), m_address);
    form->addRow(tr("Map"), file);
    m_listen = new QPushButton(tr("Listen"), card);
    m_leave = new QPushButton(tr("Leave"), card);
    connect(m_listen, &QPushButton::clicked, this, &EnginePage::listen);
    connect(m_leave, &QPushButton::clicked, this, [this] { m_live.leave(); });
    auto *buttons = new QHBoxLayout;
    buttons->addStretch(1);
    buttons->addWidget(m_leave);
    buttons->addWidget(m_listen);
    auto *layout = new QVBoxLayout(card);
    layout->addWidget(makeHead(tr("A bus"), card));
    layout->addLayout(form);
    layout->addWidget(makeQuiet(
        tr("Listened to only: the program has no way to send a frame. A real interface acknowledges frames "
           "by "
           "itself unless the system brings it up as listening only. Mind the data sheets of interface and "
           "controller. No real bus could be tried yet."),
        card));
    layout->addStretch(1);
    layout->addLayout(buttons);
    return card;
}

QWidget *EnginePage::makeChannels() {
    auto *card = makeCard(this);
    m_state = new QLabel(card);
    m_channels = new QTableWidget(0, channelColumns, card);
    m_channels->setTabKeyNavigation(false);
    m_channels->setAccessibleName(tr("Channels of the bus"));
    m_channels->setHorizontalHeaderLabels({tr("Channel"), tr("What it is"), tr("Now"), tr("Unit")});
    m_channels->verticalHeader()->hide();
    m_channels->setEditTriggers(QAbstractItemView::NoEditTriggers);
    m_channels->setSelectionBehavior(QAbstractItemView::SelectRows);
    m_channels->horizontalHeader()->setSectionResizeMode(channelRole, QHeaderView::Stretch);
    m_channels->setColumnWidth(channelName, 220);
    auto *layout = new QVBoxLayout(card);
    layout->addWidget(makeStill(m_state, card));
    layout->addWidget(m_channels, 1);
    return card;
}

void EnginePage::choose(QLineEdit *file, const QString &title) {
    const QString path = QFileDialog::getOpenFileName(this, title);
    if (!path.isEmpty()) file->setText(path);
}

void EnginePage::startPractice() {
    PracticeSetup setup;
    setup.engineFile = m_engineFile->text().trimmed();
    setup.seed = static_cast<std::uint64_t>(m_seed->value());
    if (const QString fault = m_fault->currentData().toString(); !fault.isEmpty())
        setup.faults << QStringLiteral("%1:%2").arg(fault).arg(m_strength->value());
    m_live.startPractice(setup);
    emit seatWanted();
}

void EnginePage::pour() {
    const QJsonObject step{{QStringLiteral("do"), QStringLiteral("pour")},
                           {QStringLiteral("litres"), m_litres->value()},
                           {QStringLiteral("fuel"), m_fuel->currentText()}};
    m_live.drive(QString::fromUtf8(QJsonDocument(step).toJson(QJsonDocument::Compact)));
}

void EnginePage::offerBus(const QStringList &last) {
    if (last.size() != 2) return;
    for (int i = 0; i < m_kind->count(); ++i) {
        const QString kind = m_kind->itemData(i).toString();
        if (!last.front().startsWith(kind)) continue;
        m_kind->setCurrentIndex(i);
        m_address->setText(last.front().mid(kind.size()));
        m_map->setText(last.back());
        m_lastBus = last;
    }
}

void EnginePage::listen() {
    const QStringList bus{m_kind->currentData().toString() + m_address->text().trimmed(),
                          m_map->text().trimmed()};
    try {
        m_live.listenByFile(bus.front().toStdString(), bus.back().toStdString());
        m_lastBus = bus;
        emit busListenedTo();
        emit seatWanted();
    } catch (const InputError &e) {
        m_session.report(text(e.words(), m_session.units()));
    }
}

void EnginePage::refresh() {
    if (!isVisible()) return;
    const bool practising = m_live.practising(), job = m_session.hasJob();
    m_start->setEnabled(job && !practising);
    m_end->setEnabled(practising);
    m_load->setEnabled(practising);
    m_cool->setEnabled(practising);
    m_pour->setEnabled(practising && m_fuel->count() > 0);
    m_listen->setEnabled(job && !practising);
    m_leave->setEnabled(!practising && m_live.hearing() != LiveSeat::Hearing::off);
    QStringList fuels;
    for (const auto &f : m_session.job().shelf)
        fuels << QString::fromStdString(f.name);
    QStringList shownFuels;
    for (int i = 0; i < m_fuel->count(); ++i)
        shownFuels << m_fuel->itemText(i);
    if (fuels != shownFuels) {
        m_fuel->clear();
        m_fuel->addItems(fuels);
    }
    refreshChannels();
}

void EnginePage::refreshChannels() {
    m_filling = true;
    const bool on = m_live.hearing() != LiveSeat::Hearing::off;
    const std::vector<MappedColumn> none;
    const auto &columns = on ? m_live.channels().columns : none;
    // Between the clock and the events.
    const int rows = columns.size() > 2 ? static_cast<int>(columns.size()) - 2 : 0;
    if (m_channels->rowCount() != rows) {
        m_channels->setRowCount(0);
        m_channels->setRowCount(rows);
    }
    for (int r = 0; r < rows; ++r) {
        const std::size_t column = static_cast<std::size_t>(r) + 1;
        const auto cell = [&](int at, const QString &words) {
            QTableWidgetItem *item = m_channels->item(r, at);
            if (!item) m_channels->setItem(r, at, item = new QTableWidgetItem);
            if (item->text() != words) item->setText(words);
        };
        cell(channelName, text(columns[column].name));
        cell(channelUnit, text(m_live.layout().columns[column].unit));
        auto *role = qobject_cast<QComboBox *>(m_channels->cellWidget(r, channelRole));
        if (!role) {
            role = namedInput(new QComboBox, tr("What %1 is").arg(text(columns[column].name)));
            for (const ChannelRoleDefinition &d : allChannelRoles())
                if (d.role != ChannelRole::time)
                    role->addItem(d.role == ChannelRole::none ? tr("nothing that is judged") : text(d.title),
                                  static_cast<int>(d.role));
            connect(role, &QComboBox::activated, this, [this, role, column] {
                if (!m_filling) m_live.setRole(column, static_cast<ChannelRole>(role->currentData().toInt()));
            });
            m_channels->setCellWidget(r, channelRole, role);
        }
        role->setCurrentIndex(role->findData(static_cast<int>(columns[column].role)));
    }
    m_filling = false;
    refreshValues();
}

void EnginePage::refreshValues() {
    if (!isVisible()) return;
    m_state->setText(m_live.stateWords() + QLatin1Char(' ') + m_live.lastWords());
    const std::vector<double> &values = m_live.moment().values;
    for (int r = 0; r < m_channels->rowCount() && static_cast<std::size_t>(r) < values.size(); ++r) {
        const double v = values[static_cast<std::size_t>(r)];
        QTableWidgetItem *item = m_channels->item(r, channelValue);
        if (!item) m_channels->setItem(r, channelValue, item = new QTableWidgetItem);
        item->setText(v == v ? briefText(v, m_session.units()) : tr("silent"));
    }
}

void EnginePage::showEvent(QShowEvent *event) {
    QWidget::showEvent(event);
    refresh();
}

} // namespace wheelwright
