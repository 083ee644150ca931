// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <cstddef>
#include <vector>

namespace wheelwright {

enum class SensorPlace { feed, returnLine };

/// The way from the tank to the content sensor and to the injectors after a pour: an optional surge tank as a
/// stirred vessel, then line and rail as plug flow. What the return line brings back to the tank is not
/// followed: it is small against the tank.
struct FuelPath {
    double lineL = 0.4;       ///< feed line; with the sensor in it, up to the sensor
    double lineFlowLMin = 0;  ///< through the line: consumption (dead-ended rail) or pump flow (return)
    double surgeL = 0;        ///< surge tank; 0: none
    double surgeFlowLMin = 0; ///< that stirs it: its lift pump's, or the line's where it has none (0)
    SensorPlace place = SensorPlace::feed;
    double railL = 0;   ///< from the end of the feed line to the last injector
    double returnL = 0; ///< rail to a sensor in the return
    double useLMin = 0; ///< of the line's flow the engine burns; the return carries the rest
};

/// Minutes until the first of the new fuel arrives. Throw InputError for negative volumes, or flows that
/// never bring the new fuel.
double sensorDelayMinutes(const FuelPath &path);
double injectorDelayMinutes(const FuelPath &path);

/// Content at the sensor, and at the last injector, minutes after a pour that took the tank from one content
/// to another at time 0.
double sensorContent(const FuelPath &path, double before, double after, double minutes);
double injectorContent(const FuelPath &path, double before, double after, double minutes);

/// Minutes until the sensor, or the last injector, stays within `within` (a fraction) of the new content.
double settlingMinutes(const FuelPath &path, double before, double after, double within = 0.01);
double injectorSettlingMinutes(const FuelPath &path, double before, double after, double within = 0.01);

struct SettlingPoint {
    double minutes = 0;
    double content = 0;  ///< at the sensor
    double injector = 0; ///< at the last injector
};
/// The curve until well after both have settled, evenly spaced. points: at least 2.
/// end: its length in minutes; 0: as long as it takes.
std::vector<SettlingPoint> settlingCurve(const FuelPath &path, double before, double after,
                                         std::size_t points = 121, double end = 0);

} // namespace wheelwright
