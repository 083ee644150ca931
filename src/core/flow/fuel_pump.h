// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/linear.h"

#include <string>
#include <vector>

namespace wheelwright {

/// One line of a pump's data sheet.
struct PumpPoint {
    std::string pump; ///< whose sheet; pumps of one name are alike
    double volts = 13.5;
    double pressureKpa = 300; ///< gauge, at its outlet
    double flowLMin = 0;

    bool operator==(const PumpPoint &) const = default;
};

/// So many alike.
struct FittedPump {
    std::string pump;
    double count = 1; ///< whole

    bool operator==(const FittedPump &) const = default;
};

/// Flow of all fitted pumps side by side, L/min: linear in pressure between the points and on along the last
/// step above them (never under 0), linear in voltage between the voltages that are stated, held outside.
/// Throws InputError for a fitted pump without points.
class PumpsAtVoltage {
  public:
    PumpsAtVoltage(const std::vector<PumpPoint> &points, const std::vector<FittedPump> &fitted, double volts);
    double flowLMin(double pressureKpa) const;

  private:
    struct Part {
        double share; ///< count of the pump, by the weight of this voltage
        SheetSeries series;
    };
    std::vector<Part> m_parts;
};
/// The same at one pressure.
double pumpFlowLMin(const std::vector<PumpPoint> &points, const std::vector<FittedPump> &fitted, double volts,
                    double pressureKpa);

/// Pressure that the pump works against, kPa gauge: the rail's, and the boost where the regulator follows it.
double pumpPressureKpa(double railGaugeKpa, double manifoldKpa, double ambientKpa, bool boostReferenced);

/// A log's rail against the commanded one: 0.08 when the measured Δp lies 8 % under it. Over the limit
/// flow.sag the supply is at its end, and fuel added to the table only hides it.
double railSag(double commandedKpa, double measuredKpa);

} // namespace wheelwright
