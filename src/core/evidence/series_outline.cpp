// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/evidence/series_outline.h"

#include <algorithm>
#include <limits>

namespace wheelwright {
namespace {

constexpr float noSample = std::numeric_limits<float>::quiet_NaN();

void widen(LevelPair &column, float least, float most) {
    if (least != least) return;
    if (column.least != column.least) {
        column = {least, most};
        return;
    }
    column.least = std::min(column.least, least);
    column.most = std::max(column.most, most);
}

// Columns of equal width over a stretch of time.
class Columns {
  public:
    Columns(double fromS, double toS, std::size_t count)
        : m_fromS(fromS), m_perS(static_cast<double>(count) / (toS - fromS)), m_count(count) {}
    std::size_t at(double timeS) const {
        const double column = (timeS - m_fromS) * m_perS;
        if (!(column > 0)) return 0;
        return std::min(static_cast<std::size_t>(column), m_count - 1);
    }

  private:
    double m_fromS, m_perS;
    std::size_t m_count;
};

} // namespace

std::pair<std::size_t, std::size_t> ClockMarks::levelsBetween(double fromS, double toS) const {
    if (timeS.empty() || toS < timeS.front() || fromS > lastS.back()) return {0, 0};
    const auto after = std::ranges::upper_bound(timeS, fromS);
    const auto first = after == timeS.begin() ? after : after - 1;
    const auto end = std::ranges::upper_bound(timeS, toS);
    return {static_cast<std::size_t>(first - timeS.begin()), static_cast<std::size_t>(end - timeS.begin())};
}

ClockMarks coarser(const ClockMarks &marks) {
    ClockMarks out;
    out.samples = marks.samples;
    for (std::size_t i = 0; i < marks.timeS.size(); i += levelsPerCoarse) {
        out.timeS.push_back(marks.timeS[i]);
        out.lastS.push_back(marks.lastS[std::min(i + levelsPerCoarse, marks.lastS.size()) - 1]);
    }
    return out;
}

std::vector<LevelPair> coarser(std::span<const LevelPair> levels) {
    std::vector<LevelPair> out((levels.size() + levelsPerCoarse - 1) / levelsPerCoarse, {noSample, noSample});
    for (std::size_t i = 0; i < levels.size(); ++i)
        widen(out[i / levelsPerCoarse], levels[i].least, levels[i].most);
    return out;
}

SeriesOutline outlineOfLevels(const ClockMarks &marks, std::span<const LevelPair> levels, double fromS,
                              double toS, std::size_t columns) {
    SeriesOutline out(columns, {noSample, noSample});
    if (columns == 0 || !(toS > fromS)) return out;
    const Columns across(fromS, toS, columns);
    const auto [first, end] = marks.levelsBetween(fromS, toS);
    for (std::size_t i = first; i < std::min(end, levels.size()); ++i) {
        if (marks.lastS[i] < fromS) continue;
        const std::size_t last = across.at(marks.lastS[i]);
        for (std::size_t c = across.at(marks.timeS[i]); c <= last; ++c)
            widen(out[c], levels[i].least, levels[i].most);
    }
    return out;
}

SeriesOutline outlineOfSamples(std::span<const double> timeS, std::span<const double> samples, double fromS,
                               double toS, std::size_t columns) {
    SeriesOutline out(columns, {noSample, noSample});
    if (columns == 0 || !(toS > fromS)) return out;
    const Columns across(fromS, toS, columns);
    const auto first = static_cast<std::size_t>(std::ranges::lower_bound(timeS, fromS) - timeS.begin());
    for (std::size_t i = first; i < std::min(timeS.size(), samples.size()) && timeS[i] <= toS; ++i) {
        const auto v = static_cast<float>(samples[i]);
        widen(out[across.at(timeS[i])], v, v);
    }
    return out;
}

} // namespace wheelwright
