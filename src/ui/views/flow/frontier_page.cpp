#include "core/explain/explain_flow.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/views/flow/flow_page.h"
#include "ui/views/flow/frontier_plot.h"

#include <QVBoxLayout>

namespace wheelwright {
namespace {

class FrontierPage : public FlowPage {
  public:
    FrontierPage(Session &session, QWidget *parent)
        : FlowPage(session, "frontier", tr("Frontier"), {}, parent), m_plot(new FrontierPlot(session, this)) {
        cardLayout()->addWidget(m_plot, 1);
        cardLayout()->setStretch(0, 0);
        cardLayout()->itemAt(0)->widget()->setFixedHeight(150);
        // The words follow the content; the lines do not.
        connect(&session, &Session::contentChanged, this, [this] {
            if (isVisible()) speak();
        });
    }

  protected:
    void refresh() override {
        m_frontier =
            session().job().control == FuelControl::controller ? frontier(session().job()) : Frontier{};
        m_plot->setVisible(!m_frontier.contents.empty());
        m_plot->show(m_frontier);
        speak();
    }

  private:
    void speak();

    FrontierPlot *m_plot;
    Frontier m_frontier;
};

void FrontierPage::speak() {
    if (session().job().control == FuelControl::mechanical)
        return say(tr("Fuel is metered mechanically: there is no table to hold against the hardware. Look at "
                      "<b>Pills</b>."));
    const UnitChoice &units = session().units();
    QString html;
    for (std::size_t i = 0; i < m_frontier.sentences.size(); ++i) {
        QString sentence = text(m_frontier.sentences[i].words, units).toHtmlEscaped();
        if (i == 0) sentence = QStringLiteral("<span style='font-size:17px'><b>%1</b></span>").arg(sentence);
        const LimitingPart part = m_frontier.sentences[i].part;
        html += (i > 0 ? QStringLiteral("<br>") : QString()) +
                working([this, part] { return explainLimit(session().job(), part, session().content()); },
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
