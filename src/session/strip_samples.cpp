// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/strip_samples.h"

#include "store/sample_store.h"

#include <algorithm>

namespace wheelwright {
namespace {

constexpr std::size_t chunksKept = 128; // 64 MB

LevelPair inUnits(const LogChannel &channel, LevelPair raw) {
    const auto a = static_cast<float>(channel.internal(raw.least)),
               b = static_cast<float>(channel.internal(raw.most));
    return a <= b ? LevelPair{a, b} : LevelPair{b, a};
}

ClockMarks marksOf(const SampleReader &reader, const std::string &log, const LogChannel &clock,
                   const WorkControl &control) {
    ClockMarks marks;
    const auto series = static_cast<std::size_t>(clock.series);
    marks.samples = reader.samples(log, series);
    for (std::size_t from = 0; from < marks.samples && !control.stopped(); from += samplesPerChunk) {
        const std::vector<double> times = reader.read(log, series, from, samplesPerChunk);
        for (std::size_t i = 0; i < times.size(); i += samplesPerLevel) {
            marks.timeS.push_back(clock.internal(times[i]));
            marks.lastS.push_back(clock.internal(times[std::min(i + samplesPerLevel, times.size()) - 1]));
        }
    }
    return marks;
}

} // namespace

StripSamples::StripSamples(QObject *parent)
    : QObject(parent), m_opening(WorkSignals::Length::brief), m_fetching(WorkSignals::Length::brief) {
    connect(&m_opening, &WorkSignals::finished, this, [this] {
        if (m_opening.result()) m_levels = *m_opening.result();
        emit arrived();
    });
    connect(&m_fetching, &WorkSignals::finished, this, &StripSamples::take);
}

std::shared_ptr<const StripSamples::Levels> StripSamples::readLevels(const std::filesystem::path &jobFile,
                                                                     const std::string &log,
                                                                     const std::vector<LogChannel> &channels,
                                                                     const WorkControl &control) {
    auto levels = std::make_shared<Levels>();
    const SampleReader reader(jobFile);
    for (const LogChannel &c : channels) {
        if (control.stopped()) break;
        const auto series = static_cast<std::size_t>(c.series);
        if (c.kind == ChannelKind::clock)
            levels->clocks[series] = marksOf(reader, log, c, control);
        else if (c.kind == ChannelKind::number)
            levels->series[series] = reader.levels(log, series);
    }
    for (const auto &[series, marks] : levels->clocks)
        levels->coarseClocks[series] = coarser(marks);
    for (const auto &[series, pairs] : levels->series)
        levels->coarse[series] = coarser(pairs);
    return levels;
}

void StripSamples::open(const std::filesystem::path &jobFile, const std::string &log,
                        const std::vector<LogChannel> &channels) {
    m_jobFile = jobFile;
    m_log = log;
    m_levels.reset();
    m_chunks.clear();
    m_lastUsed.clear();
    m_wanted.clear();
    m_fetching.forget();
    m_clocks.clear();
    for (const LogChannel &c : channels)
        if (c.kind == ChannelKind::clock) m_clocks[static_cast<std::size_t>(c.series)] = c;
    if (log.empty()) {
        m_opening.forget();
        emit arrived();
        return;
    }
    m_opening.start(0, [jobFile, log, channels](const WorkControl &control) {
        return readLevels(jobFile, log, channels, control);
    });
}

// Samples are worth reading once a column holds less than a level.
std::optional<SeriesOutline> StripSamples::outline(const LogChannel &channel, double fromS, double toS,
                                                   std::size_t columns) {
    if (!m_levels) return std::nullopt;
    const auto series = static_cast<std::size_t>(channel.series),
               clock = static_cast<std::size_t>(channel.clock);
    const auto marks = m_levels->clocks.find(clock);
    const auto levels = m_levels->series.find(series);
    if (marks == m_levels->clocks.end() || levels == m_levels->series.end()) return std::nullopt;
    SeriesOutline out;
    // One level before and behind, so that a line leads in and out.
    auto [first, end] = marks->second.levelsBetween(fromS, toS);
    first = first > 0 ? first - 1 : 0;
    end = std::min(end + 1, marks->second.timeS.size());
    std::vector<double> times, samples;
    const std::size_t to = std::min(end * samplesPerLevel, marks->second.samples);
    const bool close = end - first <= columns;
    if (close && stretch(clock, first * samplesPerLevel, to, times) &&
        stretch(series, first * samplesPerLevel, to, samples)) {
        const LogChannel &timing = m_clocks.at(clock);
        for (double &t : times)
            t = timing.internal(t);
        out = outlineOfSamples(times, samples, fromS, toS, columns);
    } else if (end - first > 2 * levelsPerCoarse * columns) {
        out = outlineOfLevels(m_levels->coarseClocks.at(clock), m_levels->coarse.at(series), fromS, toS,
                              columns);
    } else {
        out = outlineOfLevels(marks->second, levels->second, fromS, toS, columns);
    }
    for (LevelPair &pair : out)
        pair = inUnits(channel, pair);
    return out;
}

// False where not all of it is there yet; then it is asked for.
bool StripSamples::stretch(std::size_t series, std::size_t from, std::size_t to, std::vector<double> &out) {
    bool all = true;
    out.reserve(to - from);
    for (std::size_t number = from / samplesPerChunk; number * samplesPerChunk < to; ++number) {
        const ChunkName name{series, number};
        const auto chunk = m_chunks.find(name);
        if (chunk == m_chunks.end()) {
            want(name);
            all = false;
            continue;
        }
        m_lastUsed[name] = ++m_uses;
        const std::size_t begin = number * samplesPerChunk, have = chunk->second->size();
        const std::size_t first = std::min(from > begin ? from - begin : 0, have),
                          last = std::min(to - begin, have);
        out.insert(out.end(), chunk->second->begin() + static_cast<std::ptrdiff_t>(first),
                   chunk->second->begin() + static_cast<std::ptrdiff_t>(last));
    }
    return all;
}

void StripSamples::want(ChunkName chunk) {
    if (std::ranges::find(m_wanted, chunk) == m_wanted.end()) m_wanted.push_back(chunk);
    if (m_fetchPosted) return;
    m_fetchPosted = true; // all lanes of a picture ask before anything is read
    QMetaObject::invokeMethod(this, &StripSamples::fetch, Qt::QueuedConnection);
}

void StripSamples::fetch() {
    m_fetchPosted = false;
    if (m_wanted.empty() || m_log.empty()) return;
    m_fetching.start(
        0, [file = m_jobFile, log = m_log, wanted = std::move(m_wanted)](const WorkControl &control) {
            Chunks out;
            const SampleReader reader(file);
            for (const ChunkName &name : wanted) {
                if (control.stopped()) break;
                out[name] = std::make_shared<const std::vector<double>>(
                    reader.read(log, name.series, name.number * samplesPerChunk, samplesPerChunk));
            }
            return out;
        });
    m_wanted.clear();
}

void StripSamples::take() {
    if (!m_fetching.result()) return; // damage: the levels are drawn, and whoever reads the log says why
    for (const auto &[name, chunk] : *m_fetching.result()) {
        m_chunks[name] = chunk;
        m_lastUsed[name] = ++m_uses;
    }
    while (m_chunks.size() > chunksKept) {
        const auto oldest =
            std::ranges::min_element(m_lastUsed, {}, [](const auto &use) { return use.second; });
        m_chunks.erase(oldest->first);
        m_lastUsed.erase(oldest);
    }
    emit arrived();
}

} // namespace wheelwright
