// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/evidence/strip_scale.h"

#include "session/words.h"

#include <algorithm>
#include <cmath>

namespace wheelwright::strip {
namespace {

// Whatever a sensor says at its ends, λ matters between these.
constexpr double lambdaLow = 0.6, lambdaHigh = 1.4;

double leastSpanOf(Dimension dimension) {
    switch (dimension) {
    case Dimension::content:
    case Dimension::ratio:
        return 0.05;
    case Dimension::mixture:
        return 0.1;
    case Dimension::engineSpeed:
        return 200;
    case Dimension::voltage:
    case Dimension::duration:
    case Dimension::count:
        return 1;
    default:
        return 5;
    }
}

} // namespace

std::pair<double, double> scaleFor(const LogChannel &c) {
    double a = c.internal(c.least), b = c.internal(c.most);
    if (a > b) std::swap(a, b);
    if (c.role == ChannelRole::lambda || c.role == ChannelRole::lambdaTarget) {
        a = std::clamp(a, lambdaLow, 0.9);
        b = std::clamp(b, 1.05, lambdaHigh);
    }
    // A channel that stands still shows a line, not its noise.
    const double least = leastSpanOf(definitionOf(c.role).dimension);
    const double pad = std::max((b - a) * 0.06, (least - (b - a)) / 2);
    return {a - pad, b + pad};
}

QString clockText(double s, double stepS, const UnitChoice &units) {
    constexpr int perMinute = 60;
    if (std::abs(s) < perMinute) return fixedText(s, stepS < 0.1 ? 2 : stepS < 1 ? 1 : 0, units);
    const auto minutes = static_cast<long long>(s / perMinute);
    const double rest = s - static_cast<double>(minutes) * perMinute;
    return QStringLiteral("%1:%2").arg(minutes).arg(fixedText(rest, stepS < 1 ? 1 : 0, units),
                                                    stepS < 1 ? 4 : 2, QLatin1Char('0'));
}

} // namespace wheelwright::strip
