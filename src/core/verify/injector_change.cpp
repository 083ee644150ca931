// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/verify/injector_change.h"

#include "core/base/error.h"
#include "core/flow/injector.h"
#include "core/job/job_schema.h"
#include "core/study/fuel_delivery.h"
#include "core/study/study.h"
#include "core/verify/check.h"

namespace wheelwright {
namespace {

double worstOf(const char *check, const Evaluation &e) {
    return checkById(check)->run(e).worst().value;
}

} // namespace

InjectorChange changeInjectors(const Job &job, const NewInjectors &n) {
    InjectorChange c;
    c.job = job;
    Injectors &inj = c.job.injectors;
    inj.flowCcMin = n.flowCcMin;
    inj.ratedPressureKpa = n.ratedPressureKpa;
    inj.deadTimeMs = n.deadTimeMs;
    inj.linearMinMs = n.linearMinMs;
    inj.testFluidKgM3 = n.testFluidKgM3;
    inj.deadTimes = n.deadTimes;
    c.job.measuredInjectors.clear();
    for (const Field &f : allFields())
        if (f.path.starts_with("injectors.")) validate(f, f.read(c.job));
    if (job.control == FuelControl::mechanical)
        throw InputError("injectors",
                         MARKED("expected.job_whose_fuel_metered_controller",
                                "a job whose fuel is metered by a controller"),
                         MARKED("found.mechanical_injection", "mechanical injection"));
    c.rescaled = job.calibration.fuelMeaning == FuelMeaning::pulseWidth;
    if (c.rescaled) rescaleFuelTables(job, c.job);
    validate(c.job);
    c.residual = residualBetween(job, c.job);
    // Without boost, where the most flows.
    const double kpa = RailPressure(job).acrossKpa({job.engine.revLimitRpm, job.conditions.ambientKpa});
    const double density =
        blendModelOf(job).properties(blendAt(job, job.calibration.baseContent)).densityKgM3;
    c.requiredFuelFactor = injectorFlowOn(job, kpa, density) / injectorFlowOn(c.job, kpa, density);
    const Study oldStudy(job), newStudy(c.job);
    const Evaluation &old = oldStudy.evaluation(), &after = newStudy.evaluation();
    c.dutyBefore = worstOf("flow.duty", old);
    c.dutyAfter = worstOf("flow.duty", after);
    c.shortestBeforeMs = worstOf("flow.min_pulse", old);
    c.shortestAfterMs = worstOf("flow.min_pulse", after);
    c.linearKnown = inj.linearMinMs > 0;
    c.shortestLinear = c.linearKnown && c.shortestAfterMs >= inj.linearMinMs;
    c.deadTimesDropped = inj.deadTimes.empty() ? job.injectors.deadTimes.size() : 0;
    return c;
}

} // namespace wheelwright
