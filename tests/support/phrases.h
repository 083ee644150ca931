// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"

#include <string>
#include <string_view>

namespace wheelwright::testing {

/// A phrase as it reads in English and SI.
inline std::string said(const Phrase &p) {
    return format(p);
}
inline bool says(const Phrase &p, std::string_view part) {
    return said(p).find(part) != std::string::npos;
}

/// A phrase of a test's own, which nobody translates.
inline Phrase phrase(const char *text, std::vector<Measured> values = {},
                     std::vector<std::string> words = {}) {
    return {PhraseText("", text), std::move(values), std::move(words)};
}

} // namespace wheelwright::testing
