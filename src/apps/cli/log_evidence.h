// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/coverage.h"
#include "core/evidence/log_review.h"

#include <memory>
#include <string>
#include <vector>

namespace wheelwright {

/// Where the logs of a job have been, read from its file. A log without a place is told of on standard error,
/// not passed over.
Coverage coverageOf(const Study &study, const std::string &file);
/// The same for who judges the job.
Proof proofOf(const Study &study, const std::string &file);

/// A log by its id or by the name of its file. Throws InputError naming those there are.
const LogInfo &logNamed(const Job &job, const std::string &which);
/// Which logs count where none are named.
enum class LogsUnnamed {
    current, ///< those that ran with the calibration as it is
    all
};
/// Logs of a job, read through. Of those that cannot be read, standard error tells.
std::vector<std::shared_ptr<const LogReview>> reviewsOf(const Job &job, const std::string &file,
                                                        const std::vector<std::string> &named,
                                                        LogsUnnamed otherwise = LogsUnnamed::current);

} // namespace wheelwright
