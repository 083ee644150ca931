#pragma once
#include "core/job/job.h"

namespace wheelwright {

/// What one injector is asked for at one content: fuel volume per cycle is `volumePerVeKpa · table · load /
/// λ`. Worked out once per content and temperature, then a multiplication per cell.
struct InjectorDemand {
    double volumePerVeKpa; ///< mm³ per (table unit · kPa) at λ 1

    /// content 0–1, charge temperature in °C.
    InjectorDemand(const Job &job, double content, double intakeC);
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

/// tableFuel: the blended fuel table at the point; the job says what it means.
DutyWorking dutyAt(const Job &job, double content, double intakeC, double rpm, double loadKpa,
                   double tableFuel, double lambda);

} // namespace wheelwright
