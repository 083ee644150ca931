// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/coverage.h"

#include <string>

namespace wheelwright {

/// Where the logs of a job have been, read from its file. A log without a place is told of on standard error,
/// not passed over.
Coverage coverageOf(const Study &study, const std::string &file);
/// The same for who judges the job.
Proof proofOf(const Study &study, const std::string &file);

} // namespace wheelwright
