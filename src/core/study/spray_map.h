// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/study/study.h"

#include <vector>

namespace wheelwright {

/// What the spray does in one cell of the fuel tables.
struct SprayCell {
    double rpm = 0, loadKpa = 0;
    bool reached = false; ///< the boost target and the rev limit let the engine go there
    double sprayCcMin = 0;
    double lambdaMeant = 0;  ///< target of the tables
    double trim = 1;         ///< share that the main fuel must come down to; under 0: the spray is too much
    double lambdaIfLost = 0; ///< with trimmed tables, when it stops; infinite when the spray was all the fuel
    double sparkDeg = 0;     ///< commanded, and still commanded when the spray stops
    double alcoholWith = 0;  ///< alcohol in all the fuel together, volume fraction
};

/// Every cell of the fuel tables at one content, rpm-major, at the usual intake air. Throws InputError for
/// a content outside 0–1.
std::vector<SprayCell> sprayMap(const Study &study, double content);

/// Spark that the spark tables hold for the alcohol of the whole mixture over what they hold for the main
/// fuel alone, °: what leans on the spray where someone has put it into the tables.
double sparkOnSpray(const Study &study, double content, const SprayCell &cell);

} // namespace wheelwright
