// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/limits.h"
#include "core/explain/explain_flow.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/views/flow/flow_page.h"
#include "ui/widgets/chart_plot.h"

#include <QTextBrowser>

namespace wheelwright {
namespace {

class PillsPage : public FlowPage {
  public:
    PillsPage(Session &session, QWidget *parent)
        : FlowPage(session, "pills", tr("Mechanical injection"), {"engine.fuel_control", "mechanical."},
                   parent),
          m_lambda(new ChartPlot(session, tr("λ over engine speed"), "flow", this)),
          m_pressure(new ChartPlot(session, tr("Pressure over engine speed"), "flow", this)),
          m_share(new ChartPlot(session, tr("Where the fuel goes, over engine speed"), "flow", this)),
          m_list(new QTextBrowser(this)) {
        m_list->setFrameShape(QFrame::NoFrame);
        m_list->setAccessibleName(tr("Pill chart by total area"));
        addTab(m_lambda, tr("λ"));
        addTab(m_pressure, tr("Pressure"));
        addTab(m_share, tr("Flows"));
        addTab(m_list, tr("Pill chart"));
        addList("mechanical.passes", tr("Passes"));
    }

  protected:
    void refresh() override;

  private:
    void draw();
    void drawList();
    QString pillRows();
    QString weatherHtml();

    ChartPlot *m_lambda, *m_pressure, *m_share;
    QTextBrowser *m_list;
};

void PillsPage::draw() {
    const Job &job = session().job();
    const QColor hue = theme().content(1);
    ChartSeries lambda{tr("λ"), {}, {}, hue, Qt::SolidLine, 3},
        pressure{tr("in the lines"), {}, {}, hue, Qt::SolidLine, 3},
        engine{tr("engine"), {}, {}, hue, Qt::SolidLine, 3},
        main{tr("main pill"), {}, {}, theme().ink, Qt::DashLine},
        high{tr("high-speed"), {}, {}, theme().ink, Qt::DotLine},
        port{tr("port"), {}, {}, theme().ink, Qt::DashDotLine};
    for (const MixturePoint &p : mixtureOverSpeed(job)) {
        for (ChartSeries *s : {&lambda, &pressure, &engine, &main, &high, &port})
            s->x.push_back(p.rpm);
        lambda.y.push_back(p.lambda);
        pressure.y.push_back(p.network.pressureKpa);
        engine.y.push_back(p.network.engineLMin);
        main.y.push_back(p.network.mainLMin);
        high.y.push_back(p.network.highSpeedLMin);
        port.y.push_back(p.network.portLMin);
    }
    const double rich = limitOf(job, "mechanical.lambda.rich"), lean = limitOf(job, "mechanical.lambda.lean");
    m_lambda->show({tr("engine speed"),
                    tr("mixture"),
                    Dimension::engineSpeed,
                    Dimension::mixture,
                    1,
                    {lambda},
                    {{tr("lean limit"), lean}, {tr("rich limit"), rich}},
                    rich,
                    lean});
    Chart lines{tr("engine speed"),
                tr("pressure"),
                Dimension::engineSpeed,
                Dimension::pressureGauge,
                1,
                {pressure},
                {}};
    if (job.mechanical.injection.highSpeed.opensKpa > 0)
        lines.levels.push_back({tr("high-speed pill opens"), job.mechanical.injection.highSpeed.opensKpa});
    m_pressure->show(std::move(lines));
    std::vector<ChartSeries> flows{engine, main};
    if (job.mechanical.injection.highSpeed.diameterMm > 0) flows.push_back(high);
    if (job.mechanical.injection.port.diameterMm > 0) flows.push_back(port);
    m_share->show(
        {tr("engine speed"), tr("flow"), Dimension::engineSpeed, Dimension::flowLMin, 1, flows, {}});
}

void PillsPage::drawList() {
    const UnitChoice &units = session().units();
    QString html =
        quietHtml(tr("By the area of both pills, at %1:")
                      .arg(shown(session().job().mechanical.judgedRpm, Dimension::engineSpeed, units))) +
        QStringLiteral("<table>") +
        rowHtml({tr("area"), tr("main"), tr("high-speed"), tr("λ"), tr("against now"), tr("pressure")}, true);
    for (const PillCombination &c : pillChartOfJob(session().job())) {
        const bool in = std::abs(c.leanerBy) < 1e-9;
        const QString area = QStringLiteral("%1 mm²").arg(decimals(c.areaMm2, 2));
        html += rowHtml(
            {in ? QStringLiteral("<b>%1</b>").arg(area) : area, shown(c.mainMm, Dimension::length, units),
             c.highSpeedMm > 0 ? shown(c.highSpeedMm, Dimension::length, units) : tr("blanked off"),
             decimals(c.point.lambda, 3),
             in ? tr("now in")
                : QStringLiteral("%1 %").arg((c.leanerBy > 0 ? QStringLiteral("+") : QString()) +
                                             decimals(c.leanerBy * 100, 1)),
             shown(c.point.network.pressureKpa, Dimension::pressureGauge, units)});
    }
    m_list->setHtml(html + QStringLiteral("</table>"));
}

QString PillsPage::pillRows() {
    const Job &job = session().job();
    const UnitChoice &units = session().units();
    QString html = QStringLiteral("<table>") + rowHtml({tr("main pill"), tr("bypass area"), tr("pressure"),
                                                        tr("λ"), tr("leaner by"), tr("exhaust")},
                                                       true);
    for (const PillStep &s : pillsOfJob(job)) {
        const bool in = s.diameterMm == job.mechanical.injection.main.diameterMm;
        const QString pill = shown(s.diameterMm, Dimension::length, units);
        html += rowHtml({in ? QStringLiteral("<b>%1</b>").arg(pill) : pill,
                         QStringLiteral("%1 mm²").arg(decimals(s.areaMm2, 2)),
                         shown(s.point.network.pressureKpa, Dimension::pressureGauge, units),
                         working(
                             [this, s] {
                                 return explainPill(session().job(), s.diameterMm, s.areaMm2, s.point,
                                                    s.leanerBy);
                             },
                             decimals(s.point.lambda, 3)),
                         QStringLiteral("%1 %").arg(decimals(s.leanerBy * 100, 1)),
                         in                   ? tr("now in")
                         : s.exhaustTrend > 0 ? tr("hotter")
                         : s.exhaustTrend < 0 ? tr("cooler")
                                              : tr("a spring holds it")});
    }
    return html + QStringLiteral("</table>");
}

QString PillsPage::weatherHtml() {
    const WeatherAdvice a = adviseForWeather(session().job());
    const UnitChoice &units = session().units();
    const double ratio = a.densityNow / a.densityThen;
    constexpr double same = 0.0005;
    if (std::abs(ratio - 1) < same) return {};
    const auto explain = [this, a] { return explainWeather(session().job(), a); };
    return QStringLiteral("<br>") +
           (a.pillMm > 0
                ? tr("Today's air is %1 of that day's: for the same λ a pill of %2.")
                      .arg(
                          shown(ratio, Dimension::ratio, units),
                          working(explain,
                                  QStringLiteral("<b>%1</b>").arg(shown(a.pillMm, Dimension::length, units))))
                : tr("Today's air is %1 of that day's: no pill gives that much, the pump is too small.")
                      .arg(working(explain, shown(ratio, Dimension::ratio, units))));
}

void PillsPage::refresh() {
    const Job &job = session().job();
    const bool mechanical = job.control == FuelControl::mechanical;
    for (QWidget *w : std::initializer_list<QWidget *>{m_lambda, m_pressure, m_share, m_list})
        w->setVisible(mechanical);
    if (!mechanical)
        return say(tr("Fuel is metered by a controller. Set that to mechanical injection to use this page."));
    const UnitChoice &units = session().units();
    draw();
    drawList();
    const MixturePoint p = mixtureOfJob(job, job.mechanical.judgedRpm);
    const QString now = bigHtml(shown(p.lambda, Dimension::mixture, units));
    const Verdict::Row *r = row("mechanical.lambda");
    QString html = tr("At %1: %2, AFR %3, %4 in the lines, %5 of the pump's flow reaches the engine.")
                       .arg(shown(p.rpm, Dimension::engineSpeed, units), r ? working(*r, now) : now,
                            decimals(p.afr, 2), shown(p.network.pressureKpa, Dimension::pressureGauge, units),
                            shown(p.network.share, Dimension::ratio, units));
    html += weatherHtml();
    for (const PassFinding &f : readPasses(job))
        html += QStringLiteral("<br>") +
                working([this, f] { return explainPass(session().job(), f); },
                        QStringLiteral("<b>%1</b> %2")
                            .arg(tr("Pass %1:").arg(f.pass + 1), text(f.words, units).toHtmlEscaped()));
    say(html + pillRows() +
        quietHtml(tr("Methanol is poisonous by swallowing, breath and skin, and its flame is hard to see in "
                     "daylight. Oil that took methanol is changed.")));
}

} // namespace

FlowPage *makePillsPage(Session &session, QWidget *parent) {
    return new PillsPage(session, parent);
}

} // namespace wheelwright
