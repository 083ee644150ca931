// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/records.h"
#include "core/flow/fuel_pump.h"

namespace wheelwright {

/// Pumps, rail and return.
struct FuelSupply {
    double volts = 13.5;           ///< at the pumps
    bool returns = true;           ///< what the engine does not use flows back
    double margin = 0.07;          ///< demand is counted this much higher: filter, ageing
    double sensorReturnLMin = 0.3; ///< a content sensor in the return needs so much
    double freezeLoadKpa = 0;      ///< the controller freezes the content above both; 0: it does not
    double freezeRpm = 0;
    double commandedKpa = 0; ///< across the injectors, from a log at its highest flow; 0: not read
    double measuredKpa = 0;
    Records<PumpPoint> points;
    Records<FittedPump> pumps;

    bool operator==(const FuelSupply &) const = default;
};

} // namespace wheelwright
