// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"

#include <string_view>

namespace wheelwright {

/// One axis of a table. Its breakpoints are in the internal unit of the dimension, from least to most.
struct TableAxis {
    std::string_view
        key{};          ///< stable, its unit in the last word: "load_kpa"; empty: one row, without an axis
    PhraseText title{}; ///< "load"
    Dimension dimension = Dimension::none;
    double least = 0, most = 0;

    bool single() const { return key.empty(); }
};

namespace axes {

inline constexpr TableAxis engineSpeed{"rpm", MARKED("axis.engine_speed", "engine speed"),
                                       Dimension::engineSpeed, 0, 25000},
    load{"load_kpa", MARKED("table_axis.load", "load"), Dimension::pressure, 0, 1000},
    airMass{"air_mass_mg", MARKED("table_axis.air_mass", "air mass"), Dimension::cycleMass, 0, 10000},
    throttle{"throttle_percent", MARKED("table_axis.throttle", "throttle"), Dimension::none, 0, 100},
    gear{"gear", MARKED("table_axis.gear", "gear"), Dimension::none, 0, 12},
    intakeAir{"intake_air_c", MARKED("axis.intake_air", "intake air"), Dimension::temperature, -40, 150},
    coolant{"coolant_c", MARKED("axis.coolant", "coolant"), Dimension::temperature, -40, 150},
    fuel{"fuel_c", MARKED("axis.fuel", "fuel temperature"), Dimension::temperature, -40, 150},
    cylinder{"cylinder", MARKED("axis.cylinder", "cylinder"), Dimension::none, 1, 16},
    content{"content", MARKED("axis.content", "content"), Dimension::content, 0, 1},
    rate{"rate", MARKED("axis.rate", "rate"), Dimension::none, 0, 20000},
    target{"target_kpa", MARKED("axis.target", "target"), Dimension::pressure, 20, 800}, none{};

} // namespace axes

} // namespace wheelwright
