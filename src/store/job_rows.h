// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/job.h"
#include "core/job/job_schema.h"
#include "store/schema.h"

#include <array>
#include <cstdint>
#include <functional>
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
using Row = std::array<RowValue, 5>;

struct RowTableDefinition {
    const char *name;
    std::vector<const char *> columns; ///< those of the primary key first
    std::size_t keys;                  ///< columns of the primary key
};
const RowTableDefinition &definitionOf(RowTable table);

/// All rows, each table in the order of its primary key.
struct JobRows {
    int version = schemaVersion; ///< of the schema that they were written in
    std::array<std::vector<Row>, rowTables> of;
    bool withoutActions = false; ///< they were left in the file
    /// Makes the text of a chapter that was left in the file; its row holds NULL.
    std::function<DeferredText(const std::string &chapter)> later;
    std::vector<Row> &in(RowTable t) { return of[static_cast<std::size_t>(t)]; }
    const std::vector<Row> &in(RowTable t) const { return of[static_cast<std::size_t>(t)]; }
    /// Those whose first column is this text.
    std::span<const Row> at(RowTable t, const std::string &path) const;
};

/// Throw InputError naming the path, and row or column, when a row is missing, of the wrong type or index, or
/// out of range. The table's axes decide how many cells there are; the ids of a list ascend. A scalar without
/// a row has its default, so that a field may be added without rewriting files.
FieldContent fieldFrom(const JobRows &rows, const Field &field);
Curve curveFrom(const JobRows &rows, const CurveField &field);
Table2D tableFrom(const JobRows &rows, const TableField &field, bool judged = true);
void recordsFrom(const JobRows &rows, const RecordList &list, Job &job);
/// Where numbers come from, as files before version 8 hold it.
void oldOriginsFrom(const JobRows &rows, Job &job);
inline constexpr const char *oldOriginsPath = "calibration.origins";
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
/// Whole records of a list into the job, and how many are left out.
struct PartOfRecords {
    std::size_t kept = 0, dropped = 0;
};
PartOfRecords partOfRecords(const JobRows &rows, const RecordList &list, Job &job);

// Digests. A chapter is what is checked as one: job_info, all fields, all limits, the actions, each curve,
// table and list of records by its path, each long text by itself, and the digests themselves.

/// XXH3, 128 bits (Collet, xxHash specification 0.1.1), over type, length and bytes of each column. The
/// digest of a chapter is the sum of those of its rows, each half by itself, so that a row that comes, goes
/// or changes costs no reading of the others.
struct Digest {
    std::uint64_t low = 0, high = 0;
    Digest &operator+=(const Digest &d) { return low += d.low, high += d.high, *this; }
    Digest &operator-=(const Digest &d) { return low -= d.low, high -= d.high, *this; }
    bool operator==(const Digest &) const = default;
    Blob bytes() const; ///< 16, most significant first
};
/// Type, length and bytes of a column, as digests take them.
void feedDigest(std::string &buffer, const RowValue &v);
std::optional<Digest> digestFrom(const RowValue &v);
Digest digestOf(const Row &row);
Digest digestOf(const std::string &text);

inline constexpr const char *infoChapter = "job_info", *fieldChapter = "field",
                            *limitChapter = "limit_override", *actionChapter = "action",
                            *digestChapter = "digest";
std::string chapterOf(RowTable table, const Row &row);
/// Chapter of a long text: "revisions#1048576.state"; empty for a row of anything else.
std::string textChapterOf(RowTable table, const Row &row);

/// Sum of the digests' own rows, but for the one that holds it: without it, a digest and all its rows could
/// be lost together.
Digest digestOfDigests(const std::vector<Row> &digestRows);
/// Every chapter with its digest, in the order of names: also the empty ones that the job has. A long text
/// that was left in the file is vouched for by the digest that the file states for it.
std::map<std::string, Digest> digestsOf(const JobRows &rows);
/// Chapters whose digest in the file is not that of its rows, or is missing, or is of no chapter. Actions
/// that were not read are not judged.
std::vector<std::string> brokenChapters(const JobRows &rows);

} // namespace wheelwright
