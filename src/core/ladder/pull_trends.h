// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/prior_fit.h"
#include "core/fuel/tank.h"
#include "core/ladder/pull_facts.h"
#include "core/study/study.h"

#include <optional>
#include <span>
#include <vector>

namespace wheelwright {

/// Pulls that near are at one content and one boost.
inline constexpr double samePlaceContent = 0.015, samePlaceKpa = 4;

/// Boost that a pull held, less the highest that it was aimed at, kPa; not a number where it held none.
double heldOverAim(const PullFacts &pull);

/// What full pulls show of an engine beside its tables, and how that goes with content and boost: from there
/// a rung that nobody has pulled on is forecast. Pulls at one content and boost are one piece of evidence;
/// what they share is not known better by more of them. Straight lines with priors (base/prior_fit.h); the
/// priors stand in docs/sources.md.
class PullTrends {
  public:
    /// study: the calibration that is asked about. Pulls that are not full, or whose content moved, say
    /// nothing; nor do those that hold no boost, of boost.
    PullTrends(const Study &study, std::span<const PullFacts *const> pulls);

    /// Pieces of evidence: places in content and boost that were pulled at.
    std::size_t rungs() const { return m_rungs.size(); }

    /// What one more rung would show at a place, with its standard error: that of the line and by how much
    /// rungs scatter about it. From a content and the pressure that is held there, absolute.

    /// Fuel that the engine needs for its λ, over what the tables of the study give: a ratio's logarithm.
    /// With those tables λ would be off by the same share.
    Uncertain fuelOver(double content, double loadKpa) const;
    Uncertain heldOver(double content, double aimedKpa) const; ///< boost over its highest target, kPa
    /// Pressure where the injectors are fullest over the highest boost target, kPa: boost creeps and tables
    /// fall off.
    Uncertain fullestOver(double content, double aimedKpa) const;
    /// Duty of the boost solenoid; nothing where no log has one.
    std::optional<Uncertain> solenoid(double content, double boostKpa) const;
    /// By the logs' own channel, kW, else by the runs that rungs were passed with; nothing without either.
    std::optional<Uncertain> powerKw(double content, double loadKpa) const;

    /// What was pulled at, and what its injectors had with λ on target: means; not a number where no log
    /// says.
    struct Found {
        double content, boostKpa, duty;
    };
    std::vector<Found> found() const;

    // As the last rung that was pulled had it; what the job says where none was.
    double fullestRpm() const { return m_fullestRpm; } ///< where the injectors are fullest; 0: not known
    double intakeC() const { return m_intakeC; }

    /// Of one pull: fuelOver as it was found. Not a number where λ or duty is missing.
    double fuelFound(const PullFacts &pull) const;

  private:
    struct Place {
        double content, boostKpa;
        std::vector<const PullFacts *> pulls;
    };
    std::vector<double> factors(double content, double loadKpa) const;
    std::vector<double> solenoidFactors(double content, double boostKpa) const;

    const Study &m_study;
    double m_ambientKpa, m_baseContent, m_springKpa;
    std::vector<Place> m_rungs;
    std::optional<PriorFit> m_fuel, m_held, m_load, m_solenoid, m_power;
    double m_fullestRpm = 0, m_intakeC = 0;
};

} // namespace wheelwright
