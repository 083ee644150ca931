// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/report/run_reports.h"
#include "session/work.h"

#include <QWidget>

class QButtonGroup;
class QComboBox;
class QSpinBox;

namespace wheelwright {

class ChartPlot;
class ReportView;
class Session;

/// What runs say beyond a gain, each as a sheet that can be printed and kept: the record of the day, scatter,
/// power over content, sweeps, cams, boost, dynos.
class RunSheetsPage : public QWidget {
    Q_OBJECT
  public:
    enum Kind { record, scatter, contents, sweep, cams, boost, dynos };

    explicit RunSheetsPage(Session &session, QWidget *parent = nullptr);
    void setKind(Kind kind);
    Kind kind() const;
    QString words() const;
    const Report &report() const { return m_report.report; }
    const WorkedReport &worked() const { return m_report; }
    QWidget *corner() { return m_corner; } ///< copies, saves and prints what is shown
    QComboBox &sweepOver() { return *m_over; }
    QSpinBox &sweepRpm() { return *m_rpm; }
    WorkSignals &work() { return m_work; }
    bool current() const; ///< what is shown is of the runs as they are

  protected:
    void showEvent(QShowEvent *event) override;

  private:
    /// All that a sheet is made of, by value: it is made beside the window's thread.
    struct Asked {
        Job job;
        MeasuredRuns all, before, after;
        std::vector<std::shared_ptr<const LogReview>> logs;
        RunViewing how;
        Kind kind = record;
        SweepOver over = SweepOver::spark;
        double rpm = 0;
    };
    QWidget *makeHeadRow();
    void start();
    void show();
    static WorkedReport makeSheet(const Asked &asked);
    static WorkedReport makeCams(const Asked &asked);
    static WorkedReport makeSweep(const Asked &asked);

    Session &m_session;
    QWidget *m_corner = nullptr;
    QButtonGroup *m_kinds;
    QComboBox *m_over;
    QSpinBox *m_rpm;
    ReportView *m_words;
    ChartPlot *m_plot;
    WorkedReport m_report;
    int m_asked = -1;
    Work<WorkedReport> m_work;
};

} // namespace wheelwright
