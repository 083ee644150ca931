// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/job_change.h"
#include "store/job_rows.h"

#include <memory>
#include <string>

namespace SQLite {
class Database;
}

namespace wheelwright {

// Rows of an open database, inside the caller's transaction. Errors of the database come as
// SQLite::Exception.

/// All rows of a file of that schema version. Without `all`, long texts are left in the file, as are
/// actions by the ten thousand.
JobRows readRows(SQLite::Database &db, int version, bool all);
std::vector<Row> readActions(SQLite::Database &db);
/// Whether the actions are what their digest says.
bool actionsHold(SQLite::Database &db, const JobRows &rows);
/// The text of a chapter of its own. Throws InputError when it is not there, or not what its digest says.
std::string readText(SQLite::Database &db, const std::string &chapter);

/// Writes rows and keeps the digests of their chapters in step: what a row held before is read from the file,
/// never assumed.
class RowWriter {
  public:
    /// digests: false leaves them alone, for who writes them all anew.
    explicit RowWriter(SQLite::Database &db, bool digests = true);
    RowWriter(const RowWriter &) = delete;
    RowWriter &operator=(const RowWriter &) = delete;
    ~RowWriter();

    void info(const char *key, int value);
    void action(const std::string &what, const std::string &at);
    void wholeJob(const Job &job);
    /// Throws InputError for a cell that the file has not got. Digests are kept.
    void change(const JobChange &change);
    /// All records of a list, anew.
    void records(const RecordList &list, const Job &job);
    void table(const std::string &path, const Table2D &table);
    void removeRecords(const std::string &path);
    void removeRecord(const RecordList &list, RecordId id);
    /// The digests of all that was written here.
    void finish();

  private:
    struct Statements;
    void setDigest(const std::string &chapter, std::optional<Digest> digest);
    void write(RowTable table, const Row &row);
    bool put(RowTable table, const Row &given); ///< whether there was one: known where digests are kept
    void remove(RowTable table, const Row &key);
    void removeAll(RowTable table, const std::string &path);
    void field(const std::string &path, const FieldContent &content);
    void curve(const std::string &path, const Curve &curve);
    void axis(const std::string &path, const char *name, const Axis &axis);
    void cells(const JobChange::CellSteps &steps);
    void limit(const std::string &id, std::optional<double> value);
    void value(const RecordList &list, RecordId id, const RecordField &field, const RecordValue &value);
    void records(const JobChange::RecordSteps &steps);

    SQLite::Database &m_db;
    bool m_digests;
    std::unique_ptr<Statements> m_statements;
    std::map<std::string, Digest> m_came, m_went;
    Digest m_digestsCame, m_digestsWent;
};

/// Digests of all chapters, anew.
void writeDigests(SQLite::Database &db);

/// PRAGMA application_id, user_version, data_version …
int pragmaNumber(SQLite::Database &db, const char *name);

/// 0: there is none.
std::int64_t lastAction(SQLite::Database &db);

} // namespace wheelwright
