// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/explain/explain_flow.h"
#include "core/study/return_flow.h"
#include "session/session.h"
#include "ui/views/flow/flow_page.h"
#include "ui/widgets/shaded_map.h"

namespace wheelwright {
namespace {

class PumpsPage : public FlowPage {
  public:
    PumpsPage(Session &session, QWidget *parent)
        : FlowPage(session, "pumps", {"pump", "filter", "return", "content_sensor", "rail"}, parent),
          m_map(new ShadedMap(session, FlowPage::tr("What comes back over rpm and load"), "flow", this)) {
        addTab(m_map, FlowPage::tr("What comes back"));
        addList("supply.pump_points", FlowPage::tr("Data of the pumps"));
        addList("supply.pumps", FlowPage::tr("Fitted"));
        connect(m_map, &ShadedMap::chosen, this, [this](std::size_t at) {
            const ShadedCells &c = m_map->cells();
            this->session().explain(explainReturn(
                this->session().job(),
                {c.content, c.rpm[at / c.loadKpa.size()], c.loadKpa[at % c.loadKpa.size()]}, c.value[at]));
        });
        followContent([this] {
            if (m_known) speak();
        });
    }

  protected:
    void refresh() override {
        m_known = returnKnown(session().job());
        m_map->setVisible(m_known);
        if (!m_known) return say(pumpsReport(look()));
        m_line = freezeLine(session().study()); // over all contents: it does not move with the one looked at
        speak();
    }

  private:
    void speak();

    ShadedMap *m_map;
    bool m_known = false;
    FreezeLine m_line;
};

void PumpsPage::speak() {
    const double content = session().content();
    const EngineMap map = returnFlow(session().study(), content);
    ShadedCells cells{map.rpm, map.loadKpa, map.value, map.reached, {}, Dimension::flowLMin, 1, content};
    for (const double back : map.value)
        cells.flagged.push_back(back < session().job().supply.sensorReturnLMin);
    m_map->show(std::move(cells));
    say(pumpsReport(look(), map, m_line));
}

} // namespace

FlowPage *makePumpsPage(Session &session, QWidget *parent) {
    return new PumpsPage(session, parent);
}

} // namespace wheelwright
