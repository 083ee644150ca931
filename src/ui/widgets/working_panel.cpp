// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/working_panel.h"

#include "core/report/working_report.h"
#include "session/session.h"
#include "ui/widgets/report_view.h"

#include <QVBoxLayout>

namespace wheelwright {

WorkingPanel::WorkingPanel(Session &session, QWidget *parent)
    : QFrame(parent), m_session(session),
      m_text(new ReportView(tr("Working of the selected number"), ReportView::Fit::fills, this)) {
    setProperty("card", true);
    setProperty("helpPage", "working");
    setFixedWidth(264);
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(6, 4, 4, 4);
    layout->addWidget(m_text);
    connect(m_text, &ReportView::linkWanted, this, &WorkingPanel::inputWanted);
    connect(&session, &Session::explanationChanged, this, &WorkingPanel::refresh);
    connect(&session, &Session::unitsChanged, this, &WorkingPanel::refresh);
    connect(&session, &Session::jobReplaced, this, &WorkingPanel::refresh);
    refresh();
}

void WorkingPanel::refresh() {
    const auto &x = m_session.explanation();
    m_text->show(x ? workingReport(*x) : noWorkingReport(), m_session.units());
}

QString WorkingPanel::shownText() const {
    return m_text->words();
}

} // namespace wheelwright
