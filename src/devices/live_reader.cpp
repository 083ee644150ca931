// SPDX-License-Identifier: GPL-3.0-or-later
#include "devices/live_reader.h"

#include "core/base/error.h"

#include <algorithm>
#include <chrono>

namespace wheelwright {
namespace {

using namespace std::chrono_literals;
constexpr auto pause = 5ms; // a frame waits no longer than this

} // namespace

LiveReader::LiveReader(const CanMap &map, FrameQueue &queue, LiveClock clock, Settings settings)
    : m_decoder(map), m_queue(queue), m_clock(std::move(clock)), m_settings(settings),
      m_sampler(m_decoder, settings.hz) {
    m_remembered.width = m_waiting.width = m_sampler.width();
    m_sampler.begin(m_clock());
    m_thread = std::jthread([this](const std::stop_token &stop) { work(stop); });
}

LiveReader::~LiveReader() {
    endRecording();
}

LiveReader::Moment LiveReader::moment() const {
    const std::scoped_lock lock(m_mutex);
    Moment out = m_moment;
    out.atS = m_clock();
    out.values.resize(m_decoder.channels().size());
    for (std::size_t c = 0; c < out.values.size(); ++c)
        out.values[c] = m_sampler.value(c, out.atS);
    out.heard = m_queue.heard();
    out.dropped = m_queue.dropped();
    return out;
}

LiveRows LiveReader::rows() const {
    const std::scoped_lock lock(m_mutex);
    return m_remembered;
}

void LiveReader::record(std::shared_ptr<RowSink> sink) {
    endRecording();
    const std::scoped_lock lock(m_mutex);
    m_sink = std::move(sink);
    m_keptS = m_clock();
    m_sampler.begin(m_keptS);
    m_remembered.numbers.clear();
    m_waiting.numbers.clear();
    m_moment.recording = true;
    m_moment.recordedS = 0;
    m_moment.keptRows = 0;
    m_moment.trouble = {};
}

void LiveReader::endRecording() {
    std::unique_lock lock(m_mutex);
    if (!m_sink) return;
    m_ending = true;
    m_wake.notify_all();
    m_wake.wait(lock, [this] { return !m_sink; });
}

void LiveReader::event(const std::string &what) {
    const std::scoped_lock lock(m_mutex);
    m_sampler.event(what);
}

void LiveReader::work(std::stop_token stop) {
    std::unique_lock lock(m_mutex);
    while (!stop.stop_requested()) {
        turn(lock);
        m_wake.wait_for(lock, stop, pause, [this] { return m_ending; });
    }
}

void LiveReader::turn(std::unique_lock<std::mutex> &lock) {
    const double now = m_clock();
    m_queue.takeInto(m_frames);
    for (const CanFrame &f : m_frames)
        if (m_sampler.take(f)) {
            ++m_moment.known;
            m_moment.lastHeardS = f.timeS;
        } else {
            ++m_moment.unknown;
        }
    m_sampler.until(now);
    if (m_ending) m_sampler.finish();
    const LiveRows made = m_sampler.takeRows();
    m_remembered.numbers.insert(m_remembered.numbers.end(), made.numbers.begin(), made.numbers.end());
    const auto most = static_cast<std::size_t>(m_settings.remembersS * m_settings.hz) * m_remembered.width;
    // Seldom, since it moves all that stays.
    if (m_remembered.numbers.size() > most + most / 4)
        m_remembered.numbers.erase(m_remembered.numbers.begin(),
                                   m_remembered.numbers.end() - static_cast<std::ptrdiff_t>(most));
    if (!m_sink) return;
    m_waiting.numbers.insert(m_waiting.numbers.end(), made.numbers.begin(), made.numbers.end());
    if (m_ending || now - m_keptS >= m_settings.keepEveryS) keepRows(lock);
}

// The disk may take its time: meanwhile moments can be asked for, and frames wait in the queue.
void LiveReader::keepRows(std::unique_lock<std::mutex> &lock) {
    LiveRows rows{m_waiting.width, {}};
    std::swap(rows.numbers, m_waiting.numbers);
    const std::vector<std::string> events = m_sampler.events();
    const std::shared_ptr<RowSink> sink = m_sink;
    m_keptS = m_clock();
    // Who asks for the end while this goes to the disk means also what comes meanwhile.
    const bool last = m_ending;
    Phrase trouble;
    lock.unlock();
    try {
        if (rows.count() > 0) sink->keep(rows, events);
    } catch (const InputError &e) {
        trouble = e.words();
    }
    lock.lock();
    m_moment.keptRows += trouble.empty() ? rows.count() : 0;
    m_moment.recordedS = static_cast<double>(m_moment.keptRows) / m_settings.hz;
    if (trouble.empty() && !last) return;
    m_moment.trouble = std::move(trouble);
    m_moment.recording = m_ending = false;
    m_sink.reset();
    m_wake.notify_all();
}

} // namespace wheelwright
