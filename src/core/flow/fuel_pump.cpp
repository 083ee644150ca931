#include "core/flow/fuel_pump.h"

#include "core/error.h"

#include <algorithm>
#include <map>

namespace wheelwright {
namespace {

using Curve1 = std::map<double, double>;

double between(const Curve1 &c, double x, bool goOnAbove) {
    auto above = c.lower_bound(x);
    if (above == c.begin()) return above->second;
    if (above == c.end()) {
        if (!goOnAbove || c.size() < 2) return std::prev(above)->second;
        above = std::prev(above);
    }
    const auto below = std::prev(above);
    return below->second +
           (x - below->first) / (above->first - below->first) * (above->second - below->second);
}

double flowOf(const std::vector<PumpPoint> &points, const std::string &pump, double volts,
              double pressureKpa) {
    std::map<double, Curve1> byVoltage;
    for (const PumpPoint &p : points)
        if (p.pump == pump) byVoltage[p.volts][p.pressureKpa] = p.flowLMin;
    if (byVoltage.empty())
        throw InputError("pump '" + pump + "'", "at least one point of its data sheet", "none");
    Curve1 atPressure;
    for (const auto &[voltage, curve] : byVoltage)
        atPressure[voltage] = std::max(0.0, between(curve, pressureKpa, true));
    return between(atPressure, volts, false);
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
        throw InputError("commanded pressure", "more than 0 kPa", std::to_string(commandedKpa));
    return 1 - measuredKpa / commandedKpa;
}

} // namespace wheelwright
