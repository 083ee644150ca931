// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/tables/two_table.h"

namespace wheelwright {

std::string_view quantityId(CalibratedQuantity q) {
    constexpr std::array<std::string_view, calibratedQuantityCount> ids{"fuel", "spark", "boost", "lambda"};
    return ids[static_cast<std::size_t>(q)];
}

} // namespace wheelwright
