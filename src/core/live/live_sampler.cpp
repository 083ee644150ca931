// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/live/live_sampler.h"

#include <algorithm>
#include <limits>

namespace wheelwright {
namespace {

constexpr double none = std::numeric_limits<double>::quiet_NaN();
constexpr double silentAtLeastS = 1, silentAtMostS = 5, pauses = 3;

} // namespace

LiveSampler::LiveSampler(const CanDecoder &decoder, double hz)
    : m_decoder(decoder), m_hz(hz), m_values(decoder.channels().size(), none),
      m_heardS(m_values.size(), none), m_pauseS(m_values.size(), 0) {
    m_made.width = width();
}

bool LiveSampler::take(const CanFrame &frame) {
    // A row at the very time of a frame has what the frame says.
    while (m_begun && m_beginS + static_cast<double>(m_rows) / m_hz < frame.timeS)
        row(m_beginS + static_cast<double>(m_rows) / m_hz);
    m_changed.clear();
    if (!m_decoder.take(frame, m_values, &m_changed)) return false;
    for (const std::size_t c : m_changed) {
        if (m_heardS[c] == m_heardS[c]) m_pauseS[c] = frame.timeS - m_heardS[c];
        m_heardS[c] = frame.timeS;
    }
    return true;
}

void LiveSampler::until(double nowS) {
    while (m_begun && m_beginS + static_cast<double>(m_rows) / m_hz <= nowS)
        row(m_beginS + static_cast<double>(m_rows) / m_hz);
}

void LiveSampler::event(std::string_view what) {
    m_events.emplace_back(what);
}

void LiveSampler::finish() {
    while (m_begun && m_nextEvent < m_events.size())
        row(m_beginS + static_cast<double>(m_rows) / m_hz);
}

void LiveSampler::begin(double nowS) {
    m_begun = true;
    m_beginS = nowS;
    m_rows = m_nextEvent = 0;
    m_events.clear();
    m_made.numbers.clear();
}

LiveRows LiveSampler::takeRows() {
    LiveRows out{m_made.width, {}};
    std::swap(out.numbers, m_made.numbers);
    return out;
}

double LiveSampler::value(std::size_t channel, double nowS) const {
    const double silentS = std::clamp(pauses * m_pauseS[channel], silentAtLeastS, silentAtMostS);
    return nowS - m_heardS[channel] <= silentS ? m_values[channel] : none;
}

void LiveSampler::row(double atS) {
    m_made.numbers.push_back(static_cast<double>(m_rows) / m_hz);
    for (std::size_t c = 0; c < m_values.size(); ++c)
        m_made.numbers.push_back(value(c, atS));
    m_made.numbers.push_back(m_nextEvent < m_events.size() ? static_cast<double>(m_nextEvent++) : none);
    ++m_rows;
}

LogLayout liveLayout(const CanDecoder &decoder) {
    LogLayout layout;
    layout.format = "bus";
    layout.columns.push_back({"Time", "s", 0, true, ChannelKind::clock});
    for (const CanDecoder::Channel &c : decoder.channels())
        layout.columns.push_back({c.name, c.signal->unit, 0, true, ChannelKind::number});
    layout.columns.push_back({"Event", "", 0, true, ChannelKind::words});
    return layout;
}

} // namespace wheelwright
