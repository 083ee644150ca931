#include "core/flow/injector_change.h"

#include "core/error.h"
#include "core/flow/fuel_delivery.h"
#include "core/flow/injector.h"
#include "core/job/job_schema.h"
#include "core/tables/load_axis.h"
#include "core/verify/check.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

// One content's fuel and lambda table of a job, to be read and rescaled.
struct FuelPlace {
    double content;
    Table2D *fuel;
    const Table2D *lambda;
};

std::vector<FuelPlace> fuelPlaces(Job &job) {
    Calibration &c = job.calibration;
    std::vector<FuelPlace> places;
    // All of them, also those that the school leaves alone: they hold the same unit.
    TwoTable &fuel = c.of(CalibratedQuantity::fuel);
    const TwoTable &lambda = c.of(CalibratedQuantity::lambda);
    places.push_back({c.baseContent, &fuel.base, &lambda.base});
    places.push_back({c.topContent, &fuel.top, &lambda.top});
    for (ContentLevel &l : c.levels)
        places.push_back({l.content, &l.of(CalibratedQuantity::fuel), &l.of(CalibratedQuantity::lambda)});
    return places;
}

// Fuel that a table asks for in one job, mm³ per injector and cycle.
class TableDemand {
  public:
    TableDemand(const Job &job, const FuelPlace &place)
        : m_job(job), m_place(place), m_demand(job, place.content, job.conditions.intakeUsualC) {}
    // y: on the tables' load axis.
    double at(double rpm, double y) const {
        return m_demand.mm3(m_place.fuel->lookup(rpm, y).value, loadOfAxis(m_job, y),
                            m_place.lambda->lookup(rpm, y).value);
    }
    double cellFor(double mm3, double rpm, double y) const {
        return m_demand.value(mm3, loadOfAxis(m_job, y), m_place.lambda->lookup(rpm, y).value);
    }

  private:
    const Job &m_job;
    FuelPlace m_place;
    InjectorDemand m_demand;
};

void rescale(Job &before, Job &after) {
    const std::vector<FuelPlace> from = fuelPlaces(before), to = fuelPlaces(after);
    for (std::size_t i = 0; i < from.size(); ++i) {
        const TableDemand old(before, from[i]), now(after, to[i]);
        Table2D &t = *to[i].fuel;
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

void measureResidual(Job &before, TableResidual &r, Job &after) {
    double sum = 0, count = 0;
    const std::vector<FuelPlace> from = fuelPlaces(before), to = fuelPlaces(after);
    for (std::size_t i = 0; i < from.size(); ++i) {
        const TableDemand old(before, from[i]), now(after, to[i]);
        for (const double rpm : withMidpoints(from[i].fuel->x()))
            for (const double load : withMidpoints(from[i].fuel->y())) {
                const double was = old.at(rpm, load);
                if (!(was > 0)) continue;
                const double residual = now.at(rpm, load) / was - 1;
                sum += std::abs(residual);
                ++count;
                if (std::abs(residual) <= std::abs(r.worst)) continue;
                r.worst = residual;
                r.rpm = rpm;
                r.loadKpa = loadOfAxis(before, load);
                r.content = from[i].content;
            }
    }
    r.mean = count > 0 ? sum / count : 0;
}

double worstOf(const char *check, const Evaluation &e) {
    return checkById(check)->run(e).worst().value;
}

} // namespace

MeaningChange changeFuelMeaning(const Job &job, FuelMeaning meaning) {
    MeaningChange c;
    c.job = job;
    c.job.calibration.fuelMeaning = meaning;
    Job before = job;
    rescale(before, c.job);
    validate(c.job);
    measureResidual(before, c.residual, c.job);
    return c;
}

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
    Job before = job;
    if (c.rescaled) rescale(before, c.job);
    validate(c.job);
    measureResidual(before, c.residual, c.job);
    const double kpa = job.injectors.railPressureKpa;
    const double density =
        blendModelOf(job).properties(blendAt(job, job.calibration.baseContent)).densityKgM3;
    c.requiredFuelFactor = injectorFlowOn(job, kpa, density) / injectorFlowOn(c.job, kpa, density);
    const Evaluation old(job), after(c.job);
    c.dutyBefore = worstOf("flow.duty", old);
    c.dutyAfter = worstOf("flow.duty", after);
    c.shortestBeforeMs = worstOf("flow.min_pulse", old);
    c.shortestAfterMs = worstOf("flow.min_pulse", after);
    c.shortestLinear = inj.linearMinMs <= 0 || c.shortestAfterMs >= inj.linearMinMs;
    return c;
}

} // namespace wheelwright
