// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <nlohmann/json.hpp>

#include <string>

namespace wheelwright {

/// A result laid out for a person at a dyno: a line for each value, numbers short, lists of like things as
/// tables with a heading, what is long wrapped. What changes only now and then along a list of places is said
/// as ranges. For programs there is --json.
std::string laidOut(const nlohmann::ordered_json &result);

} // namespace wheelwright
