#include "ui/views/fuel/pour_page.h"

#include "core/base/error.h"
#include "core/explain/explain_fuel.h"
#include "core/job/tank_history.h"
#include "session/session.h"
#include "ui/rich_text.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/views/fuel/opinion_strip.h"
#include "ui/widgets/card.h"
#include "ui/widgets/record_table.h"

#include <QApplication>
#include <QClipboard>
#include <QComboBox>
#include <QEvent>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPrintDialog>
#include <QPrinter>
#include <QPushButton>
#include <QTextBrowser>
#include <QTextDocument>
#include <QUrl>
#include <QVBoxLayout>

#include <cmath>

namespace wheelwright {
namespace {

QString litres(double v) {
    return QString::number(v, 'f', 1) + QStringLiteral(" L");
}

QString link(const QString &target, const QString &body) {
    return QStringLiteral("<a href='%1' style='color:%2; text-decoration:none'>%3</a>")
        .arg(target, theme().ink.name(), body);
}

bool samePours(const PourPlan &a, const PourPlan &b) {
    constexpr double nothing = 0.005;
    for (std::size_t i = 0; i < a.pourL.size(); ++i)
        if (std::abs(a.pourL[i] - b.pourL[i]) > nothing) return false;
    return std::abs(a.drainL - b.drainL) <= nothing && a.cans.empty() == b.cans.empty();
}

} // namespace

PourPage::PourPage(Session &session, QWidget *parent) : QWidget(parent), m_session(session) {
    auto *layout = new QGridLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(makeTankCard(), 0, 0);
    m_history = new RecordTable(session, tr("Tank history"),
                                tr("Type into the last row for what happened next."), "tank.events", this);
    layout->addWidget(m_history, 1, 0);
    layout->addWidget(makePlanCard(), 0, 1, 2, 1);
    layout->setRowStretch(1, 1);
    constexpr int opinionsWidth = 412;
    layout->setColumnMinimumWidth(0, opinionsWidth);
    layout->setColumnStretch(0, 10);
    layout->setColumnStretch(1, 11);
    for (auto signal :
         {&Session::jobChanged, &Session::jobReplaced, &Session::unitsChanged, &Session::stateChanged})
        connect(&session, signal, this, &PourPage::refresh);
    connect(&session, &Session::contentChanged, this, &PourPage::refreshPlans);
    refresh();
}

QWidget *PourPage::makeTankCard() {
    auto *card = makeCard(this);
    m_tank = new QLabel(card);
    m_tank->setTextInteractionFlags(Qt::LinksAccessibleByMouse | Qt::LinksAccessibleByKeyboard);
    connect(m_tank, &QLabel::linkActivated, this, [this](const QString &to) { explainLink(QUrl(to)); });
    m_opinions = new OpinionStrip(m_session, card);
    m_tankWords = makeQuiet({}, card);
    auto *layout = new QVBoxLayout(card);
    layout->addWidget(makeHead(tr("In the tank"), card));
    layout->addWidget(m_tank);
    layout->addWidget(m_opinions);
    layout->addWidget(m_tankWords);
    return card;
}

QTextBrowser *PourPage::makeText(const QString &name, QWidget *parent) {
    auto *browser = new QTextBrowser(parent);
    browser->setFrameShape(QFrame::NoFrame);
    browser->setOpenLinks(false);
    browser->setAccessibleName(name);
    connect(browser, &QTextBrowser::anchorClicked, this, &PourPage::explainLink);
    return browser;
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
    auto *copyButton = new QPushButton(tr("Copy"), card);
    copyButton->setToolTip(tr("The plans as text, for a message or a note"));
    connect(copyButton, &QPushButton::clicked, this, &PourPage::copy);
    auto *printButton = new QPushButton(tr("Print…"), card);
    printButton->setToolTip(tr("A sheet to take along to the pump"));
    connect(printButton, &QPushButton::clicked, this, &PourPage::print);
    m_plans = makeText(tr("Pour plans"), card);
    auto *layout = new QGridLayout(card);
    layout->addWidget(makeHead(tr("To pour for the content looked at"), card), 0, 0);
    layout->addWidget(m_level, 0, 1);
    layout->addWidget(copyButton, 0, 2);
    layout->addWidget(printButton, 0, 3);
    layout->addWidget(m_plans, 1, 0, 1, 4);
    layout->addWidget(makeFlushRow(card), 2, 0, 1, 4);
    m_effectsText = makeText(tr("If it is just filled up"), card);
    // Not a label: a label that changes its text lays out the whole page anew, at every step of the content.
    constexpr int twoLines = 46;
    m_flushText = makeText(tr("Flush plan"), card);
    m_flushText->setFixedHeight(twoLines);
    m_flushText->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    layout->addWidget(m_flushText, 3, 0, 1, 4);
    layout->addWidget(m_effectsText, 4, 0, 1, 4);
    layout->setRowStretch(1, 7);
    layout->setRowStretch(4, 3);
    layout->setColumnStretch(0, 1);
    return card;
}

QWidget *PourPage::makeFlushRow(QWidget *parent) {
    auto *row = new QWidget(parent);
    m_flushFuel = new QComboBox(row);
    m_flushFuel->setAccessibleName(tr("Fuel to flush with"));
    m_flushFuel->setMinimumContentsLength(10);
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

QString PourPage::contentText(double content) const {
    return text(contentName(content, m_session.job().alcohol == Alcohol::methanol));
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
    const UncertainTank tank = uncertainTankNow(job);
    const ContentOpinions opinions = opinionsOf(job);
    const double content = tank.content().value, volume = tank.volumeL().value;
    const QString big = QStringLiteral("<span style='font-size:30px; color:%1'><b>%2</b></span>")
                            .arg(theme().content(content).name(), contentText(content));
    const QString level = QStringLiteral("<span style='font-size:20px; color:%1'> &nbsp; %2</span>")
                              .arg(theme().ink.name(), tr("%1 ±%2 of %3")
                                                           .arg(QString::number(volume, 'f', 1),
                                                                QString::number(tank.volumeL().sigma, 'f', 1),
                                                                litres(job.tank.capacityL)));
    m_tank->setText(job.tankEvents.empty()
                        ? tr("Nothing is known of this tank yet.")
                        : link(QStringLiteral("sum:"), big) + link(QStringLiteral("level:"), level));
    QString words;
    if (!job.tankEvents.empty() && volume < job.tank.reserveL)
        words =
            troubleHtml(tr("Under the %1 that the pickup needs: no pulls.").arg(litres(job.tank.reserveL))) +
            QStringLiteral("<br>");
    words += QStringLiteral("<span style='color:%1'>%2</span>")
                 .arg(opinions.agree ? theme().quiet.name() : theme().ink.name(),
                      text(opinions.verdict, m_session.units()).toHtmlEscaped());
    m_tankWords->setText(words);
    m_opinions->show(opinions);
}

// What happens when the tank is filled up with each fuel does not depend on the content looked at.
void PourPage::refreshEffects() {
    const Job &job = m_session.job();
    m_effects.clear();
    m_effectFuels.clear();
    const TankState tank = tankNow(job);
    double level = job.tank.capacityL;
    try {
        level = wantedLevel().value_or(level);
    } catch (const InputError &) {
        // The plans say what is wrong with it.
    }
    const double room = std::min(level, job.tank.capacityL) - tank.volumeL;
    for (std::size_t i = 0; room > 0 && tank.volumeL > 0 && i < m_shelf.size(); ++i)
        if (m_shelf[i].kind != FuelKind::booster) {
            m_effects.push_back(effectOfPour(job, tank, room, m_shelf[i].content, m_shelf[i].hydrocarbon));
            m_effectFuels.push_back(i);
        }
    m_effectsText->setHtml(effectHtml());
}

std::optional<double> PourPage::wantedLevel() const {
    if (m_level->text().trimmed().isEmpty()) return std::nullopt;
    return parse(m_level->text().toStdString(), Dimension::displacement, m_session.units(),
                 tr("Level").toStdString());
}

void PourPage::plan() {
    const Job &job = m_session.job();
    m_problem.clear();
    m_answer = {};
    try {
        m_request = pourRequestOf(job, m_session.content(), wantedLevel(), m_session.today().toStdString());
        m_answer = planPour(m_request);
    } catch (const InputError &e) {
        m_problem =
            job.shelf.empty()
                ? tr("Put the fuels within reach on the shelf, and say in the history what is in the tank: a "
                     "level read and a content believed are enough.")
                : QString::fromUtf8(e.what());
    }
    const TankState tank = tankNow(job);
    m_flushProblem.clear();
    m_flush = {};
    try {
        const UnitChoice &units = m_session.units();
        m_flushFill = m_flushFuel->currentData().toDouble();
        m_flushRestL =
            parse(m_flushRest->text().toStdString(), Dimension::displacement, units, "run down to");
        m_flushTolerance = parse(m_flushWithin->text().toStdString(), Dimension::content, units, "within");
        if (m_flushFuel->count() > 0)
            m_flush =
                planFlush(std::min(tank.volumeL, job.tank.capacityL), alcoholOf(tank.content), m_flushFill,
                          m_flushRestL, job.tank.capacityL, m_session.content(), m_flushTolerance);
    } catch (const InputError &e) {
        m_flushProblem = QString::fromUtf8(e.what());
    }
}

void PourPage::refreshPlans() {
    if (!m_session.hasJob() || !isVisible()) return; // shown again, it asks again
    plan();
    m_plans->setHtml(plansHtml());
    m_flushText->setText(flushHtml());
}

QString PourPage::plansHtml() const {
    QString html = QStringLiteral("<p style='margin:0; font-size:16px'>%1</p>")
                       .arg(tr("To get to <b>%1</b>:").arg(contentText(m_session.content())));
    if (!m_problem.isEmpty()) return QStringLiteral("<p>%1</p>").arg(m_problem.toHtmlEscaped());
    if (!m_answer.why.empty())
        html += QStringLiteral("<p style='margin:0'><b>%1</b> %2.</p>")
                    .arg(tr("Not by pouring alone:"), text(m_answer.why).toHtmlEscaped());
    std::vector<bool> shown(m_answer.plans.size(), false);
    for (std::size_t i = 0; i < m_answer.plans.size(); ++i) {
        if (shown[i]) continue;
        QStringList titles; // strategies that come to the same are shown once
        for (std::size_t k = i; k < m_answer.plans.size(); ++k)
            if (!shown[k] && samePours(m_answer.plans[i], m_answer.plans[k])) {
                shown[k] = true;
                titles << QCoreApplication::translate("core",
                                                      strategyTitle(m_answer.plans[k].strategy).data());
            }
        html += planHtml(m_answer.plans[i], i, titles.join(QStringLiteral(" · ")));
    }
    return html;
}

QString PourPage::planHtml(const PourPlan &plan, std::size_t index, const QString &titles) const {
    const QString explain = QStringLiteral("plan:%1").arg(index);
    QString html = QStringLiteral("<p style='margin:9px 0 0 0'>") + quietHtml(titles.toHtmlEscaped());
    if (plan.price > 0)
        html += quietHtml(QStringLiteral(" &nbsp;·&nbsp; ") +
                          tr("costs %1").arg(QString::number(plan.price, 'f', 2)));
    const auto steps = stepsOf(plan, m_request);
    for (const PourStep &s : steps) {
        const QString line =
            QStringLiteral("<span style='font-size:16px'><b>%1</b></span> → <b>%2</b> ±%3, %4")
                .arg(text(s.words, m_session.units()).toHtmlEscaped(), contentText(s.content.value),
                     QString::number(std::lround(s.content.sigma * 100)), litres(s.volumeL));
        html += QStringLiteral("<br>") + link(explain, line);
        for (const Phrase &caution : s.drain ? std::vector<Phrase>{} : m_request.shelf[s.fuel].cautions)
            html += QStringLiteral("<br><span style='color:%1'>%2</span>")
                        .arg(theme().heed.name(), text(caution, m_session.units()).toHtmlEscaped());
    }
    if (steps.empty()) html += QStringLiteral("<br>") + link(explain, tr("Nothing to pour."));
    if (!plan.exact)
        html += QStringLiteral("<br>") +
                tr("Misses the target by %1 %.")
                    .arg(QString::number(std::abs(plan.content - m_request.target) * 100, 'f', 1));
    if (const Phrase warning = pickupWarning(plan, m_request); !warning.text.empty())
        html += QStringLiteral("<br><span style='color:%1'>%2</span>")
                    .arg(theme().trouble.name(), text(warning, m_session.units()).toHtmlEscaped());
    return html + QStringLiteral("</p>");
}

QString PourPage::flushHtml() const {
    if (m_flushFuel->count() == 0) return {};
    QString body;
    if (!m_flushProblem.isEmpty())
        body = m_flushProblem.toHtmlEscaped();
    else if (m_flush.possible && m_flush.fills == 0)
        body = tr("The tank is there already.");
    else {
        QStringList contents;
        constexpr std::size_t mostShown = 6;
        for (std::size_t i = 0; i < m_flush.contents.size() && i < mostShown; ++i)
            contents << contentText(m_flush.contents[i]);
        if (m_flush.contents.size() > mostShown) contents << QStringLiteral("…");
        body =
            m_flush.possible
                ? QStringLiteral("<span style='font-size:16px'><b>%1</b></span>, %2: %3")
                      .arg(m_flush.fills == 1 ? tr("1 fill") : tr("%1 fills").arg(m_flush.fills),
                           tr("%1 in all").arg(litres(m_flush.fuelL)), contents.join(QStringLiteral(" → ")))
                : tr("No number of fills comes within that of %1: %2")
                      .arg(contentText(m_session.content()), contents.join(QStringLiteral(" → ")));
    }
    return link(QStringLiteral("flush:"), body);
}

// Each fuel of the shelf, just poured in until the tank is full.
QString PourPage::effectHtml() const {
    if (m_effects.empty()) return {};
    QString html =
        QStringLiteral("<p style='margin:0'><b>%1</b></p>")
            .arg(tr("If it is just filled up (to the level above), tables and reading unchanged:"));
    for (std::size_t i = 0; i < m_effects.size(); ++i) {
        const Fuel &fuel = m_shelf[m_effectFuels[i]];
        const bool methanol = fuel.content.methanol.fraction() > 0;
        html += QStringLiteral("<p style='margin:4px 0 0 0'>%1</p>")
                    .arg(link(
                        QStringLiteral("effect:%1").arg(i),
                        tr("<b>%1</b> → %2. %3")
                            .arg(text(fuel.name).toHtmlEscaped(), contentText(m_effects[i].content),
                                 text(inWords(m_effects[i], methanol), m_session.units()).toHtmlEscaped())));
    }
    return html;
}

void PourPage::explainLink(const QUrl &to) {
    const Job &job = m_session.job();
    const auto index = static_cast<std::size_t>(to.path().toUInt());
    if (to.scheme() == QLatin1String("plan") && index < m_answer.plans.size())
        m_session.explain(explainPlan(m_answer.plans[index], m_request));
    else if (to.scheme() == QLatin1String("effect") && index < m_effects.size())
        m_session.explain(explainEffect(m_effects[index]));
    else if (to.scheme() == QLatin1String("flush") && m_flushProblem.isEmpty())
        m_session.explain(explainFlush(m_flush, tankNow(job), m_flushFill, m_flushRestL, job.tank.capacityL,
                                       m_session.content(), m_flushTolerance));
    else if (to.scheme() == QLatin1String("level"))
        m_session.explain(explainTankLevel(job));
    else if (const ContentOpinions o = opinionsOf(job); to.scheme() == QLatin1String("sum") && !o.all.empty())
        m_session.explain(explainOpinion(job, o.all.front()));
}

QString PourPage::sheetHtml() const {
    const Job &job = m_session.job();
    QString html =
        QStringLiteral("<h2>%1</h2><p>%2</p>")
            .arg(tr("%1: to %2").arg(text(job.name).toHtmlEscaped(), contentText(m_session.content())),
                 tr("In the tank: %1, %2 of %3. %4")
                     .arg(contentText(m_request.content), litres(m_request.volumeL),
                          litres(m_request.capacityL), m_session.today()));
    for (const PourPlan &plan : m_answer.plans) {
        html += QStringLiteral("<h3>%1</h3><ol>")
                    .arg(QCoreApplication::translate("core", strategyTitle(plan.strategy).data()));
        for (const PourStep &s : stepsOf(plan, m_request))
            html += QStringLiteral("<li>%1 → %2 ±%3, %4</li>")
                        .arg(text(s.words, m_session.units()).toHtmlEscaped(), contentText(s.content.value),
                             QString::number(std::lround(s.content.sigma * 100)), litres(s.volumeL));
        html += QStringLiteral("</ol>");
        if (const Phrase warning = pickupWarning(plan, m_request); !warning.text.empty())
            html += QStringLiteral("<p><b>%1</b></p>").arg(text(warning, m_session.units()).toHtmlEscaped());
    }
    return html +
           QStringLiteral("<p>%1</p>")
               .arg(tr(
                   "Then run the engine until the reading stands still, and confirm with a test tube. Earth "
                   "the container, no ignition source, closed vessels; gloves and goggles. Methanol is "
                   "poisonous by swallowing, breath and skin. Follow the supplier's safety data sheet and "
                   "the local fire code."));
}

void PourPage::copy() {
    QTextDocument sheet;
    sheet.setHtml(sheetHtml());
    QApplication::clipboard()->setText(sheet.toPlainText());
}

void PourPage::print() {
    QPrinter printer;
    QPrintDialog dialog(&printer, this);
    dialog.setWindowTitle(tr("Print the plans"));
    if (dialog.exec() != QDialog::Accepted) return;
    QTextDocument sheet;
    sheet.setHtml(sheetHtml());
    sheet.print(&printer);
}

QString PourPage::plansText() const {
    return m_plans->toPlainText() + QLatin1Char('\n') + m_flushText->toPlainText() + QLatin1Char('\n') +
           m_effectsText->toPlainText();
}

void PourPage::changeEvent(QEvent *event) {
    QWidget::changeEvent(event);
    if (event->type() == QEvent::PaletteChange) refresh();
}

void PourPage::showEvent(QShowEvent *event) {
    QWidget::showEvent(event);
    refreshPlans();
}

} // namespace wheelwright
