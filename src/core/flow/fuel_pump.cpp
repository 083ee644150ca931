// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/flow/fuel_pump.h"

#include "core/base/error.h"
#include "core/base/linear.h"

#include <algorithm>

namespace wheelwright {
PumpsAtVoltage::PumpsAtVoltage(const std::vector<PumpPoint> &points, const std::vector<FittedPump> &fitted,
                               double volts) {
    for (const FittedPump &f : fitted) {
        std::map<double, SheetPoints> byVoltage;
        for (const PumpPoint &p : points)
            if (p.pump == f.pump) byVoltage[p.volts][p.pressureKpa] = p.flowLMin;
        if (byVoltage.empty())
            throw InputError(
                "pump '" + f.pump + "'",
                MARKED("expected.least_point_data_sheet", "at least one point of its data sheet"),
                MARKED("found.none", "none"));
        // Held outside of the voltages that are stated, by their distance between two.
        const auto above = byVoltage.lower_bound(volts);
        if (above == byVoltage.begin() || above == byVoltage.end()) {
            const auto &only = above == byVoltage.end() ? std::prev(above)->second : above->second;
            m_parts.push_back({f.count, SheetSeries(only, true)});
            continue;
        }
        const auto below = std::prev(above);
        const double w = (volts - below->first) / (above->first - below->first);
        m_parts.push_back({f.count * (1 - w), SheetSeries(below->second, true)});
        m_parts.push_back({f.count * w, SheetSeries(above->second, true)});
    }
}

double PumpsAtVoltage::flowLMin(double pressureKpa) const {
    double flow = 0;
    for (const Part &p : m_parts)
        flow += p.share * std::max(0.0, p.series.at(pressureKpa));
    return flow;
}

double pumpFlowLMin(const std::vector<PumpPoint> &points, const std::vector<FittedPump> &fitted, double volts,
                    double pressureKpa) {
    return PumpsAtVoltage(points, fitted, volts).flowLMin(pressureKpa);
}

double pumpPressureKpa(double railGaugeKpa, double manifoldKpa, double ambientKpa, bool boostReferenced) {
    return boostReferenced ? railGaugeKpa + manifoldKpa - ambientKpa : railGaugeKpa;
}

double railSag(double commandedKpa, double measuredKpa) {
    if (!(commandedKpa > 0))
        throw InputError("commanded pressure", MARKED("expected.more_than_0_kpa", "more than 0 kPa"),
                         exactly(commandedKpa));
    return 1 - measuredKpa / commandedKpa;
}

} // namespace wheelwright
