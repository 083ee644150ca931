// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/job_schema.h"

#include <algorithm>
#include <array>

namespace wheelwright {
namespace {

using D = Dimension;

std::vector<TableField> makeTables() {
    using enum CalibratedQuantity;
    const auto load = "load_kpa"; // unless the job says otherwise
    const auto throttle = "throttle_percent";
    return {
        {"calibration.fuel.base", MARKED("calibration.fuel.base", "Fuel, base"), fuel, false,
         D::volumetricEfficiency, 0, 3000, 0.5, load},
        {"calibration.fuel.top", MARKED("calibration.fuel.top", "Fuel, top"), fuel, true,
         D::volumetricEfficiency, 0, 3000, 0.5, load},
        {"calibration.spark.base", MARKED("calibration.spark.base", "Spark, base"), spark, false,
         D::sparkAngle, -20, 60, 0.5, load},
        {"calibration.spark.top", MARKED("calibration.spark.top", "Spark, top"), spark, true, D::sparkAngle,
         -20, 60, 0.5, load},
        {"calibration.boost.base", MARKED("calibration.boost.base", "Boost target, base"), boost, false,
         D::pressure, 20, 800, 2, throttle},
        {"calibration.boost.top", MARKED("calibration.boost.top", "Boost target, top"), boost, true,
         D::pressure, 20, 800, 2, throttle},
        {"calibration.lambda.base", MARKED("calibration.lambda.base", "Lambda target, base"), lambda, false,
         D::mixture, 0.5, 1.5, 0.005, load},
        {"calibration.lambda.top", MARKED("calibration.lambda.top", "Lambda target, top"), lambda, true,
         D::mixture, 0.5, 1.5, 0.005, load},
    };
}

void setAxis(const Job &job, TableField &f) {
    if (f.quantity == CalibratedQuantity::boost) {
        if (job.calibration.boostAxis == BoostAxis::gear) f.yKey = "gear";
        return;
    }
    if (job.calibration.loadAxis == LoadAxis::airMass) f.yKey = "air_mass_mg";
    if (job.calibration.loadAxis == LoadAxis::throttle) f.yKey = "throttle_percent";
}

} // namespace

PhraseText quantityTitle(CalibratedQuantity q) {
    constexpr std::array titles{MARKED("quantity.fuel", "Fuel"), MARKED("quantity.spark", "Spark"),
                                MARKED("quantity.boost", "Boost target"),
                                MARKED("quantity.lambda", "Lambda target")};
    return titles[static_cast<std::size_t>(q)];
}

Dimension TableField::yDimension() const {
    return yKey == "load_kpa"      ? Dimension::pressure
           : yKey == "air_mass_mg" ? Dimension::cycleMass
                                   : Dimension::none;
}

double TableField::mostY() const {
    return yKey == "load_kpa" ? 1000 : yKey == "air_mass_mg" ? 10000 : yKey == "gear" ? 12 : 100;
}

PhraseText TableField::yTitle() const {
    return yKey == "load_kpa"      ? MARKED("table_axis.load", "load")
           : yKey == "air_mass_mg" ? MARKED("table_axis.air_mass", "air mass")
           : yKey == "gear"        ? MARKED("table_axis.gear", "gear")
                                   : MARKED("table_axis.throttle", "throttle");
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

} // namespace wheelwright
