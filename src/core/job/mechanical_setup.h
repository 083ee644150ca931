// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/records.h"
#include "core/flow/mechanical_injection.h"
#include "core/tables/curve.h"

#include <string>

namespace wheelwright {

/// One pass with mechanical injection.
struct PassRecord {
    std::string at;
    double pillMm = 0;
    double exhaustC = 0; ///< hottest; 0: not read
    double power = 0;    ///< in the user's own measure: kW, speed at the end …; 0: not read
    bool hardStart = false;
    std::string plugs, oil, note;

    bool operator==(const PassRecord &) const = default;
};

/// The surrounding air of a day.
struct Weather {
    double pressureKpa = 101.325; ///< station pressure, absolute
    double temperatureC = 20;
    double humidity = 0.5; ///< relative, 0–1

    bool operator==(const Weather &) const = default;
};

struct MechanicalSetup {
    MechanicalInjection injection;
    double ve = 1;
    Curve manifoldKpa = Curve::constant(200); ///< absolute, over rpm
    double intakeC = 60;
    double pillStepMm = 0.127;
    double judgedRpm = 7500; ///< where pills are compared
    Weather then;            ///< when these pills were chosen
    Weather now;             ///< today
    Records<PassRecord> passes;

    bool operator==(const MechanicalSetup &) const = default;
};

} // namespace wheelwright
