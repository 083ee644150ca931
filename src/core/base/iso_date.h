// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <optional>
#include <string_view>

namespace wheelwright {

/// Days from 1970-01-01 to the date that the text begins with (Gregorian); empty when it begins with none, or
/// with one that no calendar has.
std::optional<int> dayOf(std::string_view iso);

/// A date, or a date and a time, in the extended format of ISO 8601-1:2019: "2001-02-03", "2001-02-03T04:05",
/// "2001-02-03T04:05:06.7Z", "2001-02-03T04:05:06+01:00".
bool isIsoDate(std::string_view text);

} // namespace wheelwright
