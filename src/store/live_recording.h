// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/log_intake.h"
#include "core/live/row_sink.h"

#include <filesystem>
#include <memory>
#include <string>
#include <vector>

namespace wheelwright {

class JobStore;
struct TakenLog;

// A recording of a live engine lies in the job file piece by piece as it is made, each piece a transaction
// of its own: in a table `recording` that is there only while there is one (docs/job-file.md). It becomes a
// log like any other when it has ended, also when the program that made it did not live to see that.

/// How the columns of a recording are called, and when it was begun.
struct RecordingHead {
    std::string begun;              ///< ISO 8601
    std::vector<LogColumn> columns; ///< name, unit and kind; the first is the clock
    std::string revision{}, note{};
};

/// Takes the rows of one recording.
class LiveRecording : public RowSink {
  public:
    /// Throws InputError where the job may not be written to.
    LiveRecording(const JobStore &store, const RecordingHead &head);
    ~LiveRecording() override;
    void keep(const LiveRows &rows, std::span<const std::string> events) override;
    const std::string &name() const;

  private:
    struct Open;
    std::unique_ptr<Open> m_open;
};

/// A recording that lies in the file.
struct FoundRecording {
    std::string name;
    RecordingHead head;
    std::size_t pieces = 0;
};
/// The oldest first. A piece that is damaged ends its recording there.
std::vector<FoundRecording> recordingsIn(const std::filesystem::path &jobFile);
/// Makes a log of a recording: its samples go to those of the other logs. It stays where it is until it is
/// forgotten. Throws InputError for one that has no rows.
TakenLog takeRecording(const JobStore &store, const std::string &name, const ChannelMap &map,
                       const MapSurroundings &around);
/// When the job knows of its log, or wants none. Nothing happens where it is not there.
void forgetRecording(const JobStore &store, const std::string &name);

} // namespace wheelwright
