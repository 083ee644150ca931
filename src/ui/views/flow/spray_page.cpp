// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/limits.h"
#include "core/explain/explain_flow.h"
#include "core/study/spray_map.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/views/flow/flow_page.h"
#include "ui/widgets/shaded_map.h"

#include <cmath>

namespace wheelwright {
namespace {

class SprayPage : public FlowPage {
  public:
    SprayPage(Session &session, QWidget *parent)
        : FlowPage(session, "spray", tr("Water and methanol spray"), {"aux."}, parent),
          m_trim(new ShadedMap(session, tr("Main fuel with the spray on, per cell"), "flow", this)),
          m_lost(new ShadedMap(session, tr("λ when the spray stops, per cell"), "flow", this)) {
        addTab(m_trim, tr("Trim per cell, %"));
        addTab(m_lost, tr("λ when it stops"));
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
    QString lossHtml();

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

QString SprayPage::lossHtml() {
    const UnitChoice &units = session().units();
    const Verdict::Row *r = row("aux.loss");
    if (!r) return {};
    const WorstPlace &p = placeNow(*r);
    QString html =
        QStringLiteral("<br>") + tr("When it stops, with the trimmed tables: %1 at worst, at %2, %3.")
                                     .arg(working(*r, bigHtml(shown(p.value, Dimension::mixture, units))),
                                          shown(p.rpm, Dimension::engineSpeed, units),
                                          shown(p.loadKpa, Dimension::pressure, units));
    const SprayCell *nearest = nullptr;
    const auto distance = [&](const SprayCell &c) {
        return std::abs(c.rpm - p.rpm) / 1000 + std::abs(c.loadKpa - p.loadKpa) / 20;
    };
    for (const SprayCell &c : m_cells)
        if (!nearest || distance(c) < distance(*nearest)) nearest = &c;
    const SprayCell cell = *nearest;
    const double leaning = sparkOnSpray(session().study(), session().content(), cell);
    const QString spark =
        working([this, cell] { return explainSprayCell(session().study(), session().content(), cell); },
                QStringLiteral("<b>%1</b>").arg(shown(cell.sparkDeg, Dimension::sparkAngle, units)));
    const QString alcohol = shown(cell.alcoholWith, Dimension::content, units);
    constexpr double some = 0.05;
    html +=
        QStringLiteral("<br>") +
        (leaning < some
             ? tr("The spark stays at %1 there. The spray makes it a fuel of %2 alcohol; the spark tables "
                  "hold "
                  "nothing for that, and what the fuel alone stands is not known here.")
                   .arg(spark, alcohol)
             : tr("The spark stays at %1 there. The spray makes it a fuel of %2 alcohol; for that the spark "
                  "tables hold %3 more than for the fuel alone, which is the least to take back when it "
                  "stops.")
                   .arg(spark, alcohol, shown(leaning, Dimension::sparkAngle, units)));
    if (r->state == CheckState::failing)
        html += QStringLiteral("<br>") +
                troubleHtml(tr("Not without a fail-safe: boost cut or spark taken back by a flow switch."));
    return html;
}

void SprayPage::refresh() {
    const Job &job = session().job();
    const bool shows = job.aux.fitted && job.control == FuelControl::controller;
    m_trim->setVisible(shows);
    m_lost->setVisible(shows);
    if (!shows)
        return say(
            tr("No spray is fitted. Methanol in a spray is fuel: state it, and what happens when it stops "
               "is judged."));
    m_cells = sprayMap(session().study(), session().content());
    draw();
    QString html =
        tr("Full spray %1, from %2, all of it from %3.")
            .arg(bigHtml(shown(sprayFlowCcMin(job.aux.spray), Dimension::volumeFlow, session().units())),
                 shown(job.aux.spray.startKpa, Dimension::pressure, session().units()),
                 shown(job.aux.spray.fullKpa, Dimension::pressure, session().units()));
    html += lossHtml();
    if (job.aux.place == SprayPlace::beforeCompressor)
        html += QStringLiteral("<br>") + tr("Sprayed before a blower it evaporates there: a wetted sensor "
                                            "reads cold while the charge stays hot.");
    say(html + QStringLiteral("<br>") +
        quietHtml(tr("Methanol is poisonous by swallowing, breath and skin, and its flame is hard to see.")));
}

} // namespace

FlowPage *makeSprayPage(Session &session, QWidget *parent) {
    return new SprayPage(session, parent);
}

} // namespace wheelwright
