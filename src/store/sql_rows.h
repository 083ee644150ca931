#pragma once
#include "core/job/job_change.h"
#include "store/job_rows.h"

#include <string>

namespace SQLite {
class Database;
}

namespace wheelwright {

// Rows of an open database, inside the caller's transaction. Errors of the database come as
// SQLite::Exception.

/// All rows. `digests`: also those of the table digest, which files before version 7 have not got.
JobRows readRows(SQLite::Database &db, bool digests);

void writeInfo(SQLite::Database &db, const char *key, int value);
void writeAction(SQLite::Database &db, const std::string &what, const std::string &at);
void writeWholeJob(SQLite::Database &db, const Job &job);
/// Throws InputError for a cell that the file has not got.
void writeChange(SQLite::Database &db, const JobChange &change);

/// Digests of all chapters, anew.
void writeDigests(SQLite::Database &db);
/// Those of the chapters that the change and the action after it have touched.
void writeDigests(SQLite::Database &db, const JobChange &change);

/// 0: there is none.
std::int64_t lastAction(SQLite::Database &db);

} // namespace wheelwright
