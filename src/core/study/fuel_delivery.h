// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/operating_point.h"
#include "core/job/job.h"

#include <algorithm>
#include <optional>
#include <string>

namespace wheelwright {

/// Pressure in the rail of a job, and across its injectors: held by a regulator, or commanded, as a
/// returnless supply does it: by a curve over load, or by a table over speed and load
/// (TableKind::railPressure), which goes before the curve.
class RailPressure {
  public:
    explicit RailPressure(const Job &job);
    bool commanded() const { return m_table || m_byLoad; }
    bool bySpeed() const { return m_table.has_value(); }
    /// Gauge, kPa: with a regulator that follows boost, with that.
    double gaugeKpa(EnginePoint at) const;
    /// kPa; commanded, not below 0.
    double acrossKpa(EnginePoint at) const;
    /// Path of what it goes by, for workings.
    const std::string &link() const { return m_link; }

  private:
    double m_regulatorKpa, m_ambientKpa;
    bool m_boostReferenced;
    std::optional<Curve> m_byLoad;
    std::optional<Table2D> m_table;
    std::string m_link;
};

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
    double mm3(double value, EnginePoint at, double lambda) const {
        const Line line = lineAt(at);
        return std::max(0.0, value - line.offset) * line.gain / (dividesByLambda() ? lambda : 1);
    }
    /// The number that asks for this volume: the inverse of mm3().
    double value(double mm3, EnginePoint at, double lambda) const;

    /// All meanings are a straight line at one place: mm³ = (value − offset) · gain, of a VE by λ; nothing
    /// under the offset.
    struct Line {
        double offset, gain;
    };
    Line lineAt(EnginePoint at) const {
        if (m_volumePerVeKpa > 0) return {0, m_volumePerVeKpa * at.loadKpa};
        return lineOfOthers(at);
    }
    bool dividesByLambda() const { return m_volumePerVeKpa > 0; }
    /// Whether the line is another at another speed.
    bool bySpeed() const { return m_pulses && m_pulses->rail.bySpeed(); }

  private:
    Line lineOfOthers(EnginePoint at) const;

    FuelMeaning m_meaning;
    double m_volumePerVeKpa = 0; ///< mm³ per (% · kPa) at λ 1; 0: not a VE
    double m_densityKgM3;
    double m_airFactor; ///< density of the air against the usual
    /// Of pulse widths alone.
    struct Pulses {
        Injectors injectors;
        RailPressure rail;
        double count;       ///< a cycle
        double pressureKpa; ///< that the table is meant at; 0: what stands across the injectors
    };
    std::optional<Pulses> m_pulses;
};

/// Flow of the whole engine: each injector's volume per cycle, a cycle being two turns.
double engineFlowLMin(const Job &job, double mm3PerCycle, double rpm);

/// Flow of all fitted pumps against the rail. Throws as pumpFlowLMin().
double pumpFlowAt(const Job &job, EnginePoint at);

/// The same anywhere, its data sheets read once.
class PumpFlow {
  public:
    explicit PumpFlow(const Job &job);
    double at(EnginePoint at) const;
    bool bySpeed() const { return m_rail.bySpeed(); }

  private:
    RailPressure m_rail;
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
    RailPressure m_rail;
    InjectorDemand m_demand;
};

/// The same for a single point.
DutyWorking dutyAt(const Job &job, double content, double intakeC, double rpm, double loadKpa,
                   double tableFuel, double lambda);

} // namespace wheelwright
