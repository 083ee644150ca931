#include "store/schema.h"

#include <SQLiteCpp/SQLiteCpp.h>

#include <array>

namespace wheelwright {
namespace {

// Numbered invariants of the file, kept by JobStore:
//  1. Every change of the job is one transaction, and every transaction leaves a job that passes validate().
//  2. The path of a field, curve, table or limit is the one of core/job/job_schema.h.
//  3. A table has a row in breakpoint for each point of both axes and a row in cell for each pair of them.
//  4. A record has a row for each of its keys, and the records of a list are numbered from 0 without gaps.
//  5. action holds one row for each confirmed action, oldest first.
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
CREATE TABLE record (
    path TEXT NOT NULL, idx INTEGER NOT NULL, key TEXT NOT NULL, value NOT NULL,
    PRIMARY KEY (path, idx, key)) WITHOUT ROWID;
CREATE TABLE action (id INTEGER PRIMARY KEY, at TEXT NOT NULL, what TEXT NOT NULL);
)sql";

} // namespace

void createSchema(SQLite::Database &db) {
    db.exec(schemaSql);
}

std::span<const Migration> allMigrations() {
    static const std::array migrations{
        // 2: shelf and tank history as records, and the tank itself.
        Migration{1, R"sql(
CREATE TABLE record (
    path TEXT NOT NULL, idx INTEGER NOT NULL, key TEXT NOT NULL, value NOT NULL,
    PRIMARY KEY (path, idx, key)) WITHOUT ROWID;
INSERT INTO field (path, value) VALUES
    ('tank.capacity_l', 60.0), ('tank.reserve_l', 8.0), ('tank.line_l', 0.5), ('tank.surge_l', 0.0),
    ('tank.surge_flow_l_min', 0.0), ('tank.idle_flow_l_min', 0.05), ('tank.cruise_flow_l_min', 0.2);
UPDATE job_info SET value = 2 WHERE key = 'min_reader_version';
)sql"},
    };
    return migrations;
}

} // namespace wheelwright
