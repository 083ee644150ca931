// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/explain/explain_flow.h"
#include "session/session.h"
#include "session/work.h"
#include "ui/text.h"
#include "ui/views/flow/flow_page.h"
#include "ui/views/flow/frontier_plot.h"
#include "ui/widgets/work_bar.h"

#include <QVBoxLayout>

namespace wheelwright {
namespace {

class FrontierPage : public FlowPage {
  public:
    FrontierPage(Session &session, QWidget *parent)
        : FlowPage(session, "frontier", tr("Frontier"), {}, parent), m_plot(new FrontierPlot(session, this)) {
        cardLayout()->addWidget(m_plot, 1);
        m_plot->hide(); // until there is something on it
        cardLayout()->setStretch(0, 0);
        cardLayout()->itemAt(0)->widget()->setFixedHeight(150);
        // Over the words, which have room to spare under them.
        auto *bar = new WorkBar(
            m_work, [this] { m_work.cancel(); }, cardLayout()->itemAt(0)->widget());
        bar->setGeometry(8, 114, 360, 30);
        connect(&m_work, &WorkSignals::finished, this, &FrontierPage::take);
        connect(&m_work, &WorkSignals::stopped, this, [this] {
            m_frontier = {}; // the last one is of another job
            m_plot->hide();
            say(quietHtml(tr("Stopped: not worked out.")));
        });
        connect(&session, &Session::jobReplaced, this, [this] {
            m_work.forget();
            m_frontier = {};
        });
        // The words follow the content; the lines do not.
        followContent([this] { speak(); });
    }

  protected:
    void refresh() override {
        if (session().job().control != FuelControl::controller) {
            m_work.forget();
            return draw({});
        }
        if (m_known == session().jobVersion()) return draw(m_frontier); // units, or the verdict
        m_work.start(session().jobVersion(), [study = session().sharedStudy()](const WorkControl &control) {
            return frontier(*study, frontierPoints, control.token());
        });
        if (m_frontier.contents.empty()) say(quietHtml(tr("Working it out…")));
    }

  private:
    void take();
    void draw(Frontier frontier);
    void speak();

    FrontierPlot *m_plot;
    Work<Frontier> m_work;
    Frontier m_frontier;
    std::uint64_t m_known = 0; ///< version of the job that the frontier is of
};

void FrontierPage::take() {
    if (!m_work.result()) return say(troubleHtml(m_work.error().toHtmlEscaped()));
    m_known = m_work.version();
    draw(*m_work.result());
}

void FrontierPage::draw(Frontier frontier) {
    m_frontier = std::move(frontier);
    m_plot->setVisible(!m_frontier.contents.empty());
    m_plot->show(m_frontier);
    speak();
}

void FrontierPage::speak() {
    if (session().job().control == FuelControl::mechanical)
        return say(tr("Fuel is metered mechanically: there is no table to hold against the hardware. Look at "
                      "<b>Pills</b>."));
    if (m_frontier.contents.empty()) return; // it will be said when it is there
    if (m_frontier.contents.empty()) return; // it will be said when it is there
    const UnitChoice &units = session().units();
    QString html;
    for (std::size_t i = 0; i < m_frontier.sentences.size(); ++i) {
        QString sentence = text(m_frontier.sentences[i].words, units).toHtmlEscaped();
        if (i == 0) sentence = QStringLiteral("<span style='font-size:17px'><b>%1</b></span>").arg(sentence);
        const LimitingPart part = m_frontier.sentences[i].part;
        html += (i > 0 ? QStringLiteral("<br>") : QString()) +
                working([this, part] { return explainLimit(session().study(), part, session().content()); },
                        sentence);
    }
    const std::size_t at = m_frontier.nearest(session().content());
    if (at < m_frontier.powerKw.size())
        html +=
            QStringLiteral("<br>") +
            working(
                [this, at] { return explainPower(session().job(), m_frontier, at); },
                quietHtml(tr("Fuel for %1 to %2 at %3, by the usual specific consumption (common practice).")
                              .arg(shown(m_frontier.powerKw[at].first, Dimension::power, units),
                                   shown(m_frontier.powerKw[at].second, Dimension::power, units),
                                   shown(m_frontier.contents[at], Dimension::content, units))));
    say(html);
}

} // namespace

FlowPage *makeFrontierPage(Session &session, QWidget *parent) {
    return new FrontierPage(session, parent);
}

} // namespace wheelwright
