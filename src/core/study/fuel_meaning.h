// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/job.h"

namespace wheelwright {

/// What a rescaled set of fuel tables asks for, over what the old one did, less 1: over all cells and the
/// points half-way between. At the cells it is rounding; between them a number that is bilinear in one
/// meaning is not in another.
struct TableResidual {
    double worst = 0;
    double mean = 0;                          ///< of its size
    double content = 0, rpm = 0, loadKpa = 0; ///< of the worst
};

/// The job with fuel tables that mean something else and ask for the same fuel: through the fuel multiplier,
/// λ target, injector and dead time, at the usual intake air. Throws InputError when a cell leaves its range.
struct MeaningChange {
    Job job;
    TableResidual residual;
};
MeaningChange changeFuelMeaning(const Job &job, FuelMeaning meaning);

/// The fuel tables of `after`, which are those of `before`, made to ask for the same fuel where meaning or
/// injectors differ.
void rescaleFuelTables(const Job &before, Job &after);
/// What remains between them.
TableResidual residualBetween(const Job &before, const Job &after);

} // namespace wheelwright
