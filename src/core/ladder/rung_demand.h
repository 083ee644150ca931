// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/ladder/rung.h"
#include "core/study/study.h"

namespace wheelwright {

/// In which air and how far an engine is asked.
struct DemandAir {
    double intakeC = 0;
    double overKpa = 0; ///< boost over its target
    double mostRpm = 0; ///< where pulls end; 0: at the rev limit
};

/// What an engine is asked for with its highest boost target at `boostKpa` (absolute; none: as its tables
/// have it): no speed gets more than its tables ask for, unless the highest of them is under it, and then all
/// are raised alike. Every speed of the fuel table up to the last one. Duty as dutyMap() has it.
RungDemand rungDemand(const Study &study, double content, std::optional<double> boostKpa,
                      const DemandAir &air);
/// At its worst: in the coldest air, with all of limit boost.overshoot, up to the rev limit.
RungDemand rungDemand(const Study &study, double content, std::optional<double> boostKpa);

/// The same with a solver's eyes: the highest boost target, absolute, at which the duty stays within a limit;
/// the air around where it does not even there.
double boostWithinDuty(const Study &study, double content, double duty);

} // namespace wheelwright
