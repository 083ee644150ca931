// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/job.h"
#include "core/report/handover_reports.h"

#include <filesystem>
#include <functional>
#include <map>
#include <mutex>
#include <string>
#include <vector>

namespace wheelwright {

/// Photos as JPEG, read from the disk once: again when a file has another size or time. Several threads may
/// ask.
class PhotoReader {
  public:
    /// As photoBase64().
    std::string read(const std::filesystem::path &path);
    std::size_t readings() const; ///< how often a file was opened

  private:
    struct Kept {
        std::filesystem::file_time_type changed;
        std::uintmax_t size = 0;
        std::string base64;
    };
    mutable std::mutex m_mutex;
    std::map<std::filesystem::path, Kept> m_kept;
    std::size_t m_readings = 0;
};

/// The photos of a job that go along with its hand-over: turned as they were taken, no larger than a page
/// shows, and without what the camera has written beside the picture, such as the place.
/// folder: where a relative path is looked for. stopped: looked at between photos, none then.
std::vector<HandoverPhoto> chosenPhotos(const Job &job, const std::filesystem::path &folder,
                                        PhotoReader &reader, const std::function<bool()> &stopped = {});

/// A JPEG of it, as text; empty where there is none, or no picture.
std::string photoBase64(const std::filesystem::path &path);

} // namespace wheelwright
