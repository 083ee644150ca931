// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/log_bytes.h"
#include "core/evidence/log_source.h"

#include <memory>
#include <optional>
#include <span>
#include <string_view>

namespace wheelwright {

/// What a user has said of a text before it is recognised.
struct LogForm {
    std::optional<char> delimiter, decimal;
    bool partly = false; ///< of more columns than a log may have, take the first
};

/// A kind of log file that can be read. Adding one is a file and a line in all_importers.def.
struct LogImporter {
    std::string_view id;   ///< "mdf4"
    PhraseText title;      ///< as shown
    std::string_view ends; ///< usual ends of its names, with blanks between: "mf4 mdf"
    bool (*recognises)(std::string_view firstBytes);
    /// The bytes must outlive the source.
    std::unique_ptr<LogSource> (*open)(const LogBytes &bytes, const LogForm &form);
};

std::span<const LogImporter> allLogImporters();

/// Recognises a log by its first bytes and finds its columns. Throws InputError for what is no log.
std::unique_ptr<LogSource> openLog(const LogBytes &bytes, const LogForm &form = {});

} // namespace wheelwright
