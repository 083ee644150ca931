// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/tables/table2d.h"

#include "core/base/error.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {

Table2D::Table2D() {
    static const Table2D zero(Axis(), Axis(), {0});
    m_cells = zero.m_cells;
}

Table2D::Table2D(Axis x, Axis y, std::vector<double> cells, std::string_view where)
    : m_x(std::move(x)), m_y(std::move(y)) {
    const std::string place(where);
    if (cells.size() != m_x.size() * m_y.size())
        throw InputError(
            place,
            Phrase{MARKED("expected.cells", "{a} cells"), {}, {std::to_string(m_x.size() * m_y.size())}},
            std::to_string(cells.size()));
    for (std::size_t i = 0; i < cells.size(); ++i)
        if (!std::isfinite(cells[i]))
            throw InputError(place + " row " + std::to_string(i / m_x.size() + 1) + ", column " +
                                 std::to_string(i % m_x.size() + 1),
                             MARKED("expected.a_finite_number", "a finite number"),
                             MARKED("found.not_a_number", "not a number"));
    m_cells = std::make_shared<Cells>(Cells{std::move(cells), {}});
}

Table2D Table2D::uniform(Axis x, Axis y, double everywhere) {
    const std::size_t count = x.size() * y.size();
    return Table2D(std::move(x), std::move(y), std::vector<double>(count, everywhere));
}

void Table2D::setOrigin(CellIndex i, CellOrigin origin) {
    if (this->origin(i) == origin) return;
    Cells &cells = edited();
    if (cells.origins.empty()) cells.origins.resize(cells.values.size(), CellOrigin::unknown);
    cells.origins[i.y * m_x.size() + i.x] = origin;
}

void Table2D::setOrigins(std::vector<CellOrigin> origins) {
    const bool any = origins.size() == cells().size() &&
                     std::ranges::any_of(origins, [](CellOrigin o) { return o != CellOrigin::unknown; });
    if (!any) origins.clear();
    if (origins != m_cells->origins) edited().origins = std::move(origins);
}

} // namespace wheelwright
