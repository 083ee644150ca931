// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/records.h"

namespace wheelwright {

std::vector<RecordId> spacedIds(std::size_t count) {
    std::vector<RecordId> ids(count);
    for (std::size_t i = 0; i < count; ++i)
        ids[i] = static_cast<RecordId>(i + 1) * recordSpacing;
    return ids;
}

} // namespace wheelwright
