// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/records.h"

#include <string>

namespace wheelwright {

/// One pull: solenoid duty and the boost that came of it.
struct BoostPoint {
    double duty = 0;     ///< 0–1
    double boostKpa = 0; ///< gauge
    double gear = 0;     ///< 0: not stated
    double content = 0;
    std::string note;

    bool operator==(const BoostPoint &) const = default;
};

struct BoostControl {
    double springKpa = 0; ///< gauge, measured; 0: not known
    double cutKpa = 0;    ///< absolute; 0: none is set
    Records<BoostPoint> points;

    bool operator==(const BoostControl &) const = default;
};

} // namespace wheelwright
