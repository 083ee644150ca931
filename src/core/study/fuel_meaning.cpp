// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/fuel_meaning.h"

#include "core/job/job_schema.h"
#include "core/study/fuel_delivery.h"
#include "core/study/load_axis.h"

#include <cmath>

namespace wheelwright {
namespace {

// One content's fuel and lambda table of a job, to be read.
struct FuelPlace {
    double content;
    const Table2D *fuel;
    const Table2D *lambda;
};

std::vector<FuelPlace> fuelPlaces(const Job &job) {
    const Calibration &c = job.calibration;
    std::vector<FuelPlace> places;
    // All of them, also those that the school leaves alone: they hold the same unit.
    const TwoTable &fuel = c.of(CalibratedQuantity::fuel);
    const TwoTable &lambda = c.of(CalibratedQuantity::lambda);
    places.push_back({c.baseContent, &fuel.base, &lambda.base});
    places.push_back({c.topContent, &fuel.top, &lambda.top});
    for (const ContentLevel &l : c.levels)
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
        return m_demand.mm3(m_place.fuel->lookup(rpm, y).value, {rpm, loadOfAxis(m_job, y)},
                            m_place.lambda->lookup(rpm, y).value);
    }
    double cellFor(double mm3, double rpm, double y) const {
        return m_demand.value(mm3, {rpm, loadOfAxis(m_job, y)}, m_place.lambda->lookup(rpm, y).value);
    }

  private:
    const Job &m_job;
    FuelPlace m_place;
    InjectorDemand m_demand;
};

// The fuel tables, in the order of fuelPlaces().
std::vector<Table2D *> fuelTables(Job &job) {
    TwoTable &fuel = job.calibration.of(CalibratedQuantity::fuel);
    std::vector<Table2D *> tables{&fuel.base, &fuel.top};
    for (ContentLevel &l : job.calibration.levels)
        tables.push_back(&l.of(CalibratedQuantity::fuel));
    return tables;
}

std::vector<double> withMidpoints(const Axis &axis) {
    std::vector<double> all;
    for (std::size_t i = 0; i < axis.size(); ++i) {
        if (i > 0) all.push_back((axis[i - 1] + axis[i]) / 2);
        all.push_back(axis[i]);
    }
    return all;
}

} // namespace

void rescaleFuelTables(const Job &before, Job &after) {
    const std::vector<FuelPlace> from = fuelPlaces(before);
    const std::vector<Table2D *> tables = fuelTables(after);
    const std::vector<FuelPlace> to = fuelPlaces(after);
    for (std::size_t i = 0; i < from.size(); ++i) {
        const TableDemand old(before, from[i]), now(after, to[i]);
        Table2D &t = *tables[i];
        for (std::size_t y = 0; y < t.y().size(); ++y)
            for (std::size_t x = 0; x < t.x().size(); ++x)
                t.setCell({x, y}, now.cellFor(old.at(t.x()[x], t.y()[y]), t.x()[x], t.y()[y]));
    }
}

TableResidual residualBetween(const Job &before, const Job &after) {
    TableResidual r;
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
    return r;
}

MeaningChange changeFuelMeaning(const Job &job, FuelMeaning meaning) {
    MeaningChange c;
    c.job = job;
    c.job.calibration.fuelMeaning = meaning;
    rescaleFuelTables(job, c.job);
    validate(c.job);
    c.residual = residualBetween(job, c.job);
    return c;
}

} // namespace wheelwright
