// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/job_schema.h"

#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace wheelwright {

/// A table of the job with a stable name of its own, as marks and documents call it.
struct NamedTable {
    /// "calibration.spark.base", "calibration.levels.0.35.spark", "calibration.extras.Name"
    std::string path;
    const Table2D *table = nullptr;
};
/// Those of base and top, of the levels, and the other tables.
std::vector<NamedTable> namedTables(const Job &job);
/// nullptr when there is none of that name.
Table2D *namedTable(Job &job, std::string_view path);

/// Another name for another table of the controller; its locks and notes go with it.
void renameExtra(Job &job, std::size_t place, const std::string &name);
/// Takes one away, and its locks and notes: a later one of that name is another table.
void removeExtra(Job &job, std::size_t place);

/// The same tables as the job file calls them: those of a record by its id, so that the name holds whatever
/// the record says: "calibration.levels#1048576.spark".
std::string recordTablePath(const RecordList &list, RecordId id, const RecordField &field);
/// nullptr when there is none.
const Table2D *tableAt(const Job &job, std::string_view path);
Table2D *tableAt(Job &job, std::string_view path);

/// Where the numbers of tables come from, as documents hold it: path, and run lengths of codes.
std::vector<std::pair<std::string, std::string>> originTexts(const Job &job);
/// A text that is of a table of other axes, or of none, counts for nothing. Throws InputError at `where`.
void setOriginText(Job &job, std::string_view path, std::string_view codes, const std::string &where);

} // namespace wheelwright
