// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <nlohmann/json_fwd.hpp>

#include <string_view>

namespace wheelwright {

/// A document in JSON, as it stands. Throws InputError with the line, or the key, and what is there: for what
/// is no JSON or no UTF-8, numbers that no computer holds, keys that stand twice, and lists in lists without
/// end. document: what it is, before the place in it; empty: a job.
nlohmann::ordered_json jsonFrom(std::string_view text, std::string_view document = {});

} // namespace wheelwright
