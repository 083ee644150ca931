// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <string_view>

namespace wheelwright {

/// Of the product, as the first heading of CHANGELOG.md has it: "0.1.0".
extern const std::string_view version;

} // namespace wheelwright
