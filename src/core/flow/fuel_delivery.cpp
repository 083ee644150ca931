#include "core/flow/fuel_delivery.h"

#include "core/flow/engine_air.h"
#include "core/flow/injector.h"

namespace wheelwright {
namespace {

constexpr double mgPerMm3AtOneKgM3 = 1e-3;

double cylinderLitres(const Job &job) {
    return job.engine.displacementL / job.engine.cylinders;
}

} // namespace

InjectorDemand::InjectorDemand(const Job &job, double content, double intakeC) {
    // A content-referenced table holds the need in volumes of the reference fuel; a true VE meets the fuel in
    // the tank.
    const bool referenced = job.calibration.fuelMeaning == FuelMeaning::contentReferencedVe;
    const BlendProperties fuel = blendModelOf(job).properties(
        blendAt(job, referenced ? job.calibration.fuelReferenceContent : content));
    const double airPerVeKpa = airPerCycleMg(0.01, 1, cylinderLitres(job), intakeC);
    volumePerVeKpa = airPerVeKpa / (fuel.stoichiometricAfr * fuel.densityKgM3 * mgPerMm3AtOneKgM3);
}

double usualDeadTimeMs(const Job &job, double differentialKpa) {
    const Injectors &inj = job.injectors;
    return inj.deadTimes.empty() ? inj.deadTimeMs : deadTimeMs(inj.deadTimes, inj.batteryV, differentialKpa);
}

double injectorFlowOn(const Job &job, double differentialKpa, double fuelKgM3) {
    const Injectors &inj = job.injectors;
    return volumeFlowOn(injectorFlowAt(inj.flowCcMin, inj.ratedPressureKpa, differentialKpa),
                        inj.testFluidKgM3, fuelKgM3);
}

DutyWorking dutyAt(const Job &job, double content, double intakeC, double rpm, double loadKpa,
                   double tableFuel, double lambda) {
    DutyWorking w{};
    const Injectors &inj = job.injectors;
    w.airMg = airPerCycleMg(1, loadKpa, cylinderLitres(job), intakeC);
    w.fuelMm3 = InjectorDemand(job, content, intakeC).volumePerVeKpa * tableFuel * loadKpa / lambda;
    w.differentialKpa =
        injectorDifferentialKpa(inj.railPressureKpa, loadKpa, job.conditions.ambientKpa, inj.boostReferenced);
    const double density = blendModelOf(job).properties(blendAt(job, content)).densityKgM3;
    w.flowCcMin = injectorFlowOn(job, w.differentialKpa, density);
    w.deadMs = usualDeadTimeMs(job, w.differentialKpa);
    const double openMs = pulseWidthMs(w.fuelMm3, w.flowCcMin, 0);
    w.pulseMs = (inj.batch ? openMs / 2 : openMs) + w.deadMs;
    w.duty = injectorDutyOf(openMs, w.deadMs, rpm, inj.batch);
    return w;
}

} // namespace wheelwright
