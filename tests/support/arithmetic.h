// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"

#include <optional>

namespace wheelwright::testing {

/// What a line with numbers put in comes to: "(1 − {0}) · {1} + {0} · {2}". Knows + − · / and brackets; both
/// sides of an '=' must agree, else no value that could be right comes back. Empty for what is no sum: words,
/// or one number.
std::optional<double> valueOf(const Phrase &line);

} // namespace wheelwright::testing
