// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/proposal/joint_system.h"

#include <array>
#include <cstdint>
#include <vector>

namespace wheelwright {

/// Unknowns that a row may touch: four cells of each table, two nodes.
inline constexpr std::size_t unknownsPerRow = 10;

// A plain matrix that is small: the curve's.
struct JointSystem::Small {
    std::size_t size = 0;
    std::vector<double> values{};
    double &at(std::size_t i, std::size_t j) { return values[i * size + j]; }
    double at(std::size_t i, std::size_t j) const { return values[i * size + j]; }
    // Of a symmetric positive definite one, column by column through its factor.
    Small inverse() const {
        Small out{size, std::vector<double>(values.size())};
        if (size == 0) return out;
        SymmetricBand band(size, size - 1);
        for (std::size_t i = 0; i < size; ++i)
            for (std::size_t j = 0; j <= i; ++j)
                band.at(i, j) = at(i, j);
        const BandFactor factor(std::move(band));
        for (std::size_t j = 0; j < size; ++j) {
            std::vector<double> unit(size);
            unit[j] = 1;
            const std::vector<double> column = factor.solve(std::move(unit));
            for (std::size_t i = 0; i < size; ++i)
                out.at(i, j) = column[i];
        }
        return out;
    }
};

// [cells  border; borderᵀ curve] · unknowns = right.
struct JointSystem::Normal {
    SymmetricBand cells;
    std::vector<double> border; ///< node by node, a column of all cells each
    Small curve;
    std::vector<double> cellsRight, curveRight;
    double squares = 0, weight = 0; ///< of the errors themselves

    void add(const Normal &o, double times) {
        cells.add(o.cells, times);
        for (std::size_t i = 0; i < border.size(); ++i)
            border[i] += times * o.border[i];
        for (std::size_t i = 0; i < curve.values.size(); ++i)
            curve.values[i] += times * o.curve.values[i];
        for (std::size_t i = 0; i < cellsRight.size(); ++i)
            cellsRight[i] += times * o.cellsRight[i];
        for (std::size_t i = 0; i < curveRight.size(); ++i)
            curveRight[i] += times * o.curveRight[i];
        squares += times * o.squares;
        weight += times * o.weight;
    }
};

struct JointSystem::Solved {
    BandFactor factor;
    std::vector<std::vector<double>> through; ///< cells⁻¹ · border, by node
    Small curveInverse;                       ///< of what is left of the curve when the cells are solved
    std::vector<double> cells, curve;
};

struct JointSystem::Entries {
    std::array<std::uint32_t, unknownsPerRow> at{};
    std::array<double, unknownsPerRow> v{};
};

} // namespace wheelwright
