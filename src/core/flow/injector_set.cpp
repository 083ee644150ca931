// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/flow/injector_set.h"

#include "core/base/error.h"
#include "core/base/linear.h"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <string>

namespace wheelwright {
namespace {

double spreadOf(const std::vector<double> &flows, const std::vector<double> &needs,
                const std::vector<std::size_t> &injectorOf, std::vector<double> *ratios) {
    // The same pulse for all: λ of a cylinder goes with need over flow. Their mean is what the tables set.
    double mean = 0;
    std::vector<double> lambda;
    for (std::size_t c = 0; c < needs.size(); ++c) {
        lambda.push_back(needs[c] / flows[injectorOf[c]]);
        mean += lambda.back() / static_cast<double>(needs.size());
    }
    double squares = 0;
    for (double &l : lambda) {
        l /= mean;
        squares += (l - 1) * (l - 1);
    }
    if (ratios) *ratios = lambda;
    return std::sqrt(squares / static_cast<double>(needs.size()));
}

} // namespace

SheetSeries deadTimesAt(const std::vector<DeadTimePoint> &points, double volts) {
    if (points.empty())
        throw InputError("dead times", MARKED("expected.at_least_one_point", "at least one point"),
                         MARKED("found.none", "none"));
    std::map<double, SheetPoints> byPressure;
    for (const DeadTimePoint &p : points)
        byPressure[p.differentialKpa][p.volts] = p.ms;
    SheetPoints atVoltage;
    for (const auto &[pressure, curve] : byPressure)
        atVoltage[pressure] = along(curve, volts);
    return SheetSeries(atVoltage);
}

double deadTimeMs(const std::vector<DeadTimePoint> &points, double volts, double differentialKpa) {
    return deadTimesAt(points, volts).at(differentialKpa);
}

double volumeFlowOn(double ratedFlow, double testFluidKgM3, double fuelKgM3) {
    return testFluidKgM3 > 0 ? ratedFlow * std::sqrt(testFluidKgM3 / fuelKgM3) : ratedFlow;
}

InjectorAssignment assignInjectors(const std::vector<double> &flows, const std::vector<double> &needs) {
    constexpr std::size_t mostCylinders = 16;
    if (flows.size() != needs.size() || flows.empty() || flows.size() > mostCylinders)
        throw InputError("injectors",
                         MARKED("expected.many_measured_flows_cylinders_1",
                                "as many measured flows as cylinders, 1 to 16"),
                         std::to_string(flows.size()) + " and " + std::to_string(needs.size()));
    for (std::size_t i = 0; i < flows.size(); ++i) {
        if (!(flows[i] > 0) || !std::isfinite(flows[i]))
            throw InputError("measured flow " + std::to_string(i + 1),
                             MARKED("expected.more_than_0", "more than 0"), exactly(flows[i]));
        if (!(needs[i] > 0) || !std::isfinite(needs[i]))
            throw InputError("need of cylinder " + std::to_string(i + 1),
                             MARKED("expected.more_than_0", "more than 0"), exactly(needs[i]));
    }
    const std::size_t n = flows.size();
    std::vector<std::size_t> byFlow(n), byNeed(n), asListed(n);
    for (auto *order : {&byFlow, &byNeed, &asListed})
        std::iota(order->begin(), order->end(), std::size_t{0});
    std::ranges::stable_sort(byFlow, {}, [&](std::size_t i) { return flows[i]; });
    std::ranges::stable_sort(byNeed, {}, [&](std::size_t i) { return needs[i]; });
    InjectorAssignment a;
    a.injectorOf.resize(n);
    for (std::size_t i = 0; i < n; ++i)
        a.injectorOf[byNeed[i]] = byFlow[i];
    a.spread = spreadOf(flows, needs, a.injectorOf, &a.lambdaRatio);
    a.asListedSpread = spreadOf(flows, needs, asListed, nullptr);
    // By chance: every pair of need and flow is as likely. With x = need/flow and the mean m of all pairs the
    // mean square of x/m − 1 over all permutations is, to the order of the spread, Σ(x/m − 1)²/n².
    double mean = 0, squares = 0;
    for (double need : needs)
        for (double flow : flows)
            mean += need / flow / static_cast<double>(n * n);
    for (double need : needs)
        for (double flow : flows)
            squares += std::pow(need / flow / mean - 1, 2) / static_cast<double>(n * n);
    a.randomSpread = std::sqrt(squares);
    return a;
}

double powerKw(double fuelGS, double bsfcGKwh) {
    return fuelGS * 3600 / bsfcGKwh;
}

BsfcBand usualBsfc(bool boosted, double ethanol, double methanol) {
    constexpr double gPerKwhOfLbPerHph = 608.277388; // 453.59237 g / 0.745699872 kW h, exact definitions
    constexpr double e85 = 0.85, e85Low = 1.35, e85High = 1.40, onMethanol = 2.1;
    const double low = 1 + (e85Low - 1) / e85 * ethanol + (onMethanol - 1) * methanol;
    const double high = 1 + (e85High - 1) / e85 * ethanol + (onMethanol - 1) * methanol;
    return {(boosted ? 0.55 : 0.45) * low * gPerKwhOfLbPerHph,
            (boosted ? 0.65 : 0.50) * high * gPerKwhOfLbPerHph};
}

} // namespace wheelwright
