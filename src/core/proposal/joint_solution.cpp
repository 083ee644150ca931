// SPDX-License-Identifier: GPL-3.0-or-later
// How the normal equations are solved, weighted and judged.
#include "core/base/median.h"
#include "core/proposal/joint_normal.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace wheelwright {

JointSystem::Solved JointSystem::solved(Normal n) const {
    const std::size_t nodes = m_border;
    Solved s{BandFactor(std::move(n.cells)), {}, {}, {}, {}};
    Small left = n.curve;
    std::vector<double> right = n.curveRight;
    s.cells = s.factor.solve(n.cellsRight);
    for (std::size_t k = 0; k < nodes; ++k) {
        const double *column = n.border.data() + k * m_cells;
        s.through.push_back(s.factor.solve(std::vector<double>(column, column + m_cells)));
    }
    for (std::size_t k = 0; k < nodes; ++k) {
        const double *column = n.border.data() + k * m_cells;
        right[k] -= std::inner_product(column, column + m_cells, s.cells.begin(), 0.0);
        for (std::size_t l = 0; l < nodes; ++l)
            left.at(k, l) -= std::inner_product(column, column + m_cells, s.through[l].begin(), 0.0);
    }
    s.curveInverse = left.inverse();
    s.curve.assign(nodes, 0);
    for (std::size_t k = 0; k < nodes; ++k)
        for (std::size_t l = 0; l < nodes; ++l)
            s.curve[k] += s.curveInverse.at(k, l) * right[l];
    for (std::size_t k = 0; k < nodes; ++k)
        for (std::size_t i = 0; i < m_cells; ++i)
            s.cells[i] -= s.through[k][i] * s.curve[k];
    return s;
}

std::vector<double> JointSystem::residualsOf(const Solved &s) const {
    std::vector<double> out;
    out.reserve(m_rows.size());
    const std::vector<double> steps = stepsOf(s);
    for (const Row &r : m_rows) {
        const Entries e = entriesOf(r);
        double sum = 0;
        for (std::size_t i = 0; i < unknownsPerRow - 2; ++i)
            sum += e.v[i] * steps[e.at[i]];
        for (std::size_t i = unknownsPerRow - 2; !m_nodes.empty() && i < unknownsPerRow; ++i)
            sum += e.v[i] * s.curve[e.at[i]];
        out.push_back(r.error - sum);
    }
    return out;
}

// Sum of squared residuals of those samples, from their normal equations alone.
double JointSystem::misfit(const Normal &of, const Solved &s) const {
    const std::vector<double> cells = of.cells.times(s.cells);
    double sum = of.squares + std::inner_product(cells.begin(), cells.end(), s.cells.begin(), 0.0) -
                 2 * std::inner_product(of.cellsRight.begin(), of.cellsRight.end(), s.cells.begin(), 0.0);
    for (std::size_t k = 0; k < m_border; ++k) {
        const double *column = of.border.data() + k * m_cells;
        sum += 2 * s.curve[k] * std::inner_product(column, column + m_cells, s.cells.begin(), 0.0) -
               2 * s.curve[k] * of.curveRight[k];
        for (std::size_t l = 0; l < m_border; ++l)
            sum += s.curve[k] * of.curve.at(k, l) * s.curve[l];
    }
    return std::max(0.0, sum);
}

namespace {

// Standard deviation of normal residuals from their median size.
double spreadOf(const std::vector<double> &residuals) {
    constexpr double ofNormal = 1.4826;
    std::vector<double> sizes;
    sizes.reserve(residuals.size());
    for (const double r : residuals)
        sizes.push_back(std::abs(r));
    return sizes.empty() ? 0 : ofNormal * medianOf(std::move(sizes));
}

// Huber's; empty where nothing is over.
std::vector<double> weightsOf(const std::vector<double> &residuals) {
    constexpr double huber = 1.345;
    const double most = huber * spreadOf(residuals);
    if (!(most > 0)) return {};
    std::vector<double> weights(residuals.size(), 1);
    for (std::size_t i = 0; i < residuals.size(); ++i)
        if (const double size = std::abs(residuals[i]); size > most) weights[i] = most / size;
    return weights;
}

} // namespace

JointSystem::Normal JointSystem::withPriorOf(const JointPrior &prior, Normal normal) const {
    normal.add(priorOf(prior), 1);
    return normal;
}

// By the weights that a solution of all of them gives: what is odd in every solution would else decide.
std::vector<JointSystem::Normal> JointSystem::byFold() const {
    std::vector<double> robust = weightsOf(residualsOf(solved(withPriorOf({}, accumulated({})))));
    robust.resize(m_rows.size(), 1);
    std::vector<Normal> folds;
    std::vector<double> weights(m_rows.size());
    for (std::uint32_t f = 0; f < m_folds; ++f) {
        for (std::size_t i = 0; i < m_rows.size(); ++i)
            weights[i] = m_rows[i].fold == f ? robust[i] : 0;
        folds.push_back(accumulated(weights));
    }
    return folds;
}

JointSolution JointSystem::solve(const JointPrior &prior, bool robust) const {
    JointSolution out;
    const Normal believed = priorOf(prior);
    std::vector<double> weights;
    Normal normal = accumulated(weights);
    const auto withBelieved = [&believed](Normal n) {
        n.add(believed, 1);
        return n;
    };
    Solved s = solved(withBelieved(normal));
    std::vector<double> residuals = residualsOf(s);
    constexpr int rounds = 3; // after which weights hardly move
    for (int round = 0; robust && round < rounds; ++round) {
        weights = weightsOf(residuals);
        if (weights.empty()) break;
        normal = accumulated(weights);
        s = solved(withBelieved(normal));
        residuals = residualsOf(s);
    }
    for (const double w : weights)
        out.left += 1 - w;
    out.weights = weights;
    out.left /= std::max<double>(1, static_cast<double>(m_rows.size()));
    out.sigma = spreadOf(residuals);
    double product = 0, squares = 0;
    for (std::size_t i = 1; i < residuals.size(); ++i)
        if (m_rows[i].fold == m_rows[i - 1].fold) {
            const auto of = [&](std::size_t k) {
                return weights.empty() ? residuals[k] : residuals[k] * weights[k];
            };
            product += of(i) * of(i - 1);
            squares += of(i) * of(i);
        }
    constexpr double mostCorrelated = 0.995;
    out.correlation = squares > 0 ? std::clamp(product / squares, 0.0, mostCorrelated) : 0;
    const double sigma = out.witnessSigma();
    out.weight = normal.weight;
    out.rssBefore = normal.squares;
    out.rss = misfit(normal, s);

    const std::vector<double> all = stepsOf(s);
    for (std::size_t t = 0; t < m_tables.size(); ++t) {
        std::vector<double> steps(m_tables[t].value.size());
        for (std::size_t c = 0; c < steps.size(); ++c)
            steps[c] = all[unknownOf(t, c)];
        out.steps.push_back(std::move(steps));
    }
    out.errors = errorsOf(s, sigma);
    const Small curveBefore = believed.curve.inverse();
    for (std::size_t k = 0; k < m_nodes.size(); ++k) {
        const double variance = s.curveInverse.at(k, k);
        out.curve.push_back(m_pinned[k] ? 0 : s.curve[k]);
        out.curveErrors.push_back(m_pinned[k] ? 0 : sigma * std::sqrt(variance));
        out.curveTold.push_back(m_pinned[k] ? 1 : 1 - variance / curveBefore.at(k, k));
    }
    return out;
}

std::vector<std::vector<double>> JointSystem::errorsOf(const Solved &s, double sigma) const {
    const std::vector<double> diagonal = s.factor.inverseDiagonal();
    std::vector<std::vector<double>> out;
    for (std::size_t t = 0; t < m_tables.size(); ++t) {
        std::vector<double> errors(m_tables[t].value.size());
        for (std::size_t c = 0; c < errors.size(); ++c) {
            const std::size_t i = unknownOf(t, c);
            errors[c] = sigma * std::sqrt(diagonal[i] + borderVariance(s, i));
        }
        out.push_back(std::move(errors));
    }
    return out;
}

std::vector<std::vector<double>> JointSystem::errorsUnder(const JointPrior &prior,
                                                          const JointSolution &solution) const {
    return errorsOf(solved(withPriorOf(prior, accumulated(solution.weights))), solution.witnessSigma());
}

// What nodes and trends add to the variance of a cell's step, which is its own plus the trends there: with y
// the border, its own is cells⁻¹ (right − border y).
double JointSystem::borderVariance(const Solved &s, std::size_t cell) const {
    std::vector<double> lean(m_border);
    for (std::size_t k = 0; k < m_border; ++k)
        lean[k] = (k < m_nodes.size() ? 0 : m_trends[k - m_nodes.size()][cell]) - s.through[k][cell];
    double variance = 0;
    for (std::size_t k = 0; k < m_border; ++k)
        for (std::size_t l = 0; l < m_border; ++l)
            variance += lean[k] * s.curveInverse.at(k, l) * lean[l];
    return variance;
}

double JointSystem::leftOutRms(const JointPrior &prior) const {
    const std::vector<Normal> folds = byFold();
    Normal all = priorOf(prior);
    for (const Normal &f : folds)
        all.add(f, 1);
    double sum = 0, weight = 0;
    for (const Normal &f : folds) {
        Normal others = all;
        others.add(f, -1);
        sum += misfit(f, solved(std::move(others)));
        weight += f.weight;
    }
    return weight > 0 ? std::sqrt(sum / weight) : 0;
}

std::optional<JointSystem::LeftOut> JointSystem::chooseByLeavingOut(std::stop_token stop) const {
    if (m_folds < 2) return std::nullopt;
    const std::vector<Normal> folds = byFold();
    Normal samples = empty();
    for (const Normal &f : folds)
        samples.add(f, 1);
    const auto rmsOf = [&](const JointPrior &prior) {
        Normal all = priorOf(prior);
        all.add(samples, 1);
        double sum = 0;
        for (const Normal &f : folds) {
            Normal others = all;
            others.add(f, -1);
            sum += misfit(f, solved(std::move(others)));
        }
        return std::sqrt(sum / samples.weight);
    };
    LeftOut best{{}, rmsOf({})};
    // One number after the other, each by its neighbours a factor of ten away, until none is better.
    constexpr std::array members{&JointPrior::smooth, &JointPrior::curveSmooth, &JointPrior::ridge,
                                 &JointPrior::curveRidge};
    constexpr double least = 1e-3, most = 1e6, factor = 10;
    for (bool better = true; better;) {
        better = false;
        for (const auto member : members)
            for (const double times : {factor, 1 / factor})
                for (;;) {
                    if (stop.stop_requested()) return std::nullopt;
                    JointPrior tried = best.prior;
                    tried.*member *= times;
                    if (tried.*member < least || tried.*member > most) break;
                    const double rms = rmsOf(tried);
                    constexpr double clearly = 0.999; // not for noise
                    if (!(rms < clearly * best.rms)) break;
                    best = {tried, rms};
                    better = true;
                }
    }
    return best;
}

} // namespace wheelwright
