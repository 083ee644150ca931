// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/report/run_reports.h"
#include "session/work.h"

#include <QWidget>

class QButtonGroup;

namespace wheelwright {

class ChartPlot;
class ReportView;
class Session;

/// What runs say beyond a gain, each as a sheet that can be printed and kept: the record of the day, scatter,
/// power over content, cams, boost, dynos.
class RunSheetsPage : public QWidget {
    Q_OBJECT
  public:
    enum Kind { record, scatter, contents, cams, boost, dynos };

    explicit RunSheetsPage(Session &session, QWidget *parent = nullptr);
    void setKind(Kind kind);
    Kind kind() const;
    QString words() const;
    const Report &report() const { return m_report; }
    WorkSignals &work() { return m_work; }
    bool current() const; ///< what is shown is of the runs as they are

  public slots:
    void print();
    void save();
    void copy() const; ///< grids as tables, tab-separated

  protected:
    void showEvent(QShowEvent *event) override;

  private:
    QWidget *makeHeadRow();
    void start();
    void show();
    static Report makeSheet(const Job &job, const MeasuredRuns &all, const MeasuredRuns &before,
                            const MeasuredRuns &after, const RunViewing &how, Kind kind);

    Session &m_session;
    QButtonGroup *m_kinds;
    ReportView *m_words;
    ChartPlot *m_plot;
    Report m_report;
    int m_asked = -1;
    Work<Report> m_work;
};

} // namespace wheelwright
