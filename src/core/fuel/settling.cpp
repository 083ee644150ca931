#include "core/fuel/settling.h"

#include "core/error.h"

#include <cmath>
#include <string>

namespace wheelwright {
namespace {

double surgeFlow(const FuelPath &p) { return p.surgeFlowLMin > 0 ? p.surgeFlowLMin : p.lineFlowLMin; }

void check(const FuelPath &p) {
    const auto require = [](bool holds, const char *where, const char *expected, double found) {
        if (!holds)
            throw InputError(where, expected, std::to_string(found));
    };
    require(p.lineL >= 0 && std::isfinite(p.lineL), "line volume", "0 L or more", p.lineL);
    require(p.lineFlowLMin > 0 && std::isfinite(p.lineFlowLMin), "line flow", "more than 0 L/min", p.lineFlowLMin);
    require(p.surgeL >= 0 && std::isfinite(p.surgeL), "surge tank", "0 L or more", p.surgeL);
    require(p.surgeFlowLMin >= 0 && std::isfinite(p.surgeFlowLMin), "surge tank flow", "0 L/min or more", p.surgeFlowLMin);
}

// Plug flow: what enters the line comes out this much later.
double delayMinutes(const FuelPath &p) { return p.lineL / p.lineFlowLMin; }
// Stirred vessel: dc/dt = Q (c_in − c) / V.
double timeConstant(const FuelPath &p) { return p.surgeL / surgeFlow(p); }

} // namespace

double sensorContent(const FuelPath &p, double before, double after, double minutes) {
    check(p);
    const double since = minutes - delayMinutes(p);
    if (since < 0)
        return before;
    const double tau = timeConstant(p);
    return tau > 0 ? after + (before - after) * std::exp(-since / tau) : after;
}

double settlingMinutes(const FuelPath &p, double before, double after, double within) {
    check(p);
    if (!(within > 0))
        throw InputError("within", "more than 0", std::to_string(within));
    const double step = std::abs(after - before);
    if (step <= within)
        return 0;
    return delayMinutes(p) + timeConstant(p) * std::log(step / within);
}

std::vector<SettlingPoint> settlingCurve(const FuelPath &p, double before, double after, std::size_t points) {
    if (points < 2)
        throw InputError("points", "2 or more", std::to_string(points));
    constexpr double beyond = 1.3; // of the settling time: so that the flat end is seen
    const double end = beyond * std::max(settlingMinutes(p, before, after), delayMinutes(p)) + 1e-3;
    std::vector<SettlingPoint> curve;
    for (std::size_t i = 0; i < points; ++i) {
        const double t = end * static_cast<double>(i) / static_cast<double>(points - 1);
        curve.push_back({t, sensorContent(p, before, after, t)});
    }
    return curve;
}

} // namespace wheelwright
