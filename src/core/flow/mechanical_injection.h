// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <vector>

namespace wheelwright {

/// A jet back to the tank that opens at its spring's pressure; 0: always open.
struct BypassJet {
    double diameterMm = 0; ///< 0: blanked off
    double opensKpa = 0;

    bool operator==(const BypassJet &) const = default;
};

/// Where the nozzles spray, and so what their fuel has to overcome.
enum class NozzlePlace {
    aboveBlower, ///< into the surrounding air
    belowBlower, ///< into the manifold
    ports        ///< into the manifold
};

/// Mechanical injection: a pump driven by the engine, nozzles to the engine, jets ('pills') back to the tank.
struct MechanicalInjection {
    double pumpLMin = 32;   ///< of a new pump at pumpRpm of the engine
    double pumpRpm = 8000;  ///< engine speed of that flow
    double wear = 0;        ///< share of its flow that a worn pump loses, 0–0.9
    double nozzles = 8;     ///< whole, 1 or more
    double nozzleMm = 1.07; ///< diameter of each
    NozzlePlace nozzlePlace = NozzlePlace::aboveBlower;
    double dischargeNozzles = 0.8;
    double dischargeJets = 0.8;
    double densityKgM3 = 792;
    BypassJet main; ///< always open
    BypassJet highSpeed;
    BypassJet port; ///< idle or port bypass

    bool operator==(const MechanicalInjection &) const = default;
};

/// What the network does at one pump flow.
struct FuelNetwork {
    double pumpLMin = 0;
    double pressureKpa = 0; ///< gauge, behind every orifice
    double backKpa = 0;     ///< gauge, before the nozzles; the pills lead back to the tank
    double engineLMin = 0;  ///< through the nozzles
    double mainLMin = 0, highSpeedLMin = 0, portLMin = 0;
    double share = 0; ///< of the pump's flow that reaches the engine
};

/// Pressures and flows at a speed of the engine. The same pressure stands behind every orifice, Q = C_d A
/// √(2Δp/ρ); nozzles spray against the manifold's where they sit below a blower. A sprung jet is shut under
/// its spring's pressure, fully open above it, and in between holds that pressure. backKpa: gauge, before the
/// nozzles (backPressureKpa()). Throws InputError for sizes that make no sense.
FuelNetwork solveNetwork(const MechanicalInjection &injection, double rpm, double backKpa = 0);

/// What the engine gets out of it.
struct MechanicalEngine {
    double displacementL = 7;
    double ve = 1;            ///< share, against manifold conditions
    double manifoldKpa = 200; ///< absolute
    double intakeC = 60;
    double stoichiometricAfr = 6.47;
    double ambientKpa = 101.325;
};

/// What the nozzles spray against, gauge.
double backPressureKpa(const MechanicalInjection &injection, const MechanicalEngine &engine);

struct MixturePoint {
    double rpm = 0;
    FuelNetwork network;
    double fuelGS = 0, airGS = 0;
    double lambda = 0, afr = 0;
};
MixturePoint mixtureAt(const MechanicalInjection &injection, const MechanicalEngine &engine, double rpm);

/// One line of the table of pills: what another main pill would do at a speed.
struct PillStep {
    double diameterMm = 0;
    double areaMm2 = 0; ///< of all open orifices that lead back, at this speed
    MixturePoint point;
    double leanerBy = 0;  ///< against the pill that is in: 0.03 is 3 % leaner
    int exhaustTrend = 0; ///< +1 hotter, −1 cooler, while it stays on the rich side
};
/// Pills about the one that is in, smallest first. step: between sizes; count: to each side.
std::vector<PillStep> pillTable(const MechanicalInjection &injection, const MechanicalEngine &engine,
                                double rpm, double stepMm, int count);

/// One combination of pills.
struct PillCombination {
    double mainMm = 0, highSpeedMm = 0;
    double areaMm2 = 0; ///< of both pills together, open or not
    MixturePoint point;
    double leanerBy = 0; ///< against the pills that are in
};
/// The pill chart: main and high-speed pills about those that are in, by the total area of the orifices.
/// A high-speed jet that is blanked off stays so. Throws as pillTable().
std::vector<PillCombination> pillChart(const MechanicalInjection &injection, const MechanicalEngine &engine,
                                       double rpm, double stepMm, int count);

/// The main pill that keeps λ when the density of the dry air becomes `ratio` of what it was, mm; 0: none
/// does, even with the bypass shut. Throws InputError for a ratio that is not above 0.
double pillForDensity(const MechanicalInjection &injection, double rpm, double ratio, double backKpa = 0);

/// Density of moist air, kg/m³: partial pressures, with Magnus' saturation pressure (WMO-No. 8 (2018), annex
/// 4.B). relativeHumidity 0–1.
double airDensityKgM3(double pressureKpa, double temperatureC, double relativeHumidity);
/// Of the dry air in it, kg/m³: what brings the oxygen, which λ follows. The same source.
double dryAirDensityKgM3(double pressureKpa, double temperatureC, double relativeHumidity);

/// The height at which the standard atmosphere is as dense, m: ICAO Doc 7488 (1993), up to 11 km.
double densityAltitudeM(double airDensityKgM3);

/// Pressure of the standard atmosphere at a height, kPa: ICAO Doc 7488 (1993), up to 11 km.
double standardPressureKpa(double heightM);

} // namespace wheelwright
