// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"

#include <map>
#include <span>
#include <string>
#include <string_view>

namespace wheelwright {

/// A limit that the product ships. Every one is a starting point, not a promise about an engine; a job may
/// hold its own.
struct LimitDefinition {
    std::string_view id; ///< stable: "flow.duty.stop"
    PhraseText title;
    Dimension dimension;
    double shipped;
    double least, most; ///< allowed for the user's own
    PhraseText origin;
};

std::span<const LimitDefinition> allLimits();

/// Throws InputError naming the id when there is no such limit.
const LimitDefinition &limitById(std::string_view id);

/// Throws InputError for an unknown id or a value out of range.
void validateLimit(const std::string &id, double value);

/// The user's own limits by id; others are the shipped ones.
using Limits = std::map<std::string, double, std::less<>>;

/// The user's own value, or the shipped one.
double limitOf(const Limits &own, std::string_view id);
/// Where that value comes from: "user" or the shipped origin.
PhraseText limitOrigin(const Limits &own, std::string_view id);

} // namespace wheelwright
