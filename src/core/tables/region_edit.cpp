// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/tables/region_edit.h"

#include "core/base/error.h"
#include "core/base/symmetric_band.h"
#include "core/base/unit.h"
#include "core/tables/cell_expression.h"
#include "core/tables/two_table.h"

#include <algorithm>
#include <cctype>
#include <cmath>
#include <string>

namespace wheelwright {
namespace {

double share(double a, double b, double x) {
    return b > a ? (x - a) / (b - a) : 0;
}

bool holds(const CellSet &cells, CellIndex i) {
    return std::ranges::binary_search(cells, i);
}

// Calls line(first, last) for each run of chosen cells along one direction.
template <class At, class Line>
void eachRun(std::size_t count, At chosen, Line line) {
    for (std::size_t i = 0; i < count; ++i) {
        if (!chosen(i)) continue;
        std::size_t last = i;
        while (last + 1 < count && chosen(last + 1))
            ++last;
        line(i, last);
        i = last;
    }
}

// Calls with each neighbour of a cell and how much it counts: nearer ones more.
template <class Visit>
void eachNeighbour(const Table2D &t, CellIndex i, Visit visit) {
    // Distances as shares of the axis, so that rpm and kPa can be compared.
    const double spanX = std::max(t.x().last() - t.x().first(), 1e-12),
                 spanY = std::max(t.y().last() - t.y().first(), 1e-12);
    if (i.x > 0) visit(CellIndex{i.x - 1, i.y}, spanX / (t.x()[i.x] - t.x()[i.x - 1]));
    if (i.x + 1 < t.x().size()) visit(CellIndex{i.x + 1, i.y}, spanX / (t.x()[i.x + 1] - t.x()[i.x]));
    if (i.y > 0) visit(CellIndex{i.x, i.y - 1}, spanY / (t.y()[i.y] - t.y()[i.y - 1]));
    if (i.y + 1 < t.y().size()) visit(CellIndex{i.x, i.y + 1}, spanY / (t.y()[i.y + 1] - t.y()[i.y]));
}

// Numbers for the cells that are filled, so that neighbours have near ones: along the way that is shorter.
class Unknowns {
  public:
    Unknowns(const Table2D &t, CellSet cells) : m_width(t.x().size()), m_cells(std::move(cells)) {
        const CellSet byRow = m_cells;
        const std::size_t rowBand = number(t);
        std::ranges::sort(m_cells, {}, [](const CellIndex &i) { return std::pair{i.x, i.y}; });
        if (number(t) <= rowBand) return;
        m_cells = byRow;
        number(t);
    }
    const CellSet &cells() const { return m_cells; }
    std::size_t band() const { return m_band; }
    std::size_t of(CellIndex i) const { return m_number[i.y * m_width + i.x]; } ///< none: not filled

    static constexpr std::size_t none = static_cast<std::size_t>(-1);

  private:
    std::size_t number(const Table2D &t) {
        m_number.assign(t.cells().size(), none);
        for (std::size_t k = 0; k < m_cells.size(); ++k)
            m_number[m_cells[k].y * m_width + m_cells[k].x] = k;
        m_band = 0;
        for (std::size_t k = 0; k < m_cells.size(); ++k)
            eachNeighbour(t, m_cells[k], [&](CellIndex n, double) {
                if (of(n) != none && of(n) < k) m_band = std::max(m_band, k - of(n));
            });
        return m_band;
    }

    std::size_t m_width, m_band = 0;
    CellSet m_cells;
    std::vector<std::size_t> m_number;
};

[[noreturn]] void refuseQuery(std::string_view found) {
    throw InputError(
        "search",
        MARKED("expected.such_22_above_180_kpa", "such as '> 22 above 180 kPa' or '< 0.8 below 3000 rpm'"),
        found.empty() ? "nothing" : "'" + std::string(found) + "'");
}

void skipSpace(std::string_view &t) {
    while (!t.empty() && std::isspace(static_cast<unsigned char>(t.front())))
        t.remove_prefix(1);
}

bool take(std::string_view &t, std::string_view word) {
    if (!t.starts_with(word)) return false;
    t.remove_prefix(word.size());
    skipSpace(t);
    return true;
}

// A number with its unit, up to the next word of the language.
std::string_view takeNumber(std::string_view &t) {
    std::size_t end = t.size();
    for (const std::string_view word : {" above ", " below ", " and "})
        end = std::min(end, t.find(word));
    const std::string_view number = t.substr(0, end);
    t.remove_prefix(number.size());
    skipSpace(t);
    return number;
}

double parseIn(std::string_view number, Dimension dimension, const UnitChoice &units) {
    return parse(number, dimension, units, "search");
}

// Whether a number says by its unit that it is of an axis.
bool saysToBeOf(std::string_view number, const TableAxis &axis, const UnitChoice &units) {
    if (unitStart(number) == number.size()) return false;
    try {
        parseIn(number, axis.dimension, units);
        return true;
    } catch (const InputError &) {
        return false;
    }
}

bool meets(double v, const CellQuery &q) {
    using enum CellQuery::Compare;
    constexpr double same = 1e-9;
    switch (q.compare) {
    case less:
        return v < q.value;
    case lessOrEqual:
        return v <= q.value + same;
    case greater:
        return v > q.value;
    case greaterOrEqual:
        return v >= q.value - same;
    case equal:
        break;
    }
    return std::abs(v - q.value) <= same * std::max(1.0, std::abs(q.value));
}

} // namespace

CellSet cellsOf(const CellRange &range, const Table2D &table) {
    const CellRange r = normalised(range, table);
    CellSet cells;
    for (std::size_t x = r.from.x; x <= r.to.x; ++x)
        for (std::size_t y = r.from.y; y <= r.to.y; ++y)
            cells.push_back({x, y});
    return cells;
}

CellSet united(const CellSet &a, const CellSet &b) {
    CellSet out;
    std::ranges::set_union(a, b, std::back_inserter(out));
    return out;
}

CellSet without(const CellSet &a, const CellSet &b) {
    CellSet out;
    std::ranges::set_difference(a, b, std::back_inserter(out));
    return out;
}

CellSet unlocked(const CellSet &cells, const std::vector<bool> &locks, const Table2D &table) {
    CellSet out;
    for (const CellIndex &i : cells)
        if (!locks[i.y * table.x().size() + i.x]) out.push_back(i);
    return out;
}

std::size_t stateCells(Table2D &table, const CellSet &cells) {
    std::size_t stated = 0;
    for (const CellIndex &i : cells)
        if (guessed(table.origin(i))) {
            table.setOrigin(i, CellOrigin::typed);
            ++stated;
        }
    return stated;
}

void applyExpression(Table2D &table, const CellSet &cells, const CellExpression &expression) {
    for (const CellIndex &i : cells)
        table.setCell(i, expression.apply(table.cell(i)));
}

void interpolateRows(Table2D &t, const CellSet &cells) {
    for (std::size_t y = 0; y < t.y().size(); ++y)
        eachRun(
            t.x().size(),
            [&](std::size_t x) {
                return holds(cells, {x, y});
            },
            [&](std::size_t a, std::size_t b) {
                const double from = t.cell(a, y), to = t.cell(b, y);
                for (std::size_t x = a; x <= b; ++x)
                    t.setCell({x, y}, from + share(t.x()[a], t.x()[b], t.x()[x]) * (to - from));
            });
}

void interpolateColumns(Table2D &t, const CellSet &cells) {
    for (std::size_t x = 0; x < t.x().size(); ++x)
        eachRun(
            t.y().size(),
            [&](std::size_t y) {
                return holds(cells, {x, y});
            },
            [&](std::size_t a, std::size_t b) {
                const double from = t.cell(x, a), to = t.cell(x, b);
                for (std::size_t y = a; y <= b; ++y)
                    t.setCell({x, y}, from + share(t.y()[a], t.y()[b], t.y()[y]) * (to - from));
            });
}

void smoothCells(Table2D &table, const CellSet &cells, double strength) {
    Table2D smooth = table;
    smoothRegion(smooth, {{0, 0}, {table.x().size() - 1, table.y().size() - 1}}, strength);
    for (const CellIndex &i : cells)
        table.setCell(i, smooth.cell(i));
}

void fillFromNeighbours(Table2D &table, const CellSet &cells) {
    if (cells.size() >= table.cells().size()) return; // nothing to fill from
    // Every cell the mean of its neighbours, nearer ones counting more: a system that is symmetric, and
    // definite since somewhere it meets a cell that stays.
    const Unknowns unknowns(table, cells);
    SymmetricBand system(cells.size(), unknowns.band());
    std::vector<double> known(cells.size());
    for (std::size_t k = 0; k < cells.size(); ++k)
        eachNeighbour(table, unknowns.cells()[k], [&](CellIndex n, double weight) {
            system.at(k, k) += weight;
            const std::size_t other = unknowns.of(n);
            if (other == Unknowns::none)
                known[k] += weight * table.cell(n);
            else if (other < k)
                system.at(k, other) -= weight;
        });
    const std::vector<double> filled = std::move(system).solve(std::move(known));
    for (std::size_t k = 0; k < cells.size(); ++k)
        table.setCell(unknowns.cells()[k], filled[k]);
}

Regridded regrid(const Table2D &table, const Axis &x, const Axis &y) {
    Regridded out;
    out.table = Table2D::uniform(x, y, 0);
    for (std::size_t yi = 0; yi < y.size(); ++yi)
        for (std::size_t xi = 0; xi < x.size(); ++xi)
            out.table.setCell({xi, yi}, table.lookup(x[xi], y[yi]).value);
    double sum = 0;
    for (std::size_t yi = 0; yi < table.y().size(); ++yi)
        for (std::size_t xi = 0; xi < table.x().size(); ++xi) {
            const double step = out.table.lookup(table.x()[xi], table.y()[yi]).value - table.cell(xi, yi);
            sum += std::abs(step);
            if (std::abs(step) <= std::abs(out.worst)) continue;
            out.worst = step;
            out.x = table.x()[xi];
            out.y = table.y()[yi];
        }
    out.mean = sum / static_cast<double>(table.cells().size());
    return out;
}

CellQuery parseCellQuery(std::string_view text, Dimension dimension, const UnitChoice &units,
                         const TableAxis &x, const TableAxis &y) {
    using enum CellQuery::Compare;
    std::string_view t = text;
    skipSpace(t);
    for (const CalibratedQuantity q : allQuantities)
        take(t, quantityId(q));
    CellQuery query;
    if (take(t, "<="))
        query.compare = lessOrEqual;
    else if (take(t, ">="))
        query.compare = greaterOrEqual;
    else if (take(t, "<"))
        query.compare = less;
    else if (take(t, ">"))
        query.compare = greater;
    else if (take(t, "="))
        query.compare = equal;
    else
        refuseQuery(text);
    query.value = parseIn(takeNumber(t), dimension, units);
    while (!t.empty()) {
        take(t, "and ");
        const bool above = take(t, "above ");
        if (!above && !take(t, "below ")) refuseQuery(t);
        const std::string_view number = takeNumber(t);
        if (y.single() || (saysToBeOf(number, x, units) && !saysToBeOf(number, y, units)))
            (above ? query.leastX : query.mostX) = parseIn(number, x.dimension, units);
        else
            (above ? query.leastY : query.mostY) = parseIn(number, y.dimension, units);
    }
    return query;
}

CellSet find(const Table2D &table, const CellQuery &q) {
    CellSet cells;
    for (const CellIndex &i : cellsOf({{0, 0}, {table.x().size() - 1, table.y().size() - 1}}, table)) {
        const double x = table.x()[i.x], y = table.y()[i.y];
        if ((q.leastX && x <= *q.leastX) || (q.mostX && x >= *q.mostX) || (q.leastY && y <= *q.leastY) ||
            (q.mostY && y >= *q.mostY))
            continue;
        if (meets(table.cell(i), q)) cells.push_back(i);
    }
    return cells;
}

} // namespace wheelwright
