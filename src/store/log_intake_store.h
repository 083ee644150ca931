// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/log_bytes.h"
#include "core/evidence/log_intake.h"

#include <filesystem>

namespace wheelwright {

class JobStore;

/// A file of any size, read where it is asked for. Throws InputError naming the path when it is no regular
/// file that can be read.
class OpenFile : public LogBytes {
  public:
    explicit OpenFile(const std::filesystem::path &path);
    ~OpenFile() override;
    std::uint64_t size() const override { return m_size; }
    std::size_t read(std::uint64_t at, std::span<char> to) const override;

  private:
    std::filesystem::path m_path;
    int m_handle = -1;
    std::uint64_t m_size = 0;
};

/// A log whose samples are in the job file, and that the job does not know yet.
struct TakenLog {
    LogIntake::Summary summary;
    std::uintmax_t packedBytes = 0;
    bool stopped = false; ///< and nothing was taken
};

/// Reads a log through and puts its samples into the job file. Nothing is left behind when it is stopped or
/// throws. The job learns of it by addLog() (core/evidence/log_intake.h), as one change.
TakenLog takeLog(const JobStore &store, const LogBytes &bytes, const LogSource &source, const ChannelMap &map,
                 const MapSurroundings &around, const LogReading &how);

} // namespace wheelwright
