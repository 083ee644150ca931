#include "formats/table_csv.h"

#include "core/error.h"
#include "core/tables/table_text.h"
#include "formats/csv_reader.h"

namespace wheelwright {
namespace {

void requireWidth(const CsvRow &row, std::size_t width) {
    if (row.fields.size() != width)
        throw InputError("line " + std::to_string(row.line),
                         std::to_string(width) + " columns, as in the first row",
                         std::to_string(row.fields.size()));
}

} // namespace

std::string tableToCsv(const Table2D &table, const TableField &field, char delimiter) {
    std::string out = field.yKey + " / rpm";
    for (double rpm : table.x().points())
        out += delimiter + exactNumber(rpm);
    out += '\n';
    for (std::size_t y = 0; y < table.y().size(); ++y) {
        out += exactNumber(table.y()[y]);
        for (std::size_t x = 0; x < table.x().size(); ++x)
            out += delimiter + exactNumber(table.cell(x, y));
        out += '\n';
    }
    return out;
}

Table2D tableFromCsv(std::string_view text, const TableField &field) {
    const CsvText csv = readCsv(text);
    const std::size_t width = csv.rows.front().fields.size();
    if (width < 2 || csv.rows.size() < 2)
        throw InputError("file", "a first row of rpm breakpoints, then one row for each " + field.yKey,
                         std::to_string(csv.rows.size()) + " rows, " + std::to_string(width) + " columns");
    std::vector<double> rpm, y, cells;
    for (std::size_t c = 1; c < width; ++c)
        rpm.push_back(csvNumber(csv, 0, c, "an rpm breakpoint"));
    const std::string rpmPlace = "line " + std::to_string(csv.rows.front().line) + ", rpm";
    Axis x(std::move(rpm), rpmPlace);
    for (std::size_t r = 1; r < csv.rows.size(); ++r) {
        requireWidth(csv.rows[r], width);
        y.push_back(csvNumber(csv, r, 0, "a breakpoint of " + field.yKey));
        for (std::size_t c = 1; c < width; ++c) {
            const double v = csvNumber(csv, r, c, "a number");
            if (v < field.least || v > field.most)
                throw InputError("line " + std::to_string(csv.rows[r].line) + ", column " +
                                     std::to_string(c + 1),
                                 exactNumber(field.least) + " to " + exactNumber(field.most), exactNumber(v));
            cells.push_back(v);
        }
    }
    Table2D table(std::move(x), Axis(std::move(y), field.yKey), std::move(cells), field.path);
    validate(field, table);
    return table;
}

CellBlock blockFromCsv(std::string_view text) {
    const CsvText csv = readCsv(text);
    const std::size_t width = csv.rows.front().fields.size();
    const bool axes = width > 1 && csv.rows.size() > 1 && !isCsvNumber(csv, 0, 0);
    CellBlock block;
    for (std::size_t r = 0; r < csv.rows.size(); ++r) {
        requireWidth(csv.rows[r], width);
        if (axes && r > 0) block.y.push_back(csvNumber(csv, r, 0, "a breakpoint"));
        std::vector<double> row;
        for (std::size_t c = axes ? 1 : 0; c < width; ++c)
            row.push_back(csvNumber(csv, r, c, "a number"));
        if (axes && r == 0)
            block.x = std::move(row);
        else
            block.rows.push_back(std::move(row));
    }
    return block;
}

} // namespace wheelwright
