#include "core/flow/injector_change.h"

#include "core/error.h"
#include "core/flow/fuel_delivery.h"
#include "core/flow/injector.h"
#include "core/job/job_schema.h"
#include "core/verify/check.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

// Fuel that a table asks for in one job, mm³ per injector and cycle.
class TableDemand {
  public:
    TableDemand(const Job &job, bool top)
        : m_fuel(tableOf(CalibratedQuantity::fuel, top).of(job)),
          m_lambda(tableOf(CalibratedQuantity::lambda, top).of(job)),
          m_demand(job, top ? job.calibration.topContent : job.calibration.baseContent,
                   job.conditions.intakeUsualC) {}
    double at(double rpm, double load) const {
        return m_demand.mm3(m_fuel.lookup(rpm, load).value, load, m_lambda.lookup(rpm, load).value);
    }
    double cellFor(double mm3, double rpm, double load) const {
        return m_demand.value(mm3, load, m_lambda.lookup(rpm, load).value);
    }

  private:
    const Table2D &m_fuel, &m_lambda;
    InjectorDemand m_demand;
};

void rescale(const Job &before, Job &after) {
    for (const bool top : {false, true}) {
        const TableDemand old(before, top), now(after, top);
        Table2D &t = tableOf(CalibratedQuantity::fuel, top).of(after);
        for (std::size_t y = 0; y < t.y().size(); ++y)
            for (std::size_t x = 0; x < t.x().size(); ++x)
                t.setCell({x, y}, now.cellFor(old.at(t.x()[x], t.y()[y]), t.x()[x], t.y()[y]));
    }
}

std::vector<double> withMidpoints(const Axis &axis) {
    std::vector<double> all;
    for (std::size_t i = 0; i < axis.size(); ++i) {
        if (i > 0) all.push_back((axis[i - 1] + axis[i]) / 2);
        all.push_back(axis[i]);
    }
    return all;
}

void measureResidual(const Job &before, InjectorChange &c) {
    double sum = 0, count = 0;
    for (const bool top : {false, true}) {
        const TableDemand old(before, top), now(c.job, top);
        const Table2D &t = tableOf(CalibratedQuantity::fuel, top).of(before);
        for (const double rpm : withMidpoints(t.x()))
            for (const double load : withMidpoints(t.y())) {
                const double was = old.at(rpm, load);
                if (!(was > 0)) continue;
                const double residual = now.at(rpm, load) / was - 1;
                sum += std::abs(residual);
                ++count;
                if (std::abs(residual) <= std::abs(c.worstResidual)) continue;
                c.worstResidual = residual;
                c.worstRpm = rpm;
                c.worstLoadKpa = load;
                c.worstInTop = top;
            }
    }
    c.meanResidual = count > 0 ? sum / count : 0;
}

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
        throw InputError("injectors", "a job whose fuel is metered by a controller", "mechanical injection");
    c.rescaled = job.calibration.fuelMeaning == FuelMeaning::pulseWidth;
    if (c.rescaled) rescale(job, c.job);
    validate(c.job);
    measureResidual(job, c);
    const double kpa = job.injectors.railPressureKpa;
    const double density =
        blendModelOf(job).properties(blendAt(job, job.calibration.baseContent)).densityKgM3;
    c.requiredFuelFactor = injectorFlowOn(job, kpa, density) / injectorFlowOn(c.job, kpa, density);
    const Evaluation before(job), after(c.job);
    c.dutyBefore = worstOf("flow.duty", before);
    c.dutyAfter = worstOf("flow.duty", after);
    c.shortestBeforeMs = worstOf("flow.min_pulse", before);
    c.shortestAfterMs = worstOf("flow.min_pulse", after);
    c.shortestLinear = inj.linearMinMs <= 0 || c.shortestAfterMs >= inj.linearMinMs;
    return c;
}

} // namespace wheelwright
