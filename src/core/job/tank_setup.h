// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/fuel/settling.h"

#include <string>

namespace wheelwright {

enum class TankEventKind {
    pour,    ///< litres of a fuel are added
    drain,   ///< litres are taken out
    burn,    ///< litres are used
    level,   ///< the volume is known anew: litres
    content, ///< the content is known anew, and believed
    sensor,  ///< the sensor was read: an opinion, the arithmetic goes on without it
    tube     ///< a tube was read: an opinion
};

/// What happened to the tank. Its state is what follows from all events in their order.
struct TankEvent {
    std::string at; ///< ISO 8601; may be empty
    TankEventKind kind = TankEventKind::pour;
    double litres = 0;      ///< for contents: ignored
    double litresSigma = 0; ///< standard uncertainty; 0: what is usual for such an event
    double ethanol = 0;     ///< for pour and contents
    double methanol = 0;
    double contentSigma = 0; ///< standard uncertainty; 0: what is usual
    std::string hydrocarbon; ///< of what is poured; empty: the job's gasoline
    std::string note;

    bool operator==(const TankEvent &) const = default;
};

/// What may go into the tank.
struct FuelSystem {
    bool contentSensor = true;
    bool catalyst = false;     ///< or an oxygen sensor that must last
    double ratedEthanol = 0.1; ///< highest content that pump, hoses and seals are rated for
    double ratedMethanol = 0;

    bool operator==(const FuelSystem &) const = default;
};

/// What the engine uses, measured on a fuel of this content.
struct Consumption {
    double litresPer100Km = 0; ///< 0: not known
    double litresPerHour = 0;  ///< of an event; 0: not known
    double content = 0.1;

    bool operator==(const Consumption &) const = default;
};

struct TankSetup {
    double capacityL = 60;
    double reserveL = 8; ///< under it the pickup may run dry: no pulls
    double lineL = 0.5;  ///< feed line; with the sensor in it, up to the sensor
    double railL = 0;    ///< from there to the last injector
    double returnL = 0;  ///< return line up to a sensor in it
    SensorPlace sensorPlace = SensorPlace::feed;
    double surgeL = 0;          ///< surge tank; 0: none
    double surgeFlowLMin = 0;   ///< of its lift pump; 0: what flows through the line
    double idleFlowLMin = 0.05; ///< through the line at idle
    double cruiseFlowLMin = 0.2;
    double idleUseLMin = 0; ///< of it the engine burns: matters to a sensor in the return
    double cruiseUseLMin = 0;

    bool operator==(const TankSetup &) const = default;
};

} // namespace wheelwright
