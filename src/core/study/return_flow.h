// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/study/engine_map.h"

namespace wheelwright {

/// The controller holds the content here.
inline bool frozenAt(const FuelSupply &supply, double rpm, double loadKpa) {
    // Without jumps, since it is asked at every point of every content.
    return (supply.freezeLoadKpa > 0) & (loadKpa >= supply.freezeLoadKpa) & (rpm >= supply.freezeRpm);
}

/// What comes back to the tank, L/min. Negative: the pumps do not even fill the engine.
/// Throws InputError when the pumps have no data.
EngineMap returnFlow(const Study &study, double content);

/// The least of it that can be reached at a content, at the peak too. Throws as returnFlow().
double leastReturnLMin(const Study &study, double content);

/// Above this load and this speed, both together, the reading of a sensor in the return is to be held: the
/// corner of all points, at any content, where too little comes back.
struct FreezeLine {
    bool needed = false;
    double loadKpa = 0, rpm = 0;
};
FreezeLine freezeLine(const Study &study);
/// Whether what the job freezes holds the reading wherever too little comes back.
bool freezeCovers(const Study &study);

} // namespace wheelwright
