// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/log_source.h"
#include "core/live/can_decoder.h"
#include "core/live/row_sink.h"

#include <string>
#include <string_view>
#include <vector>

namespace wheelwright {

/// Makes rows at even times of frames that come when they like. A channel keeps what it said until it says
/// something else; one that has been silent for longer than three of its usual pauses says nothing any more:
/// at the earliest after a second, at the latest after five. Common practice.
class LiveSampler {
  public:
    /// hz: rows a second. The decoder must outlive it.
    LiveSampler(const CanDecoder &decoder, double hz);

    /// Times are of one clock and ascend. Rows that were due before the frame are made first. False for a
    /// frame that says nothing.
    bool take(const CanFrame &frame);
    /// Makes the rows that are due by now.
    void until(double nowS);
    /// Stands in the next row; several in the next rows, one each.
    void event(std::string_view what);

    /// Makes a row for each event that has none yet, though none is due: nothing more will come.
    void finish();

    /// Rows begin to be made now, at 0 s; those of before are forgotten, and so are the events.
    void begin(double nowS);
    /// The rows since the last call.
    LiveRows takeRows();
    const std::vector<std::string> &events() const { return m_events; }

    /// What each channel says now, in its unit; not a number: nothing.
    double value(std::size_t channel, double nowS) const;
    std::size_t width() const { return m_values.size() + 2; }
    double hz() const { return m_hz; }

  private:
    void row(double atS);

    const CanDecoder &m_decoder;
    double m_hz;
    std::vector<double> m_values, m_heardS, m_pauseS;
    std::vector<std::size_t> m_changed;
    std::vector<std::string> m_events;
    std::size_t m_nextEvent = 0;
    bool m_begun = false;
    double m_beginS = 0;
    std::size_t m_rows = 0;
    LiveRows m_made;
};

/// Rows as a log: a clock, the channels with their names and units, events in words. What the channels are to
/// the engine is then said by a ChannelMap, as for any other log.
LogLayout liveLayout(const CanDecoder &decoder);

} // namespace wheelwright
