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

/// Every step from air to duty at one point, to be shown.
struct DutyWorking {
    double airMg;   ///< per cylinder and cycle at 100 % VE
    double fuelMm3; ///< per injector and cycle
    double differentialKpa;
    double flowCcMin; ///< of one injector at that pressure
    double pulseMs;   ///< with dead time
    double duty;      ///< share of the cycle
};

/// tableFuel: the blended fuel table at the point; the job says what it means.
DutyWorking dutyAt(const Job &job, double content, double intakeC, double rpm, double loadKpa,
                   double tableFuel, double lambda);

} // namespace wheelwright
