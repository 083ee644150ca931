// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/flow/mechanical_injection.h"

#include "core/base/error.h"
#include "core/flow/engine_air.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

namespace wheelwright {
namespace {

double areaMm2(double diameterMm) {
    return std::numbers::pi / 4 * diameterMm * diameterMm;
}

// L/min through an orifice at 1 kPa: C_d A √(2Δp/ρ), mm² and kPa.
double conductance(double discharge, double area, double densityKgM3) {
    constexpr double m2PerMm2 = 1e-6, paPerKpa = 1000, litresPerMinute = 60000;
    return discharge * area * m2PerMm2 * std::sqrt(2 * paPerKpa / densityKgM3) * litresPerMinute;
}

void require(bool holds, const char *where, PhraseText expected, double found) {
    if (!holds || !std::isfinite(found)) throw InputError(where, expected, exactly(found));
}

void check(const MechanicalInjection &m) {
    require(m.pumpLMin > 0, "pump flow", MARKED("expected.more_than_0_l_per_min", "more than 0 L/min"),
            m.pumpLMin);
    require(m.pumpRpm > 0, "pump speed", MARKED("expected.more_than_0_rpm", "more than 0 rpm"), m.pumpRpm);
    require(m.wear >= 0 && m.wear <= 0.9, "pump wear",
            MARKED("expected.a_share_from_0_to_0_9", "a share from 0 to 0.9"), m.wear);
    require(m.nozzles >= 1 && m.nozzles == std::floor(m.nozzles), "nozzles",
            MARKED("expected.a_whole_number_from_1", "a whole number from 1"), m.nozzles);
    require(m.nozzleMm > 0, "nozzle", MARKED("expected.a_diameter_above_0_mm", "a diameter above 0 mm"),
            m.nozzleMm);
    require(m.dischargeNozzles > 0 && m.dischargeNozzles <= 1, "discharge coefficient of the nozzles",
            MARKED("expected.0_to_1", "0 to 1"), m.dischargeNozzles);
    require(m.dischargeJets > 0 && m.dischargeJets <= 1, "discharge coefficient of the jets",
            MARKED("expected.0_to_1", "0 to 1"), m.dischargeJets);
    require(m.densityKgM3 > 0, "density", MARKED("expected.more_than_0_kg_per_m", "more than 0 kg/m³"),
            m.densityKgM3);
    for (const BypassJet *jet : {&m.main, &m.highSpeed, &m.port}) {
        require(jet->diameterMm >= 0, "jet",
                MARKED("expected.a_diameter_of_0_mm_or_more", "a diameter of 0 mm or more"), jet->diameterMm);
        require(jet->opensKpa >= 0, "jet's spring", MARKED("expected.0_kpa_or_more", "0 kPa or more"),
                jet->opensKpa);
    }
}

} // namespace

namespace {

// The pressure at which nozzles N (against `back`) and open jets J pass a flow: N √(p − back) + J √p = Q, a
// quadratic in √p.
double pressureFor(double flow, double nozzles, double jets, double back) {
    if (back > 0 && flow <= jets * std::sqrt(back))
        return std::pow(flow / jets, 2); // nothing gets to the engine
    const double alone = back + std::pow(flow / nozzles, 2);
    if (jets == 0 || alone <= 0) return alone; // a vacuum draws it all: nothing is pushed back to the tank
    const double half = flow * jets, last = flow * flow + nozzles * nozzles * back;
    const double root = std::sqrt(half * half + (nozzles * nozzles - jets * jets) * last);
    return std::pow(last / (half + root), 2);
}

double flowThrough(double nozzles, double pressure, double back) {
    return pressure > back ? nozzles * std::sqrt(pressure - back) : 0;
}

} // namespace

FuelNetwork solveNetwork(const MechanicalInjection &m, double rpm, double backKpa) {
    check(m);
    require(rpm > 0, "engine speed", MARKED("expected.more_than_0_rpm", "more than 0 rpm"), rpm);
    FuelNetwork n;
    n.backKpa = backKpa;
    n.pumpLMin = m.pumpLMin * (1 - m.wear) * rpm / m.pumpRpm;
    const double nozzles = conductance(m.dischargeNozzles, m.nozzles * areaMm2(m.nozzleMm), m.densityKgM3);
    struct Path {
        const BypassJet *jet;
        double *flow;
        double conductance;
        bool open = false;
    };
    std::array paths{Path{&m.main, &n.mainLMin, 0}, Path{&m.highSpeed, &n.highSpeedLMin, 0},
                     Path{&m.port, &n.portLMin, 0}};
    for (Path &p : paths)
        p.conductance = conductance(m.dischargeJets, areaMm2(p.jet->diameterMm), m.densityKgM3);
    std::ranges::stable_sort(paths, {}, [](const Path &p) { return p.jet->opensKpa; });
    double jets = 0;
    n.pressureKpa = pressureFor(n.pumpLMin, nozzles, jets, backKpa);
    for (Path &p : paths) {
        const double opens = p.jet->opensKpa;
        if (p.conductance == 0 || n.pressureKpa <= opens) continue; // blanked off, or still shut
        const double wide = pressureFor(n.pumpLMin, nozzles, jets + p.conductance, backKpa);
        if (wide < opens) { // wide open it would shut again: it holds its spring's pressure
            n.pressureKpa = opens;
            *p.flow = n.pumpLMin - jets * std::sqrt(opens) - flowThrough(nozzles, opens, backKpa);
            break;
        }
        p.open = true;
        jets += p.conductance;
        n.pressureKpa = wide;
    }
    n.engineLMin = flowThrough(nozzles, n.pressureKpa, backKpa);
    for (Path &p : paths)
        if (p.open) *p.flow = p.conductance * std::sqrt(n.pressureKpa);
    n.share = n.engineLMin / n.pumpLMin;
    return n;
}

double backPressureKpa(const MechanicalInjection &m, const MechanicalEngine &e) {
    return m.nozzlePlace == NozzlePlace::aboveBlower ? 0 : e.manifoldKpa - e.ambientKpa;
}

MixturePoint mixtureAt(const MechanicalInjection &m, const MechanicalEngine &e, double rpm) {
    MixturePoint x;
    x.rpm = rpm;
    x.network = solveNetwork(m, rpm, backPressureKpa(m, e));
    constexpr double gSOfLMinAtOneKgM3 = 1.0 / 60;
    x.fuelGS = x.network.engineLMin * m.densityKgM3 * gSOfLMinAtOneKgM3;
    x.airGS = airFlowGS(e.ve, e.manifoldKpa, e.displacementL, e.intakeC, rpm);
    constexpr double nearlyNothing = 1e-3; // g/s: the manifold holds the fuel back
    x.afr = x.airGS / std::max(x.fuelGS, nearlyNothing);
    x.lambda = x.afr / e.stoichiometricAfr;
    return x;
}

std::vector<PillStep> pillTable(const MechanicalInjection &m, const MechanicalEngine &e, double rpm,
                                double stepMm, int count) {
    require(stepMm > 0, "step of the pills", MARKED("expected.more_than_0_mm", "more than 0 mm"), stepMm);
    require(count >= 1 && count <= 50, "pills to each side", MARKED("expected.1_to_50", "1 to 50"), count);
    const double now = mixtureAt(m, e, rpm).lambda;
    std::vector<PillStep> table;
    for (int i = -count; i <= count; ++i) {
        MechanicalInjection other = m;
        other.main.diameterMm = m.main.diameterMm + i * stepMm;
        if (other.main.diameterMm < 0) continue;
        PillStep s;
        s.diameterMm = other.main.diameterMm;
        s.point = mixtureAt(other, e, rpm);
        const FuelNetwork &n = s.point.network;
        for (const auto &[jet, flow] : {std::pair{&other.main, n.mainLMin},
                                        {&other.highSpeed, n.highSpeedLMin},
                                        {&other.port, n.portLMin}})
            if (flow > 0) s.areaMm2 += areaMm2(jet->diameterMm);
        s.leanerBy = s.point.lambda / now - 1;
        constexpr double same = 1e-9;
        s.exhaustTrend = s.leanerBy > same ? 1 : s.leanerBy < -same ? -1 : 0;
        table.push_back(s);
    }
    return table;
}

std::vector<PillCombination> pillChart(const MechanicalInjection &m, const MechanicalEngine &e, double rpm,
                                       double stepMm, int count) {
    const double now = mixtureAt(m, e, rpm).lambda;
    std::vector<PillCombination> chart;
    const int others = m.highSpeed.diameterMm > 0 ? count : 0;
    for (const PillStep &main : pillTable(m, e, rpm, stepMm, count))
        for (int i = -others; i <= others; ++i) {
            MechanicalInjection other = m;
            other.main.diameterMm = main.diameterMm;
            other.highSpeed.diameterMm = m.highSpeed.diameterMm + i * stepMm;
            if (others > 0 && other.highSpeed.diameterMm <= 0) continue;
            PillCombination c{other.main.diameterMm, other.highSpeed.diameterMm,
                              areaMm2(other.main.diameterMm) + areaMm2(other.highSpeed.diameterMm),
                              mixtureAt(other, e, rpm), 0};
            c.leanerBy = c.point.lambda / now - 1;
            chart.push_back(c);
        }
    std::ranges::stable_sort(chart, {}, &PillCombination::areaMm2);
    return chart;
}

double pillForDensity(const MechanicalInjection &m, double rpm, double ratio, double backKpa) {
    require(ratio > 0, "density ratio", MARKED("expected.more_than_0", "more than 0"), ratio);
    const double wanted = solveNetwork(m, rpm, backKpa).engineLMin * ratio;
    MechanicalInjection other = m;
    other.main.diameterMm = 0;
    if (solveNetwork(other, rpm, backKpa).engineLMin < wanted) return 0;
    // A larger pill leaves the engine less: halve the interval until the pill is known to a thousandth of a
    // micron.
    double low = 0, high = 50;
    constexpr double closeMm = 1e-9;
    while (high - low > closeMm) {
        other.main.diameterMm = (low + high) / 2;
        (solveNetwork(other, rpm, backKpa).engineLMin > wanted ? low : high) = other.main.diameterMm;
    }
    return (low + high) / 2;
}

namespace {

constexpr double gasConstantDry = 0.28705, gasConstantVapour = 0.46152; // kJ/(kg K)

struct MoistAir {
    double dryKpa, vapourKpa, kelvin;
};

MoistAir moistAir(double pressureKpa, double temperatureC, double relativeHumidity) {
    require(pressureKpa > 0, "air pressure", MARKED("expected.more_than_0_kpa", "more than 0 kPa"),
            pressureKpa);
    require(temperatureC > -60 && temperatureC < 60, "air temperature",
            MARKED("expected.60_to_60_degc", "-60 to 60 °C"), temperatureC);
    require(relativeHumidity >= 0 && relativeHumidity <= 1, "humidity",
            MARKED("expected.a_share_from_0_to_1", "a share from 0 to 1"), relativeHumidity);
    const double saturation = 0.6112 * std::exp(17.62 * temperatureC / (243.12 + temperatureC)); // kPa
    const double vapour = relativeHumidity * saturation;
    return {pressureKpa - vapour, vapour, temperatureC + 273.15};
}

} // namespace

double airDensityKgM3(double pressureKpa, double temperatureC, double relativeHumidity) {
    const MoistAir air = moistAir(pressureKpa, temperatureC, relativeHumidity);
    return air.dryKpa / (gasConstantDry * air.kelvin) + air.vapourKpa / (gasConstantVapour * air.kelvin);
}

double dryAirDensityKgM3(double pressureKpa, double temperatureC, double relativeHumidity) {
    const MoistAir air = moistAir(pressureKpa, temperatureC, relativeHumidity);
    return air.dryKpa / (gasConstantDry * air.kelvin);
}

double densityAltitudeM(double density) {
    require(density > 0.3 && density < 2, "air density", MARKED("expected.0_3_to_2_kg_m3", "0.3 to 2 kg/m³"),
            density);
    constexpr double seaLevel = 1.225, kelvin = 288.15, lapse = 0.0065, gravity = 9.80665, gas = 287.05287;
    return kelvin / lapse * (1 - std::pow(density / seaLevel, 1 / (gravity / (gas * lapse) - 1)));
}

double standardPressureKpa(double heightM) {
    require(heightM >= -500 && heightM <= 11000, "height",
            MARKED("expected.500_to_11000_m", "-500 to 11000 m"), heightM);
    return 101.325 * std::pow(1 - 0.0065 * heightM / 288.15, 9.80665 / (287.05287 * 0.0065));
}

} // namespace wheelwright
