// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/runs/run_gain.h"

#include "core/base/student_t.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numeric>

namespace wheelwright {
namespace {

constexpr double sure = 0.95;

double meanOfValues(std::span<const double> v) {
    return std::accumulate(v.begin(), v.end(), 0.0) / static_cast<double>(v.size());
}

double squaresAbout(std::span<const double> v, double mean) {
    double sum = 0;
    for (const double x : v)
        sum += (x - mean) * (x - mean);
    return sum;
}

using Columns = std::vector<std::vector<double>>;

Columns groupColumns(std::span<const RunPlace> runs, std::size_t groups) {
    Columns out(groups, std::vector<double>(runs.size(), 0.0));
    for (std::size_t i = 0; i < runs.size(); ++i)
        out[runs[i].group][i] = 1;
    return out;
}

// About its mean, so that the means of groups stay of the size of what was measured.
std::vector<double> centred(std::vector<double> v) {
    const double mean = meanOfValues(v);
    for (double &x : v)
        x -= mean;
    return v;
}

std::vector<double> orders(std::span<const RunPlace> runs) {
    std::vector<double> out;
    for (const RunPlace &r : runs)
        out.push_back(r.order);
    return centred(std::move(out));
}

std::optional<std::vector<double>> warmths(std::span<const RunPlace> runs) {
    std::vector<double> out;
    for (const RunPlace &r : runs) {
        if (!r.warmC) return std::nullopt;
        out.push_back(*r.warmC);
    }
    const auto [least, most] = std::ranges::minmax_element(out);
    if (!(*most - *least > warmWorthFittingK)) return std::nullopt;
    return centred(std::move(out));
}

// What is left of a column beside others, as a share of its length.
double leftBeside(const Columns &others, const std::vector<double> &column) {
    const LeastSquares fit(others);
    if (!fit.independent()) return 0;
    const double all = std::inner_product(column.begin(), column.end(), column.begin(), 0.0);
    return all > 0 ? std::sqrt(fit.solve(column).squares / all) : 0;
}

DriftModel modelOf(ScatterFrom from, Columns columns, std::size_t groups) {
    DriftModel m;
    m.from = from;
    m.fit = LeastSquares(std::move(columns));
    m.groups = groups;
    m.freedom = m.fit.freedom();
    return m;
}

} // namespace

std::string_view keyOf(ScatterFrom from) {
    constexpr std::string_view keys[] = {"none", "drift", "heat", "pooled", "welch", "controls"};
    return keys[static_cast<std::size_t>(from)];
}

double GainEstimate::halfWidth() const {
    return judged() ? studentReach(sure, freedom) * standardError : std::numeric_limits<double>::quiet_NaN();
}

bool GainEstimate::distinguishable() const {
    return judged() && std::abs(mean) > halfWidth();
}

DriftModel driftModel(std::span<const RunPlace> runs, bool drift) {
    std::size_t groups = 0;
    for (const RunPlace &r : runs)
        groups = std::max(groups, r.group + 1);
    const Columns means = groupColumns(runs, groups);
    const auto freedom = [&](std::size_t slopes) {
        return static_cast<int>(runs.size()) - static_cast<int>(groups + slopes);
    };
    const std::vector<double> order = orders(runs);
    constexpr double independent = 1e-6;
    // Under a tenth of its variance on its own the temperature says what the order says already.
    constexpr double ofItsOwn = 0.316;
    if (drift && freedom(1) >= 1 && leftBeside(means, order) > independent) {
        Columns columns = means;
        columns.push_back(order);
        const auto warm = warmths(runs);
        const bool saysMore = warm && leftBeside(columns, *warm) > ofItsOwn;
        const bool fitted = saysMore && freedom(2) >= 2;
        if (fitted) columns.push_back(*warm);
        DriftModel m = modelOf(fitted ? ScatterFrom::heat : ScatterFrom::drift, std::move(columns), groups);
        // By the order alone: what parts the groups too is not told from what was changed between them.
        const Columns alone{std::vector<double>(runs.size(), 1.0), order};
        m.heatTaken = fitted || !warm || leftBeside(alone, *warm) <= ofItsOwn;
        return m;
    }
    return modelOf(freedom(0) >= 1 ? ScatterFrom::pooled : ScatterFrom::none, means, groups);
}

GainEstimate gainBy(const DriftModel &model, std::span<const double> values, std::size_t from,
                    std::size_t to) {
    const LeastSquares::Solution found = model.fit.solve(values);
    std::vector<double> contrast(model.fit.unknowns(), 0.0);
    contrast[from] = -1;
    contrast[to] = 1;
    GainEstimate g;
    g.mean = found.unknowns[to] - found.unknowns[from];
    g.freedom = std::max(0.0, model.freedom);
    if (g.freedom > 0) g.standardError = std::sqrt(found.squares / g.freedom * model.fit.variance(contrast));
    return g;
}

GainEstimate welch(std::span<const double> before, std::span<const double> after) {
    const double a = meanOfValues(before), b = meanOfValues(after);
    const auto na = static_cast<double>(before.size()), nb = static_cast<double>(after.size());
    const double va = squaresAbout(before, a) / (na - 1) / na, vb = squaresAbout(after, b) / (nb - 1) / nb;
    GainEstimate g;
    g.mean = b - a;
    g.standardError = std::sqrt(va + vb);
    g.freedom = va + vb > 0 ? (va + vb) * (va + vb) / (va * va / (na - 1) + vb * vb / (nb - 1)) : na + nb - 2;
    return g;
}

RunScatter scatterBy(const DriftModel &model, std::span<const double> values) {
    RunScatter s;
    s.freedom = std::max(0.0, model.freedom);
    if (s.freedom <= 0) return s;
    const LeastSquares::Solution found = model.fit.solve(values);
    s.sigma = std::sqrt(found.squares / s.freedom);
    const auto slope = [&](std::size_t at, std::optional<double> &value, std::optional<double> &error) {
        if (at >= model.fit.unknowns()) return;
        std::vector<double> factors(model.fit.unknowns(), 0.0);
        factors[at] = 1;
        value = found.unknowns[at];
        error = s.sigma * std::sqrt(model.fit.variance(factors));
    };
    slope(model.groups, s.perRun, s.perRunError);
    slope(model.groups + 1, s.perK, s.perKError);
    return s;
}

GainSight gainSight(double gain, double sigma, int runs, bool drift) {
    GainSight out;
    out.freedom = 2.0 * runs - (drift ? 3 : 2);
    double variance = 2.0 / runs;
    // Turn and turn about, the order explains 3/(4n² − 1) of what parts the two kinds.
    if (drift) variance /= 1 - 3 / (4.0 * runs * runs - 1);
    out.standardErrors = std::abs(gain) / (sigma * std::sqrt(variance));
    out.power = studentPower(out.standardErrors, out.freedom, studentReach(sure, out.freedom));
    return out;
}

int runsToSee(double gain, double sigma, bool drift, int most) {
    if (!(std::abs(gain) > 0)) return 0;
    if (!(sigma > 0)) return 2; // two of each is what a scatter can be taken from at all
    // The power grows with the runs.
    const auto power = [&](int n) { return gainSight(gain, sigma, n, drift).power; };
    if (power(most) < powerWanted) return 0;
    int low = 2, high = most; // the least that is enough lies within
    while (low < high) {
        const int middle = (low + high) / 2;
        if (power(middle) >= powerWanted)
            high = middle;
        else
            low = middle + 1;
    }
    return low;
}

} // namespace wheelwright
