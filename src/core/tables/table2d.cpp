#include "core/tables/table2d.h"

#include "core/base/error.h"

#include <cmath>

namespace wheelwright {

Table2D::Table2D(Axis x, Axis y, std::vector<double> cells, std::string_view where)
    : m_x(std::move(x)), m_y(std::move(y)), m_cells(std::move(cells)) {
    const std::string place(where);
    if (m_cells.size() != m_x.size() * m_y.size())
        throw InputError(place, std::to_string(m_x.size() * m_y.size()) + " cells",
                         std::to_string(m_cells.size()));
    for (std::size_t i = 0; i < m_cells.size(); ++i)
        if (!std::isfinite(m_cells[i]))
            throw InputError(place + " row " + std::to_string(i / m_x.size() + 1) + ", column " +
                                 std::to_string(i % m_x.size() + 1),
                             "a finite number", "not a number");
}

Table2D Table2D::uniform(Axis x, Axis y, double everywhere) {
    const std::size_t count = x.size() * y.size();
    return Table2D(std::move(x), std::move(y), std::vector<double>(count, everywhere));
}

TableLookup Table2D::lookup(double x, double y) const {
    const AxisPosition px = m_x.locate(x);
    const AxisPosition py = m_y.locate(y);
    const std::size_t width = m_x.size();
    const std::size_t right = width > 1 ? 1 : 0;
    const std::size_t up = m_y.size() > 1 ? width : 0;
    const double *c = m_cells.data() + py.cell * width + px.cell;
    const double low = (1 - px.t) * c[0] + px.t * c[right];
    const double high = (1 - px.t) * c[up] + px.t * c[up + right];
    return {(1 - py.t) * low + py.t * high, px.outside, py.outside};
}

} // namespace wheelwright
