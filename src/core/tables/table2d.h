#pragma once
#include "core/tables/axis.h"

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
/// Axes may be uneven, up to 64 × 64. Cells are stored row by row: all x of the lowest y first.
class Table2D {
  public:
    Table2D() : m_cells{0} {}
    /// Throws InputError when the number of cells is not x·y or a cell is not finite.
    Table2D(Axis x, Axis y, std::vector<double> cells, std::string_view where = "table");
    static Table2D uniform(Axis x, Axis y, double everywhere);

    const Axis &x() const { return m_x; }
    const Axis &y() const { return m_y; }
    const std::vector<double> &cells() const { return m_cells; }
    double cell(std::size_t xi, std::size_t yi) const { return m_cells[yi * m_x.size() + xi]; }
    double cell(CellIndex i) const { return cell(i.x, i.y); }
    void setCell(CellIndex i, double v) { m_cells[i.y * m_x.size() + i.x] = v; }

    TableLookup lookup(double x, double y) const;

    bool operator==(const Table2D &) const = default;

  private:
    Axis m_x;
    Axis m_y;
    std::vector<double> m_cells;
};

} // namespace wheelwright
