// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/working_panel.h"

#include "core/report/working_report.h"
#include "session/session.h"
#include "ui/widgets/next_list.h"
#include "ui/widgets/report_view.h"

#include <QStackedWidget>
#include <QVBoxLayout>

namespace wheelwright {

WorkingPanel::WorkingPanel(Session &session, QWidget *parent)
    : QFrame(parent), m_session(session), m_stack(new QStackedWidget(this)),
      m_text(new ReportView(tr("Working of the selected number"), ReportView::Fit::fills, this)),
      m_next(new NextList(session, this)) {
    setProperty("card", true);
    setProperty("helpPage", "working");
    setFixedWidth(264);
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(6, 4, 4, 4);
    layout->addWidget(m_stack);
    m_stack->addWidget(m_text);
    m_stack->addWidget(m_next);
    connect(m_text, &ReportView::linkWanted, this, &WorkingPanel::inputWanted);
    connect(m_next, &NextList::placeWanted, this, &WorkingPanel::inputWanted);
    connect(&session, &Session::explanationChanged, this, &WorkingPanel::refresh);
    connect(&session, &Session::unitsChanged, this, &WorkingPanel::refresh);
    connect(&session, &Session::jobReplaced, this, &WorkingPanel::refresh);
    refresh();
}

void WorkingPanel::refresh() {
    const auto &x = m_session.explanation();
    if (x) m_text->show(workingReport(*x), m_session.units());
    m_stack->setCurrentWidget(x ? static_cast<QWidget *>(m_text) : m_next);
}

QString WorkingPanel::shownText() const {
    return m_stack->currentWidget() == m_text ? m_text->words() : m_next->words();
}

} // namespace wheelwright
