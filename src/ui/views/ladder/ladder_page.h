// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "session/ladder_book.h"

#include <QWidget>

class QLabel;
class QPushButton;
class QScrollArea;
class QStackedWidget;

namespace wheelwright {

class GateList;
class LadderDrawing;
class PreflightList;
class ReportView;
class Session;

/// The rungs, and beside them the one that is chosen: what to do, what its gates say, and what passes it.
class LadderPage : public QWidget {
    Q_OBJECT
  public:
    explicit LadderPage(Session &session, QWidget *parent = nullptr);

    LadderBook &book() { return m_book; }
    LadderDrawing &drawing() { return *m_drawing; }
    GateList &gates() { return *m_gates; }
    PreflightList &preflight() { return *m_preflight; }
    QPushButton &passButton() { return *m_pass; }
    QPushButton &handButton() { return *m_hand; }
    QPushButton &boostButton() { return *m_boost; }
    QPushButton &doButton() { return *m_do; }
    QString words() const; ///< of the rung, its light and the chosen gate

    void pass();
    void passByHand(); ///< asks for the reason
    void takeBack();

  signals:
    void logWanted(const std::string &log, double timeS);

  protected:
    void showEvent(QShowEvent *event) override;

  private:
    QWidget *makeRight();
    const Rung *chosen() const;
    const RungStatus *status() const;
    void refresh();
    void showChosen();
    void showRung(const Rung &rung); ///< with its forecast
    void refreshGate();
    void doIt(); ///< what the chosen gate asks for, as far as it can be done here
    void showLog();

    Session &m_session;
    LadderBook m_book;
    LadderDrawing *m_drawing;
    QScrollArea *m_scroll;
    ReportView *m_rung, *m_light, *m_gate;
    GateList *m_gates;
    PreflightList *m_preflight;
    QStackedWidget *m_below;
    QPushButton *m_pass, *m_hand, *m_boost, *m_do, *m_show;
};

} // namespace wheelwright
