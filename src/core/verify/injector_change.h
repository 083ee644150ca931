// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/study/fuel_meaning.h"

namespace wheelwright {

/// Other injectors, as their data sheet has them. What is not here (rail, regulator, battery) stays.
struct NewInjectors {
    double flowCcMin = 440;
    double ratedPressureKpa = 300;
    double deadTimeMs = 0.9;
    double linearMinMs = 0;   ///< 0: not stated
    double testFluidKgM3 = 0; ///< 0: rated with fuel
    std::vector<DeadTimePoint> deadTimes;
};

/// Other injectors in a job, judged before and after.
struct InjectorChange {
    Job job;               ///< with the new ones, the fuel tables rescaled where their meaning needs it
    bool rescaled = false; ///< VE and fuel mass stay what they are; pulse widths do not
    TableResidual residual;
    double dutyBefore = 0, dutyAfter = 0; ///< worst over all contents and reachable points
    double shortestBeforeMs = 0, shortestAfterMs = 0;
    bool linearKnown = false;         ///< the new ones' linear minimum is stated
    bool shortestLinear = false;      ///< known, and the shortest pulse is at or over it
    std::size_t deadTimesDropped = 0; ///< rows of the old ones' table, which are not the new ones'
    /// What a controller multiplies a 'required fuel' constant with that is not told the new flow: old flow
    /// over new, at one pressure.
    double requiredFuelFactor = 1;
};

/// The job with other injectors: the old tables made valid again, and what remains. The measured set and the
/// dead-time table belong to the old ones and go. Throws InputError for numbers that the job cannot hold,
/// also when a rescaled cell leaves its range.
InjectorChange changeInjectors(const Job &job, const NewInjectors &injectors);

} // namespace wheelwright
