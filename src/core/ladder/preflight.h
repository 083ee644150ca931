// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"

#include <span>
#include <string_view>

namespace wheelwright {

/// Something to look at before the first start. Common practice.
struct PreflightItem {
    std::string_view id; ///< stable: "base_timing"
    PhraseText title;
    PhraseText help; ///< what is good
};
/// Adding one is a line.
std::span<const PreflightItem> allPreflightItems();

} // namespace wheelwright
