// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fuel/settling.h"

#include "core/base/error.h"

#include <algorithm>
#include <cmath>
#include <string>

namespace wheelwright {
namespace {

double surgeFlow(const FuelPath &p) {
    return p.surgeFlowLMin > 0 ? p.surgeFlowLMin : p.lineFlowLMin;
}

void check(const FuelPath &p) {
    const auto require = [](bool holds, const char *where, PhraseText expected, double found) {
        if (!holds) throw InputError(where, expected, std::to_string(found));
    };
    require(p.lineL >= 0 && std::isfinite(p.lineL), "line volume",
            MARKED("expected.0_l_or_more", "0 L or more"), p.lineL);
    require(p.lineFlowLMin > 0 && std::isfinite(p.lineFlowLMin), "line flow",
            MARKED("expected.more_than_0_l_per_min", "more than 0 L/min"), p.lineFlowLMin);
    require(p.surgeL >= 0 && std::isfinite(p.surgeL), "surge tank",
            MARKED("expected.0_l_or_more", "0 L or more"), p.surgeL);
    require(p.surgeFlowLMin >= 0 && std::isfinite(p.surgeFlowLMin), "surge tank flow",
            MARKED("expected.0_l_per_min_or_more", "0 L/min or more"), p.surgeFlowLMin);
    require(p.railL >= 0 && std::isfinite(p.railL), "rail volume",
            MARKED("expected.0_l_or_more", "0 L or more"), p.railL);
    require(p.returnL >= 0 && std::isfinite(p.returnL), "return line volume",
            MARKED("expected.0_l_or_more", "0 L or more"), p.returnL);
    require(p.useLMin >= 0 && std::isfinite(p.useLMin), "fuel burned",
            MARKED("expected.0_l_per_min_or_more", "0 L/min or more"), p.useLMin);
    require(p.place == SensorPlace::feed || p.useLMin < p.lineFlowLMin, "fuel burned",
            MARKED("expected.less_than_line_s_flow",
                   "less than the line's flow, or nothing comes back past the sensor"),
            p.useLMin);
}

// Stirred vessel: dc/dt = Q (c_in − c) / V.
double timeConstant(const FuelPath &p) {
    return p.surgeL / surgeFlow(p);
}

double contentAt(const FuelPath &p, double delay, double before, double after, double minutes) {
    const double since = minutes - delay;
    if (since < 0) return before;
    const double tau = timeConstant(p);
    return tau > 0 ? after + (before - after) * std::exp(-since / tau) : after;
}

double settled(const FuelPath &p, double delay, double before, double after, double within) {
    if (!(within > 0))
        throw InputError("within", MARKED("expected.more_than_0", "more than 0"), std::to_string(within));
    const double step = std::abs(after - before);
    return step <= within ? 0 : delay + timeConstant(p) * std::log(step / within);
}

} // namespace

// Plug flow: what enters a line comes out its volume over its flow later.
double injectorDelayMinutes(const FuelPath &p) {
    check(p);
    return (p.lineL + p.railL) / p.lineFlowLMin;
}

double sensorDelayMinutes(const FuelPath &p) {
    check(p);
    if (p.place == SensorPlace::feed) return p.lineL / p.lineFlowLMin;
    return injectorDelayMinutes(p) + p.returnL / (p.lineFlowLMin - p.useLMin);
}

double sensorContent(const FuelPath &p, double before, double after, double minutes) {
    return contentAt(p, sensorDelayMinutes(p), before, after, minutes);
}

double injectorContent(const FuelPath &p, double before, double after, double minutes) {
    return contentAt(p, injectorDelayMinutes(p), before, after, minutes);
}

double settlingMinutes(const FuelPath &p, double before, double after, double within) {
    return settled(p, sensorDelayMinutes(p), before, after, within);
}

double injectorSettlingMinutes(const FuelPath &p, double before, double after, double within) {
    return settled(p, injectorDelayMinutes(p), before, after, within);
}

std::vector<SettlingPoint> settlingCurve(const FuelPath &p, double before, double after, std::size_t points,
                                         double end) {
    if (points < 2)
        throw InputError("points", MARKED("expected.2_or_more", "2 or more"), std::to_string(points));
    constexpr double beyond = 1.3; // of the settling time: so that the flat end is seen
    if (end <= 0)
        end = beyond * std::max({settlingMinutes(p, before, after), injectorSettlingMinutes(p, before, after),
                                 sensorDelayMinutes(p), injectorDelayMinutes(p)}) +
              1e-3;
    std::vector<SettlingPoint> curve;
    for (std::size_t i = 0; i < points; ++i) {
        const double t = end * static_cast<double>(i) / static_cast<double>(points - 1);
        curve.push_back({t, sensorContent(p, before, after, t), injectorContent(p, before, after, t)});
    }
    return curve;
}

} // namespace wheelwright
