// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/proposal/joint_normal.h"

#include <algorithm>
#include <numeric>

namespace wheelwright {

JointSystem::JointSystem(std::vector<JointTableShape> tables, std::vector<double> nodes,
                         std::vector<bool> pinned)
    : m_tables(std::move(tables)), m_nodes(std::move(nodes)), m_pinned(std::move(pinned)) {
    arrange();
    m_band = bandOf();
    for (std::size_t t = 0; t < m_tables.size(); ++t)
        for (const std::vector<double> &trend : m_tables[t].trends) {
            std::vector<double> column(m_cells);
            const std::size_t nx = m_tables[t].x.size();
            for (std::size_t c = 0; c < trend.size(); ++c)
                column[indexOf(t, c % nx, c / nx)] = trend[c];
            m_trends.push_back(std::move(column));
        }
    m_border = m_nodes.size() + m_trends.size();
}

// Rows of all tables by their load: what one sample touches lies close together.
void JointSystem::arrange() {
    struct RowAt {
        double load;
        std::size_t table, y;
    };
    std::vector<RowAt> rows;
    for (std::size_t t = 0; t < m_tables.size(); ++t) {
        m_rowStart.emplace_back(m_tables[t].y.size());
        for (std::size_t y = 0; y < m_tables[t].y.size(); ++y)
            rows.push_back({m_tables[t].y[y], t, y});
    }
    std::ranges::stable_sort(rows, {}, &RowAt::load);
    for (const RowAt &r : rows) {
        const JointTableShape &t = m_tables[r.table];
        m_rowStart[r.table][r.y] = m_cells;
        for (std::size_t x = 0; x < t.x.size(); ++x)
            m_value.push_back(t.value[r.y * t.x.size() + x]);
        m_cells += t.x.size();
    }
}

// Rows that meet: of one table two apart, for the second differences; of two tables those that stand at a
// common load.
std::size_t JointSystem::bandOf() const {
    std::size_t band = 0;
    const auto meet = [&](std::size_t a, std::size_t ya, std::size_t b, std::size_t yb) {
        std::size_t first = m_rowStart[a][ya], second = m_rowStart[b][yb];
        std::size_t length = m_tables[b].x.size();
        if (second < first) {
            std::swap(first, second);
            length = m_tables[a].x.size();
        }
        band = std::max(band, second + length - 1 - first);
    };
    const auto ends = [](const Axis &y, std::size_t i) { // loads at which a row has a share
        return std::pair{i == 0 ? -1e300 : y[i - 1], i + 1 == y.size() ? 1e300 : y[i + 1]};
    };
    for (std::size_t a = 0; a < m_tables.size(); ++a)
        for (std::size_t ya = 0; ya < m_tables[a].y.size(); ++ya) {
            for (std::size_t apart = 0; apart <= 2 && ya + apart < m_tables[a].y.size(); ++apart)
                meet(a, ya, a, ya + apart);
            const auto [low, high] = ends(m_tables[a].y, ya);
            for (std::size_t b = a + 1; b < m_tables.size(); ++b)
                for (std::size_t yb = 0; yb < m_tables[b].y.size(); ++yb)
                    if (const auto [l, h] = ends(m_tables[b].y, yb); l < high && low < h) meet(a, ya, b, yb);
        }
    return std::min(band, m_cells - 1);
}

// Kept small: a million of them go through the processor's cache at every look.
void JointSystem::add(std::span<const JointRow> rows) {
    m_rows.reserve(m_rows.size() + rows.size());
    for (const JointRow &r : rows) {
        const auto corner = [&](std::size_t t, const AxisPosition &px, const AxisPosition &py) {
            const JointTableShape &of = m_tables[t];
            const std::size_t up = of.y.size() > 1 ? 1 : 0;
            return Corner{static_cast<std::uint32_t>(m_rowStart[t][py.cell] + px.cell),
                          static_cast<std::uint32_t>(m_rowStart[t][py.cell + up] + px.cell), px.t, py.t,
                          of.x.size() > 1};
        };
        m_rows.push_back({corner(r.lowTable, r.lowX, r.lowY), corner(r.highTable, r.highX, r.highY),
                          r.lowShare, r.highShare, r.along, r.error, r.node, r.fold});
        m_folds = std::max<std::size_t>(m_folds, r.fold + 1);
    }
}

JointSystem::Entries JointSystem::entriesOf(const Row &r) const {
    Entries e;
    const auto table = [&](const Corner &c, double share, std::size_t n) {
        const std::uint32_t right = c.hasRight ? 1 : 0;
        const double low = share * (1 - c.ty), high = share * c.ty;
        e.at[n] = c.low;
        e.at[n + 1] = c.low + right;
        e.at[n + 2] = c.high;
        e.at[n + 3] = c.high + right;
        e.v[n] = low * (1 - c.tx) * m_value[e.at[n]];
        e.v[n + 1] = low * c.tx * m_value[e.at[n + 1]];
        e.v[n + 2] = high * (1 - c.tx) * m_value[e.at[n + 2]];
        e.v[n + 3] = high * c.tx * m_value[e.at[n + 3]];
    };
    table(r.low, r.lowShare, 0);
    table(r.high, r.highShare, 4);
    const std::uint32_t next = r.node + 1 < m_nodes.size() ? r.node + 1 : r.node;
    e.at[8] = r.node;
    e.v[8] = m_nodes.empty() || m_pinned[r.node] ? 0 : 1 - r.along;
    e.at[9] = next;
    e.v[9] = m_nodes.empty() || m_pinned[next] ? 0 : r.along;
    return e;
}

JointSystem::Normal JointSystem::empty() const {
    return {SymmetricBand(m_cells, m_band),
            std::vector<double>(m_cells * m_border),
            {m_border, std::vector<double>(m_border * m_border)},
            std::vector<double>(m_cells),
            std::vector<double>(m_border)};
}

namespace {

// Sums over samples that touch the same unknowns.
struct Block {
    std::array<std::array<double, unknownsPerRow>, unknownsPerRow> squares{};
    std::array<double, unknownsPerRow> right{};
    std::array<std::uint32_t, unknownsPerRow> at{};
    bool any = false;

    void add(const std::array<double, unknownsPerRow> &v, double error, double weight) {
        for (std::size_t i = 0; i < unknownsPerRow; ++i) {
            const double w = weight * v[i];
            for (std::size_t j = 0; j < unknownsPerRow; ++j)
                squares[i][j] += w * v[j];
            right[i] += w * error;
        }
    }
};

} // namespace

// weights: of each row; empty: 1.
JointSystem::Normal JointSystem::accumulated(std::span<const double> weights) const {
    Normal n = empty();
    Block block;
    const std::size_t nodes = m_nodes.size();
    constexpr std::size_t cells = unknownsPerRow - 2;
    const auto flush = [&] {
        if (!block.any) return;
        for (std::size_t i = 0; i < cells; ++i) {
            n.cellsRight[block.at[i]] += block.right[i];
            for (std::size_t j = 0; j < cells; ++j)
                if (block.at[j] <= block.at[i]) n.cells.at(block.at[i], block.at[j]) += block.squares[i][j];
            for (std::size_t k = cells; nodes > 0 && k < unknownsPerRow; ++k)
                n.border[block.at[k] * m_cells + block.at[i]] += block.squares[k][i];
        }
        for (std::size_t k = cells; nodes > 0 && k < unknownsPerRow; ++k) {
            n.curveRight[block.at[k]] += block.right[k];
            for (std::size_t l = cells; l < unknownsPerRow; ++l)
                n.curve.at(block.at[k], block.at[l]) += block.squares[k][l];
        }
        block = {};
    };
    for (std::size_t i = 0; i < m_rows.size(); ++i) {
        const double w = weights.empty() ? 1 : weights[i];
        if (w == 0) continue;
        const Entries e = entriesOf(m_rows[i]);
        if (block.any && e.at != block.at) flush();
        block.at = e.at;
        block.any = true;
        const double error = m_rows[i].error;
        block.add(e.v, error, w);
        n.squares += w * error * error;
        n.weight += w;
    }
    flush();
    addTrends(n);
    return n;
}

// Their columns are sums of those of the cells, so samples need not be seen again.
void JointSystem::addTrends(Normal &n) const {
    const std::size_t nodes = m_nodes.size();
    for (std::size_t k = 0; k < m_trends.size(); ++k) {
        const std::vector<double> &trend = m_trends[k];
        const std::vector<double> column = n.cells.times(trend);
        const std::size_t at = nodes + k;
        std::ranges::copy(column, n.border.begin() + static_cast<std::ptrdiff_t>(at * m_cells));
        n.curveRight[at] = std::inner_product(trend.begin(), trend.end(), n.cellsRight.begin(), 0.0);
        for (std::size_t j = 0; j < nodes; ++j)
            n.curve.at(at, j) = n.curve.at(j, at) =
                std::inner_product(trend.begin(), trend.end(), n.border.data() + j * m_cells, 0.0);
        for (std::size_t j = 0; j <= k; ++j)
            n.curve.at(at, nodes + j) = n.curve.at(nodes + j, at) =
                std::inner_product(column.begin(), column.end(), m_trends[j].begin(), 0.0);
    }
}

// Of every cell: its own and what the trends make of it.
std::vector<double> JointSystem::stepsOf(const Solved &s) const {
    std::vector<double> steps = s.cells;
    for (std::size_t k = 0; k < m_trends.size(); ++k)
        for (std::size_t i = 0; i < m_cells; ++i)
            steps[i] += m_trends[k][i] * s.curve[m_nodes.size() + k];
    return steps;
}

// Every pair of neighbours' neighbours of a table: unknowns of cells.
template <class Take>
void JointSystem::forEachDifference(Take take) const {
    for (std::size_t t = 0; t < m_tables.size(); ++t) {
        const std::size_t nx = m_tables[t].x.size(), ny = m_tables[t].y.size();
        for (std::size_t y = 0; y < ny; ++y)
            for (std::size_t x = 0; x < nx; ++x) {
                if (x + 2 < nx)
                    take(std::array{indexOf(t, x, y), indexOf(t, x + 1, y), indexOf(t, x + 2, y)});
                if (y + 2 < ny)
                    take(std::array{indexOf(t, x, y), indexOf(t, x, y + 1), indexOf(t, x, y + 2)});
            }
    }
}

namespace {

constexpr std::array<double, 3> second{1, -2, 1};
constexpr double trendRidge = 1e-3;

// Second difference by the distances of the nodes, in the unit of their mean.
std::array<double, 3> secondOf(double a, double b, double c) {
    const double left = b - a, right = c - b, unit = (left + right) / 2;
    return {unit / left, -unit / left - unit / right, unit / right};
}

} // namespace

JointSystem::Normal JointSystem::priorOf(const JointPrior &p) const {
    Normal n = empty();
    for (std::size_t i = 0; i < m_cells; ++i)
        n.cells.at(i, i) += p.ridge;
    forEachDifference([&](const std::array<std::size_t, 3> &at) {
        for (std::size_t i = 0; i < 3; ++i)
            for (std::size_t j = 0; j < 3; ++j)
                if (at[j] <= at[i]) n.cells.at(at[i], at[j]) += p.smooth * second[i] * second[j];
    });
    for (std::size_t k = m_nodes.size(); k < m_border; ++k)
        n.curve.at(k, k) += trendRidge;
    for (std::size_t k = 0; k < m_nodes.size(); ++k) {
        n.curve.at(k, k) += m_pinned[k] ? 1 : p.curveRidge;
        if (k + 2 >= m_nodes.size()) continue;
        const std::array<double, 3> v = secondOf(m_nodes[k], m_nodes[k + 1], m_nodes[k + 2]);
        for (std::size_t i = 0; i < 3; ++i)
            for (std::size_t j = 0; j < 3; ++j)
                if (!m_pinned[k + i] && !m_pinned[k + j])
                    n.curve.at(k + i, k + j) += p.curveSmooth * v[i] * v[j];
    }
    return n;
}

std::vector<JointEquation> JointSystem::equations(const JointPrior &p, const JointSolution &solution) const {
    std::vector<JointEquation> out;
    for (std::size_t i = 0; i < m_rows.size(); ++i) {
        const Entries e = entriesOf(m_rows[i]);
        JointEquation q;
        for (std::size_t k = 0; k < unknownsPerRow; ++k)
            if (e.v[k] != 0)
                q.left.emplace_back(k < unknownsPerRow - 2 ? e.at[k] : m_cells + e.at[k], e.v[k]);
        q.right = m_rows[i].error;
        q.weight = solution.weights.empty() ? 1 : solution.weights[i];
        out.push_back(std::move(q));
    }
    // A cell's own step: what is left of its step without the trends.
    const auto own = [&](JointEquation &q, std::size_t cell, double times) {
        q.left.emplace_back(cell, times);
        for (std::size_t k = 0; k < m_trends.size(); ++k)
            if (m_trends[k][cell] != 0)
                q.left.emplace_back(m_cells + m_nodes.size() + k, -times * m_trends[k][cell]);
    };
    for (std::size_t i = 0; i < m_cells; ++i) {
        JointEquation q{{}, 0, p.ridge};
        own(q, i, 1);
        out.push_back(std::move(q));
    }
    forEachDifference([&](const std::array<std::size_t, 3> &at) {
        JointEquation q{{}, 0, p.smooth};
        for (std::size_t i = 0; i < 3; ++i)
            own(q, at[i], second[i]);
        out.push_back(std::move(q));
    });
    for (std::size_t k = m_nodes.size(); k < m_border; ++k)
        out.push_back({{{m_cells + k, 1}}, 0, trendRidge});
    for (std::size_t k = 0; k < m_nodes.size(); ++k) {
        out.push_back({{{m_cells + k, 1}}, 0, m_pinned[k] ? 1 : p.curveRidge});
        if (k + 2 >= m_nodes.size()) continue;
        const std::array<double, 3> v = secondOf(m_nodes[k], m_nodes[k + 1], m_nodes[k + 2]);
        JointEquation q{{}, 0, p.curveSmooth};
        for (std::size_t i = 0; i < 3; ++i)
            if (!m_pinned[k + i]) q.left.emplace_back(m_cells + k + i, v[i]);
        out.push_back(std::move(q));
    }
    return out;
}

double JointSystem::foretold(const JointRow &row, const JointSolution &solution) const {
    const JointTableShape &low = m_tables[row.lowTable], &high = m_tables[row.highTable];
    const auto part = [](const JointTableShape &t, const std::vector<double> &steps, const AxisPosition &px,
                         const AxisPosition &py) {
        const std::size_t nx = t.x.size(), right = nx > 1 ? 1 : 0, up = t.y.size() > 1 ? nx : 0;
        const std::size_t c = py.cell * nx + px.cell;
        const auto at = [&](std::size_t i) { return steps[i] * t.value[i]; };
        return (1 - py.t) * ((1 - px.t) * at(c) + px.t * at(c + right)) +
               py.t * ((1 - px.t) * at(c + up) + px.t * at(c + up + right));
    };
    double sum = row.lowShare * part(low, solution.steps[row.lowTable], row.lowX, row.lowY) +
                 row.highShare * part(high, solution.steps[row.highTable], row.highX, row.highY);
    if (!m_nodes.empty()) {
        const std::size_t next = std::min<std::size_t>(row.node + 1, m_nodes.size() - 1);
        sum += (1 - row.along) * solution.curve[row.node] + row.along * solution.curve[next];
    }
    return sum;
}

} // namespace wheelwright
