// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "store/job_rows.h"

#include <string_view>

namespace wheelwright {

/// The rows of a job file that can still be read from its pages, one by one, without the tree above them: for
/// files that are cut off or overwritten. Pages that the file counts as free are left out, so that nothing
/// old comes back. Rows that contradict each other are left out both. Never throws for damage: the worst file
/// has no rows. Layout: sqlite.org/fileformat2.html, sections 1.3 (header), 1.6 (b-tree pages), 2.1
/// (records).
struct PageRows {
    JobRows rows;
    int version = 0; ///< schema that the header states; 0 when the header is gone
};
PageRows rowsFromPages(std::string_view file);

} // namespace wheelwright
