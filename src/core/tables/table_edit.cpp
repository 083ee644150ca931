// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/tables/table_edit.h"

#include <algorithm>

namespace wheelwright {
namespace {

// Share of the way from a to b at x.
double along(double a, double b, double x) {
    return b > a ? (x - a) / (b - a) : 0;
}

// What the straight line through the two neighbours of cell i says at i, or the cell itself at an edge.
double neighbourLine(const Axis &axis, std::size_t i, double below, double here, double above) {
    if (i == 0 || i + 1 >= axis.size()) return here;
    const double t = along(axis[i - 1], axis[i + 1], axis[i]);
    return (1 - t) * below + t * above;
}

} // namespace

double CellExpression::apply(double old) const {
    switch (operation) {
    case Operation::add:
        return old + operand;
    case Operation::multiply:
        return old * operand;
    case Operation::set:
        break;
    }
    return operand;
}

CellRange normalised(const CellRange &r, const Table2D &table) {
    const std::size_t lastX = table.x().size() - 1;
    const std::size_t lastY = table.y().size() - 1;
    return {{std::min({r.from.x, r.to.x, lastX}), std::min({r.from.y, r.to.y, lastY})},
            {std::min(std::max(r.from.x, r.to.x), lastX), std::min(std::max(r.from.y, r.to.y), lastY)}};
}

void applyExpression(Table2D &table, const CellRange &range, const CellExpression &expression) {
    const CellRange r = normalised(range, table);
    for (std::size_t y = r.from.y; y <= r.to.y; ++y)
        for (std::size_t x = r.from.x; x <= r.to.x; ++x)
            table.setCell({x, y}, expression.apply(table.cell(x, y)));
}

void interpolateRegion(Table2D &table, const CellRange &range) {
    const CellRange r = normalised(range, table);
    const double a = table.cell(r.from.x, r.from.y), b = table.cell(r.to.x, r.from.y);
    const double c = table.cell(r.from.x, r.to.y), d = table.cell(r.to.x, r.to.y);
    for (std::size_t y = r.from.y; y <= r.to.y; ++y)
        for (std::size_t x = r.from.x; x <= r.to.x; ++x) {
            const double tx = along(table.x()[r.from.x], table.x()[r.to.x], table.x()[x]);
            const double ty = along(table.y()[r.from.y], table.y()[r.to.y], table.y()[y]);
            table.setCell({x, y}, (1 - ty) * ((1 - tx) * a + tx * b) + ty * ((1 - tx) * c + tx * d));
        }
}

void smoothRegion(Table2D &table, const CellRange &range, double strength) {
    const CellRange r = normalised(range, table);
    const Table2D before = table;
    for (std::size_t y = r.from.y; y <= r.to.y; ++y)
        for (std::size_t x = r.from.x; x <= r.to.x; ++x) {
            const double here = before.cell(x, y);
            const auto at = [&](std::size_t xi, std::size_t yi) {
                return before.cell(std::min(xi, before.x().size() - 1), std::min(yi, before.y().size() - 1));
            };
            const double alongX = neighbourLine(before.x(), x, at(x ? x - 1 : 0, y), here, at(x + 1, y));
            const double alongY = neighbourLine(before.y(), y, at(x, y ? y - 1 : 0), here, at(x, y + 1));
            table.setCell({x, y}, here + strength * ((alongX + alongY) / 2 - here));
        }
}

} // namespace wheelwright
