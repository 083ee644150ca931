// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/live/can_signal.h"

#include <string>
#include <string_view>

namespace wheelwright {

/// A map of CAN frames as JSON, our own plain format (docs/can-map.md): {"format": "wheelwright-can-map",
/// "version": 1, "messages": [{"id": 1536 or "0x600", "extended"?, "name", "bytes", "signals": [{"name",
/// "start_bit", "bits", "order": "little" or "big", "number"?: "plain", "twos_complement" or "floating",
/// "scale"?, "offset"?, "unit"?, "multiplexer"?, "multiplex_value"?}]}]}.
std::string canMapToJson(const CanMap &map);
/// Throws InputError naming the place for anything else, and as validate().
CanMap canMapFromJson(std::string_view text);

} // namespace wheelwright
