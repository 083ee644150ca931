// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/ladder/bundle.h"

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

namespace wheelwright {

/// A folder that is written beside its place and gets its name when all of it is there: whoever looks sees
/// nothing or everything. Taken away again unless it is kept.
class NewFolder {
  public:
    /// Throws InputError where the place is taken by anything but an empty folder, or cannot be written to.
    NewFolder(const std::filesystem::path &place, const std::vector<BundleFile> &files);
    NewFolder(const NewFolder &) = delete;
    NewFolder &operator=(const NewFolder &) = delete;
    ~NewFolder();
    /// Throws InputError where the place has been taken since.
    void keep();

  private:
    std::filesystem::path m_place, m_part;
};

/// What stands in a folder that came back.
struct ReturnedFolder {
    std::optional<std::string> head;         ///< bytes of bundle.json
    std::vector<BundleFile> back;            ///< what was read out of the controller
    std::vector<std::filesystem::path> logs; ///< by name
    std::vector<std::string> leftAlone;      ///< names of what is no log by its name, such as photos
};
/// Throws InputError where it is no folder that can be read. Links are not followed.
ReturnedFolder readReturnedFolder(const std::filesystem::path &folder);

} // namespace wheelwright
