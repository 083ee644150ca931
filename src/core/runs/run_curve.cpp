// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/runs/run_curve.h"

#include "core/base/error.h"
#include "core/base/median.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numeric>

namespace wheelwright {
namespace {

constexpr double noNumber = std::numeric_limits<double>::quiet_NaN();

bool isCurve(ChannelRole role) {
    return role != ChannelRole::none && role != ChannelRole::rpm && role != ChannelRole::torque &&
           role != ChannelRole::power && role != ChannelRole::time;
}

// The means of what stands between two places of the order, without what is no number.
double meanOf(const std::vector<double> &values, std::span<const std::size_t> rows) {
    double sum = 0, count = 0;
    for (const std::size_t row : rows)
        if (std::isfinite(values[row])) {
            sum += values[row];
            ++count;
        }
    return count > 0 ? sum / count : noNumber;
}

std::vector<double> internalOf(const RunColumn &column) {
    std::vector<double> out(column.numbers.size());
    for (std::size_t i = 0; i < out.size(); ++i)
        out[i] = column.internal(i);
    return out;
}

/// A parabola through points by least squares, at x = 0.
double parabolaAtZero(std::span<const double> x, std::span<const double> y) {
    // Normal equations of polynomials that are made orthogonal to each other on the points: 1, x − m, and the
    // square less its own line.
    const auto n = static_cast<double>(x.size());
    const double m = std::accumulate(x.begin(), x.end(), 0.0) / n;
    double s2 = 0, s3 = 0;
    for (const double v : x) {
        s2 += (v - m) * (v - m);
        s3 += (v - m) * (v - m) * (v - m);
    }
    const double tilt = s2 > 0 ? s3 / s2 : 0, lift = s2 / n;
    double y0 = 0, y1 = 0, y2 = 0, n2 = 0;
    const auto second = [&](double v) { return (v - m) * (v - m) - tilt * (v - m) - lift; };
    for (std::size_t i = 0; i < x.size(); ++i) {
        const double p2 = second(x[i]);
        y0 += y[i];
        y1 += (x[i] - m) * y[i];
        y2 += p2 * y[i];
        n2 += p2 * p2;
    }
    double out = y0 / n;
    if (s2 > 0) out += y1 / s2 * -m;
    if (n2 > 0) out += y2 / n2 * second(0);
    return out;
}

double between(std::span<const double> x, std::span<const double> y, double at) {
    const auto above = std::ranges::lower_bound(x, at) - x.begin();
    if (above == std::ssize(x)) return y.back();
    const auto k = static_cast<std::size_t>(above);
    if (k == 0) return y.front();
    return y[k - 1] + (at - x[k - 1]) / (x[k] - x[k - 1]) * (y[k] - y[k - 1]);
}

} // namespace

std::span<const double> RunCurve::of(ChannelRole role) const {
    if (role == ChannelRole::torque) return torqueNm;
    if (role == ChannelRole::power) return powerKw;
    const auto lane = lanes.find(role);
    return lane == lanes.end() ? std::span<const double>() : lane->second;
}

RunCurve curveOf(const Run &run) {
    const std::string where = "run " + run.id;
    return curveOf(runSamplesFrom(run.samples.text(), where), where);
}

RunCurve curveOf(const RunSamples &samples, const std::string &where) {
    const RunColumn *rpm = samples.of(ChannelRole::rpm), *torque = samples.of(ChannelRole::torque),
                    *power = samples.of(ChannelRole::power);
    if (!rpm || (!torque && !power))
        throw InputError(where, MARKED("expected.rpm_and_torque", "engine speed, and torque or power"),
                         MARKED("found.not_both", "not both"));
    std::vector<std::size_t> order;
    for (std::size_t i = 0; i < samples.rows(); ++i)
        if (std::isfinite(rpm->numbers[i]) && rpm->internal(i) > 0 &&
            ((torque && std::isfinite(torque->numbers[i])) || (power && std::isfinite(power->numbers[i]))))
            order.push_back(i);
    std::ranges::stable_sort(order, {}, [&](std::size_t i) { return rpm->internal(i); });
    RunCurve out;
    std::vector<double> torques =
                            torque ? internalOf(*torque) : std::vector<double>(samples.rows(), noNumber),
                        powers = power ? internalOf(*power) : std::vector<double>(samples.rows(), noNumber);
    std::vector<std::pair<ChannelRole, std::vector<double>>> others;
    for (const RunColumn &c : samples.columns)
        if (isCurve(c.role) && samples.of(c.role) == &c) others.emplace_back(c.role, internalOf(c));
    for (std::size_t from = 0; from < order.size();) {
        std::size_t to = from;
        const double speed = rpm->internal(order[from]);
        while (to < order.size() && rpm->internal(order[to]) == speed)
            ++to;
        const std::span<const std::size_t> rows = std::span(order).subspan(from, to - from);
        double nm = meanOf(torques, rows), kw = meanOf(powers, rows);
        if (!std::isfinite(nm)) nm = kw * newtonMetreRpmPerKw / speed;
        if (!std::isfinite(kw)) kw = nm * speed / newtonMetreRpmPerKw;
        out.rpm.push_back(speed);
        out.torqueNm.push_back(nm);
        out.powerKw.push_back(kw);
        for (const auto &[role, values] : others)
            out.lanes[role].push_back(meanOf(values, rows));
        from = to;
    }
    if (out.rpm.size() < 2)
        throw InputError(where,
                         MARKED("expected.two_speeds", "torque or power at two engine speeds at least"),
                         std::to_string(out.rpm.size()));
    return out;
}

RunPeak peakOf(std::span<const double> rpm, std::span<const double> values) {
    RunPeak peak{noNumber, noNumber};
    for (std::size_t i = 0; i < values.size(); ++i)
        if (std::isfinite(values[i]) && !(values[i] <= peak.value)) peak = {values[i], rpm[i]};
    return peak;
}

std::vector<RunCut> cutsOf(const RunCurve &curve) {
    constexpr double reachRpm = 500, low = 0.8, back = 0.9, stepRpm = 25;
    // A run may have many rows: its torque by steps of speed, each with its mean and its lowest.
    std::vector<double> rpm, mean, lowest;
    for (std::size_t i = 0; i < curve.rpm.size();) {
        const double step = std::floor(curve.rpm[i] / stepRpm);
        double sum = 0, count = 0, least = std::numeric_limits<double>::infinity(), at = curve.rpm[i];
        for (; i < curve.rpm.size() && std::floor(curve.rpm[i] / stepRpm) == step; ++i, ++count) {
            sum += curve.torqueNm[i];
            if (curve.torqueNm[i] < least) at = curve.rpm[i];
            least = std::min(least, curve.torqueNm[i]);
        }
        rpm.push_back(at);
        mean.push_back(sum / count);
        lowest.push_back(least);
    }
    std::vector<RunCut> out;
    for (std::size_t i = 0; i < rpm.size(); ++i) {
        const auto from = std::ranges::lower_bound(rpm, rpm[i] - reachRpm) - rpm.begin(),
                   to = std::ranges::upper_bound(rpm, rpm[i] + reachRpm) - rpm.begin();
        const auto first = mean.begin() + from, last = mean.begin() + to,
                   here = mean.begin() + static_cast<std::ptrdiff_t>(i);
        const double usual = medianOf({first, last});
        const auto whole = [&](double v) { return v >= back * usual; };
        if (!(lowest[i] < low * usual) || !std::any_of(first, here, whole) || !std::any_of(here, last, whole))
            continue;
        const double share = std::max(lowest[i] / usual, 0.0); // a brake may hold the engine meanwhile
        constexpr double near = reachRpm / 4; // speeds that nearly follow each other are one hole
        if (!out.empty() && rpm[i] - out.back().toRpm <= near)
            out.back() = {out.back().fromRpm, rpm[i], std::min(out.back().share, share)};
        else
            out.push_back({rpm[i], rpm[i], share});
    }
    return out;
}

std::vector<double> smoothedAt(std::span<const double> rpm, std::span<const double> values, double windowRpm,
                               std::span<const double> at) {
    std::vector<double> x, y;
    for (std::size_t i = 0; i < rpm.size(); ++i)
        if (std::isfinite(values[i])) {
            x.push_back(rpm[i]);
            y.push_back(values[i]);
        }
    std::vector<double> out(at.size(), noNumber);
    if (x.size() < 2) return out;
    constexpr std::ptrdiff_t fewest = 5;
    constexpr double rounding = 1e-9;
    std::vector<double> moved;
    for (std::size_t k = 0; k < at.size(); ++k) {
        if (windowRpm <= 0) {
            out[k] = between(x, y, at[k]);
            continue;
        }
        // The window about the speed, shifted inside where the curve ends.
        double low = at[k] - windowRpm / 2;
        low = std::max(std::min(low, x.back() - windowRpm), x.front());
        const double slack = rounding * windowRpm;
        auto from = std::ranges::lower_bound(x, low - slack) - x.begin();
        auto to = std::ranges::upper_bound(x, low + windowRpm + slack) - x.begin();
        while (to - from < fewest && (from > 0 || to < std::ssize(x))) // the nearer one of both sides
            if (to == std::ssize(x) || (from > 0 && at[k] - x[static_cast<std::size_t>(from - 1)] <=
                                                        x[static_cast<std::size_t>(to)] - at[k]))
                --from;
            else
                ++to;
        const auto first = static_cast<std::size_t>(from), count = static_cast<std::size_t>(to - from);
        moved.assign(x.begin() + from, x.begin() + to);
        for (double &v : moved)
            v -= at[k];
        out[k] = parabolaAtZero(moved, std::span(y).subspan(first, count));
    }
    return out;
}

} // namespace wheelwright
