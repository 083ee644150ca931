// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/channel_map.h"

#include <cstdint>
#include <optional>
#include <span>
#include <string>
#include <vector>

namespace wheelwright {

struct Job;

/// Stands between a file that is read and the place where its samples go: leaves out what the map skips, puts
/// clocks in order, and finds out what the job is to know of each channel. Looks at every sample once.
///
/// A clock that goes back by up to clockJitterS is held where it was until it comes past; one that goes back
/// further is another recording, and goes on behind the first. Both are warnings with the row.
class LogIntake : public SampleSink {
  public:
    /// Throws InputError where map and layout do not go together, or a column has no clock.
    LogIntake(const ChannelMap &map, const LogLayout &layout, const MapSurroundings &around);

    /// Where the samples go: set before the first of them, since the place must know what is coming.
    void handTo(SampleSink &sink) { m_to = &sink; }
    std::size_t series() const { return m_channels.size(); }
    const std::vector<LogChannel> &channels() const { return m_channels; }

    void put(std::size_t column, std::span<const double> samples) override;

    /// What the job is to know once all is read: all but the id. `content` is taken where it was stated, else
    /// from the log's own channel.
    struct Summary {
        LogInfo info;
        std::vector<LogChannel> channels;
        std::vector<Phrase> warnings;
    };
    Summary summary(const LogRead &read) const;

  private:
    struct Column {
        bool skipped = false;
        std::size_t series = 0;
        ChannelRole role = ChannelRole::none;
        bool clock = false;
        double least = 0, most = 0; ///< that the role allows, as the file has it
        double toSeconds = 1;       ///< of a clock
        // What was found.
        std::uint64_t rows = 0, present = 0;
        double lowest = 0, highest = 0, sum = 0;
        std::uint64_t outside = 0, firstOutside = 0;
        double outsideValue = 0;
        // Of a clock.
        double last = 0, shift = 0, step = 0;
        std::uint64_t back = 0, firstBack = 0, restarts = 0, firstRestart = 0, timeless = 0,
                      firstTimeless = 0;
        double backBy = 0;
    };
    /// A channel that is worked out as its sources come in: all of one clock have the same stretches.
    struct Worked {
        std::size_t column = 0;
        Formula formula;
        std::vector<std::size_t> sources; ///< columns, in the order of the formula's names
        std::vector<SourceConversion> conversions;
        std::vector<std::vector<double>> waiting; ///< by source; empty: not there yet
    };
    void addWorked(const ChannelMap &map, const LogLayout &layout, const MapSurroundings &around);
    void feed(std::size_t column, std::span<const double> samples);
    void hand(Column &c, std::span<const double> samples);
    void look(Column &c, std::span<const double> samples);
    void judge(Column &c, std::span<const double> samples);
    std::span<const double> inOrder(Column &c, std::span<const double> samples);
    void warn(const Column &c, const LogChannel &channel, std::vector<Phrase> &out) const;

    SampleSink *m_to = nullptr;
    std::vector<Column> m_columns;
    std::vector<LogChannel> m_channels;
    std::vector<Worked> m_worked;
    std::vector<double> m_times;
};

/// Adds a log whose samples are stored, and its channels. Throws InputError where the job has the same
/// samples already, or no such revision.
struct LogOrigin {
    std::string name;     ///< of its file
    std::string added;    ///< ISO 8601
    std::string revision; ///< empty: the calibration as it is
    std::optional<double> content;
    std::string note;
};
void addLog(Job &job, const LogIntake::Summary &log, const LogOrigin &made);

/// A clock may go back by so many seconds without being taken for a new recording; common practice.
inline constexpr double clockJitterS = 1;

} // namespace wheelwright
