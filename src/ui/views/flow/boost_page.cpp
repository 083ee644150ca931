// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/explain/explain_flow.h"
#include "core/study/boost_plan.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/views/flow/flow_page.h"
#include "ui/widgets/chart_plot.h"

#include <array>

namespace wheelwright {
namespace {

class BoostPage : public FlowPage {
  public:
    BoostPage(Session &session, QWidget *parent)
        : FlowPage(session, "boost", {"wastegate", "manifold"}, parent),
          m_chart(new ChartPlot(session, FlowPage::tr("Boost over solenoid duty"), "flow", this)) {
        addTab(m_chart, FlowPage::tr("Boost over duty"));
        addList("boost.points", FlowPage::tr("Solenoid duty and the boost that came of it"));
        followContent();
    }

  protected:
    void refresh() override;

  private:
    QString groupName(const BoostGroup &group) const;
    void draw(const std::vector<BoostGroup> &groups, const BoostGroup *used, double targetKpa);

    ChartPlot *m_chart;
};

QString BoostPage::groupName(const BoostGroup &g) const {
    const QString content = shown(g.content, Dimension::content, session().units());
    return g.gear > 0 ? FlowPage::tr("gear %1, %2").arg(g.gear).arg(content) : content;
}

// Points by the hue of their content, and by shape of their gear.
void BoostPage::draw(const std::vector<BoostGroup> &groups, const BoostGroup *used, double targetKpa) {
    constexpr std::array marks{QCPScatterStyle::ssCircle, QCPScatterStyle::ssSquare,
                               QCPScatterStyle::ssDiamond, QCPScatterStyle::ssCross, QCPScatterStyle::ssPlus};
    Chart chart{FlowPage::tr("solenoid duty"),
                FlowPage::tr("boost"),
                Dimension::none,
                Dimension::pressureGauge,
                100,
                {},
                {}};
    for (const BoostGroup &g : groups) {
        const QColor hue = theme().content(g.content);
        ChartSeries points{{}, {}, {}, hue, Qt::NoPen};
        points.mark = marks[static_cast<std::size_t>(g.gear) % marks.size()];
        for (const BoostPoint &p : g.points) {
            points.x.push_back(p.duty);
            points.y.push_back(p.boostKpa);
        }
        chart.series.push_back(points);
        if (!g.fit) continue;
        ChartSeries line{groupName(g), {}, {}, hue};
        line.width = &g == used ? 3 : 1.5;
        constexpr int steps = 60;
        for (int i = 0; i <= steps; ++i) {
            const double duty = g.fit->x().front() + (g.fit->x().back() - g.fit->x().front()) * i / steps;
            line.x.push_back(duty);
            line.y.push_back(g.fit->at(duty));
            if (&g == used) line.band.push_back(2 * g.fit->sigma());
        }
        chart.series.push_back(line);
    }
    const double spring = session().job().boost.springKpa;
    if (spring > 0) {
        chart.levels.push_back({FlowPage::tr("spring"), spring, Qt::DotLine});
        chart.levels.push_back({FlowPage::tr("twice the spring"), 2 * spring, Qt::DotLine});
    }
    if (targetKpa > 0) chart.levels.push_back({FlowPage::tr("target"), targetKpa, Qt::DashLine});
    m_chart->show(std::move(chart));
}

void BoostPage::refresh() {
    const Job &job = session().job();
    const std::vector<BoostGroup> groups = boostGroups(job);
    m_chart->setVisible(!groups.empty());
    draw(groups, boostGroupFor(groups, 0, session().content()),
         job.control == FuelControl::controller
             ? boostTargets(session().study(), {session().content()}).front() - job.conditions.ambientKpa
             : 0);
    say(boostReport(look()));
}

} // namespace

FlowPage *makeBoostPage(Session &session, QWidget *parent) {
    return new BoostPage(session, parent);
}

} // namespace wheelwright
