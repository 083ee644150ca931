// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/job_schema.h"

#include "core/tables/table_kind.h"

#include <array>

namespace wheelwright {
namespace {

using D = Dimension;

std::vector<TableField> makeTables() {
    using enum CalibratedQuantity;
    // Of their rows: unless the job says otherwise.
    const auto table = [](std::string path, PhraseText title, CalibratedQuantity q, bool top, Dimension d,
                          double least, double most, double step) {
        const TableAxis y = q == boost ? axes::throttle : axes::load;
        return TableField{std::move(path),   title, q, top, quantityId(q), d, least, most, step,
                          axes::engineSpeed, y};
    };
    return {
        table("calibration.fuel.base", MARKED("calibration.fuel.base", "Fuel, base"), fuel, false,
              D::volumetricEfficiency, 0, 3000, 0.5),
        table("calibration.fuel.top", MARKED("calibration.fuel.top", "Fuel, top"), fuel, true,
              D::volumetricEfficiency, 0, 3000, 0.5),
        table("calibration.spark.base", MARKED("calibration.spark.base", "Spark, base"), spark, false,
              D::sparkAngle, -20, 60, 0.5),
        table("calibration.spark.top", MARKED("calibration.spark.top", "Spark, top"), spark, true,
              D::sparkAngle, -20, 60, 0.5),
        table("calibration.boost.base", MARKED("calibration.boost.base", "Boost target, base"), boost, false,
              D::pressure, 20, 800, 2),
        table("calibration.boost.top", MARKED("calibration.boost.top", "Boost target, top"), boost, true,
              D::pressure, 20, 800, 2),
        table("calibration.lambda.base", MARKED("calibration.lambda.base", "Lambda target, base"), lambda,
              false, D::mixture, 0.5, 1.5, 0.005),
        table("calibration.lambda.top", MARKED("calibration.lambda.top", "Lambda target, top"), lambda, true,
              D::mixture, 0.5, 1.5, 0.005),
    };
}

void setAxis(const Job &job, TableField &f) {
    if (f.quantity == CalibratedQuantity::boost) {
        if (job.calibration.boostAxis == BoostAxis::gear) f.y = axes::gear;
        return;
    }
    if (job.calibration.loadAxis == LoadAxis::airMass) f.y = axes::airMass;
    if (job.calibration.loadAxis == LoadAxis::throttle) f.y = axes::throttle;
}

} // namespace

PhraseText quantityTitle(CalibratedQuantity q) {
    constexpr std::array titles{MARKED("quantity.fuel", "Fuel"), MARKED("quantity.spark", "Spark"),
                                MARKED("quantity.boost", "Boost target"),
                                MARKED("quantity.lambda", "Lambda target")};
    return titles[static_cast<std::size_t>(q)];
}

Table2D &TableField::of(Job &job) const {
    TwoTable &t = job.calibration.of(quantity);
    return top ? t.top : t.base;
}

const Table2D &TableField::of(const Job &job) const {
    const TwoTable &t = job.calibration.of(quantity);
    return top ? t.top : t.base;
}

TableField tableIn(const Job &job, CalibratedQuantity quantity, bool top) {
    TableField f = tableOf(quantity, top);
    setAxis(job, f);
    if (quantity != CalibratedQuantity::fuel) return f;
    switch (job.calibration.fuelMeaning) {
    case FuelMeaning::trueVe:
    case FuelMeaning::contentReferencedVe:
        f.least = 1;
        f.most = 400;
        break;
    case FuelMeaning::pulseWidth:
        f.dimension = Dimension::duration;
        f.least = 0.05;
        f.most = 100;
        f.step = 0.05;
        break;
    case FuelMeaning::fuelMass:
        f.dimension = Dimension::cycleMass;
        f.least = 0.1;
        f.most = 3000;
        break;
    }
    return f;
}

std::span<const TableField> allTables() {
    static const std::vector<TableField> tables = makeTables();
    return tables;
}

const TableField &tableOf(CalibratedQuantity quantity, bool top) {
    return allTables()[static_cast<std::size_t>(quantity) * 2 + (top ? 1 : 0)];
}

TableField fieldOf(const ExtraTable &extra) {
    const TableKindDefinition &d = definitionOf(extra.kind);
    TableField f;
    f.path = "calibration.extras." + extra.name;
    f.title = verbatim(extra.name);
    f.holds = d.id;
    f.dimension = d.dimension;
    f.least = d.least;
    f.most = d.most;
    f.step = d.step;
    f.x = d.x;
    f.y = d.y;
    return f;
}

} // namespace wheelwright
