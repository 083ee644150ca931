// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/log_import/log_import.h"

#include "core/base/error.h"

#include <array>
#include <string>

namespace wheelwright {

#define WHEELWRIGHT_LOG_IMPORTER(name) LogImporter name##LogImporter();
#include "formats/log_import/all_importers.def"
#undef WHEELWRIGHT_LOG_IMPORTER

std::span<const LogImporter> allLogImporters() {
    static const std::array all{
#define WHEELWRIGHT_LOG_IMPORTER(name) name##LogImporter(),
#include "formats/log_import/all_importers.def"
#undef WHEELWRIGHT_LOG_IMPORTER
    };
    return all;
}

std::unique_ptr<LogSource> openLog(const LogBytes &bytes, const LogForm &form) {
    constexpr std::size_t looked = 4096;
    std::string head(looked, '\0');
    head.resize(bytes.read(0, head));
    for (const LogImporter &importer : allLogImporters())
        if (importer.recognises(head)) return importer.open(bytes, form);
    throw InputError("file", MARKED("expected.log_text", "a log: delimited text or MDF 4"),
                     MARKED("found.something_else", "something else")); // text comes last and takes anything
}

} // namespace wheelwright
