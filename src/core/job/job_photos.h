// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"
#include "core/job/job.h"

#include <string>
#include <string_view>
#include <vector>

namespace wheelwright {

/// A picture that a job knows of: of a run or a tube, or chosen for the hand-over by its path alone.
struct JobPhoto {
    std::string path; ///< as it stands in the job
    Phrase of;        ///< "Run 3, 2026-11-02"
    bool chosen = false;
};
/// Each path once, in the order of runs, then tubes, then those that nothing else in the job names.
std::vector<JobPhoto> photosOf(const Job &job);

/// Whether a photo goes along with the hand-over. No change where it is so already.
void choosePhoto(Job &job, std::string_view path, bool along);

/// The paths in a field that holds a line each, without space around them.
std::vector<std::string> photoPaths(std::string_view lines);

/// Such a field with more paths, each once.
std::string withPhotos(std::string_view lines, const std::vector<std::string> &more);

} // namespace wheelwright
