// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/proposal/ceiling_fit.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>
#include <numeric>
#include <tuple>

namespace wheelwright {
namespace {

constexpr std::size_t trends = 3;

double density(double x) {
    return std::exp(-x * x / 2) / std::sqrt(2 * std::numbers::pi);
}
double below(double x) {
    return std::erfc(-x / std::numbers::sqrt2) / 2;
}
double logBelow(double x) {
    if (x > -30) return std::log(below(x));
    // Far out: Abramowitz, Stegun (1964), eq. 26.2.12, first terms.
    return -x * x / 2 - std::log(-x * std::sqrt(2 * std::numbers::pi)) + std::log1p(-1 / (x * x));
}
// φ/(1 − Φ), without what cancels far out.
double hazard(double x) {
    return x < 30 ? density(x) / below(-x) : x + 1 / x;
}

// A sensor hears something else once in a million samples, and one knock in a hundred is lost on it: else one
// such sample would weigh as much as all the rest. From memory.
constexpr double falseAlarms = 1e-6, unheard = 0.01;

// ln of the probability of what a trial saw, at eta = (spark − limit) / scatter, and two derivatives.
struct LogProbability {
    double value, slope, curvature;
};
LogProbability probabilityOf(const KnockTrial &t, double eta) {
    // Of one sample: heard = (1 − unheard) (1 − (1 − Φ)^n) + falseAlarms.
    const double n = t.cycles / t.samples, logClean = n * logBelow(-eta), h = hazard(eta);
    const double heard = (1 - unheard) * -std::expm1(logClean) + falseAlarms;
    const double slope = (1 - unheard) * n * h * std::exp(logClean);
    const double bend = slope * (h - eta - n * h);
    const double p = t.knocked ? heard : 1 - heard, sign = t.knocked ? 1 : -1;
    const double ratio = sign * slope / p;
    // What is unheard bends the wrong way far out: there the step goes by the slope alone.
    return {t.samples * std::log(p), t.samples * ratio,
            t.samples * std::min(0.0, sign * bend / p - ratio * ratio)};
}

} // namespace

CeilingFit::CeilingFit(const KnockTrials &trials, const CeilingPrior &prior, const std::vector<Part> &parts,
                       std::optional<double> scatter)
    : m_trials(trials), m_prior(prior) {
    findSites(parts);
    findPrecision();
    m_mode.z.assign(trends + m_sites.size() + m_logSigma.size(), 0);
    if (scatter) {
        m_scatter = *scatter;
        m_mode = modeWith(m_scatter, m_mode.z);
    } else {
        findScatter();
    }
}

// Places are cells, at contents rounded to five per cent.
void CeilingFit::findSites(const std::vector<Part> &parts) {
    constexpr double perContent = 20;
    std::map<std::tuple<double, double, int>, std::size_t> known;
    for (std::size_t i = 0; i < m_trials.trials.size(); ++i) {
        const KnockTrial &t = m_trials.trials[i];
        if (t.log < parts.size() && parts[t.log] == Part::apart) continue;
        const int band = static_cast<int>(std::lround(t.content * perContent));
        const auto [at, isNew] = known.try_emplace({t.rpm, t.loadKpa, band}, m_sites.size());
        if (isNew) m_sites.push_back({t.rpm, t.loadKpa, band / perContent});
        m_used.push_back(i);
        m_siteOf.push_back(at->second);
    }
    for (std::size_t log = 0; log < m_trials.logs.size(); ++log)
        m_logSigma.push_back(log < parts.size() && parts[log] == Part::doubtful ? m_prior.doubtful
                                                                                : m_prior.log);
}

double CeilingFit::covariance(const Site &a, const Site &b) const {
    const auto squared = [](double v) { return v * v; };
    const double place = std::exp(-(squared((a.rpm - b.rpm) / m_prior.rpmLength) +
                                    squared((a.loadKpa - b.loadKpa) / m_prior.loadLengthKpa)) /
                                  2);
    const double fuel = std::exp(-squared((a.content - b.content) / m_prior.contentLength) / 2);
    const bool samePlace = a.rpm == b.rpm && a.loadKpa == b.loadKpa;
    // Around the middle of where engines live.
    constexpr double middleRpm = 4000, middleKpa = 160;
    const double line = (a.rpm - middleRpm) * (b.rpm - middleRpm) / squared(m_prior.rpmLength) +
                        (a.loadKpa - middleKpa) * (b.loadKpa - middleKpa) / squared(m_prior.loadLengthKpa);
    return squared(m_prior.slope) * line + squared(m_prior.cell) * place +
           squared(m_prior.content) * place * fuel + (samePlace ? squared(m_prior.place) : 0);
}

void CeilingFit::findPrecision() {
    const std::size_t n = m_sites.size();
    m_priorLogDeterminant = 0;
    for (const double s : {m_prior.scale, m_prior.octane, m_prior.temperature})
        m_priorLogDeterminant += 2 * std::log(s);
    for (const double s : m_logSigma)
        m_priorLogDeterminant += 2 * std::log(s);
    if (n == 0) return;
    SymmetricBand k(n, n - 1);
    // Two contents of one place differ by little: without this the matrix could not be told from a singular.
    constexpr double alone = 1e-4;
    for (std::size_t i = 0; i < n; ++i)
        for (std::size_t j = 0; j <= i; ++j)
            k.at(i, j) = covariance(m_sites[i], m_sites[j]) + (i == j ? alone : 0);
    m_siteFactor.emplace(std::move(k));
    m_priorLogDeterminant += m_siteFactor->logDeterminant();
    for (std::size_t i = 0; i < n; ++i) {
        std::vector<double> unit(n);
        unit[i] = 1;
        m_precision.push_back(m_siteFactor->solve(std::move(unit)));
    }
}

double CeilingFit::over(const std::vector<double> &z, std::size_t used) const {
    const KnockTrial &t = m_trials.trials[m_used[used]];
    return t.over - (z[0] + z[1] * t.octane + z[2] * t.hotter + z[trends + m_siteOf[used]] +
                     z[trends + m_sites.size() + t.log]);
}

double CeilingFit::posterior(const std::vector<double> &z, double scatter) const {
    const auto half = [](double v, double sigma) { return v * v / (2 * sigma * sigma); };
    double sum = -half(z[0], m_prior.scale) - half(z[1], m_prior.octane) - half(z[2], m_prior.temperature);
    const std::size_t n = m_sites.size();
    for (std::size_t i = 0; i < n; ++i)
        sum -= z[trends + i] *
               std::inner_product(m_precision[i].begin(), m_precision[i].end(), z.begin() + trends, 0.0) / 2;
    for (std::size_t log = 0; log < m_logSigma.size(); ++log)
        sum -= half(z[trends + n + log], m_logSigma[log]);
    for (std::size_t i = 0; i < m_used.size(); ++i)
        sum += probabilityOf(m_trials.trials[m_used[i]], over(z, i) / scatter).value;
    return sum;
}

CeilingFit::Mode CeilingFit::modeWith(double scatter, std::vector<double> z) const {
    const std::size_t n = m_sites.size(), logs = m_logSigma.size(), size = trends + n + logs;
    const std::array<double, trends> sigma{m_prior.scale, m_prior.octane, m_prior.temperature};
    Mode out;
    double value = posterior(z, scatter);
    constexpr int most = 60;
    for (int round = 0; round < most; ++round) {
        SymmetricBand h(size, size - 1);
        std::vector<double> g(size);
        for (std::size_t i = 0; i < trends; ++i) {
            h.at(i, i) = 1 / (sigma[i] * sigma[i]);
            g[i] = -z[i] * h.at(i, i);
        }
        for (std::size_t i = 0; i < n; ++i) {
            for (std::size_t j = 0; j <= i; ++j)
                h.at(trends + i, trends + j) = m_precision[i][j];
            g[trends + i] =
                -std::inner_product(m_precision[i].begin(), m_precision[i].end(), z.begin() + trends, 0.0);
        }
        for (std::size_t log = 0; log < logs; ++log) {
            const std::size_t at = trends + n + log;
            h.at(at, at) = 1 / (m_logSigma[log] * m_logSigma[log]);
            g[at] = -z[at] * h.at(at, at);
        }
        for (std::size_t i = 0; i < m_used.size(); ++i) {
            const KnockTrial &t = m_trials.trials[m_used[i]];
            const LogProbability p = probabilityOf(t, over(z, i) / scatter);
            // eta falls as any of them grows.
            const std::array<std::pair<std::size_t, double>, trends + 2> parts{
                {{0, 1}, {1, t.octane}, {2, t.hotter}, {trends + m_siteOf[i], 1}, {trends + n + t.log, 1}}};
            const double w = -p.curvature / (scatter * scatter);
            for (const auto &[at, by] : parts) {
                g[at] -= p.slope / scatter * by;
                for (const auto &[other, byOther] : parts)
                    if (other <= at) h.at(at, other) += w * by * byOther;
            }
        }
        out.curvature.emplace(std::move(h));
        const std::vector<double> step = out.curvature->solve(g);
        // Newton's step, halved until it gains.
        double gained = 0;
        std::vector<double> next = z;
        for (double share = 1; share > 1e-4; share /= 2) {
            for (std::size_t i = 0; i < size; ++i)
                next[i] = z[i] + share * step[i];
            const double there = posterior(next, scatter);
            if (there > value) {
                gained = there - value;
                value = there;
                z = next;
                break;
            }
        }
        constexpr double nothing = 1e-9;
        if (gained < nothing * (1 + std::abs(value))) break;
    }
    out.z = std::move(z);
    out.logPosterior = value;
    out.logEvidence = value - (out.curvature->logDeterminant() + m_priorLogDeterminant) / 2;
    return out;
}

// By golden section in ln: the evidence has one top there for all that knocked and did not.
void CeilingFit::findScatter() {
    constexpr double factor = 4, golden = 0.6180339887498949, near = 0.02;
    const auto logSquare = [&](double s) {
        const double by = std::log(s / m_prior.scatter) / std::log(m_prior.scatterFactor);
        return by * by / 2;
    };
    const auto tried = [&](double ln) {
        const double s = std::exp(ln);
        Mode m = modeWith(s, m_mode.z);
        m.logEvidence -= logSquare(s);
        return m;
    };
    double from = std::log(m_prior.scatter / factor), to = std::log(m_prior.scatter * factor);
    double a = to - golden * (to - from), b = from + golden * (to - from);
    Mode atA = tried(a), atB = tried(b);
    while (to - from > near) {
        const bool left = atA.logEvidence > atB.logEvidence;
        m_mode.z = left ? atA.z : atB.z;
        if (left) {
            to = b;
            b = a;
            atB = std::move(atA);
            a = to - golden * (to - from);
            atA = tried(a);
        } else {
            from = a;
            a = b;
            atA = std::move(atB);
            b = from + golden * (to - from);
            atB = tried(b);
        }
    }
    m_scatter = std::exp((from + to) / 2);
    m_mode = modeWith(m_scatter, m_mode.z);
}

FoundNumber CeilingFit::numberAt(std::size_t i) const {
    std::vector<double> unit(m_mode.z.size());
    unit[i] = 1;
    return {m_mode.z[i], std::sqrt(m_mode.curvature->solve(std::move(unit))[i])};
}

FoundNumber CeilingFit::ofLog(std::size_t log) const {
    return numberAt(trends + m_sites.size() + log);
}

FoundNumber CeilingFit::at(const Place &place) const {
    const Site here{place.rpm, place.loadKpa, place.content};
    const std::size_t n = m_sites.size();
    std::vector<double> by(m_mode.z.size()), near(n);
    by[0] = 1;
    by[1] = place.octane;
    by[2] = place.hotter;
    double left = covariance(here, here);
    if (n > 0) {
        for (std::size_t i = 0; i < n; ++i)
            near[i] = covariance(here, m_sites[i]);
        const std::vector<double> weights = m_siteFactor->solve(near);
        left -= std::inner_product(near.begin(), near.end(), weights.begin(), 0.0);
        std::ranges::copy(weights, by.begin() + trends);
    }
    const std::vector<double> solved = m_mode.curvature->solve(by);
    const double variance = std::inner_product(by.begin(), by.end(), solved.begin(), 0.0);
    return {std::inner_product(by.begin(), by.end(), m_mode.z.begin(), 0.0),
            std::sqrt(variance + std::max(0.0, left) + m_prior.heard * m_prior.heard)};
}

double CeilingFit::logLikelihood(const KnockTrials &trials, const std::array<double, 3> &abt,
                                 double scatter) {
    double sum = 0;
    for (const KnockTrial &t : trials.trials) {
        const double limit = abt[0] + abt[1] * t.octane + abt[2] * t.hotter;
        sum += probabilityOf(t, (t.over - limit) / scatter).value;
    }
    return sum;
}

} // namespace wheelwright
