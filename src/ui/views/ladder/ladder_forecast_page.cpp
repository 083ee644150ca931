// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/ladder/ladder_forecast_page.h"

#include "core/base/limits.h"
#include "core/report/forecast_reports.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/widgets/card.h"
#include "ui/widgets/chart_plot.h"
#include "ui/widgets/refresh.h"
#include "ui/widgets/report_view.h"
#include "ui/widgets/sheet_buttons.h"
#include "ui/widgets/work_bar.h"

#include <QHBoxLayout>
#include <QVBoxLayout>

namespace wheelwright {

LadderForecastPage::LadderForecastPage(Session &session, LadderBook &book, QWidget *parent)
    : QWidget(parent), m_session(session), m_book(book) {
    auto *card = makeCard(this);
    m_words = new ReportView(tr("Forecast"), ReportView::Fit::fills, card);
    m_plot = new ChartPlot(session, tr("Injectors over content"), "ladder", card);
    auto *rows = new QVBoxLayout(card);
    rows->addWidget(m_plot, 2);
    rows->addWidget(m_words, 3);
    rows->addWidget(new WorkBar(
        book.forecastWork(), [this] { m_book.cancelForecast(); }, card));
    m_buttons = new SheetButtons(session,
                                 {tr("the forecast"), tr("forecast"), [this] { return worked().report; },
                                  [this] { return gridsAsText(worked().report, m_session.units()); },
                                  tr("Copies it as a table")},
                                 this);
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(card, 1);
    layout->addWidget(m_buttons, 0, Qt::AlignRight);
    connect(m_words, &ReportView::explained, this, [this](const Explanation &x) { m_session.explain(x); });
    connect(&book, &LadderBook::changed, this, &LadderForecastPage::refresh);
    (new Refresh(session, this))->on(Refresh::units, [this] { refresh(); });
}

WorkedReport LadderForecastPage::worked() const {
    const LadderForecast *f = m_book.forecast();
    return f ? forecastReport(m_book.shown()->ladder, *f,
                              limitOf(m_book.shown()->study->job(), "flow.duty.caution"))
             : WorkedReport{};
}

void LadderForecastPage::refresh() {
    if (!isVisible()) return;
    WorkedReport said = worked();
    const std::optional<ReportChart> drawn = takeChart(said.report);
    if (m_book.forecast())
        m_words->show(std::move(said), m_session.units());
    else
        m_words->say(m_session.hasJob() ? MARKED("ladder.working", "Working it out…")
                                        : MARKED("ladder.no_job", "Open a job to see the way up."),
                     m_session.units());
    m_plot->setEnabled(drawn.has_value());
    m_plot->show(drawn ? chartOf(*drawn) : Chart{});
}

QString LadderForecastPage::words() const {
    return m_words->words();
}

void LadderForecastPage::showEvent(QShowEvent *event) {
    QWidget::showEvent(event);
    m_book.setForecastWanted(true);
    refresh();
}

void LadderForecastPage::hideEvent(QHideEvent *event) {
    QWidget::hideEvent(event);
    m_book.setForecastWanted(false);
}

} // namespace wheelwright
