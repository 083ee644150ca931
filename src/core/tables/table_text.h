// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/tables/table2d.h"

#include <string>
#include <string_view>

namespace wheelwright {

/// A table as one line of text, exact: "x 1000 2000; y 20 40; cells 1 2 3 4", row by row.
std::string tableToText(const Table2D &table);
/// Throws InputError naming `where`.
Table2D tableFromText(std::string_view text, std::string_view where = "table");

} // namespace wheelwright
