// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"
#include "core/fuel/tank.h"

#include <string_view>

namespace wheelwright {

/// Test tube: water to one line, fuel to a second, shaken; the alcohol goes into the water.
struct TubeReading {
    double waterLine = 0;           ///< W, any unit of height or volume
    double fuelLine = 0;            ///< T, over W
    double layerTop = 0;            ///< S: top of the water-alcohol layer after shaking
    double reading = 0.5;           ///< standard uncertainty of each reading, same unit
    double contraction = 0;         ///< share of its volume that the layer loses in mixing; 0: not corrected
    double contractionSigma = 0.01; ///< its standard uncertainty. Common practice: up to 0.03–0.04 is lost
};

struct TubeResult {
    double raw = 0;    ///< (S − W)/(T − W), may lie a little outside 0–1
    Uncertain content; ///< with contraction, held to 0–1
};

/// Throws InputError for lines out of order or a contraction of 0.2 and more.
TubeResult tubeContent(const TubeReading &reading);

/// Content sensor of the frequency kind: 50 Hz is 0 %, 150 Hz is 100 %; the low pulse tells the fuel's
/// temperature, 1 ms −40 °C to 5 ms 125 °C. Common practice, from memory.
enum class SensorFault { none, noSignal, lowRange, highRange, contaminated, temperatureRange };
struct SensorReading {
    double content = 0;      ///< held to 0–1
    double temperatureC = 0; ///< of the fuel
    SensorFault fault = SensorFault::none;
};
/// pulseMs 0: no temperature was measured (reported as not a number). Throws InputError for negative or not
/// finite input.
SensorReading readContentSensor(double hertz, double pulseMs);
std::string_view faultId(SensorFault fault); ///< "none", "no_signal" …
PhraseText faultWords(SensorFault fault);    ///< a sentence

} // namespace wheelwright
