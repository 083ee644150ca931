// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace wheelwright {

enum class SensorFaultRule { notStated, fixedContent, holdLast };

/// What the controller does with the content sensor.
struct ContentSensing {
    SensorFaultRule onFault = SensorFaultRule::notStated;
    double faultContent = 0;        ///< that it falls back to
    double slewPerS = 0;            ///< most that its content follows in a second; 0: at once
    double plausibleLeast = 0;      ///< readings under it are taken for a fault
    double plausibleMost = 1;       ///< and over it
    bool comparedAfterFill = false; ///< with tube or arithmetic before any load, so that a stuck one is seen

    bool operator==(const ContentSensing &) const = default;
};

} // namespace wheelwright
