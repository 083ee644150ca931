// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/report/worked_report.h"
#include "core/runs/road_run.h"
#include "session/work.h"

#include <QWidget>

class QComboBox;
class QDoubleSpinBox;
class QPushButton;

namespace wheelwright {

class ChartPlot;
class FieldForm;
class ReportView;
class Session;

/// Power from a pull on the road, one way or both, as an estimate with its band, and what a coast-down says
/// of the car that it goes by.
class RunRoadPage : public QWidget {
    Q_OBJECT
  public:
    explicit RunRoadPage(Session &session, QWidget *parent = nullptr);
    QString words() const; ///< of the power
    QString coastWords() const;
    const Report &report() const { return m_report.report; }
    QWidget *corner() { return m_corner; } ///< copies, saves and prints what is shown
    ChartPlot &plot() { return *m_plot; }
    QComboBox &there() { return *m_there; }
    QComboBox &back() { return *m_back; }
    QPushButton &takeButton() { return *m_take; }
    QPushButton &takeLossesButton() { return *m_takeLosses; }
    FieldForm &car() { return *m_car; }
    WorkSignals &work() { return m_work; }
    bool current() const; ///< what is shown is of the job, the logs and the choice as they are
    bool showInput(const QString &path);

    void take();       ///< the power, as a run of the job
    void takeLosses(); ///< of the coast-down, into the job

  protected:
    void showEvent(QShowEvent *event) override;

  private:
    struct Choice {
        std::shared_ptr<const LogReview> log;
        std::size_t episode = 0;
        const Episode &of() const { return log->episodes()[episode]; }
    };
    struct Found {
        WorkedReport road, coast;
        std::optional<RoadPower> power;
        std::optional<CoastDown> losses;
        std::shared_ptr<const LogReview> log; ///< that the power is of
        double fromS = 0, toS = 0;            ///< of the coast-down
    };
    struct Asked {
        int there = -1, back = -1;
        std::string coastLog;
        double fromS = 0, toS = 0;
        bool longest = true; ///< the longest coast-down of the log in their stead
        std::size_t choices = 0;
        std::uint64_t version = 0;
        bool operator==(const Asked &) const = default;
    };
    QWidget *makeControls();
    void refreshChoices();
    void start();
    void show();
    Asked asked() const;
    static Found make(const Job &job, const std::optional<Choice> &there, const std::optional<Choice> &back,
                      const std::shared_ptr<const LogReview> &coast, const Asked &asked);

    Session &m_session;
    QWidget *m_corner = nullptr;
    std::vector<Choice> m_choices;
    bool m_longest = true; ///< nobody has typed the ends of a coast-down
    QComboBox *m_there, *m_back, *m_coastLog;
    QDoubleSpinBox *m_from, *m_to;
    QPushButton *m_take, *m_takeLosses;
    FieldForm *m_car = nullptr;
    ReportView *m_words, *m_coastWords;
    ChartPlot *m_plot;
    WorkedReport m_report;
    Asked m_asked;
    Work<Found> m_work;
};

} // namespace wheelwright
