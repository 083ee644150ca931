// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/export_file.h"

#include "store/file_bytes.h"

namespace wheelwright {

void exportFile(const std::filesystem::path &path, const std::string &bytes) {
    replaceFile(path, bytes);
}

} // namespace wheelwright
