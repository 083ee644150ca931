// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/report/hindsight_reports.h"
#include "session/work.h"

#include <QWidget>

#include <array>
#include <memory>
#include <optional>
#include <utility>
#include <vector>

class QButtonGroup;
class QComboBox;
class QPushButton;

namespace wheelwright {

class ChartPlot;
class ReportView;
class Session;

/// What became of it: who took the spark that was asked for, whether everything moved with the fuel, whether
/// corrections did what was foretold, what boost did. Each is a sheet that can be printed and kept.
class HindsightPage : public QWidget {
    Q_OBJECT
  public:
    enum Kind { taken, change, corrections, boost };

    explicit HindsightPage(Session &session, QWidget *parent = nullptr);
    void setKind(Kind kind);
    QString words() const;
    ChartPlot &plot() { return *m_plot; }
    WorkSignals &work() { return m_work; }
    bool current() const; ///< what is shown is of the job, the logs and the choice as they are
    const Report &report() const { return m_report.report; }

  public slots:
    void notePoints(); ///< of boost over duty, from pulls that held still: one change of the job

  signals:
    void stripWanted(); ///< a moment has been chosen

  protected:
    void showEvent(QShowEvent *event) override;

  private:
    /// A sheet, what its links lead to, and what is drawn beside it.
    struct Sheet {
        WorkedReport report;
        std::vector<std::pair<std::string, double>> moments; ///< log and seconds, by index of the links
        std::optional<ReportChart> chart;
        std::size_t points = 0;   ///< of boost over duty that are new
        std::optional<Job> noted; ///< the job with them
    };
    struct Asked {
        int kind = -1;
        std::string log, from, to;
        std::size_t logs = 0;
        bool operator==(const Asked &) const = default;
    };

    QWidget *makeHeadRow();
    void refreshChoices();
    void refresh();
    void start();
    void show();
    void drawChart(const std::optional<ReportChart> &chart);
    Asked asked() const;
    static Sheet makeSheet(const Study &study, const std::vector<std::shared_ptr<const LogReview>> &logs,
                           const Asked &asked);

    Session &m_session;
    QButtonGroup *m_kinds;
    std::array<QComboBox *, 2> m_picks{};
    ReportView *m_words;
    QPushButton *m_note;
    ChartPlot *m_plot;
    WorkedReport m_report;
    Asked m_asked;
    Work<Sheet> m_work;
};

} // namespace wheelwright
