// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "ui/views/view.h"

namespace wheelwright {

class FieldForm;
class LadderForecastPage;
class LadderPage;
class LadderRemotePage;
class PageSwitch;
class ReportView;
class SheetButtons;

/// What the ladder is built from.
class LadderGoalPage : public QWidget {
    Q_OBJECT
  public:
    using QWidget::QWidget;
};

/// All of it as a sheet, to be copied, saved and printed.
class LadderSheetPage : public QWidget {
    Q_OBJECT
  public:
    using QWidget::QWidget;
};

/// The plan of a change of fuel: rungs and gates, where they end up, the goal that it is built from, and all
/// of it as a sheet.
class LadderView : public View {
    Q_OBJECT
  public:
    explicit LadderView(Session &session, QWidget *parent = nullptr);
    bool showInput(const QString &link) override;
    LadderPage &page() { return *m_ladder; }
    LadderForecastPage &forecast() { return *m_forecast; }
    LadderRemotePage &remote() { return *m_remote; }
    FieldForm &goal() { return *m_goal; }
    PageSwitch &pages() { return *m_pages; }
    QString sheet() const;

  protected:
    void showEvent(QShowEvent *event) override; ///< nothing is worked out while nobody looks
    void hideEvent(QHideEvent *event) override;

  private:
    QWidget *makeGoal();
    QWidget *makeSheet();
    void refreshSheet();

    Session &m_session;
    LadderPage *m_ladder;
    LadderForecastPage *m_forecast;
    LadderRemotePage *m_remote;
    PageSwitch *m_pages;
    QWidget *m_goalPage = nullptr, *m_sheetPage = nullptr;
    FieldForm *m_goal = nullptr;
    ReportView *m_sheet = nullptr, *m_passed = nullptr;
    SheetButtons *m_buttons = nullptr;
};

} // namespace wheelwright
