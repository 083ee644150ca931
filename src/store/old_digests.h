// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "store/job_rows.h"

#include <string>
#include <vector>

namespace wheelwright {

/// Chapters of a file of schema version 7 that are not what their digests say. That version hashed the rows
/// of a chapter one after the other, four columns each, and had origins as a list.
std::vector<std::string> brokenOldChapters(const JobRows &rows);

} // namespace wheelwright
