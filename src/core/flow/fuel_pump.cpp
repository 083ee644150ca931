// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/flow/fuel_pump.h"

#include "core/base/error.h"
#include "core/base/linear.h"

#include <algorithm>
#include <string>

namespace wheelwright {
namespace {

double flowOf(const std::vector<PumpPoint> &points, const std::string &pump, double volts,
              double pressureKpa) {
    std::map<double, SheetPoints> byVoltage;
    for (const PumpPoint &p : points)
        if (p.pump == pump) byVoltage[p.volts][p.pressureKpa] = p.flowLMin;
    if (byVoltage.empty())
        throw InputError("pump '" + pump + "'",
                         MARKED("expected.least_point_data_sheet", "at least one point of its data sheet"),
                         MARKED("found.none", "none"));
    SheetPoints atPressure;
    for (const auto &[voltage, curve] : byVoltage)
        atPressure[voltage] = std::max(0.0, along(curve, pressureKpa, true));
    return along(atPressure, volts);
}

} // namespace

double pumpFlowLMin(const std::vector<PumpPoint> &points, const std::vector<FittedPump> &fitted, double volts,
                    double pressureKpa) {
    double flow = 0;
    for (const FittedPump &f : fitted)
        flow += f.count * flowOf(points, f.pump, volts, pressureKpa);
    return flow;
}

double pumpPressureKpa(double railGaugeKpa, double manifoldKpa, double ambientKpa, bool boostReferenced) {
    return boostReferenced ? railGaugeKpa + manifoldKpa - ambientKpa : railGaugeKpa;
}

double railSag(double commandedKpa, double measuredKpa) {
    if (!(commandedKpa > 0))
        throw InputError("commanded pressure", MARKED("expected.more_than_0_kpa", "more than 0 kPa"),
                         std::to_string(commandedKpa));
    return 1 - measuredKpa / commandedKpa;
}

} // namespace wheelwright
