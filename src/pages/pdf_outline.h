// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <string>
#include <vector>

namespace wheelwright {

/// A heading of a document.
struct OutlineEntry {
    std::string title;
    int page = 0;  ///< from 0
    int level = 1; ///< 1, or 2 under the one before it
};

/// The PDF with an outline, and a remark in its information where there is one.
std::string withOutline(const std::string &pdf, const std::vector<OutlineEntry> &entries,
                        const std::string &remark);

} // namespace wheelwright
