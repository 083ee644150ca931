// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/session.h"
#include "session/work.h"
#include "ui/views/flow/flow_page.h"
#include "ui/views/flow/frontier_plot.h"
#include "ui/widgets/work_bar.h"

#include <QVBoxLayout>
#include <memory>

namespace wheelwright {
namespace {

class FrontierPage : public FlowPage {
  public:
    FrontierPage(Session &session, QWidget *parent)
        : FlowPage(session, "frontier", {}, parent), m_plot(new FrontierPlot(session, this)) {
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
            m_frontier = std::make_shared<Frontier>(); // the last one is of another job
            m_plot->hide();
            say(Sentence{MARKED("flow.frontier.stopped", "Stopped: not worked out."), Tone::quiet});
        });
        connect(&session, &Session::jobReplaced, this, [this] {
            m_work.forget();
            m_frontier = std::make_shared<Frontier>();
        });
        // The words follow the content; the lines do not.
        followContent([this] { speak(); });
    }

  protected:
    void refresh() override {
        if (session().job().control != FuelControl::controller) {
            m_work.forget();
            return draw(std::make_shared<Frontier>());
        }
        if (m_known == session().jobVersion()) return draw(m_frontier); // units, or the verdict
        m_work.start(session().jobVersion(), [study = session().sharedStudy()](const WorkControl &control) {
            return frontier(*study, frontierPoints, control.token());
        });
        if (m_frontier->contents.empty())
            say(Sentence{MARKED("flow.frontier.working", "Working it out…"), Tone::quiet});
    }

  private:
    void take();
    void draw(std::shared_ptr<const Frontier> frontier);
    void speak();

    FrontierPlot *m_plot;
    Work<Frontier> m_work;
    std::shared_ptr<const Frontier> m_frontier = std::make_shared<Frontier>(); ///< never empty
    std::uint64_t m_known = 0; ///< version of the job that the frontier is of
};

void FrontierPage::take() {
    if (!m_work.result()) return say(Sentence{verbatim(m_work.error().toStdString()), Tone::trouble});
    m_known = m_work.version();
    draw(std::make_shared<Frontier>(*m_work.result()));
}

void FrontierPage::draw(std::shared_ptr<const Frontier> frontier) {
    m_frontier = std::move(frontier);
    m_plot->setVisible(!m_frontier->contents.empty());
    m_plot->show(*m_frontier);
    speak();
}

void FrontierPage::speak() {
    const bool controller = session().job().control == FuelControl::controller;
    if (controller && m_frontier->contents.empty()) return; // it will be said when it is there
    say(frontierReport(look(), m_frontier));
}

} // namespace

FlowPage *makeFrontierPage(Session &session, QWidget *parent) {
    return new FrontierPage(session, parent);
}

} // namespace wheelwright
