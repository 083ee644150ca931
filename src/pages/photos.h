// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/job.h"
#include "core/report/handover_reports.h"

#include <filesystem>
#include <functional>
#include <string>
#include <vector>

namespace wheelwright {

/// The photos of a job that go along with its hand-over, read from the disk: turned as they were taken, no
/// larger than a page shows, and without what the camera has written beside the picture, such as the place.
/// folder: where a relative path is looked for. stopped: looked at between photos, none then.
std::vector<HandoverPhoto> chosenPhotos(const Job &job, const std::filesystem::path &folder,
                                        const std::function<bool()> &stopped = {});

/// A JPEG of it, as text; empty where there is none, or no picture.
std::string photoBase64(const std::filesystem::path &path);

} // namespace wheelwright
