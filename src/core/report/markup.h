// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <string>
#include <string_view>

namespace wheelwright {

/// Text as HTML and SVG have it: what would be markup stands for itself.
std::string escaped(std::string_view text);

} // namespace wheelwright
