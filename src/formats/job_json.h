// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/job.h"

#include <string>
#include <string_view>

namespace wheelwright {

/// The whole job as one JSON document; docs/job-file.md says what is in it.
/// Numbers are written so that reading them gives the same bits.
std::string jobToJson(const Job &job);

/// Throws InputError naming the place ("calibration.spark.base row 3, column 7") for text that is not JSON,
/// keys that are not known, values of the wrong kind or out of range. What the document leaves out keeps the
/// value of newJob().
Job jobFromJson(std::string_view text);

} // namespace wheelwright
