#include "store/schema.h"

#include <SQLiteCpp/SQLiteCpp.h>

namespace wheelwright {
namespace {

// Numbered invariants of the file, kept by JobStore:
//  1. Every change of the job is one transaction, and every transaction leaves a job that passes validate().
//  2. The path of a field, curve, table or limit is the one of core/job/job_schema.h.
//  3. A table has a row in breakpoint for each point of both axes and a row in cell for each pair of them.
//  4. action holds one row for each confirmed action, oldest first.
constexpr const char *schemaSql = R"sql(
CREATE TABLE job_info (key TEXT PRIMARY KEY, value NOT NULL) WITHOUT ROWID;
CREATE TABLE field (path TEXT PRIMARY KEY, value NOT NULL) WITHOUT ROWID;
CREATE TABLE limit_override (id TEXT PRIMARY KEY, value REAL NOT NULL) WITHOUT ROWID;
CREATE TABLE curve_point (
    path TEXT NOT NULL, idx INTEGER NOT NULL, x REAL NOT NULL, y REAL NOT NULL,
    PRIMARY KEY (path, idx)) WITHOUT ROWID;
CREATE TABLE breakpoint (
    path TEXT NOT NULL, axis TEXT NOT NULL CHECK (axis IN ('x', 'y')), idx INTEGER NOT NULL, value REAL NOT NULL,
    PRIMARY KEY (path, axis, idx)) WITHOUT ROWID;
CREATE TABLE cell (
    path TEXT NOT NULL, y INTEGER NOT NULL, x INTEGER NOT NULL, value REAL NOT NULL,
    PRIMARY KEY (path, y, x)) WITHOUT ROWID;
CREATE TABLE action (id INTEGER PRIMARY KEY, at TEXT NOT NULL, what TEXT NOT NULL);
)sql";

} // namespace

void createSchema(SQLite::Database &db) {
    db.exec(schemaSql);
}

std::span<const Migration> allMigrations() {
    return {};
}

} // namespace wheelwright
