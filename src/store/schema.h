// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <span>
#include <string_view>

namespace SQLite {
class Database;
}

namespace wheelwright {

/// 'Whee' in ASCII: tells a job file from any other SQLite database.
inline constexpr int jobApplicationId = 0x57686565;

/// The version of this program's schema, and the oldest program (by its schema version) that may read what it
/// writes.
inline constexpr int schemaVersion = 18;
inline constexpr int minReaderVersion = 18;
/// The first version with digests, and the first whose digests are sums of rows.
inline constexpr int digestVersion = 7, rowDigestVersion = 8;
/// The first that says what somebody has stated.
inline constexpr int statementsVersion = 9;
/// The first whose spark ceilings go by engine speed and load, one for each content.
inline constexpr int ceilingsVersion = 10;

/// Creates all tables in an empty database, inside the caller's transaction.
void createSchema(SQLite::Database &db);

/// One step forward from the version that it stands for to the next, inside the caller's transaction.
struct Migration {
    int from;
    std::string_view sql;
};

/// Every step from the oldest version still read to schemaVersion, in order. Version 1 is the first.
std::span<const Migration> allMigrations();

} // namespace wheelwright
