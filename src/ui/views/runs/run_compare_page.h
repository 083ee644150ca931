// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/report/run_reports.h"
#include "core/runs/run_picture.h"
#include "session/work.h"

#include <QWidget>

class QCheckBox;
class QComboBox;
class QLabel;
class QSpinBox;

namespace wheelwright {

class ReportView;
class RunChart;
class Session;

/// Runs of two sides laid over each other: the answer, the curves, and what stands behind it in words.
class RunComparePage : public QWidget {
    Q_OBJECT
  public:
    explicit RunComparePage(Session &session, QWidget *parent = nullptr);
    RunChart &chart() { return *m_chart; }
    QString answer() const;
    QString words() const;
    QString reading() const; ///< at the cursor
    const Report &report() const { return m_report.report; }
    QWidget *corner() { return m_corner; } ///< copies, saves and prints what is shown
    WorkSignals &work() { return m_work; }
    bool current() const; ///< what is shown is of the runs and the choice as they are

  private:
    /// A comparison, or one side alone; the report says what it is.
    struct Compared {
        RunPicture picture;
        WorkedReport report;
        bool judged = false;
    };
    struct Asked {
        std::vector<std::string> before, after;
        double smoothRpm = 0;
        std::optional<double> fromRpm, toRpm;
        int standard = 0;
        bool drift = true;
        std::uint64_t version = 0;
        std::size_t runs = 0;
        bool operator==(const Asked &) const = default;
    };
    QWidget *makeControls();
    void start();
    void show();
    void showReading();
    Asked asked() const;

    Session &m_session;
    QWidget *m_corner = nullptr;
    QLabel *m_answer, *m_reading;
    RunChart *m_chart;
    ReportView *m_words;
    QSpinBox *m_smooth = nullptr, *m_from = nullptr, *m_to = nullptr;
    QComboBox *m_standard = nullptr;
    QCheckBox *m_drift = nullptr;
    WorkedReport m_report;
    Asked m_asked;
    Work<Compared> m_work;
};

} // namespace wheelwright
