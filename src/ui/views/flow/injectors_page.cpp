// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/limits.h"
#include "core/explain/explain_flow.h"
#include "core/study/engine_map.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/views/flow/flow_page.h"
#include "ui/views/flow/injector_change_dialog.h"
#include "ui/widgets/shaded_map.h"

#include <QPushButton>
#include <QVBoxLayout>

namespace wheelwright {
namespace {

class InjectorsPage : public FlowPage {
  public:
    InjectorsPage(Session &session, QWidget *parent);

  protected:
    void refresh() override;

  private:
    void drawMap();
    QString assignmentHtml();

    ShadedMap *m_map;
    QPushButton *m_change;
};

InjectorsPage::InjectorsPage(Session &session, QWidget *parent)
    : FlowPage(session, "injectors", tr("Injectors"), {"injectors."}, parent),
      m_map(new ShadedMap(session, tr("Injector duty over rpm and load"), "flow", this)),
      m_change(new QPushButton(tr("Change injectors…"), this)) {
    m_change->setToolTip(
        tr("Other injectors: what happens to duty, pulses and tables, then one step of undo"));
    cardLayout()->addWidget(m_change, 0, Qt::AlignLeft);
    connect(m_change, &QPushButton::clicked, this, [this] {
        InjectorChangeDialog dialog(this->session(), this);
        dialog.exec();
    });
    addTab(m_map, tr("Duty map"));
    addList("injectors.dead_times", tr("Dead times"));
    addList("injectors.measured", tr("Measured set"));
    addList("engine.cylinder_needs", tr("Cylinders"));
    connect(m_map, &ShadedMap::chosen, this, [this](std::size_t at) {
        const ShadedCells &c = m_map->cells();
        this->session().explain(explainDuty(this->session().study(), {c.content, c.rpm[at / c.loadKpa.size()],
                                                                      c.loadKpa[at % c.loadKpa.size()]}));
    });
    followContent();
}

void InjectorsPage::drawMap() {
    const Job &job = session().job();
    const double caution = limitOf(job, "flow.duty.caution");
    const EngineMap map = dutyMap(session().study(), session().content());
    ShadedCells cells{map.rpm, map.loadKpa,      map.value, map.reached,
                      {},      Dimension::ratio, 0,         session().content()};
    for (const double duty : map.value)
        cells.flagged.push_back(duty > caution);
    m_map->show(std::move(cells));
}

QString InjectorsPage::assignmentHtml() {
    const Job &job = session().job();
    if (job.measuredInjectors.empty() || job.measuredInjectors.size() != job.cylinderNeeds.size())
        return QStringLiteral("<br>") +
               quietHtml(tr(
                   "Give as many measured flows as cylinders, and the best place for each is worked out."));
    std::vector<double> flows, needs;
    for (std::size_t i = 0; i < job.measuredInjectors.size(); ++i) {
        flows.push_back(job.measuredInjectors[i].flowCcMin);
        needs.push_back(job.cylinderNeeds[i].need);
    }
    const InjectorAssignment a = assignInjectors(flows, needs);
    QString html = QStringLiteral("<br><b>%1</b> ").arg(tr("Which injector where")) +
                   tr("λ spread %1 %; as listed %2 %, by chance %3 %.")
                       .arg(decimals(a.spread * 100, 2), decimals(a.asListedSpread * 100, 2),
                            decimals(a.randomSpread * 100, 2)) +
                   QStringLiteral("<table>") +
                   rowHtml({tr("cylinder"), tr("injector"), tr("flow"), tr("λ against the mean")}, true);
    for (std::size_t c = 0; c < a.injectorOf.size(); ++c)
        html +=
            rowHtml({text(job.cylinderNeeds[c].label).toHtmlEscaped(),
                     working([this, a, c] { return explainAssignment(session().job(), a, c); },
                             QStringLiteral("<b>%1</b>")
                                 .arg(text(job.measuredInjectors[a.injectorOf[c]].label).toHtmlEscaped())),
                     shown(flows[a.injectorOf[c]], Dimension::volumeFlow, session().units()),
                     QStringLiteral("%1 %").arg(decimals((a.lambdaRatio[c] - 1) * 100, 1))});
    return html + QStringLiteral("</table>");
}

void InjectorsPage::refresh() {
    const bool controller = session().job().control == FuelControl::controller;
    m_map->setVisible(controller);
    m_change->setEnabled(controller && !session().readOnly());
    if (!controller)
        return say(
            tr("Fuel is metered mechanically: there are no injectors to judge. Look at <b>Pills</b>."));
    drawMap();
    QString html;
    for (const char *check : {"flow.duty", "flow.min_pulse"}) {
        const Verdict::Row *r = row(check);
        if (!r) continue;
        const WorstPlace &worst = placeNow(*r);
        html += QStringLiteral("%1 %2 %3<br>")
                    .arg(text(r->check->title),
                         working(*r, bigHtml(shown(worst.value, r->check->dimension, session().units()))),
                         tr("at worst, at %1: %2, %3")
                             .arg(shown(worst.content, Dimension::content, session().units()),
                                  shown(worst.rpm, Dimension::engineSpeed, session().units()),
                                  shown(worst.loadKpa, Dimension::pressure, session().units())));
    }
    say(html + assignmentHtml());
}

} // namespace

FlowPage *makeInjectorsPage(Session &session, QWidget *parent) {
    return new InjectorsPage(session, parent);
}

} // namespace wheelwright
