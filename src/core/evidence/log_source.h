// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"
#include "core/evidence/sample_sink.h"
#include "core/job/logs.h"

#include <functional>
#include <stop_token>
#include <string>
#include <vector>

namespace wheelwright {

/// A column of a log file, or a channel of one: becomes a series of the same place.
struct LogColumn {
    std::string name{};      ///< as the file calls it, without its unit
    std::string unit{};      ///< as the file writes it; empty: it does not say
    std::size_t clock = 0;   ///< column of the times of its samples; its own place: it is the clock of others
    bool knownClock = false; ///< the file itself says which column is the clock; else the map does
    ChannelKind kind = ChannelKind::number;
    std::vector<double> preview{}; ///< some samples from all over the file
};

/// What a log file is, as far as can be said before reading it through.
struct LogLayout {
    std::string format; ///< "text", "mdf4"
    std::vector<LogColumn> columns;
    std::vector<std::vector<std::string>> firstRows; ///< of a text, as they stand there
    char delimiter = 0, decimal = '.';               ///< of a text
    std::size_t firstLine = 1;                       ///< of a text: where its rows begin, from 1
};

/// How a log is read.
struct LogReading {
    bool partly = false;                    ///< take what comes before the first place that cannot be read
    unsigned threads = 2;                   ///< that work at it
    std::stop_token stop{};                 ///< asked often; a reading that was stopped comes back `stopped`
    std::function<void(double)> progress{}; ///< 0–1
};

/// What came of it.
struct LogRead {
    std::size_t rows = 0; ///< of the longest clock
    bool stopped = false;
    std::vector<Phrase> warnings;
    std::vector<std::vector<std::string>> texts; ///< of each column of words: what its samples count
    std::vector<ChannelKind> kinds;              ///< of each column, now that all of it was seen
};

/// A log file that was recognised. Each importer makes one (formats/log_import/all_importers.def).
class LogSource {
  public:
    LogSource() = default;
    LogSource(const LogSource &) = delete;
    LogSource &operator=(const LogSource &) = delete;
    virtual ~LogSource() = default;
    virtual const LogLayout &layout() const = 0;
    /// Hands every sample to the sink. Throws InputError naming row and column for what cannot be read, and
    /// how much can be, unless only a part is wanted.
    virtual LogRead read(SampleSink &sink, const LogReading &how) const = 0;
};

} // namespace wheelwright
