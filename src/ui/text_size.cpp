// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/text_size.h"

#include <private/qhighdpiscaling_p.h>

#include <algorithm>
#include <array>
#include <cmath>

namespace wheelwright {
namespace {

// Each about an eighth to a quarter more than the one before: a step that can be seen, and few to the ends.
constexpr std::array steps{80, 90, 100, 110, 125, 150, 175, 200};

int percentNow = usualTextPercent;
double fontShare = 1; // of the designed size of fonts; under 1 where no scale does it

// What QT_SCALE_FACTOR has set before anything else did; setGlobalFactor replaces it.
qreal ofEnvironment() {
    bool given = false;
    const qreal factor = qEnvironmentVariable("QT_SCALE_FACTOR").toDouble(&given);
    return given && factor > 0 ? factor : 1;
}

} // namespace

int textPercent() {
    return percentNow;
}

void setTextPercent(int percent) {
    percentNow = std::clamp(percent, leastTextPercent, mostTextPercent);
    // Qt scales nothing by less than one: it would clip what it draws at its full size.
    QHighDpiScaling::setGlobalFactor(windowScale());
    fontShare = std::min(ofEnvironment() * percentNow / 100, 1.0);
}

double windowScale() {
    return std::max(ofEnvironment() * percentNow / 100, 1.0);
}

int fontPixels(int designed) {
    constexpr int least = 9;
    return std::max(std::min(designed, least), static_cast<int>(std::lround(designed * fontShare)));
}

int largerText(int percent) {
    const auto *next = std::ranges::upper_bound(steps, percent);
    return next == steps.end() ? steps.back() : *next;
}

int smallerText(int percent) {
    const auto *next = std::ranges::lower_bound(steps, percent);
    return next == steps.begin() ? steps.front() : *std::prev(next);
}

} // namespace wheelwright
