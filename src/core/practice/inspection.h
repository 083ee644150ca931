// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/practice/fault.h"
#include "core/practice/hidden_engine.h"

#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace wheelwright {

/// Something that can be looked at on a practice engine with it off, or by another instrument: it shows what
/// is there, and takes its time. One line of a list each.
struct Inspection {
    std::string_view id; ///< stable: "timing_light"
    PhraseText title;
    double minutes = 5;         ///< common practice, from memory
    std::vector<FaultId> shows; ///< faults that it finds
};
std::span<const Inspection> allInspections();
/// Throws InputError at `where`, naming those there are.
const Inspection &inspectionById(std::string_view id, const std::string &where);

/// What it came to.
struct Inspected {
    Phrase words;
    bool sound = true; ///< nothing is wrong there
};
/// tankContent: alcohol in the tank, 0–1: a tube reads it to a hundredth.
Inspected inspect(const Inspection &inspection, const std::vector<FaultSetting> &faults,
                  const HiddenEngine &engine, double tankContent);

} // namespace wheelwright
