// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/flow/flow_view.h"

#include "session/session.h"
#include "ui/views/flow/flow_page.h"
#include "ui/views/flow/frontier_plot.h"
#include "ui/widgets/page_switch.h"

#include <QVBoxLayout>

namespace wheelwright {

FlowView::FlowView(Session &session, QWidget *parent) : View(parent), m_pages(new PageSwitch(this)) {
    setProperty("helpPage", "flow");
    const auto add = [&](const QString &title, FlowPage *(*make)(Session &, QWidget *)) {
        FlowPage *page = make(session, this);
        m_pages->addPage(title, page);
        m_list.push_back(page);
        connect(page, &FlowPage::wanted, this, [this, page] { m_pages->showPage(page); });
    };
    add(tr("Frontier"), makeFrontierPage);
    add(tr("Injectors"), makeInjectorsPage);
    add(tr("Pumps"), makePumpsPage);
    add(tr("Boost"), makeBoostPage);
    add(tr("Spray"), makeSprayPage);
    add(tr("Pills"), makePillsPage);
    // What this engine's fuel goes by stands in front.
    const auto front = [this, &session] {
        showPage(session.hasJob() && session.job().control == FuelControl::mechanical ? "pills" : "frontier");
    };
    connect(&session, &Session::jobReplaced, this, front);
    front();
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(8, 6, 8, 6);
    layout->addWidget(m_pages);
}

bool FlowView::showInput(const QString &link) {
    for (FlowPage *page : m_list)
        if (page->showInput(link)) return true;
    return false;
}

FrontierPlot *FlowView::plot() const {
    return findChild<FrontierPlot *>();
}

void FlowView::showPage(const char *page) {
    m_pages->showPage(findChild<QWidget *>(QLatin1String(page)));
}

QString FlowView::wordsOf(const char *page) const {
    const auto *of = qobject_cast<const FlowPage *>(findChild<QWidget *>(QLatin1String(page)));
    return of ? of->words() : QString();
}

const ViewDefinition &flowView() {
    static const ViewDefinition definition{
        "flow", QT_TRANSLATE_NOOP("view", "Flow"), ":/icons/flow.svg", 3,
        [](Session &s, QWidget *parent) -> View * { return new FlowView(s, parent); }};
    return definition;
}

} // namespace wheelwright
