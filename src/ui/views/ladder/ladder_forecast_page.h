// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/report/worked_report.h"
#include "session/ladder_book.h"

#include <QWidget>

namespace wheelwright {

class ChartPlot;
class ReportView;
class Session;
class SheetButtons;

/// Where the rungs to come end up: sentences, a table and duty over content.
class LadderForecastPage : public QWidget {
    Q_OBJECT
  public:
    LadderForecastPage(Session &session, LadderBook &book, QWidget *parent = nullptr);

    QString words() const;
    ChartPlot &plot() { return *m_plot; }

  protected:
    void showEvent(QShowEvent *event) override;
    void hideEvent(QHideEvent *event) override;

  private:
    WorkedReport worked() const;
    void refresh();

    Session &m_session;
    LadderBook &m_book;
    ReportView *m_words;
    ChartPlot *m_plot;
    SheetButtons *m_buttons;
};

} // namespace wheelwright
