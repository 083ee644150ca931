#pragma once
#include "core/job/job_schema.h"
#include "core/tables/table2d.h"

#include <string>
#include <string_view>

namespace wheelwright {

/// A table as delimited text: the first row is a label and the rpm breakpoints, then one row for each load
/// (or throttle) breakpoint with its cells. Internal units (kPa absolute, °, λ, %), point, UTF-8; numbers
/// read back to the same bits.
std::string tableToCsv(const Table2D &table, const TableField &field, char delimiter = ',');

/// Reads the same, with the delimiters and decimal signs of readCsv. Throws InputError naming line and
/// column, also for cells out of the table's range.
Table2D tableFromCsv(std::string_view text, const TableField &field);

/// Cells as a spreadsheet copies them. Where the first field is empty or no number, the first row and column
/// are axes; numbers are as they stand in the text. Empty cells are refused.
struct CellBlock {
    std::vector<double> x, y; ///< empty without axes
    std::vector<std::vector<double>> rows;
};
CellBlock blockFromCsv(std::string_view text);

} // namespace wheelwright
