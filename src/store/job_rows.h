#pragma once
#include "core/job/job.h"
#include "core/job/job_schema.h"

#include <array>
#include <cstdint>
#include <map>
#include <optional>
#include <span>
#include <string>
#include <variant>
#include <vector>

namespace wheelwright {

// The job file as rows, whoever has read them: SQLite, or the pages themselves where the file is damaged.
// What a row must be is said here once.

/// A column as the file holds it. `monostate` is NULL; a blob is kept apart from text.
struct Blob {
    std::string bytes;
    bool operator==(const Blob &) const = default;
    auto operator<=>(const Blob &) const = default;
};
using RowValue = std::variant<std::monostate, std::int64_t, double, std::string, Blob>;

enum class RowTable { info, field, limit, curvePoint, breakpoint, cell, record, action, digest };
inline constexpr std::size_t rowTables = 9;

/// A row of any of them; columns that a table has not got are NULL.
using Row = std::array<RowValue, 4>;

struct RowTableDefinition {
    const char *name;
    int columns;
    const char *select; ///< all columns in the order of the primary key
};
const RowTableDefinition &definitionOf(RowTable table);

/// All rows, each table in the order of its primary key.
struct JobRows {
    std::array<std::vector<Row>, rowTables> of;
    std::vector<Row> &in(RowTable t) { return of[static_cast<std::size_t>(t)]; }
    const std::vector<Row> &in(RowTable t) const { return of[static_cast<std::size_t>(t)]; }
    /// Those whose first column is this text.
    std::span<const Row> at(RowTable t, const std::string &path) const;
};

/// Throw InputError naming the path, and row or column, when a row is missing, of the wrong type or index, or
/// out of range. The table's axes decide how many cells there are; the records of a list are numbered without
/// gaps.
FieldContent fieldFrom(const JobRows &rows, const Field &field);
Curve curveFrom(const JobRows &rows, const CurveField &field);
Table2D tableFrom(const JobRows &rows, const TableField &field);
void recordsFrom(const JobRows &rows, const RecordList &list, Job &job);
Limits limitsFrom(const JobRows &rows);

/// The whole job, every row accounted for: also throws for rows that belong to nothing.
Job jobFrom(const JobRows &rows);

/// What is kept of a table or list of which rows are missing: cells without a row are taken from the nearest
/// cell of the same rpm or load, records that are not whole are left out. Empty when less than half is there.
struct PartOfTable {
    Table2D table;
    std::size_t missing; ///< cells
};
std::optional<PartOfTable> partOfTable(const JobRows &rows, const TableField &field);
struct PartOfRecords {
    RecordContents contents;
    std::size_t dropped; ///< records
};
PartOfRecords partOfRecords(const JobRows &rows, const RecordList &list);

// Digests. A chapter is what is checked as one: job_info, all fields, all limits, the actions, and each
// curve, table and list of records by its path.

/// Of the 16 bytes that belong to these rows: XXH3, 128 bits (Collet, xxHash specification 0.1.1), over type,
/// length and bytes of each column.
Blob digestOf(std::span<const Row> rows, const Blob &before = {});
inline constexpr const char *infoChapter = "job_info", *fieldChapter = "field",
                            *limitChapter = "limit_override", *actionChapter = "action";
/// Every chapter with its digest, in the order of names. Actions are chained: each adds to the digest of
/// those before it, so that a new one does not cost the reading of all.
std::map<std::string, Blob> digestsOf(const JobRows &rows);
/// Chapters whose digest in the file is not that of its rows, or is missing, or is of no chapter.
std::vector<std::string> brokenChapters(const JobRows &rows);

} // namespace wheelwright
