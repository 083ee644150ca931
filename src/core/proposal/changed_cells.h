// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/job.h"

#include <functional>
#include <string>
#include <vector>

namespace wheelwright {

/// What was found of a cell: hits, ± and error. The rest is filled in.
using CellFinding = std::function<CorrectedCell(const std::string &table, double rpm, double y)>;

/// Every cell that differs between two jobs in the tables of a quantity, with what was found of it. Tables on
/// other axes than before are left out.
std::vector<CorrectedCell> changedCells(const Job &before, const Job &after, CalibratedQuantity quantity,
                                        const CellFinding &found);

} // namespace wheelwright
