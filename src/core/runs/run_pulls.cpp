// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/runs/run_pulls.h"

#include "core/runs/run_curve.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

struct Leg {
    std::size_t from = 0, to = 0; ///< rows, both within
    bool down = false;
};

constexpr double turnShare = 0.05, leastTurnRpm = 150, pullShare = 0.25, leastPullRpm = 400;
constexpr std::size_t leastRows = 5;

// Where speed goes one way, from turning point to turning point.
std::vector<Leg> legsOf(std::span<const double> rpm, std::size_t from, std::size_t to, double turn) {
    std::vector<Leg> legs;
    std::size_t begin = from, low = from, high = from;
    int way = 0; // not known yet
    for (std::size_t i = from + 1; i <= to; ++i) {
        if (rpm[i] > rpm[high]) high = i;
        if (rpm[i] < rpm[low]) low = i;
        if (way <= 0 && rpm[i] - rpm[low] >= turn) {
            if (way < 0) legs.push_back({begin, low, true});
            begin = way < 0 ? low : begin;
            way = 1;
            high = i;
        } else if (way >= 0 && rpm[high] - rpm[i] >= turn) {
            if (way > 0) legs.push_back({begin, high, false});
            begin = way > 0 ? high : begin;
            way = -1;
            low = i;
        }
    }
    legs.push_back({begin, to, way < 0});
    return legs;
}

double torqueAt(const RunSamples &s, std::size_t row) {
    if (const RunColumn *t = s.of(ChannelRole::torque)) return t->internal(row);
    return s.of(ChannelRole::power)->internal(row) * newtonMetreRpmPerKw /
           s.of(ChannelRole::rpm)->internal(row);
}

double meanTorque(const RunSamples &s, const Leg &leg) {
    double sum = 0, count = 0;
    for (std::size_t i = leg.from; i <= leg.to; ++i)
        if (const double t = torqueAt(s, i); std::isfinite(t)) {
            sum += t;
            ++count;
        }
    return count > 0 ? sum / count : 0;
}

RunSamples cut(const RunSamples &s, const Leg &leg) {
    RunSamples out;
    for (const RunColumn &c : s.columns) {
        RunColumn part{c.role, c.name, c.unit, c.scale, c.offset, {}};
        part.numbers.assign(c.numbers.begin() + static_cast<std::ptrdiff_t>(leg.from),
                            c.numbers.begin() + static_cast<std::ptrdiff_t>(leg.to + 1));
        out.columns.push_back(std::move(part));
    }
    return out;
}

// Rows that say speed, and torque or power: pulls side by side are of different lengths.
RunSamples withoutEmpty(const RunSamples &s, std::vector<double> &numbers) {
    const RunColumn *rpm = s.of(ChannelRole::rpm);
    RunSamples out = s;
    std::vector<double> kept;
    for (RunColumn &c : out.columns)
        c.numbers.clear();
    for (std::size_t i = 0; i < s.rows(); ++i) {
        if (!std::isfinite(rpm->numbers[i]) || !std::isfinite(torqueAt(s, i))) {
            const RunColumn *power = s.of(ChannelRole::power);
            if (!std::isfinite(rpm->numbers[i]) || !power || !std::isfinite(power->numbers[i])) continue;
        }
        for (std::size_t k = 0; k < s.columns.size(); ++k)
            out.columns[k].numbers.push_back(s.columns[k].numbers[i]);
        if (!numbers.empty()) kept.push_back(numbers[i]);
    }
    numbers = std::move(kept);
    return out;
}

} // namespace

FoundPulls findPulls(const RunSamples &all, std::span<const double> pullNumbers) {
    FoundPulls out;
    std::vector<double> numbers(pullNumbers.begin(), pullNumbers.end());
    const RunSamples samples = withoutEmpty(all, numbers);
    if (samples.rows() < 2) return out;
    std::vector<double> rpm;
    for (std::size_t i = 0; i < samples.rows(); ++i)
        rpm.push_back(samples.of(ChannelRole::rpm)->internal(i));
    const auto [least, most] = std::ranges::minmax_element(rpm);
    const double range = *most - *least;
    const double turn = std::max(leastTurnRpm, turnShare * range);
    const double span = std::max(leastPullRpm, pullShare * range);
    std::vector<Leg> legs;
    for (std::size_t from = 0; from < rpm.size();) {
        std::size_t to = from;
        while (to + 1 < rpm.size() && (numbers.empty() || numbers[to + 1] == numbers[from]))
            ++to;
        const std::vector<Leg> found = legsOf(rpm, from, to, turn);
        legs.insert(legs.end(), found.begin(), found.end());
        from = to + 1;
    }
    const bool alone = legs.size() == 1;
    std::erase_if(legs, [&](const Leg &l) {
        return !alone && (l.to - l.from + 1 < leastRows || std::abs(rpm[l.to] - rpm[l.from]) < span);
    });
    double best = 0;
    for (const Leg &l : legs)
        if (!l.down) best = std::max(best, meanTorque(samples, l));
    constexpr double coasting = 1.0 / 3;
    for (const Leg &l : legs) {
        if (l.down && !alone && best > 0 && meanTorque(samples, l) < coasting * best) {
            out.coastedRows += l.to - l.from + 1;
            continue;
        }
        out.pulls.push_back({cut(samples, l), l.down});
    }
    return out;
}

} // namespace wheelwright
