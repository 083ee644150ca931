// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/limits.h"
#include "core/explain/explain_flow.h"
#include "core/study/engine_map.h"
#include "session/session.h"
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

    ShadedMap *m_map;
    QPushButton *m_change;
};

InjectorsPage::InjectorsPage(Session &session, QWidget *parent)
    : FlowPage(session, "injectors", {"injectors", "rail"}, parent),
      m_map(new ShadedMap(session, FlowPage::tr("Injector duty over rpm and load"), "flow", this)),
      m_change(new QPushButton(FlowPage::tr("Change injectors…"), this)) {
    m_change->setToolTip(
        FlowPage::tr("Other injectors: what happens to duty, pulses and tables, then one step of undo"));
    cardLayout()->addWidget(m_change, 0, Qt::AlignLeft);
    connect(m_change, &QPushButton::clicked, this, [this] {
        InjectorChangeDialog dialog(this->session(), this);
        dialog.exec();
    });
    addTab(m_map, FlowPage::tr("Duty map"));
    addList("injectors.dead_times", FlowPage::tr("Dead times"));
    addList("injectors.measured", FlowPage::tr("Measured set"));
    addList("engine.cylinder_needs", FlowPage::tr("Cylinders"));
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

void InjectorsPage::refresh() {
    const bool controller = session().job().control == FuelControl::controller;
    m_map->setVisible(controller);
    m_change->setEnabled(controller && !session().readOnly());
    if (controller) drawMap();
    say(injectorsReport(look()));
}

} // namespace

FlowPage *makeInjectorsPage(Session &session, QWidget *parent) {
    return new InjectorsPage(session, parent);
}

} // namespace wheelwright
