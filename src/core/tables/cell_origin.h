// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"

#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace wheelwright {

/// Where the number in a cell comes from.
enum class CellOrigin : unsigned char {
    unknown,      ///< it came with the job or the file
    typed,        ///< by the user: set, added to, multiplied
    interpolated, ///< from other cells: interpolated, smoothed, filled, on new breakpoints
    model,        ///< scaled by the fuel model or converted between schools and meanings
    log,          ///< corrected from a log
    copied,       ///< pasted, imported or taken from a revision
    estimated,    ///< a first guess: of a template, or of the physics of a cylinder
    assumed,      ///< the flat table that a new job or a new table begins with
    knockSeen,    ///< where knock was seen: of ceilings
    sweep         ///< from a sweep of spark: of ceilings and best spark
};

struct CellOriginDefinition {
    CellOrigin origin;
    char code;           ///< in the job file
    std::string_view id; ///< stable: "typed"
    PhraseText title;    ///< "typed"
};
std::span<const CellOriginDefinition> allCellOrigins();
const CellOriginDefinition &definitionOf(CellOrigin origin);
/// A log has made the number; all else is somebody's or something's opinion. Whether it holds, later logs say
/// (study/proof.h).
constexpr bool fromLog(CellOrigin origin) {
    return origin == CellOrigin::log;
}

/// Nobody has said it of this engine: no verdict rests on it.
constexpr bool guessed(CellOrigin origin) {
    return origin == CellOrigin::estimated || origin == CellOrigin::assumed;
}

/// Run lengths and codes: "12t3i9?"; and back. Throws InputError at `where` for an unknown code.
std::string originsToText(const std::vector<CellOrigin> &origins);
std::vector<CellOrigin> originsFromText(std::string_view text, std::string_view where = "origins");

} // namespace wheelwright
