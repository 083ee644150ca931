// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/limits.h"
#include "core/explain/explain_flow.h"
#include "core/study/spray_map.h"
#include "session/session.h"
#include "ui/views/flow/flow_page.h"
#include "ui/widgets/shaded_map.h"

namespace wheelwright {
namespace {

class SprayPage : public FlowPage {
  public:
    SprayPage(Session &session, QWidget *parent)
        : FlowPage(session, "spray", {"spray"}, parent),
          m_trim(new ShadedMap(session, FlowPage::tr("Main fuel with the spray on, per cell"), "flow", this)),
          m_lost(new ShadedMap(session, FlowPage::tr("λ when the spray stops, per cell"), "flow", this)) {
        addTab(m_trim, FlowPage::tr("Trim per cell, %"));
        addTab(m_lost, FlowPage::tr("λ when it stops"));
        for (ShadedMap *map : {m_trim, m_lost})
            connect(map, &ShadedMap::chosen, this, [this](std::size_t at) {
                this->session().explain(
                    explainSprayCell(this->session().study(), this->session().content(), m_cells.at(at)));
            });
        followContent();
    }

  protected:
    void refresh() override;

  private:
    void draw();

    ShadedMap *m_trim, *m_lost;
    std::vector<SprayCell> m_cells;
};

void SprayPage::draw() {
    const Job &job = session().job();
    const double tolerance = limitOf(job, "aux.loss.tolerance");
    ShadedCells trim{{}, {}, {}, {}, {}, Dimension::ratio, 0, session().content()};
    for (const SprayCell &c : m_cells) {
        if (trim.rpm.empty() || trim.rpm.back() != c.rpm) trim.rpm.push_back(c.rpm);
        if (c.rpm == m_cells.front().rpm) trim.loadKpa.push_back(c.loadKpa);
        trim.value.push_back(c.trim);
        trim.reached.push_back(c.reached);
        trim.flagged.push_back(c.trim <= 0);
    }
    ShadedCells lost = trim;
    lost.dimension = Dimension::mixture;
    lost.decimals = 2;
    for (std::size_t i = 0; i < m_cells.size(); ++i) {
        const bool trimmed = job.aux.trimmed;
        lost.value[i] = trimmed ? std::min(m_cells[i].lambdaIfLost, 9.99) : m_cells[i].lambdaMeant;
        lost.flagged[i] = lost.value[i] > m_cells[i].lambdaMeant * (1 + tolerance);
    }
    m_trim->show(std::move(trim));
    m_lost->show(std::move(lost));
}

void SprayPage::refresh() {
    const bool shows = sprays(session().job());
    m_trim->setVisible(shows);
    m_lost->setVisible(shows);
    m_cells = shows ? sprayMap(session().study(), session().content()) : std::vector<SprayCell>{};
    if (shows) draw();
    say(sprayReport(look(), m_cells));
}

} // namespace

FlowPage *makeSprayPage(Session &session, QWidget *parent) {
    return new SprayPage(session, parent);
}

} // namespace wheelwright
