// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/table_csv.h"

#include "core/base/error.h"
#include "core/base/text.h"
#include "core/study/plausible_table.h"
#include "core/tables/table_kind.h"

#include <algorithm>
#include <array>

namespace wheelwright {
namespace {

void requireWidth(const CsvRow &row, std::size_t width) {
    if (row.fields.size() != width)
        throw InputError("line " + std::to_string(row.line),
                         Phrase{MARKED("expected.columns_as_first", "{a} columns, as in the first row"),
                                {},
                                {std::to_string(width)}},
                         std::to_string(row.fields.size()));
}

// "spark_deg": what the cells are, and their unit.
std::string cellLabel(const TableField &field) {
    const auto unit = [&]() -> std::string {
        switch (field.dimension) {
        case Dimension::volumetricEfficiency:
            return "_percent";
        case Dimension::duration:
            return "_ms";
        case Dimension::sparkAngle:
            return "_deg";
        case Dimension::pressure:
            return "_kpa";
        case Dimension::engineSpeed:
            return "_rpm";
        case Dimension::mixture:
        case Dimension::ratio:
            return "";
        default:
            return "_mg";
        }
    };
    return std::string(field.holds) + unit();
}

std::string lowered(std::string_view text) {
    std::string out(text);
    for (char &c : out)
        if (c >= 'A' && c <= 'Z') c = static_cast<char>(c - 'A' + 'a');
    return out;
}

// Words of a label, between the slashes.
std::vector<std::string> wordsOf(std::string_view label) {
    std::vector<std::string> words;
    for (std::size_t from = 0; from <= label.size();) {
        const std::size_t to = std::min(label.find('/', from), label.size());
        const std::string_view part = label.substr(from, to - from);
        const std::size_t first = part.find_first_not_of(' ');
        if (first != std::string_view::npos)
            words.push_back(lowered(part.substr(first, part.find_last_not_of(' ') - first + 1)));
        from = to + 1;
    }
    return words;
}

// "spark", "spark_deg": the four quantities and all other kinds of table.
bool namesATable(const std::string &word) {
    const auto is = [&](std::string_view id) {
        return word == id || (word.starts_with(id) && word.size() > id.size() && word[id.size()] == '_');
    };
    return std::ranges::any_of(allQuantities, [&](CalibratedQuantity q) { return is(quantityId(q)); }) ||
           std::ranges::any_of(allTableKinds(), [&](const TableKindDefinition &d) { return is(d.id); });
}

bool namesAnAxis(const std::string &word) {
    return std::ranges::any_of(std::array{axes::load, axes::airMass, axes::throttle, axes::gear},
                               [&](const TableAxis &a) { return word == a.key; }) ||
           std::ranges::any_of(allTableKinds(), [&](const TableKindDefinition &d) {
               return word == d.x.key || (!d.y.single() && word == d.y.key);
           });
}

} // namespace

std::string labelOf(const TableField &field, const std::string &cells) {
    std::string label = cells;
    if (!field.y.single()) label += " / " + std::string(field.y.key);
    return label + " / " + std::string(field.x.key);
}

// A label that says something else is refused: a λ table would otherwise become spark.
bool requireLabel(std::string_view label, const std::string &own, const TableField &field,
                  const std::string &where) {
    bool named = false;
    // What a fuel stands is spark as well: such a table may be begun from one of spark.
    const bool spark = field.dimension == Dimension::sparkAngle && field.x.key == axes::engineSpeed.key &&
                       field.y.key == axes::load.key;
    for (const std::string &word : wordsOf(label)) {
        const bool mine =
            word == own || word == field.holds || (spark && (word == "spark" || word == "spark_deg"));
        const bool axis = namesAnAxis(word); // first: "fuel_c" is one, and would do for a table of fuel
        const bool wrongAxis = axis && word != field.x.key && word != field.y.key;
        if ((!axis && namesATable(word) && !mine) || wrongAxis)
            throw InputError(where,
                             Phrase{MARKED("expected.table_of", "a table of {a} over {b}"),
                                    {},
                                    {own, std::string(field.y.single() ? field.x.key : field.y.key)}},
                             "one of '" + echoed(word, 30) + "'");
        named |= mine;
    }
    return named;
}

std::string tableToCsv(const Table2D &table, const TableField &field, char delimiter) {
    // Where a comma may be a decimal sign, three digits after a point may be thousands; four may not.
    const auto number = [delimiter](double v) {
        const std::string text = exactNumber(v);
        constexpr std::size_t group = 4; // the point and three digits
        const std::size_t point = text.find('.');
        const bool likeThousands = point != std::string::npos && text.size() - point == group;
        return delimiter != ',' && likeThousands ? text + "0" : text;
    };
    std::string out = labelOf(field, cellLabel(field));
    for (double rpm : table.x().points())
        out += delimiter + number(rpm);
    out += '\n';
    for (std::size_t y = 0; y < table.y().size(); ++y) {
        out += number(table.y()[y]);
        for (std::size_t x = 0; x < table.x().size(); ++x)
            out += delimiter + number(table.cell(x, y));
        out += '\n';
    }
    return out;
}

TableImport tableFromCsv(const CsvText &csv, const TableField &field) {
    const std::size_t width = csv.rows.front().fields.size();
    if (width < 2 || csv.rows.size() < 2)
        throw InputError(
            "file",
            Phrase{MARKED("expected.breakpoint_row",
                          "a first row of breakpoints ({a}), then one row for each {b}"),
                   {},
                   {std::string(field.x.key), std::string(field.y.single() ? "table" : field.y.key)}},
            std::to_string(csv.rows.size()) + " rows, " + std::to_string(width) + " columns");
    const bool named = requireLabel(csv.rows.front().fields.front(), cellLabel(field), field,
                                    "line " + std::to_string(csv.rows.front().line) + ", column 1");
    std::vector<double> rpm, y, cells;
    for (std::size_t c = 1; c < width; ++c)
        rpm.push_back(csvNumber(csv, 0, c, MARKED("expected.an_rpm_breakpoint", "an rpm breakpoint")));
    const std::string rpmPlace = "line " + std::to_string(csv.rows.front().line) + ", rpm";
    Axis x(std::move(rpm), rpmPlace);
    for (std::size_t r = 1; r < csv.rows.size(); ++r) {
        requireWidth(csv.rows[r], width);
        y.push_back(csvNumber(
            csv, r, 0,
            Phrase{MARKED("expected.breakpoint_of", "a breakpoint of {a}"), {}, {std::string(field.y.key)}}));
        for (std::size_t c = 1; c < width; ++c) {
            const double v = csvNumber(csv, r, c, MARKED("expected.a_number", "a number"));
            if (v < field.least || v > field.most)
                throw InputError("line " + std::to_string(csv.rows[r].line) + ", column " +
                                     std::to_string(c + 1),
                                 fromTo(field.least, field.most), exactly(v));
            cells.push_back(v);
        }
    }
    Table2D table(std::move(x), Axis(std::move(y), std::string(field.y.key)), std::move(cells), field.path);
    validate(field, table);
    Phrase doubt = named || field.holds != quantityId(field.quantity) ? Phrase{} : doubtAbout(field, table);
    return {std::move(table), std::move(doubt)};
}

CellBlock blockFromCsv(std::string_view text) {
    const CsvText csv = readCsv(text);
    const std::size_t width = csv.rows.front().fields.size();
    const bool axes = width > 1 && csv.rows.size() > 1 && !isCsvNumber(csv, 0, 0);
    CellBlock block;
    if (axes) block.label = csv.rows.front().fields.front();
    for (std::size_t r = 0; r < csv.rows.size(); ++r) {
        requireWidth(csv.rows[r], width);
        if (axes && r > 0)
            block.y.push_back(csvNumber(csv, r, 0, MARKED("expected.a_breakpoint", "a breakpoint")));
        std::vector<double> row;
        for (std::size_t c = axes ? 1 : 0; c < width; ++c)
            row.push_back(csvNumber(csv, r, c, MARKED("expected.a_number", "a number")));
        if (axes && r == 0)
            block.x = std::move(row);
        else
            block.rows.push_back(std::move(row));
    }
    return block;
}

} // namespace wheelwright
