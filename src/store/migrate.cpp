// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/migrate.h"

#include "core/base/iso_date.h"
#include "store/old_digests.h"
#include "store/sql_errors.h"
#include "store/sql_rows.h"

#include <SQLiteCpp/SQLiteCpp.h>
#include <SQLiteCpp/VariadicBind.h>

#include <algorithm>
#include <set>

namespace wheelwright {
namespace {

// Text that was allowed where a date stands now goes into the notes of the job, so that nothing is lost.
void moveOddDatesToNotes(SQLite::Database &db, JobRows &rows) {
    std::string moved;
    for (Row &row : rows.in(RowTable::record)) {
        const auto *path = std::get_if<std::string>(&row[0]);
        const auto *key = std::get_if<std::string>(&row[2]);
        auto *text = std::get_if<std::string>(&row[3]);
        const RecordList *list = path ? recordListByPath(*path) : nullptr;
        if (!list || !key || !text || text->empty() || isIsoDate(*text)) continue;
        const auto field = std::ranges::find(list->fields, *key, &RecordField::key);
        const auto *index = std::get_if<std::int64_t>(&row[1]);
        if (field == list->fields.end() || !field->date || !index) continue;
        moved += "\n" + format(list->title) + " " + std::to_string(*index + 1) + ", " + format(field->title) +
                 ": " + *text;
        SQLite::Statement s(db, "UPDATE record SET value = '' WHERE path = ? AND idx = ? AND key = ?");
        SQLite::bind(s, *path, static_cast<std::int64_t>(*index), *key);
        s.exec();
        text->clear();
    }
    if (moved.empty()) return;
    for (Row &row : rows.in(RowTable::field))
        if (const auto *path = std::get_if<std::string>(&row[0]); path && *path == "notes") {
            const auto *old = std::get_if<std::string>(&row[1]);
            const std::string notes =
                (old && !old->empty() ? *old + "\n" : "") + "Dates that were not ISO 8601:" + moved;
            row[1] = notes;
            SQLite::Statement s(db, "UPDATE field SET value = ? WHERE path = 'notes'");
            s.bind(1, notes);
            s.exec();
        }
}

// What stood in records before version 8: tables as text, and where numbers come from.
void moveTablesToRows(SQLite::Database &db, const Job &job) {
    RowWriter writer(db, false);
    for (const RecordList &list : allRecordLists())
        if (std::ranges::any_of(list.fields, &RecordField::table)) writer.records(list, job);
    writer.removeRecords(oldOriginsPath);
    for (const TableField &t : allTables())
        if (!t.of(job).origins().empty()) writer.table(t.path, t.of(job));
}

// Some lists as this program reads them, in place of the rows that they were read from.
void replaceRecords(SQLite::Database &db, const JobRows &rows, std::initializer_list<const char *> paths) {
    const Job job = jobFrom(rows);
    RowWriter writer(db, false);
    for (const char *path : paths) {
        const RecordList &list = *recordListByPath(path);
        std::set<RecordId> ids;
        for (const Row &row : rows.at(RowTable::record, path))
            if (const auto *id = std::get_if<std::int64_t>(&row[1])) ids.insert(*id);
        for (const RecordId id : ids)
            writer.removeRecord(list, id);
        writer.records(list, job);
    }
}

} // namespace

void migrate(SQLite::Database &db, const std::filesystem::path &path, const JobStoreOptions &options) {
    int version = pragmaNumber(db, "user_version");
    SQLite::Transaction transaction(db, SQLite::TransactionBehavior::IMMEDIATE);
    const int from = version;
    JobRows rows;
    if (from >= digestVersion) {
        rows = readRows(db, from, true);
        if (const std::vector<std::string> broken =
                from < rowDigestVersion ? brokenOldChapters(rows) : brokenChapters(rows);
            !broken.empty())
            refuse(path, MARKED("expected.what_was_written", "what was written"),
                   notAsDigested(broken.front()));
    }
    for (const Migration &m : options.migrations)
        if (m.from == version) {
            db.exec(std::string(m.sql));
            ++version;
        }
    if (version != options.version)
        refuse(path, MARKED("expected.schema_can_brought_up_date", "a schema that can be brought up to date"),
               Phrase{MARKED("found.version", "version {a}"), {}, {std::to_string(version)}});
    if (from < rowDigestVersion && version >= rowDigestVersion) {
        rows = readRows(db, rowDigestVersion, true);
        rows.version = from;
        if (from < digestVersion) moveOddDatesToNotes(db, rows);
        moveTablesToRows(db, jobFrom(rows));
    }
    if (from < statementsVersion && version >= statementsVersion) {
        rows = readRows(db, rowDigestVersion, true);
        RowWriter(db, false).records(*recordListByPath("stated"), jobFrom(rows));
    }
    if (from < ceilingsVersion && version >= ceilingsVersion) {
        rows = readRows(db, rowDigestVersion, true);
        rows.version = std::max(from, statementsVersion); // what was stated is in its rows by now
        replaceRecords(db, rows, {"calibration.extras", "calibration.cell_marks"});
    }
    writeDigests(db);
    db.exec("PRAGMA user_version = " + std::to_string(version));
    transaction.commit();
}

} // namespace wheelwright
