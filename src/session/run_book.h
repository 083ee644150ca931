// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/job_change.h"
#include "core/runs/run_comparison.h"
#include "formats/run_file.h"
#include "session/work.h"

#include <QObject>

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

namespace wheelwright {

struct JobChange;
class Session;

/// The runs of the open job, read beside the window's thread, which of them are compared, and how all of them
/// are looked at.
class RunBook : public QObject {
    Q_OBJECT
  public:
    explicit RunBook(Session &session);

    enum class Side { none, before, after };

    /// Those that could be read, in the order of the job; of an older version of it while they are read
    /// again.
    const MeasuredRuns &runs() const { return m_runs; }
    std::shared_ptr<const MeasuredRun>
    run(const std::string &id) const;             ///< nullptr: not there, or not read yet
    QString trouble(const std::string &id) const; ///< why it cannot be read; empty: it can
    bool reading() const { return m_reading.running(); }
    WorkSignals &work() { return m_reading; }

    Side side(const std::string &id) const;
    void setSide(const std::vector<std::string> &ids, Side side);
    void setSides(const std::vector<std::string> &before, const std::vector<std::string> &after);
    std::vector<std::string> chosen(Side side) const; ///< ids, in the order of the job
    MeasuredRuns measured(Side side) const;

    const RunViewing &viewing() const { return m_viewing; }
    void setViewing(const RunViewing &viewing);
    /// The speed that the cursor stands at; empty: nowhere.
    std::optional<double> cursorRpm() const { return m_cursorRpm; }
    void setCursor(std::optional<double> rpm);

    /// The pulls of a file; throws InputError.
    static RunFile readFile(const std::filesystem::path &file, const RunStatement &stated,
                            const MapSurroundings &around);
    /// Whether a file looks like runs rather than like a log.
    static bool seemsRuns(const std::filesystem::path &file);

  signals:
    void runsChanged();   ///< others are there, or have been read
    void choiceChanged(); ///< of what is compared
    void viewingChanged();
    void cursorMoved();

  private:
    struct Reading {
        MeasuredRuns runs;
        std::vector<std::pair<std::string, QString>> troubles;
        std::vector<std::string> before, after; ///< worth a first look
    };
    void read();

    Session &m_session;
    MeasuredRuns m_runs;
    std::vector<std::pair<std::string, QString>> m_troubles;
    std::vector<std::string> m_before, m_after;
    bool m_chosen = false; ///< by somebody, in this job
    RunViewing m_viewing;
    std::optional<double> m_cursorRpm;
    Work<Reading> m_reading;
};

} // namespace wheelwright
