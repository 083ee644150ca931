// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <filesystem>
#include <string>

namespace wheelwright {

/// Something for others to a file, as a whole or not at all; never over a job. Throws InputError naming it.
void exportFile(const std::filesystem::path &path, const std::string &bytes);

} // namespace wheelwright
