// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/limits.h"
#include "core/study/mechanical_lambda.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/views/flow/flow_page.h"
#include "ui/widgets/chart_plot.h"
#include "ui/widgets/report_view.h"

namespace wheelwright {
namespace {

class PillsPage : public FlowPage {
  public:
    PillsPage(Session &session, QWidget *parent)
        : FlowPage(session, "pills", {"belt_pump", "pills", "nozzles", "weather", "controller"}, parent),
          m_lambda(new ChartPlot(session, FlowPage::tr("λ over engine speed"), "flow", this)),
          m_pressure(new ChartPlot(session, FlowPage::tr("Pressure over engine speed"), "flow", this)),
          m_share(
              new ChartPlot(session, FlowPage::tr("Where the fuel goes, over engine speed"), "flow", this)),
          m_list(new ReportView(FlowPage::tr("Pill chart by total area"), ReportView::Fit::fills, this)) {
        addTab(m_lambda, FlowPage::tr("λ"));
        addTab(m_pressure, FlowPage::tr("Pressure"));
        addTab(m_share, FlowPage::tr("Flows"));
        addTab(m_list, FlowPage::tr("Pill chart"));
        addList("mechanical.passes", FlowPage::tr("Passes"));
    }

  protected:
    void refresh() override;

  private:
    void draw();

    ChartPlot *m_lambda, *m_pressure, *m_share;
    ReportView *m_list;
};

void PillsPage::draw() {
    const Job &job = session().job();
    const QColor hue = theme().content(1);
    ChartSeries lambda{FlowPage::tr("λ"), {}, {}, hue, Qt::SolidLine, 3},
        pressure{FlowPage::tr("in the lines"), {}, {}, hue, Qt::SolidLine, 3},
        engine{FlowPage::tr("engine"), {}, {}, hue, Qt::SolidLine, 3},
        main{FlowPage::tr("main pill"), {}, {}, theme().ink, Qt::DashLine},
        high{FlowPage::tr("high-speed"), {}, {}, theme().ink, Qt::DotLine},
        port{FlowPage::tr("port"), {}, {}, theme().ink, Qt::DashDotLine};
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
    m_lambda->show({FlowPage::tr("engine speed"),
                    FlowPage::tr("mixture"),
                    Dimension::engineSpeed,
                    Dimension::mixture,
                    1,
                    {lambda},
                    {{FlowPage::tr("lean limit"), lean}, {FlowPage::tr("rich limit"), rich}},
                    rich,
                    lean});
    Chart lines{FlowPage::tr("engine speed"),
                FlowPage::tr("pressure"),
                Dimension::engineSpeed,
                Dimension::pressureGauge,
                1,
                {pressure},
                {}};
    if (job.mechanical.injection.highSpeed.opensKpa > 0)
        lines.levels.push_back(
            {FlowPage::tr("high-speed pill opens"), job.mechanical.injection.highSpeed.opensKpa});
    m_pressure->show(std::move(lines));
    std::vector<ChartSeries> flows{engine, main};
    if (job.mechanical.injection.highSpeed.diameterMm > 0) flows.push_back(high);
    if (job.mechanical.injection.port.diameterMm > 0) flows.push_back(port);
    m_share->show({FlowPage::tr("engine speed"),
                   FlowPage::tr("flow"),
                   Dimension::engineSpeed,
                   Dimension::flowLMin,
                   1,
                   flows,
                   {}});
}

void PillsPage::refresh() {
    const bool mechanical = session().job().control == FuelControl::mechanical;
    for (QWidget *w : std::initializer_list<QWidget *>{m_lambda, m_pressure, m_share, m_list})
        showTab(w, mechanical);
    if (mechanical) {
        draw();
        m_list->show(pillChartReport(session().job()), session().units());
    }
    say(pillsReport(look()));
}

} // namespace

FlowPage *makePillsPage(Session &session, QWidget *parent) {
    return new PillsPage(session, parent);
}

} // namespace wheelwright
