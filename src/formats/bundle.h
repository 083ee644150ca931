// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/job.h"
#include "core/ladder/bundle.h"

#include <string>
#include <string_view>
#include <vector>

namespace wheelwright {

/// All files of a bundle of the calibration that `sent` has: bundle.json (head), settings.json (every setting
/// and curve of a calibration by its path, in internal units), calibration.json (the same and all tables, and
/// the exact state), tables/<path>.csv, read-me.txt and message.txt.
std::vector<BundleFile> bundleFiles(const Job &sent, const BundleHead &head, const std::string &readMe,
                                    const std::string &message);

/// Throws InputError where the text is no head of a bundle.
BundleHead bundleHeadFromJson(std::string_view json);

/// The job with what somebody has read back: files by their names under the folder `back`, settings.json and
/// <path>.csv, each as they were sent. Paths that came are added to `compared`. Throws InputError naming file
/// and place, also for a file that is neither.
Job withReadBack(Job sent, const std::vector<BundleFile> &back, std::vector<std::string> &compared);

} // namespace wheelwright
