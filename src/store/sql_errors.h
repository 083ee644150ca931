// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/error.h"

#include <SQLiteCpp/Exception.h>

#include <filesystem>
#include <string>

namespace wheelwright {

/// What the database says is wrong, in words that follow "found".
Phrase inWords(const SQLite::Exception &e);

/// Throws InputError about this file.
[[noreturn]] void refuse(const std::filesystem::path &path, const Phrase &expected, const Phrase &found);

/// "damage: … is not what its digest says", of a chapter; follows "found".
Phrase notAsDigested(const std::string &chapter);

/// Runs `work`, turning the library's exceptions into a sentence about this file.
template <class Work>
auto guarded(const std::filesystem::path &path, PhraseText expected, Work work) {
    try {
        return work();
    } catch (const SQLite::Exception &e) {
        throw InputError(path.filename().string(), expected, inWords(e));
    }
}

} // namespace wheelwright
