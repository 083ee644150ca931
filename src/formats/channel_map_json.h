// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/channel_map.h"

#include <string>
#include <string_view>

namespace wheelwright {

/// A channel map as JSON: {"columns": [{"name", "role", "unit", "scale"?, "reference"?, "sign"?,
/// "formula"?, "confidence"?, "question"?}], "decimal"?, "delimiter"?}. Role "none" keeps a column that
/// counts for nothing, "skip" leaves it out of the import. scale: "gasoline", "true" or a number; reference:
/// "absolute" or "gauge"; sign: "reversed". Confidence and question are written with a suggestion and mean
/// nothing to who reads it.
std::string channelMapToJson(const ChannelMap &map);
/// Throws InputError naming the place for anything else.
ChannelMap channelMapFromJson(std::string_view text);

} // namespace wheelwright
