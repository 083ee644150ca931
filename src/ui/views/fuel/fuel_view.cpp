#include "ui/views/fuel/fuel_view.h"

#include "core/error.h"
#include "core/fuel/settling.h"
#include "core/fuel/tank_history.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/widgets/record_model.h"

#include <QEvent>
#include <QFrame>
#include <QGridLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTableView>
#include <QTextBrowser>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

QString litres(double v) {
    return QString::number(v, 'f', 1) + QStringLiteral(" L");
}

QFrame *makeCard(QWidget *parent) {
    auto *card = new QFrame(parent);
    card->setProperty("card", true);
    return card;
}

QLabel *makeHead(const QString &title, QWidget *parent) {
    auto *label = new QLabel(title, parent);
    label->setProperty("head", true);
    return label;
}

} // namespace

FuelView::FuelView(Session &session, QWidget *parent) : View(parent), m_session(session) {
    setProperty("helpPage", "fuel");
    auto *layout = new QGridLayout(this);
    layout->setContentsMargins(8, 8, 8, 6);
    layout->addWidget(makeTankCard(), 0, 0);
    layout->addWidget(makeRecordCard(tr("Tank history"), tr("Type into the last row for what happened next."),
                                     "tank.events", m_history),
                      1, 0);
    layout->addWidget(makePlanCard(), 0, 1, 2, 1);
    layout->addWidget(
        makeRecordCard(
            tr("Shelf: the fuels within reach"),
            tr("Content by test tube rather than by label. Type into the last row for a new fuel."),
            "fuel.shelf", m_shelf),
        2, 0, 1, 2);
    layout->setRowStretch(1, 3);
    layout->setRowStretch(2, 3);
    layout->setColumnStretch(0, 1);
    layout->setColumnStretch(1, 1);
    for (auto signal : {&Session::jobChanged, &Session::jobReplaced, &Session::unitsChanged})
        connect(&session, signal, this, &FuelView::refresh);
    connect(&session, &Session::contentChanged, this, &FuelView::refreshPlans);
    refresh();
}

QWidget *FuelView::makeTankCard() {
    auto *card = makeCard(this);
    m_tank = new QLabel(card);
    m_tankWords = new QLabel(card);
    m_tankWords->setWordWrap(true);
    m_tankWords->setProperty("quiet", true);
    auto *layout = new QVBoxLayout(card);
    layout->addWidget(makeHead(tr("In the tank, by arithmetic"), card));
    layout->addWidget(m_tank);
    layout->addWidget(m_tankWords);
    return card;
}

QWidget *FuelView::makePlanCard() {
    auto *card = makeCard(this);
    m_planHead = makeHead({}, card);
    m_level = new QLineEdit(card);
    m_level->setPlaceholderText(tr("any level"));
    m_level->setAccessibleName(tr("Wanted level in litres"));
    m_level->setToolTip(tr("Litres in the tank afterwards; empty: any"));
    m_level->setMaximumWidth(100);
    connect(m_level, &QLineEdit::textChanged, this, &FuelView::refreshPlans);
    m_plans = new QTextBrowser(card);
    m_plans->setFrameShape(QFrame::NoFrame);
    m_plans->setAccessibleName(tr("Pour plans"));
    auto *layout = new QGridLayout(card);
    layout->addWidget(m_planHead, 0, 0);
    layout->addWidget(m_level, 0, 1);
    layout->addWidget(m_plans, 1, 0, 1, 2);
    layout->setColumnStretch(0, 1);
    return card;
}

QWidget *FuelView::makeRecordCard(const QString &title, const QString &hint, const char *list,
                                  QTableView *&table) {
    auto *card = makeCard(this);
    table = new QTableView(card);
    auto *model = new RecordModel(m_session, *recordListByPath(list), table);
    table->setModel(model);
    table->setAccessibleName(title);
    table->setFrameShape(QFrame::NoFrame);
    table->verticalHeader()->setDefaultSectionSize(24);
    table->horizontalHeader()->setStretchLastSection(true);
    table->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    auto *remove = new QPushButton(tr("Take the row away"), card);
    connect(remove, &QPushButton::clicked, this, [table, model] {
        if (table->currentIndex().isValid()) model->removeRows(table->currentIndex().row(), 1);
    });
    auto *words = new QLabel(hint, card);
    words->setProperty("quiet", true);
    auto *layout = new QGridLayout(card);
    layout->addWidget(makeHead(title, card), 0, 0);
    layout->addWidget(words, 1, 0);
    layout->addWidget(remove, 0, 1, 2, 1);
    layout->addWidget(table, 2, 0, 1, 2);
    layout->setColumnStretch(0, 1);
    return card;
}

void FuelView::refresh() {
    refreshTank();
    refreshPlans();
}

void FuelView::refreshTank() {
    if (!m_session.hasJob()) return;
    const Job &job = m_session.job();
    const TankState tank = tankNow(job);
    const double content = alcoholOf(tank.content);
    m_tank->setText(QStringLiteral("<span style='font-size:28px; color:%1'><b>%2</b></span>"
                                   "<span style='font-size:20px'> &nbsp; %3 of %4</span>")
                        .arg(theme().content(content).name(),
                             text(contentName(content, job.alcohol == Alcohol::methanol)),
                             litres(tank.volumeL), litres(job.tank.capacityL)));
    QString words = tank.volumeL < job.tank.reserveL
                        ? tr("Under the %1 that the pickup needs: no pulls. ").arg(litres(job.tank.reserveL))
                        : QString();
    const auto minutes = [&](double flow) {
        const FuelPath path{job.tank.lineL, flow, job.tank.surgeL, job.tank.surgeFlowLMin};
        return QString::number(settlingMinutes(path, 0, 0.5), 'f', 1);
    };
    words += tr("After a change of half the scale the sensor has settled in %1 min of idling or %2 min of "
                "cruising. Do not pull before.")
                 .arg(minutes(job.tank.idleFlowLMin), minutes(job.tank.cruiseFlowLMin));
    if (tank.content.methanol.fraction() > 0)
        words +=
            QLatin1Char(' ') + tr("There is methanol in it: a content sensor cannot tell it from ethanol.");
    m_tankWords->setText(words);
}

QString FuelView::plansHtml() const {
    const Job &job = m_session.job();
    std::optional<double> level;
    if (!m_level->text().trimmed().isEmpty())
        level = parse(m_level->text().toStdString(), Dimension::displacement, m_session.units(), "Level");
    const PourRequest request = pourRequestOf(job, m_session.content(), level);
    const PourAnswer answer = planPour(request);
    QString html;
    if (!answer.why.empty())
        html += QStringLiteral("<p><b>%1</b> %2.</p>").arg(tr("Not by pouring alone:"), text(answer.why));
    std::vector<std::pair<QString, QString>> shownPlans; // titles, and what to do
    for (const PourPlan &plan : answer.plans) {
        const QString body = planHtml(plan, request);
        const auto same = std::ranges::find(shownPlans, body, &std::pair<QString, QString>::second);
        if (same == shownPlans.end())
            shownPlans.emplace_back(text(strategyTitle(plan.strategy)), body);
        else // one way to pour is often the best in more than one sense
            same->first += QStringLiteral(" · ") + text(strategyTitle(plan.strategy)).toLower();
    }
    for (const auto &[titles, body] : shownPlans)
        html += QStringLiteral("<p style='margin:8px 0 0 0'><b>%1</b>%2</p>").arg(titles, body);
    return html + effectHtml();
}

QString FuelView::planHtml(const PourPlan &plan, const PourRequest &request) const {
    QString html;
    if (plan.price > 0)
        html += QStringLiteral(" &nbsp;<span style='color:%1'>%2</span>")
                    .arg(theme().quiet.name(), tr("costs %1").arg(QString::number(plan.price, 'f', 2)));
    const auto steps = stepsOf(plan, request);
    for (const PourStep &step : steps)
        html += QStringLiteral("<br>%1 → %2 of %3")
                    .arg(text(step.words, m_session.units()).toHtmlEscaped(), litres(step.volumeL),
                         text(contentName(step.content, m_session.job().alcohol == Alcohol::methanol)));
    if (steps.empty()) html += QStringLiteral("<br>") + tr("Nothing to pour.");
    if (!plan.exact)
        html += QStringLiteral("<br>") +
                tr("Misses the target by %1 %.")
                    .arg(QString::number(std::abs(plan.content - request.target) * 100, 'f', 1));
    return html;
}

// Each fuel of the shelf, just poured in until the tank is full.
QString FuelView::effectHtml() const {
    const Job &job = m_session.job();
    const TankState tank = tankNow(job);
    const double room = job.tank.capacityL - tank.volumeL;
    if (room <= 0 || tank.volumeL <= 0) return {};
    QString html = QStringLiteral("<p style='margin:14px 0 0 0'><b>%1</b></p>")
                       .arg(tr("If it is just filled up, tables and sensor reading unchanged:"));
    for (const ShelfEntry &s : job.shelf) {
        const Blend fuel{VolumeFraction::fraction(s.ethanol), VolumeFraction::fraction(s.methanol)};
        const PourEffect effect = effectOfPour(job, tank, room, fuel);
        html += QStringLiteral("<p style='margin:4px 0 0 0'>%1 → %2. %3</p>")
                    .arg(text(s.name).toHtmlEscaped(),
                         text(contentName(effect.content, job.alcohol == Alcohol::methanol)),
                         text(inWords(effect, s.methanol > 0), m_session.units()).toHtmlEscaped());
    }
    return html;
}

void FuelView::refreshPlans() {
    if (!m_session.hasJob()) return;
    const bool methanol = m_session.job().alcohol == Alcohol::methanol;
    m_planHead->setText(
        tr("To get to %1, the content looked at").arg(text(contentName(m_session.content(), methanol))));
    try {
        m_plans->setHtml(plansHtml());
    } catch (const InputError &e) {
        m_plans->setHtml(QStringLiteral("<p>%1</p>")
                             .arg(m_session.job().shelf.empty()
                                      ? tr("Put the fuels within reach on the shelf below, and say in the "
                                           "history what is in the "
                                           "tank: a level read and a content measured are enough.")
                                      : QString::fromUtf8(e.what()).toHtmlEscaped()));
    }
}

QString FuelView::plansText() const {
    return m_plans->toPlainText();
}

void FuelView::changeEvent(QEvent *event) {
    View::changeEvent(event);
    if (event->type() == QEvent::PaletteChange) refresh();
}

bool FuelView::showInput(const QString &) {
    return false;
}

const ViewDefinition &fuelView() {
    static const ViewDefinition definition{
        "fuel", QT_TRANSLATE_NOOP("view", "Fuel"), ":/icons/fuel.svg", 2,
        [](Session &s, QWidget *parent) -> View * { return new FuelView(s, parent); }};
    return definition;
}

} // namespace wheelwright
