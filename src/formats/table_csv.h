// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/job_schema.h"
#include "core/tables/table2d.h"
#include "formats/csv_reader.h"

#include <string>
#include <string_view>

namespace wheelwright {

/// A table as delimited text: the first row is a label and the breakpoints across (rpm, of most), then one
/// row for each breakpoint down (load, throttle) with its cells. The label says what the cells are and what
/// the axes are: "spark_deg / load_kpa / rpm". Internal units (kPa absolute, °, λ, %), point, UTF-8; numbers
/// read back to the same bits.
std::string tableToCsv(const Table2D &table, const TableField &field, char delimiter = ',');

/// Reads the same, with the delimiters and decimal signs of readCsv. Throws InputError naming line and
/// column, also for cells out of the table's range, and for a label that names another quantity or axis. A
/// label of other words is let pass; then `doubt` says when the cells look like those of something else.
struct TableImport {
    Table2D table;
    Phrase doubt; ///< a sentence, or empty
};
TableImport tableFromCsv(const CsvText &csv, const TableField &field);

/// Cells as a spreadsheet copies them. Where the first field is empty or no number, the first row and column
/// are axes; numbers are as they stand in the text. Empty cells are refused.
struct CellBlock {
    std::string label;        ///< first field of a block with axes
    std::vector<double> x, y; ///< empty without axes
    std::vector<std::vector<double>> rows;
};
CellBlock blockFromCsv(std::string_view text);

/// "spark_deg / load_kpa / rpm": what the cells are, as `cells` says it with its unit, and the axes.
std::string labelOf(const TableField &field, const std::string &cells);

/// Whether a label says what the cells below it are: one of its words, between slashes, is `own`
/// ("spark_deg") or what the field holds. Throws InputError when a word is another table, the same in another
/// unit, or an axis that the field has not got.
bool requireLabel(std::string_view label, const std::string &own, const TableField &field,
                  const std::string &where);

} // namespace wheelwright
