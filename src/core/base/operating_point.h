// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace wheelwright {

/// Where an engine runs: one thing instead of three numbers in a row that could stand in any order.
struct OperatingPoint {
    double content = 0; ///< alcohol of the fuel, volume fraction 0–1
    double rpm = 0;
    double loadKpa = 0; ///< manifold pressure, absolute

    bool operator==(const OperatingPoint &) const = default;
};

/// The same whatever the fuel.
struct EnginePoint {
    double rpm = 0;
    double loadKpa = 0; ///< manifold pressure, absolute

    bool operator==(const EnginePoint &) const = default;
};

} // namespace wheelwright
