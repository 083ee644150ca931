// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/sql_errors.h"

#include <sqlite3.h>

namespace wheelwright {

Phrase inWords(const SQLite::Exception &e) {
    switch (e.getErrorCode() & 0xff) {
    case SQLITE_FULL:
        return MARKED("found.full_disk", "a full disk");
    case SQLITE_READONLY:
        return MARKED("found.read_only_file", "a file that may not be written");
    case SQLITE_BUSY:
    case SQLITE_LOCKED:
        return MARKED("found.locked", "a file that another program holds locked");
    case SQLITE_CANTOPEN:
        return MARKED("found.cannot_be_opened", "a file that cannot be opened");
    case SQLITE_CORRUPT:
    case SQLITE_NOTADB:
    case SQLITE_ERROR: // a table that is not there, a row against its rules
    case SQLITE_CONSTRAINT:
    case SQLITE_MISMATCH:
        return MARKED(
            "found.damage",
            "damage; 'job export --salvage', or File › Read a damaged job…, reads what can be read");
    case SQLITE_IOERR:
        return MARKED("found.error_of_disk", "an error of the disk");
    default:
        return {MARKED("found.error", "an error: {a}"), {}, {e.what()}};
    }
}

void refuse(const std::filesystem::path &path, const Phrase &expected, const Phrase &found) {
    throw InputError(path.filename().string(), expected, found);
}

Phrase notAsDigested(const std::string &chapter) {
    return {MARKED("found.not_as_digested",
                   "damage: {a} is not what its digest says; 'job export --salvage', or "
                   "File › Read a damaged job…, reads what can be read"),
            {},
            {chapter}};
}

} // namespace wheelwright
