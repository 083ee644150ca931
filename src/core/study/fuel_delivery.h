// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/job.h"

#include <optional>

namespace wheelwright {

/// What the numbers of the fuel tables ask of one injector at one content, whatever they mean. Worked out
/// once per content and temperature, then a few operations per cell.
///   VE:          mm³ = k · value · load / λ, k from the air of a cycle and the fuel's need
///   fuel mass:   mm³ = value / ρ
///   pulse width: mm³ = (value − dead time) · flow, two pulses a cycle when fired in batches
/// Mass and pulse width hold at the usual intake air and move with its density from there, as controllers
/// correct them.
class InjectorDemand {
  public:
    /// content 0–1, charge temperature in °C.
    InjectorDemand(const Job &job, double content, double intakeC);
    /// Of tables that would mean something else.
    InjectorDemand(const Job &job, FuelMeaning meaning, double content, double intakeC);

    /// Fuel volume per injector and cycle.
    double mm3(double value, double loadKpa, double lambda) const {
        if (m_volumePerVeKpa > 0) return m_volumePerVeKpa * value * loadKpa / lambda;
        return mm3OfOthers(value, loadKpa);
    }
    /// The number that asks for this volume: the inverse of mm3().
    double value(double mm3, double loadKpa, double lambda) const;

  private:
    double mm3OfOthers(double value, double loadKpa) const;
    double pulseFlow(double loadKpa, double &deadMs) const; ///< mm³/ms

    FuelMeaning m_meaning;
    double m_volumePerVeKpa = 0; ///< mm³ per (% · kPa) at λ 1; 0: not a VE
    double m_densityKgM3;
    double m_airFactor; ///< density of the air against the usual
    double m_pulses = 1;
    Injectors m_injectors;
    double m_ambientKpa;
    double m_pulsePressureKpa;
};

/// Flow of the whole engine: each injector's volume per cycle, a cycle being two turns.
double engineFlowLMin(const Job &job, double mm3PerCycle, double rpm);

/// Whether the rail's pressure is commanded over load, as a returnless supply does it, instead of held by a
/// regulator.
bool railCommanded(const Injectors &injectors);
/// Pressure in the rail, gauge, at a manifold pressure: commanded, or the regulator's, with the boost where
/// it follows that.
double railPressureKpa(const Injectors &injectors, double loadKpa, double ambientKpa);
/// Pressure across the injectors at a manifold pressure. Not below 0.
double differentialKpa(const Job &job, double loadKpa);

/// Flow of all fitted pumps against the rail at a manifold pressure. Throws as pumpFlowLMin().
double pumpFlowAtLoad(const Job &job, double loadKpa);

/// The same at any manifold pressure, its data sheets read once. Keeps a reference to the job.
class PumpFlow {
  public:
    explicit PumpFlow(const Job &job);
    double atLoad(double loadKpa) const;

  private:
    const Job &m_job;
    PumpsAtVoltage m_pumps;
};

/// Dead time of the job's injectors at its usual battery voltage, for any pressure across them.
class UsualDeadTime {
  public:
    explicit UsualDeadTime(const Injectors &injectors);
    double at(double differentialKpa) const { return m_series ? m_series->at(differentialKpa) : m_ms; }

  private:
    std::optional<SheetSeries> m_series;
    double m_ms;
};

/// Dead time at the job's usual battery voltage: by its table where it has one, else the one number.
double usualDeadTimeMs(const Job &job, double differentialKpa);

/// Static flow of one injector on a fuel at a pressure across it, cc/min: orifice law, and the fluid that it
/// was rated with where that is stated.
double injectorFlowOn(const Job &job, double differentialKpa, double fuelKgM3);

/// Every step from air to duty at one point, to be shown.
struct DutyWorking {
    double airMg;   ///< per cylinder and cycle at 100 % VE
    double fuelMm3; ///< per injector and cycle
    double differentialKpa;
    double flowCcMin; ///< of one injector at that pressure
    double deadMs;
    double pulseMs; ///< one pulse, with dead time
    double duty;    ///< share of the cycle
};

/// Duty at one content and intake temperature; what does not change from point to point is worked out once.
/// Keeps a reference to the job.
class DutyModel {
  public:
    DutyModel(const Job &job, double content, double intakeC);
    /// tableFuel: the blended fuel table at the point; the job says what it means.
    DutyWorking at(double rpm, double loadKpa, double tableFuel, double lambda) const;

  private:
    const Job &m_job;
    double m_intakeC, m_density;
    InjectorDemand m_demand;
};

/// The same for a single point.
DutyWorking dutyAt(const Job &job, double content, double intakeC, double rpm, double loadKpa,
                   double tableFuel, double lambda);

} // namespace wheelwright
