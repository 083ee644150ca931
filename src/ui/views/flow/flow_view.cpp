#include "ui/views/flow/flow_view.h"

#include "core/error.h"
#include "core/flow/mechanical_lambda.h"
#include "core/flow/return_flow.h"
#include "core/math/monotone_fit.h"
#include "core/verify/verdict.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/views/flow/frontier_plot.h"
#include "ui/widgets/card.h"
#include "ui/widgets/field_form.h"
#include "ui/widgets/page_switch.h"
#include "ui/widgets/record_table.h"

#include <QEvent>
#include <QScrollArea>
#include <QTabWidget>
#include <QTextBrowser>
#include <QUrl>
#include <QVBoxLayout>

#include <cmath>
#include <map>

namespace wheelwright {
namespace {

QString quiet(const QString &body) {
    return QStringLiteral("<span style='color:%1'>%2</span>").arg(theme().quiet.name(), body);
}

QString trouble(const QString &body) {
    return QStringLiteral("<span style='color:%1'><b>%2</b></span>").arg(theme().trouble.name(), body);
}

QString big(const QString &body) {
    return QStringLiteral("<span style='font-size:20px'><b>%1</b></span>").arg(body);
}

QString row(const QStringList &cells, bool head = false) {
    QString out = QStringLiteral("<tr>");
    for (const QString &c : cells)
        out += QStringLiteral("<td style='padding:1px 10px 1px 0'>%1</td>").arg(head ? quiet(c) : c);
    return out + QStringLiteral("</tr>");
}

// A number that shows its working when it is clicked.
QString working(std::string_view check, const QString &body) {
    return QStringLiteral("<a href='check:%1' style='color:%2; text-decoration:none'>%3</a>")
        .arg(text(check), theme().ink.name(), body);
}

const WorstPlace &placeAt(const Verdict::Row &row, double content) {
    return *std::ranges::min_element(
        row.outcome.byContent, {}, [content](const WorstPlace &p) { return std::abs(p.content - content); });
}

QString decimals(double v, int digits) {
    return QString::number(v, 'f', digits);
}

} // namespace

FlowView::FlowView(Session &session, QWidget *parent)
    : View(parent), m_session(session), m_pages(new PageSwitch(this)) {
    setProperty("helpPage", "flow");
    const auto add = [&](const char *id, const QString &title, QWidget *page) {
        page->setObjectName(QLatin1String(id));
        m_pages->addPage(title, page);
    };
    add("frontier", tr("Frontier"), makeFrontier());
    add("injectors", tr("Injectors"),
        makePage("injectors", tr("Injectors"), {"injectors."},
                 {{"injectors.dead_times", tr("Dead times")},
                  {"injectors.measured", tr("Measured set")},
                  {"engine.cylinder_needs", tr("Cylinders")}}));
    add("pumps", tr("Pumps"),
        makePage("pumps", tr("Pumps and return"), {"supply."},
                 {{"supply.pump_points", tr("Data of the pumps")}, {"supply.pumps", tr("Fitted")}}));
    add("boost", tr("Boost"),
        makePage("boost", tr("Boost control"), {"boost."},
                 {{"boost.points", tr("Solenoid duty and the boost that came of it")}}));
    add("spray", tr("Spray"), makePage("spray", tr("Water and methanol spray"), {"aux."}, {}));
    add("pills", tr("Pills"),
        makePage("pills", tr("Mechanical injection"), {"engine.fuel_control", "mechanical."},
                 {{"mechanical.passes", tr("Passes")}}));
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(8, 6, 8, 6);
    layout->addWidget(m_pages);
    for (auto signal : {&Session::jobChanged, &Session::jobReplaced, &Session::unitsChanged})
        connect(&session, signal, this, &FlowView::refresh);
    connect(m_pages, &PageSwitch::pageShown, this, &FlowView::refreshWords);
    for (auto signal : {&Session::contentChanged, &Session::verdictChanged})
        connect(&session, signal, this, &FlowView::refreshWords);
}

QTextBrowser *FlowView::makeWords(const QString &name, QWidget *parent) {
    auto *words = new QTextBrowser(parent);
    words->setFrameShape(QFrame::NoFrame);
    words->setOpenLinks(false);
    words->setAccessibleName(name);
    connect(words, &QTextBrowser::anchorClicked, this,
            [this](const QUrl &link) { explainCheck(link.path()); });
    return words;
}

// The working of a check's number at the content looked at, or at its worst.
void FlowView::explainCheck(const QString &id) {
    const auto verdict = m_session.verdict();
    if (!verdict) return;
    for (const Verdict::Row &r : verdict->rows)
        if (text(r.check->id) == id)
            m_session.explain(r.check->explain(*verdict->evaluation, placeAt(r, m_session.content())));
}

QWidget *FlowView::makeFrontier() {
    auto *card = makeCard(this);
    m_plot = new FrontierPlot(m_session, card);
    QTextBrowser *words = makeWords(tr("What ends a run first"), card);
    words->setFixedHeight(150);
    m_words.push_back({words, &FlowView::frontierHtml});
    auto *layout = new QVBoxLayout(card);
    layout->addWidget(words);
    layout->addWidget(m_plot, 1);
    return card;
}

QWidget *FlowView::makePage(const char *id, const QString &title, const std::vector<std::string> &prefixes,
                            const std::vector<std::pair<const char *, QString>> &lists) {
    static const std::map<std::string_view, QString (FlowView::*)() const> htmlOf{
        {"injectors", &FlowView::injectorsHtml},
        {"pumps", &FlowView::pumpsHtml},
        {"boost", &FlowView::boostHtml},
        {"spray", &FlowView::sprayHtml},
        {"pills", &FlowView::pillsHtml}};
    auto *page = new QWidget(this);
    auto *form = new FieldForm(m_session, title, prefixes, {}, page);
    m_forms.push_back(form);
    auto *scroll = new QScrollArea(page);
    scroll->setWidgetResizable(true);
    scroll->setWidget(form);
    constexpr int formWidth = 344;
    scroll->setFixedWidth(formWidth);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto *card = makeCard(page);
    QTextBrowser *words = makeWords(tr("What follows from it"), card);
    m_words.push_back({words, htmlOf.at(id)});
    (new QVBoxLayout(card))->addWidget(words);
    auto *right = new QVBoxLayout;
    right->addWidget(card, 5);
    auto *tabs = lists.size() > 1 ? new QTabWidget(page) : nullptr;
    for (const auto &[path, name] : lists) {
        auto *table = new RecordTable(m_session, name, tr("Type into the last row."), path, page);
        m_lists.push_back({path, page, tabs, table});
        if (tabs) {
            table->setProperty("card", false);
            tabs->addTab(table, name);
        } else {
            right->addWidget(table, 4);
        }
    }
    if (tabs) right->addWidget(tabs, 4);
    auto *layout = new QHBoxLayout(page);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(scroll);
    layout->addLayout(right, 1);
    return page;
}

void FlowView::refresh() {
    if (!m_session.hasJob() || !isVisible()) return;
    m_frontier = m_session.job().control == FuelControl::controller ? frontier(m_session.job()) : Frontier{};
    m_plot->setVisible(!m_frontier.contents.empty());
    m_plot->show(m_frontier);
    refreshWords();
}

void FlowView::refreshWords() {
    if (!m_session.hasJob() || !isVisible()) return;
    for (const Words &w : m_words) {
        if (!w.browser->isVisible()) continue;
        try {
            w.browser->setHtml((this->*w.html)());
        } catch (const InputError &e) {
            w.browser->setHtml(trouble(QString::fromUtf8(e.what()).toHtmlEscaped()));
        }
    }
}

QString FlowView::frontierHtml() const {
    if (m_session.job().control == FuelControl::mechanical)
        return tr("Fuel is metered mechanically: there is no table to hold against the hardware. Look at "
                  "<b>Pills</b>.");
    const UnitChoice &units = m_session.units();
    QString html;
    for (std::size_t i = 0; i < m_frontier.sentences.size(); ++i) {
        const QString sentence = text(m_frontier.sentences[i], units).toHtmlEscaped();
        html += i == 0
                    ? working("flow.duty",
                              QStringLiteral("<span style='font-size:17px'><b>%1</b></span>").arg(sentence))
                    : QStringLiteral("<br>") + sentence;
    }
    const auto at = static_cast<std::size_t>(
        std::lround(m_session.content() * static_cast<double>(m_frontier.contents.size() - 1)));
    if (at < m_frontier.powerKw.size())
        html += QStringLiteral("<br>") +
                quiet(tr("Fuel for %1 to %2 at %3, by the usual specific consumption (common practice).")
                          .arg(shown(m_frontier.powerKw[at].first, Dimension::power, units),
                               shown(m_frontier.powerKw[at].second, Dimension::power, units),
                               shown(m_frontier.contents[at], Dimension::content, units)));
    return html;
}

QString FlowView::injectorsHtml() const {
    const Job &job = m_session.job();
    const auto verdict = m_session.verdict();
    QString html;
    if (verdict)
        for (const Verdict::Row &r : verdict->rows) {
            if (r.check->id != std::string_view("flow.duty") &&
                r.check->id != std::string_view("flow.min_pulse"))
                continue;
            const WorstPlace *worst = &placeAt(r, m_session.content());
            html += QStringLiteral("%1 %2 %3<br>")
                        .arg(text(r.check->title),
                             working(r.check->id,
                                     big(shown(worst->value, r.check->dimension, m_session.units()))),
                             tr("at worst, at %1: %2, %3")
                                 .arg(shown(worst->content, Dimension::content, m_session.units()),
                                      shown(worst->rpm, Dimension::engineSpeed, m_session.units()),
                                      shown(worst->loadKpa, Dimension::pressure, m_session.units())));
        }
    if (job.measuredInjectors.empty() || job.measuredInjectors.size() != job.cylinderNeeds.size())
        return html + QStringLiteral("<br>") +
               quiet(tr(
                   "Give as many measured flows as cylinders, and the best place for each is worked out."));
    std::vector<double> flows, needs;
    for (std::size_t i = 0; i < job.measuredInjectors.size(); ++i) {
        flows.push_back(job.measuredInjectors[i].flowCcMin);
        needs.push_back(job.cylinderNeeds[i].need);
    }
    const InjectorAssignment a = assignInjectors(flows, needs);
    html += QStringLiteral("<br><b>%1</b><table>").arg(tr("Which injector where")) +
            row({tr("cylinder"), tr("injector"), tr("flow"), tr("λ against the mean")}, true);
    for (std::size_t c = 0; c < a.injectorOf.size(); ++c)
        html += row({text(job.cylinderNeeds[c].label).toHtmlEscaped(),
                     QStringLiteral("<b>%1</b>")
                         .arg(text(job.measuredInjectors[a.injectorOf[c]].label).toHtmlEscaped()),
                     shown(flows[a.injectorOf[c]], Dimension::volumeFlow, m_session.units()),
                     QStringLiteral("%1 %").arg(decimals((a.lambdaRatio[c] - 1) * 100, 1))});
    return html + QStringLiteral("</table>") +
           tr("λ spread %1 %; as listed %2 %, by chance %3 %.")
               .arg(decimals(a.spread * 100, 2), decimals(a.asListedSpread * 100, 2),
                    decimals(a.randomSpread * 100, 2));
}

QString FlowView::pumpsHtml() const {
    const Job &job = m_session.job();
    if (job.supply.pumps.empty())
        return tr("Enter the data of a pump (flow at some pressures and voltages), then which pumps are "
                  "fitted. The share that the "
                  "engine takes and what comes back past a sensor follow.");
    const UnitChoice &units = m_session.units();
    const ReturnFlowMap map = returnFlow(job, m_session.content());
    double least = 1e9, rpm = 0, load = 0;
    for (std::size_t i = 0; i < map.lMin.size(); ++i)
        if (map.reached[i] && map.lMin[i] < least) {
            least = map.lMin[i];
            rpm = map.rpm[i / map.loadKpa.size()];
            load = map.loadKpa[i % map.loadKpa.size()];
        }
    QString html =
        tr("At %1 at least %2 comes back, at %3, %4.")
            .arg(shown(m_session.content(), Dimension::content, units),
                 working("content.freeze", big(shown(least, Dimension::flowLMin, units))),
                 shown(rpm, Dimension::engineSpeed, units), shown(load, Dimension::pressure, units));
    const FreezeLine line = freezeLine(job);
    html +=
        QStringLiteral("<br>") +
        (line.needed
             ? tr("A content sensor in the return: freeze its reading above <b>%1</b> and <b>%2</b>.")
                   .arg(shown(line.loadKpa, Dimension::pressure, units),
                        shown(line.rpm, Dimension::engineSpeed, units))
             : tr("A content sensor in the return gets enough at every content: nothing has to be frozen."));
    html +=
        QStringLiteral("<br><br>") +
        quiet(tr("What comes back, %1, by rpm and load:").arg(text(unitSymbol(Dimension::flowLMin, units)))) +
        QStringLiteral("<table>");
    QStringList head{QString()};
    const std::size_t step = std::max<std::size_t>(1, map.rpm.size() / 10),
                      stepLoad = std::max<std::size_t>(1, map.loadKpa.size() / 9);
    for (std::size_t x = 0; x < map.rpm.size(); x += step)
        head << decimals(map.rpm[x], 0);
    html += row(head, true);
    for (std::size_t y = 0; y < map.loadKpa.size(); y += stepLoad) {
        QStringList cells{quiet(shown(map.loadKpa[y], Dimension::pressure, units, false))};
        for (std::size_t x = 0; x < map.rpm.size(); x += step) {
            const std::size_t at = x * map.loadKpa.size() + y;
            const QString v = decimals(map.lMin[at], 1);
            cells << (!map.reached[at]                             ? quiet(QStringLiteral("·"))
                      : map.lMin[at] < job.supply.sensorReturnLMin ? trouble(v)
                                                                   : v);
        }
        html += row(cells);
    }
    return html + QStringLiteral("</table>") +
           quiet(tr("A log whose Δp lies more than 5 % under the commanded one is a supply at its end: fuel "
                    "added to the table hides "
                    "it."));
}

QString FlowView::boostHtml() const {
    const Job &job = m_session.job();
    const UnitChoice &units = m_session.units();
    QString html;
    if (job.boost.springKpa > 0)
        html += tr("Spring %1: %2 is twice it, %3 three times.")
                    .arg(working("boost.spring",
                                 big(shown(job.boost.springKpa, Dimension::pressureGauge, units))),
                         shown(2 * job.boost.springKpa, Dimension::pressureGauge, units),
                         shown(3 * job.boost.springKpa, Dimension::pressureGauge, units)) +
                QStringLiteral("<br>");
    std::vector<double> duty, boost;
    for (const BoostPoint &p : job.boost.points) {
        duty.push_back(p.duty);
        boost.push_back(p.boostKpa);
    }
    if (duty.size() < 2)
        return html + quiet(tr("Note duty and boost of a few pulls: the curve between them, and the duty for "
                               "the next step, follow."));
    const MonotoneFit fit(duty, boost);
    html += tr("The points lie within ± %1 of a curve that never falls:")
                .arg(shown(fit.sigma(), Dimension::pressureDifference, units)) +
            QStringLiteral("<table>") + row({tr("duty"), tr("boost"), tr("± twice")}, true);
    for (int percent = 0; percent <= 100; percent += 10) {
        if (percent / 100.0 < fit.x().front() - 1e-9 || percent / 100.0 > fit.x().back() + 1e-9) continue;
        html += row({QStringLiteral("%1 %").arg(percent),
                     shown(fit.at(percent / 100.0), Dimension::pressureGauge, units),
                     shown(2 * fit.sigma(), Dimension::pressureDifference, units)});
    }
    html += QStringLiteral("</table>");
    if (m_frontier.contents.empty()) return html;
    const auto at = static_cast<std::size_t>(
        std::lround(m_session.content() * static_cast<double>(m_frontier.contents.size() - 1)));
    const double target = m_frontier.targetKpa[at] - job.conditions.ambientKpa, needed = fit.reaches(target);
    return html + (std::isnan(needed)
                       ? tr("The target at %1, %2, lies beyond every point: go up one step of 10 % duty or 2 "
                            "to 3 psi a pull.")
                             .arg(shown(m_frontier.contents[at], Dimension::content, units),
                                  shown(target, Dimension::pressureGauge, units))
                       : tr("The target at %1, %2, takes about %3 % duty.")
                             .arg(shown(m_frontier.contents[at], Dimension::content, units),
                                  shown(target, Dimension::pressureGauge, units), decimals(needed * 100, 0)));
}

QString FlowView::sprayHtml() const {
    const Job &job = m_session.job();
    if (!job.aux.fitted)
        return tr("No spray is fitted. Methanol in a spray is fuel: state it, and what happens when it stops "
                  "is judged.");
    const UnitChoice &units = m_session.units();
    QString html =
        tr("Full spray %1.").arg(big(shown(sprayFlowCcMin(job.aux.spray), Dimension::volumeFlow, units)));
    if (const auto verdict = m_session.verdict())
        for (const Verdict::Row &r : verdict->rows)
            if (r.check->id == std::string_view("aux.loss")) {
                const WorstPlace &p = r.outcome.worst();
                html += QStringLiteral("<br>") +
                        tr("When it stops, with the trimmed tables: %1 at worst, at %2, %3.")
                            .arg(working("aux.loss", big(shown(p.value, Dimension::mixture, units))),
                                 shown(p.rpm, Dimension::engineSpeed, units),
                                 shown(p.loadKpa, Dimension::pressure, units));
                if (r.state == CheckState::failing)
                    html += QStringLiteral("<br>") +
                            trouble(tr(
                                "Not without a fail-safe: boost cut or spark taken back by a flow switch."));
            }
    if (job.aux.place == SprayPlace::beforeCompressor)
        html += QStringLiteral("<br>") + tr("Sprayed before a blower it evaporates there: a wetted sensor "
                                            "reads cold while the charge stays hot.");
    return html;
}

QString FlowView::pillsHtml() const {
    const Job &job = m_session.job();
    if (job.control != FuelControl::mechanical)
        return tr("Fuel is metered by a controller. Set that to mechanical injection to use this page.");
    const UnitChoice &units = m_session.units();
    const MixturePoint p = mixtureOfJob(job, job.mechanical.judgedRpm);
    QString html = tr("At %1: %2, AFR %3, %4 in the lines, %5 of the pump's flow reaches the engine.")
                       .arg(shown(p.rpm, Dimension::engineSpeed, units),
                            working("mechanical.lambda", big(shown(p.lambda, Dimension::mixture, units))),
                            decimals(p.afr, 2), shown(p.network.pressureKpa, Dimension::pressureGauge, units),
                            shown(p.network.share, Dimension::ratio, units));
    for (const PassFinding &f : readPasses(job))
        html += QStringLiteral("<br><b>%1</b> %2")
                    .arg(tr("Pass %1:").arg(f.pass + 1), text(f.words, units).toHtmlEscaped());
    html += QStringLiteral("<table>") +
            row({tr("main pill"), tr("bypass area"), tr("pressure"), tr("λ"), tr("leaner by"), tr("exhaust")},
                true);
    for (const PillStep &s : pillsOfJob(job)) {
        const bool in = s.diameterMm == job.mechanical.injection.main.diameterMm;
        const QString pill = shown(s.diameterMm, Dimension::length, units);
        html += row({in ? QStringLiteral("<b>%1</b>").arg(pill) : pill,
                     QStringLiteral("%1 mm²").arg(decimals(s.areaMm2, 2)),
                     shown(s.point.network.pressureKpa, Dimension::pressureGauge, units),
                     decimals(s.point.lambda, 3), QStringLiteral("%1 %").arg(decimals(s.leanerBy * 100, 1)),
                     in                   ? tr("now in")
                     : s.exhaustTrend > 0 ? tr("hotter")
                     : s.exhaustTrend < 0 ? tr("cooler")
                                          : tr("a spring holds it")});
    }
    html += QStringLiteral("</table>") + quiet(tr("λ over speed:")) + QStringLiteral("<table>") +
            row({tr("rpm"), tr("λ"), tr("AFR"), tr("pressure")}, true);
    for (const MixturePoint &x : mixtureOverSpeed(job, 7))
        html += row({decimals(x.rpm, 0), decimals(x.lambda, 3), decimals(x.afr, 2),
                     shown(x.network.pressureKpa, Dimension::pressureGauge, units)});
    html += QStringLiteral("</table>");
    return html + QStringLiteral("<br>") +
           quiet(tr("Methanol is poisonous by swallowing, breath and skin, and its flame is hard to see in "
                    "daylight. Oil that took methanol is "
                    "changed."));
}

bool FlowView::showInput(const QString &link) {
    for (FieldForm *form : m_forms)
        if (form->editor(link) && !link.startsWith(QLatin1String("injectors."))) { // those stand in Job
            for (QWidget *page : m_pages->pages())
                if (page->isAncestorOf(form)) m_pages->showPage(page);
            return form->showInput(link);
        }
    for (const List &list : m_lists)
        if (text(list.path) == link) {
            m_pages->showPage(list.page);
            if (list.tabs) list.tabs->setCurrentWidget(list.table);
            return true;
        }
    return false;
}

void FlowView::showPage(const char *page) {
    m_pages->showPage(findChild<QWidget *>(QLatin1String(page)));
    refresh();
}

QString FlowView::wordsOf(const char *page) const {
    const QWidget *of = findChild<QWidget *>(QLatin1String(page));
    return of ? of->findChild<QTextBrowser *>()->toPlainText() : QString();
}

void FlowView::showEvent(QShowEvent *event) {
    View::showEvent(event);
    refresh();
}

void FlowView::changeEvent(QEvent *event) {
    View::changeEvent(event);
    if (event->type() != QEvent::PaletteChange) return;
    m_plot->restyle();
    refreshWords();
}

const ViewDefinition &flowView() {
    static const ViewDefinition definition{
        "flow", QT_TRANSLATE_NOOP("view", "Flow"), ":/icons/flow.svg", 3,
        [](Session &s, QWidget *parent) -> View * { return new FlowView(s, parent); }};
    return definition;
}

} // namespace wheelwright
