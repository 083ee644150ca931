// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/practice/practice_script.h"

#include <string>
#include <string_view>
#include <vector>

namespace wheelwright {

/// The truth of a practice engine and its faults as one JSON document: docs/practice-engine.md.
struct EngineDocument {
    HiddenEngine engine;
    std::vector<FaultSetting> faults;
};
std::string engineToJson(const EngineDocument &document);
/// What the document leaves out keeps the value of `usual`. Throws InputError naming the place for text that
/// is not JSON, keys that are not known, and values of the wrong kind or out of range.
EngineDocument engineFromJson(std::string_view text, const HiddenEngine &usual);

/// Throws likewise ("steps[2].load_kpa").
PracticeScript scriptFromJson(std::string_view text);

} // namespace wheelwright
