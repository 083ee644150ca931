#pragma once
#include <vector>

namespace wheelwright {

/// The way from the tank to the content sensor after a pour: an optional surge tank as a stirred vessel, then line and rail
/// as plug flow.
struct FuelPath {
    double lineL = 0.4;        ///< line and rail up to the sensor
    double lineFlowLMin = 0;   ///< through the line: consumption (dead-ended rail) or pump flow (return)
    double surgeL = 0;         ///< surge tank; 0: none
    double surgeFlowLMin = 0;  ///< that stirs it: its lift pump's, or the line's where it has none (0)
};

/// Content at the sensor, minutes after a pour that took the tank from one content to another at time 0.
/// Throws InputError for negative volumes, or flows that never bring the new fuel.
double sensorContent(const FuelPath &path, double before, double after, double minutes);

/// Minutes until the sensor stays within `within` (a fraction) of the new content.
double settlingMinutes(const FuelPath &path, double before, double after, double within = 0.01);

struct SettlingPoint {
    double minutes = 0;
    double content = 0;
};
/// The curve until well after it has settled, evenly spaced. points: at least 2.
std::vector<SettlingPoint> settlingCurve(const FuelPath &path, double before, double after, std::size_t points = 121);

} // namespace wheelwright
