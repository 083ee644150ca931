// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/report/pour_sheet.h"
#include "core/study/shelf.h"
#include "ui/widgets/report_view.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QLineEdit;
class QUrl;

namespace wheelwright {

class OpinionStrip;
class PourDrawing;
class RecordTable;
class Refresh;
class Session;

/// At the pump: what is in the tank and who says so, and what to pour for the content looked at.
class PourPage : public QWidget {
    Q_OBJECT
  public:
    explicit PourPage(Session &session, QWidget *parent = nullptr);
    QString plansText() const; ///< as shown
    Report sheet() const;
    bool methanol() const; ///< which alcohol contents are of
    OpinionStrip *opinions() { return m_opinions; }
    PourDrawing *drawing() { return m_drawing; }
    RecordTable *history() { return m_history; }
    QLineEdit *level() { return m_level; }

  private:
    QWidget *makeTankCard();
    QWidget *makePlanCard();
    ReportView *makeText(const QString &name, ReportView::Fit fit, QWidget *parent, int lines = 0);
    QWidget *makeFlushRow(QWidget *parent);
    void refresh();
    void refreshTank();
    void refreshPlans();
    void refreshEffects();
    std::optional<double> wantedLevel() const; ///< throws InputError
    void plan();                               ///< asks core anew; the pages show what it said
    void explainLink(const QUrl &link);

    Session &m_session;
    Refresh *m_refresh;
    ReportView *m_tank = nullptr;
    ReportView *m_tankWords = nullptr;
    OpinionStrip *m_opinions = nullptr;
    RecordTable *m_history = nullptr;
    QLineEdit *m_level = nullptr;
    ReportView *m_plans = nullptr;
    PourDrawing *m_drawing = nullptr;
    ReportView *m_effectsText = nullptr;
    ReportView *m_flushText = nullptr;
    QComboBox *m_flushFuel = nullptr;
    QLineEdit *m_flushRest = nullptr;
    QLineEdit *m_flushWithin = nullptr;

    // What core said last.
    PourRequest m_request;
    PourAnswer m_answer;
    Phrase m_problem;
    std::vector<Fuel> m_shelf;
    std::vector<PouredFuel> m_effects; ///< each fuel that could fill the tank up
    FlushPlan m_flush;
    double m_flushFill = 0, m_flushRestL = 0, m_flushTolerance = 0;
    Phrase m_flushProblem;
};

} // namespace wheelwright
