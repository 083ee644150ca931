// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"
#include "core/live/can_signal.h"

#include <string_view>
#include <vector>

namespace wheelwright {

/// What the common text description of frames (.dbc) says: messages and signals, both orders, signs, one
/// multiplexer a message, floating numbers. Comments, nodes, attributes and tables of values count for
/// nothing.
struct DbcImport {
    CanMap map;
    std::vector<Phrase> warnings; ///< what was left out
};
/// Text that is not UTF-8 is read as Latin-1. Throws InputError naming the line, and as validate().
DbcImport canMapFromDbc(std::string_view text);
/// Either of both: a map of our own, or a description. Throws as these do.
DbcImport canMapFromEither(std::string_view text);

} // namespace wheelwright
