// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/study/school.h"
#include "core/tables/region_edit.h"

namespace wheelwright {

/// What the engine gets at a content, set: the step of each cell is shared between both ends by their own
/// weights, which is the least change in squares. wanted has the axes of the low end; a high end on other
/// axes takes the steps at its own breakpoints, bilinearly.
void setBlend(Job &job, CalibratedQuantity q, double content, const Table2D &wanted);
/// The same by an expression on some cells.
void editBlend(Job &job, CalibratedQuantity q, double content, const CellSet &cells,
               const CellExpression &expression);

} // namespace wheelwright
