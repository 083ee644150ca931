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
        : FlowPage(session, "boost", tr("Boost control"), {"boost."}, parent),
          m_chart(new ChartPlot(session, tr("Boost over solenoid duty"), "flow", this)) {
        addTab(m_chart, tr("Boost over duty"));
        addList("boost.points", tr("Solenoid duty and the boost that came of it"));
        followContent();
    }

  protected:
    void refresh() override;

  private:
    QString groupName(const BoostGroup &group) const;
    QString planHtml(const BoostGroup &group);
    void draw(const std::vector<BoostGroup> &groups, const BoostGroup *used, double targetKpa);

    ChartPlot *m_chart;
};

QString BoostPage::groupName(const BoostGroup &g) const {
    const QString content = shown(g.content, Dimension::content, session().units());
    return g.gear > 0 ? tr("gear %1, %2").arg(g.gear).arg(content) : content;
}

// Points by the hue of their content, and by shape of their gear.
void BoostPage::draw(const std::vector<BoostGroup> &groups, const BoostGroup *used, double targetKpa) {
    constexpr std::array marks{QCPScatterStyle::ssCircle, QCPScatterStyle::ssSquare,
                               QCPScatterStyle::ssDiamond, QCPScatterStyle::ssCross, QCPScatterStyle::ssPlus};
    Chart chart{tr("solenoid duty"), tr("boost"), Dimension::none, Dimension::pressureGauge, 100, {}, {}};
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
        chart.levels.push_back({tr("spring"), spring, Qt::DotLine});
        chart.levels.push_back({tr("twice the spring"), 2 * spring, Qt::DotLine});
    }
    if (targetKpa > 0) chart.levels.push_back({tr("target"), targetKpa, Qt::DashLine});
    m_chart->show(std::move(chart));
}

QString BoostPage::planHtml(const BoostGroup &group) {
    const UnitChoice &units = session().units();
    const BoostStepPlan plan = planBoostSteps(session().study(), group, session().content());
    QString html =
        QStringLiteral("<br>") +
        tr("By the pulls in %1, which lie within ± %2 of a curve that never falls, from %3 to the target %4:")
            .arg(groupName(group),
                 working([this, group] { return explainBoostFit(session().job(), group); },
                         QStringLiteral("<b>%1</b>")
                             .arg(shown(group.fit->sigma(), Dimension::pressureDifference, units))),
                 shown(plan.fromKpa, Dimension::pressureGauge, units),
                 shown(plan.targetKpa, Dimension::pressureGauge, units));
    if (!plan.steps.empty())
        html += QStringLiteral("<table>") +
                rowHtml({tr("pull"), tr("duty"), tr("boost"), tr("±"), tr("overboost cut"), QString()}, true);
    for (std::size_t i = 0; i < plan.steps.size(); ++i) {
        const BoostStep &s = plan.steps[i];
        html += rowHtml(
            {QString::number(i + 1), shown(s.duty, Dimension::ratio, units),
             working([this, group, s] { return explainBoostStep(session().job(), group, s); },
                     QStringLiteral("<b>%1</b>").arg(shown(s.boostKpa, Dimension::pressureGauge, units))),
             shown(2 * s.sigmaKpa, Dimension::pressureDifference, units),
             shown(s.cutKpa, Dimension::pressure, units), s.beyond ? tr("past every pull") : QString()});
    }
    if (!plan.steps.empty()) html += QStringLiteral("</table>");
    if (!plan.remark.text.empty()) html += QStringLiteral("<br>") + text(plan.remark, units).toHtmlEscaped();
    return html;
}

void BoostPage::refresh() {
    const Job &job = session().job();
    const UnitChoice &units = session().units();
    QString html;
    if (job.boost.springKpa > 0) {
        const QString spring = bigHtml(shown(job.boost.springKpa, Dimension::pressureGauge, units));
        const Verdict::Row *r = row("boost.spring");
        html += tr("Spring %1: %2 is twice it, %3 three times.")
                    .arg(r ? working(*r, spring) : spring,
                         shown(2 * job.boost.springKpa, Dimension::pressureGauge, units),
                         shown(3 * job.boost.springKpa, Dimension::pressureGauge, units));
    }
    const std::vector<BoostGroup> groups = boostGroups(job);
    const BoostGroup *group = boostGroupFor(groups, 0, session().content());
    const bool controller = job.control == FuelControl::controller;
    m_chart->setVisible(!groups.empty());
    if (!group) {
        html +=
            (html.isEmpty() ? QString() : QStringLiteral("<br>")) +
            quietHtml(tr("Note duty and boost of a few pulls: the curve between them, and the steps up to "
                         "the target with their cuts, follow."));
    } else if (controller) {
        html += planHtml(*group);
    }
    draw(groups, group,
         controller
             ? boostTargets(session().study(), {session().content()}).front() - job.conditions.ambientKpa
             : 0);
    say(html + QStringLiteral("<br>") +
        quietHtml(tr("One small step a pull, spark kept low where the engine has not been before, the cut "
                     "moved first. On the road it makes 1 to 2 psi more than on the dyno.")));
}

} // namespace

FlowPage *makeBoostPage(Session &session, QWidget *parent) {
    return new BoostPage(session, parent);
}

} // namespace wheelwright
