// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/limits.h"
#include "core/explain/explain_flow.h"
#include "core/study/return_flow.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/views/flow/flow_page.h"
#include "ui/widgets/shaded_map.h"

namespace wheelwright {
namespace {

class PumpsPage : public FlowPage {
  public:
    PumpsPage(Session &session, QWidget *parent)
        : FlowPage(session, "pumps", tr("Pumps and return"), {"supply."}, parent),
          m_map(new ShadedMap(session, tr("What comes back over rpm and load"), "flow", this)) {
        addTab(m_map, tr("What comes back"));
        addList("supply.pump_points", tr("Data of the pumps"));
        addList("supply.pumps", tr("Fitted"));
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
        const Job &job = session().job();
        m_known = job.control == FuelControl::controller && !job.supply.pumps.empty();
        m_map->setVisible(m_known);
        if (!m_known)
            return say(
                job.control == FuelControl::mechanical
                    ? tr("Fuel is metered mechanically: what comes back is the pills' work. Look at "
                         "<b>Pills</b>.")
                    : tr("Enter the data of a pump (flow at some pressures and voltages), then which "
                         "pumps are fitted. The share that the engine takes and what comes back past a "
                         "sensor follow."));
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
    const Job &job = session().job();
    const UnitChoice &units = session().units();
    const double content = session().content();
    const EngineMap map = returnFlow(session().study(), content);
    ShadedCells cells{map.rpm, map.loadKpa, map.value, map.reached, {}, Dimension::flowLMin, 1, content};
    std::size_t least = map.value.size();
    for (std::size_t i = 0; i < map.value.size(); ++i) {
        cells.flagged.push_back(map.value[i] < job.supply.sensorReturnLMin);
        if (map.reached[i] && (least == map.value.size() || map.value[i] < map.value[least])) least = i;
    }
    m_map->show(std::move(cells));
    QString html;
    if (least < map.value.size()) {
        const double rpm = map.rpm[least / map.loadKpa.size()],
                     load = map.loadKpa[least % map.loadKpa.size()], back = map.value[least];
        html = tr("At %1 at least %2 comes back, at %3, %4.")
                   .arg(shown(content, Dimension::content, units),
                        working(
                            [this, content, rpm, load, back] {
                                return explainReturn(session().job(), {content, rpm, load}, back);
                            },
                            bigHtml(shown(back, Dimension::flowLMin, units))),
                        shown(rpm, Dimension::engineSpeed, units), shown(load, Dimension::pressure, units));
    }
    if (const Verdict::Row *r = row("flow.pump"))
        html += QStringLiteral("<br>") +
                tr("The engine takes %1 of what the pumps give at worst, its margin counted in.")
                    .arg(working(*r, bigHtml(shown(placeNow(*r).value, Dimension::ratio, units))));
    html +=
        QStringLiteral("<br>") +
        (m_line.needed
             ? tr("A content sensor in the return: freeze its reading above <b>%1</b> and <b>%2</b>.")
                   .arg(shown(m_line.loadKpa, Dimension::pressure, units),
                        shown(m_line.rpm, Dimension::engineSpeed, units))
             : tr("A content sensor in the return gets enough at every content: nothing has to be frozen."));
    if (job.supply.commandedKpa > 0 && job.supply.measuredKpa > 0) {
        const double sag = railSag(job.supply.commandedKpa, job.supply.measuredKpa);
        const QString number = working([this] { return explainSag(session().job()); },
                                       bigHtml(shown(sag, Dimension::ratio, units)));
        html += QStringLiteral("<br>") +
                tr("By the log the pressure across the injectors sags by %1.").arg(number);
        if (sag > limitOf(job, "flow.sag"))
            html +=
                QLatin1Char(' ') + troubleHtml(tr("The supply is at its end: do not add fuel in the table."));
    }
    say(html + QStringLiteral("<br><br>") +
        quietHtml(tr("A log whose Δp lies more than 5 % under the commanded one is a supply at its end: fuel "
                     "added to the table hides it.")));
}

} // namespace

FlowPage *makePumpsPage(Session &session, QWidget *parent) {
    return new PumpsPage(session, parent);
}

} // namespace wheelwright
