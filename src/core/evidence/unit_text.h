// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/unit.h"
#include "core/job/logs.h"

#include <optional>
#include <string_view>

namespace wheelwright {

/// What a unit measures, as far as its spelling says. Several dimensions of the product share one: a
/// percentage may be a content or a throttle.
enum class UnitKind {
    number,
    pressure,
    temperature,
    percent,
    fraction,
    lambda,
    airFuelRatio, ///< on a scale that the spelling does not name
    engineSpeed,
    time,
    angle,
    voltage,
    roadSpeed,
    volumeFlow,
    torque,
    power,
};

/// A unit as people write it: in the internal unit of its kind (seconds for time, a fraction for percent) a
/// number is number × scale + offset.
struct UnitText {
    UnitKind kind = UnitKind::number;
    double scale = 1, offset = 0;
    PressureReference reference = PressureReference::notSaid; ///< where the spelling says it: psig, kPa abs
};

/// Upper and lower case, blanks, points and brackets do not matter: "kPa (abs)", "PSIG", "deg C", "µs".
/// Empty for what is no unit that is known.
std::optional<UnitText> unitFromText(std::string_view text);

/// Whether numbers of this kind can be what the role measures.
bool fits(UnitKind kind, Dimension dimension);

} // namespace wheelwright
