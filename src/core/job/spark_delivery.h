// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace wheelwright {

/// What stands between the commanded spark and the delivered one, beside the tables.
struct SparkDelivery {
    bool baseTimingChecked = false; ///< by a timing light, after the last mechanical work
    double baseTimingErrorDeg = 0;  ///< delivered less commanded, as it was seen then
    double fallbackUsual = 1;       ///< share of the main table against the fallback table: 1 clean fuel
    double fallbackWorst = 1;
    double knockRetardWorstDeg = 0; ///< most that knock control takes
    double coolantColdC = 70, coolantUsualC = 90, coolantHotC = 105;
    double intakeHotC = 60;
    bool knockControl = true;

    bool operator==(const SparkDelivery &) const = default;
};

} // namespace wheelwright
