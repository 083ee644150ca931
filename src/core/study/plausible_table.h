// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/job_schema.h"

namespace wheelwright {

/// A sentence when the cells of a table, though within its range, look like those of another quantity or
/// unit: a λ table read as spark, a gauge pressure as an absolute one. Empty when they do not. Thresholds are
/// common practice: no engine runs 0.5 to 1.5° or over 35° of spark in every cell, no full-throttle target is
/// under 80 kPa absolute at every speed, no engine takes under 3 % of its displacement everywhere.
Phrase doubtAbout(const TableField &field, const Table2D &table);

} // namespace wheelwright
