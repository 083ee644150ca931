// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/tables/axis.h"
#include "core/tables/cell_origin.h"

#include <memory>
#include <vector>

namespace wheelwright {

/// A cell of a table, by the index of its breakpoints.
struct CellIndex {
    std::size_t x = 0; ///< along rpm
    std::size_t y = 0; ///< along load, throttle or gear
    auto operator<=>(const CellIndex &) const = default;
};

/// A rectangle of cells, both ends included.
struct CellRange {
    CellIndex from;
    CellIndex to;
    bool operator==(const CellRange &) const = default;
};

struct TableLookup {
    double value = 0;
    bool outsideX = false; ///< held at an end of the x axis
    bool outsideY = false;
};

/// Values over rpm (x) and load, throttle or gear (y), bilinear between breakpoints, held at the edges.
/// Axes may be uneven, up to 64 × 64. Cells are stored row by row: all x of the lowest y first. Beside each
/// cell stands where its number comes from. Copies share the cells until one of them is changed.
class Table2D {
  public:
    Table2D();
    /// Throws InputError when the number of cells is not x·y or a cell is not finite.
    Table2D(Axis x, Axis y, std::vector<double> cells, std::string_view where = "table");
    static Table2D uniform(Axis x, Axis y, double everywhere);

    const Axis &x() const { return m_x; }
    const Axis &y() const { return m_y; }
    const std::vector<double> &cells() const { return m_cells->values; }
    double cell(std::size_t xi, std::size_t yi) const { return m_cells->values[yi * m_x.size() + xi]; }
    double cell(CellIndex i) const { return cell(i.x, i.y); }
    void setCell(CellIndex i, double v) { edited().values[i.y * m_x.size() + i.x] = v; }

    /// Row by row; empty where none is recorded.
    const std::vector<CellOrigin> &origins() const { return m_cells->origins; }
    CellOrigin origin(CellIndex i) const {
        return m_cells->origins.empty() ? CellOrigin::unknown : m_cells->origins[i.y * m_x.size() + i.x];
    }
    void setOrigin(CellIndex i, CellOrigin origin);
    /// As many as cells, or none; others are taken for none, since they belong to another table.
    void setOrigins(std::vector<CellOrigin> origins);

    TableLookup lookup(double x, double y) const { return at(m_x.locate(x), m_y.locate(y)); }
    /// The same where the places on the axes are known already.
    TableLookup at(const AxisPosition &px, const AxisPosition &py) const {
        const std::size_t width = m_x.size();
        const std::size_t right = width > 1 ? 1 : 0;
        const std::size_t up = m_y.size() > 1 ? width : 0;
        const double *c = m_cells->values.data() + py.cell * width + px.cell;
        const double low = (1 - px.t) * c[0] + px.t * c[right];
        const double high = (1 - px.t) * c[up] + px.t * c[up + right];
        return {(1 - py.t) * low + py.t * high, px.outside, py.outside};
    }

    /// The same numbers on the same axes; where they come from is not compared.
    bool operator==(const Table2D &other) const {
        return m_x == other.m_x && m_y == other.m_y && (shares(other) || cells() == other.cells());
    }
    /// Whether both are known to hold the same cells without comparing any.
    bool shares(const Table2D &other) const { return m_cells == other.m_cells; }

  private:
    struct Cells {
        std::vector<double> values;
        std::vector<CellOrigin> origins;
    };
    Cells &edited() {
        if (m_cells.use_count() > 1) m_cells = std::make_shared<Cells>(*m_cells);
        return *m_cells;
    }

    Axis m_x;
    Axis m_y;
    std::shared_ptr<Cells> m_cells;
};

} // namespace wheelwright
