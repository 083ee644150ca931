// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/unit.h"
#include "core/tables/table_edit.h"

#include <string_view>

namespace wheelwright {

/// Reads what is typed into a cell: "=14" or "14" sets, "+2" and "-2" add, "*1.03" multiplies; with or
/// without a unit. A leading minus subtracts: "=-2" sets a negative number. Throws InputError at "entry".
CellExpression parseCellExpression(std::string_view text, Dimension dimension, const UnitChoice &units);

/// Position at which a number's unit begins; text.size() without one.
std::size_t unitStart(std::string_view text);

} // namespace wheelwright
