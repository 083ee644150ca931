// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/records.h"
#include "core/tables/table_kind.h"
#include "core/tables/two_table.h"

#include <array>
#include <cstddef>

namespace wheelwright {

/// What the load axis of fuel, spark and lambda tables holds.
enum class LoadAxis {
    manifoldPressure, ///< kPa absolute
    airMass,          ///< mg per cylinder and cycle that would be drawn at 100 % VE and usual intake air
    throttle          ///< per cent; engine.throttle_kpa says what pressure that is
};

/// What the second axis of the boost tables holds.
enum class BoostAxis { throttle, gear };

/// What a number in the fuel tables means.
enum class FuelMeaning {
    trueVe,              ///< volumetric efficiency in %; the controller's fuel model knows the content
    contentReferencedVe, ///< % of the reference fuel's need: the fuel multiplier of the content is inside
    pulseWidth,          ///< ms of one pulse, dead time inside, at the lambda target and usual intake air
    fuelMass             ///< mg per cylinder and cycle, at the lambda target and usual intake air
};

/// How content enters the tables (tables/school.h).
enum class School {
    twoTables,    ///< A: T = (1 − w) · base + w · top
    baseAndAdder, ///< B: T = base + s · Δ; held as base and base + Δ, so s is w
    fuelModel,    ///< C: one true VE table times c(E); the other quantities as A
    windowSet,    ///< D: one calibration for each window of contents
    stack         ///< E: tables at several contents, linear between
};

/// The tables of one content, for schools D and E.
struct ContentLevel {
    double content = 0;   ///< that they were calibrated at
    double windowLow = 0; ///< school D: contents that they are used for
    double windowHigh = 1;
    std::array<Table2D, calibratedQuantityCount> tables;

    const Table2D &of(CalibratedQuantity q) const { return tables[static_cast<std::size_t>(q)]; }
    Table2D &of(CalibratedQuantity q) { return tables[static_cast<std::size_t>(q)]; }
    bool operator==(const ContentLevel &) const = default;
};

/// How content enters the calibration, and its tables: two of each quantity and a weight curve, or levels.
struct Calibration {
    School school = School::twoTables;
    Records<ContentLevel> levels; ///< ascending in content; schools D and E need one and two
    FuelMeaning fuelMeaning = FuelMeaning::contentReferencedVe;
    LoadAxis loadAxis = LoadAxis::manifoldPressure;
    BoostAxis boostAxis = BoostAxis::throttle;
    double fuelReferenceContent = 0; ///< content at which a content-referenced VE is a true VE
    double pulsePressureKpa = 0; ///< across the injector, that pulse widths hold at; 0: what it sees there
    double baseContent = 0.10;   ///< content that the base tables were calibrated at
    double topContent = 0.85;    ///< content that the top tables were calibrated at
    OutsideRule outside = OutsideRule::hold;
    std::array<TwoTable, calibratedQuantityCount> tables;
    Curve learnedFuelCorrection = Curve::constant(1); ///< measured need over the model's, by content

    const TwoTable &of(CalibratedQuantity q) const { return tables[static_cast<std::size_t>(q)]; }
    TwoTable &of(CalibratedQuantity q) { return tables[static_cast<std::size_t>(q)]; }
    bool operator==(const Calibration &) const = default;
};

} // namespace wheelwright
