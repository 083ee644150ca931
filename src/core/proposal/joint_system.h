// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/symmetric_band.h"
#include "core/tables/axis.h"

#include <cmath>
#include <cstdint>
#include <optional>
#include <span>
#include <stop_token>
#include <utility>
#include <vector>

namespace wheelwright {

/// A table whose cells are unknowns: each a relative step of what the cell holds.
struct JointTableShape {
    Axis x, y;
    std::vector<double> value; ///< of each cell, row by row; none of them 0
    /// Ways in which all of a table may be off at once (by load, by speed), each with a number for every
    /// cell: the step of a cell is what they make of it and its own on top. They cost next to nothing to
    /// believe, so that ridge and smoothness are of what is left.
    std::vector<std::vector<double>> trends{};
};

/// One equation: share · (Σφ · cell · step)/whole of a lower and an upper table, plus a straight line between
/// two nodes of a curve over content, is `error`.
struct JointRow {
    std::uint32_t lowTable = 0, highTable = 0; ///< the same one where one table is used alone
    AxisPosition lowX, lowY, highX, highY;
    double lowShare = 0, highShare = 0; ///< of the whole, over the whole
    std::uint32_t node = 0;             ///< the one at or under the content
    double along = 0;                   ///< of the way to the next
    double error = 0;
    std::uint32_t fold = 0; ///< that is left out together
};

/// How much is believed before any sample, in equivalents of one sample: the larger, the less an unknown
/// moves without being told to.
struct JointPrior {
    double ridge = 0.1;      ///< of every cell's own step
    double smooth = 1;       ///< of second differences of them between neighbours
    double curveRidge = 0.1; ///< the same of the curve
    double curveSmooth = 100;
    bool operator==(const JointPrior &) const = default;
};

struct JointSolution {
    std::vector<std::vector<double>> steps, errors; ///< by table, by cell: step and its standard error
    std::vector<double> curve, curveErrors;         ///< by node
    std::vector<double> curveTold; ///< share of what was not known before that samples have told, 0–1
    double sigma = 0;              ///< of one sample about the solution, robust, as one independent witness
    double correlation = 0;        ///< of residuals of one sample and the next
    double rssBefore = 0, rss = 0, weight = 0; ///< sums over samples with their robust weights
    std::vector<double> weights; ///< of each equation, in the order in which they were added; empty: all 1
    /// Of one sample as if its neighbours were independent of it.
    double witnessSigma() const { return sigma * std::sqrt((1 + correlation) / (1 - correlation)); }
    double left = 0; ///< share of the samples that the robust weights have taken
};

/// Σ coefficient · unknown = right, with a weight.
struct JointEquation {
    std::vector<std::pair<std::size_t, double>> left; ///< unknown, coefficient
    double right = 0, weight = 1;
};

/// Σ w r² over Huber's weights (Huber, Robust Statistics, 1981, section 7.8, k = 1.345, scale by the median
/// absolute deviation), second differences and a ridge: weighted least squares by normal equations. Cells are
/// a band, the curve a border; standard errors are the root of the diagonal of the inverse, times sigma, with
/// neighbouring samples counted for as many as their residuals are independent: n (1 − ρ)/(1 + ρ).
class JointSystem {
  public:
    /// Curve nodes ascend; pinned ones are 0 by definition.
    JointSystem(std::vector<JointTableShape> tables, std::vector<double> nodes, std::vector<bool> pinned);

    /// Adds equations: in any order, cheapest where neighbours share cells.
    void add(std::span<const JointRow> rows);
    std::size_t unknowns() const { return m_cells + m_border; }
    std::size_t folds() const { return m_folds; }
    std::span<const double> nodes() const { return m_nodes; }

    /// robust: outliers count for less.
    JointSolution solve(const JointPrior &prior, bool robust = true) const;
    /// The prior under which logs that are left out are foretold best, and how well: the root of the mean
    /// square of their errors. Empty with fewer than two folds, or stopped.
    struct LeftOut {
        JointPrior prior;
        double rms = 0;
    };
    std::optional<LeftOut> chooseByLeavingOut(std::stop_token stop = {}) const;
    double leftOutRms(const JointPrior &prior) const; ///< two folds at least

    /// Standard errors of the cells, had another prior been believed, with a solution's weights.
    std::vector<std::vector<double>> errorsUnder(const JointPrior &prior,
                                                 const JointSolution &solution) const;
    /// All of it as plain equations, so that anybody can solve it: those of the samples with a solution's
    /// weights, then those of the prior. Unknowns: the steps of the cells by unknownOf(), the nodes of the
    /// curve, the trends. Pinned nodes get an equation that says 0.
    std::vector<JointEquation> equations(const JointPrior &prior, const JointSolution &solution) const;
    std::size_t unknownOf(std::size_t table, std::size_t cell) const {
        const std::size_t nx = m_tables[table].x.size();
        return indexOf(table, cell % nx, cell / nx);
    }
    std::size_t unknownOfNode(std::size_t node) const { return m_cells + node; }

    /// What a solution foretells of an equation.
    double foretold(const JointRow &row, const JointSolution &solution) const;

  private:
    struct Corner {              ///< of the four cells around a place
        std::uint32_t low, high; ///< unknowns of its left ones
        double tx, ty;
        bool hasRight;
    };
    struct Row {
        Corner low, high;
        double lowShare, highShare, along, error;
        std::uint32_t node, fold;
    };
    struct Small;
    struct Normal; // the normal equations of some samples
    struct Solved;
    struct Entries;
    std::size_t indexOf(std::size_t table, std::size_t x, std::size_t y) const {
        return m_rowStart[table][y] + x;
    }
    void arrange();
    std::size_t bandOf() const;
    Entries entriesOf(const Row &row) const;
    Normal empty() const;
    Normal accumulated(std::span<const double> weights) const;
    template <class Take>
    void forEachDifference(Take take) const;
    void addTrends(Normal &normal) const;
    std::vector<double> stepsOf(const Solved &solved) const;
    std::vector<Normal> byFold() const;
    Normal priorOf(const JointPrior &prior) const;
    Normal withPriorOf(const JointPrior &prior, Normal normal) const;
    Solved solved(Normal normal) const;
    std::vector<double> residualsOf(const Solved &solved) const;
    std::vector<std::vector<double>> errorsOf(const Solved &solved, double sigma) const;
    double borderVariance(const Solved &solved, std::size_t cell) const;
    double misfit(const Normal &of, const Solved &solved) const;

    std::vector<JointTableShape> m_tables;
    std::vector<double> m_nodes;
    std::vector<bool> m_pinned;
    std::size_t m_cells = 0, m_band = 0, m_folds = 0;
    std::size_t m_border = 0;                         ///< unknowns of no one cell: nodes, then trends
    std::vector<std::vector<double>> m_trends;        ///< of all tables: by unknown cell, 0 in other tables
    std::vector<std::vector<std::size_t>> m_rowStart; ///< unknown of each table's row
    std::vector<double> m_value;                      ///< of each unknown cell
    std::vector<Row> m_rows;
};

} // namespace wheelwright
