// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/proposal/fuel_proposal.h"

#include "core/base/error.h"
#include "core/job/job_schema.h"
#include "core/proposal/changed_cells.h"
#include "core/study/blend_edit.h"
#include "core/study/cell_trust.h"
#include "core/study/fuel_delivery.h"
#include "core/study/load_axis.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

namespace wheelwright {
namespace {

using S = FuelCellState;

constexpr std::array states{
    FuelCellStateDefinition{S::never, "never", MARKED("fuel_cell.never", "never been")},
    FuelCellStateDefinition{S::tooFew, "too_few", MARKED("fuel_cell.too_few", "too few samples")},
    FuelCellStateDefinition{S::corrected, "corrected",
                            MARKED("fuel_cell.corrected", "corrected by its samples")},
    FuelCellStateDefinition{S::inferred, "inferred",
                            MARKED("fuel_cell.inferred", "inferred from cells around it, not measured")},
    FuelCellStateDefinition{S::locked, "locked", MARKED("fuel_cell.locked", "locked: it stays")},
    FuelCellStateDefinition{S::supply, "supply_at_end",
                            MARKED("fuel_cell.supply", "lean where injectors or rail can give no more: "
                                                       "find the cause, the table is not it")},
    FuelCellStateDefinition{S::noNumber, "out_of_range",
                            MARKED("fuel_cell.out_of_range", "the table cannot hold what it needs")},
};

// Sums of one cell. Samples of one second are one witness: they follow one another through the same air.
class CellSums {
  public:
    void add(const FuelSample &s, double weight, const std::string &added) {
        const double second = std::floor(s.timeS);
        if (second != m_second || s.log != m_log) endSecond();
        m_second = second;
        m_log = s.log;
        m_secondWeight += weight;
        m_secondSum += weight * s.error;
        weights += weight;
        const double step = s.error - mean;
        mean += step * weight / weights;
        m_squares += weight * step * (s.error - mean);
        least = std::min(least, s.error);
        most = std::max(most, s.error);
        contentLeast = std::min(contentLeast, s.content);
        contentMost = std::max(contentMost, s.content);
        lastSeen = std::max(lastSeen, added);
    }
    void addAtEnd(double weight) { atEnd += weight; }
    double sd() const { return weights > 0 ? std::sqrt(m_squares / weights) : 0; }
    // Ratio estimator of a mean from clusters: Cochran, Sampling Techniques (3rd ed., 1977), section 9A.
    double plusMinus() {
        endSecond();
        const double n = static_cast<double>(m_seconds.size());
        constexpr double at95 = 1.96;
        if (n < 2) return at95 * sd(); // one moment: no better than its samples
        double sum = 0;
        for (const auto &[weight, total] : m_seconds)
            sum += (total - weight * mean) * (total - weight * mean);
        return at95 * std::sqrt(sum * n / (n - 1)) / weights;
    }

    double weights = 0, mean = 0, atEnd = 0;
    double least = std::numeric_limits<double>::infinity(), most = -least, contentLeast = least,
           contentMost = -least;
    std::string lastSeen;

  private:
    void endSecond() {
        if (m_secondWeight > 0) m_seconds.emplace_back(m_secondWeight, m_secondSum);
        m_secondWeight = m_secondSum = 0;
    }
    double m_squares = 0, m_second = std::numeric_limits<double>::quiet_NaN(), m_secondWeight = 0,
           m_secondSum = 0;
    std::uint32_t m_log = 0;
    std::vector<std::pair<double, double>> m_seconds;
};

class Proposer {
  public:
    Proposer(const Study &study, const FuelSamples &samples, const FuelProposalOptions &options)
        : m_study(study), m_samples(samples), m_options(options) {
        const Job &job = study.job();
        m_window = limitOf(job, "evidence.content_window");
        m_out.damping = options.damping.value_or(limitOf(job, "evidence.damping"));
        m_out.clamp = options.clamp.value_or(limitOf(job, "evidence.clamp"));
        m_out.leastHits = options.leastHits.value_or(limitOf(job, "evidence.least_hits"));
        m_out.content = options.content ? *options.content : contentOfAll();
        m_out.now = study.blended(CalibratedQuantity::fuel, m_out.content);
        m_out.proposed = m_out.now;
        m_sums.resize(m_out.now.cells().size());
        m_shares.assign(m_sums.size(), 0);
    }

    FuelProposal propose() {
        bin();
        describe();
        if (m_options.region)
            takeRegion(*m_options.region);
        else
            takeCells();
        settle();
        predict();
        return std::move(m_out);
    }

  private:
    double contentOfAll() const {
        double least = 1, most = 0, sum = 0;
        for (const FuelSample &s : m_samples.samples) {
            least = std::min(least, s.content);
            most = std::max(most, s.content);
            sum += s.content;
        }
        if (m_samples.samples.empty())
            throw InputError("logs", MARKED("expected.usable_logs", "a log that says something of the fuel"),
                             whyNone());
        const double mean = sum / static_cast<double>(m_samples.samples.size());
        if (most - least > 2 * m_window)
            throw InputError(
                "content",
                MARKED("expected.one_content",
                       "a content to correct the tables at, since these logs ran on several fuels (all "
                       "contents together: the joint solution)"),
                Phrase{MARKED("found.contents_between", "contents from {0} to {1}"),
                       {{least, Dimension::content}, {most, Dimension::content}}});
        return mean;
    }

    Phrase whyNone() const {
        std::vector<Phrase> parts;
        for (const FuelSamples::Log &l : m_samples.logs)
            parts.push_back(
                l.used ? Phrase{MARKED("found.log_without_clean", "{a}: no clean sample"), {}, {l.info.name}}
                       : Phrase{MARKED("found.log_unused", "{a}: {A}"), {}, {l.info.name}, {l.why}});
        if (parts.empty()) return MARKED("found.no_logs", "no log of this calibration");
        return listed(parts);
    }

    bool counts(const FuelSample &s) const { return std::abs(s.content - m_out.content) <= m_window; }

    template <class Take>
    void spread(const FuelSample &s, Take take) const {
        const Table2D &t = m_out.now;
        if (m_options.nearest) {
            take(t.y().nearest(s.load) * t.x().size() + t.x().nearest(s.rpm), 1.0);
            return;
        }
        const AxisPosition px = t.x().locate(s.rpm), py = t.y().locate(s.load);
        for (const auto &[x, wx] : {std::pair{px.cell, 1 - px.t}, {px.cell + 1, px.t}})
            for (const auto &[y, wy] : {std::pair{py.cell, 1 - py.t}, {py.cell + 1, py.t}})
                if (wx * wy > 0) take(y * t.x().size() + x, wx * wy);
    }

    void bin() {
        std::vector<bool> seen(m_samples.logs.size());
        for (const FuelSample &s : m_samples.samples) {
            if (!counts(s)) continue;
            const std::string &added = m_samples.logs[s.log].info.added;
            spread(s, [&](std::size_t i, double w) {
                if (s.supplyAtEnd)
                    m_sums[i].addAtEnd(w);
                else
                    m_sums[i].add(s, w, added);
            });
            m_out.samples += !s.supplyAtEnd;
            seen[s.log] = true;
        }
        for (std::size_t i = 0; i < seen.size(); ++i)
            if (seen[i]) m_out.logs.push_back(i);
        if (m_out.samples == 0)
            throw InputError(
                "logs",
                Phrase{MARKED("expected.samples_at", "clean samples within {0} of {1}"),
                       {{m_window, Dimension::contentDifference}, {m_out.content, Dimension::content}}},
                whyNone());
    }

    void describe() {
        const Table2D &t = m_out.now;
        for (std::size_t y = 0; y < t.y().size(); ++y)
            for (std::size_t x = 0; x < t.x().size(); ++x) {
                CellSums &sums = m_sums[y * t.x().size() + x];
                FuelCell c;
                c.cell = {x, y};
                c.rpm = t.x()[x];
                c.loadKpa = loadOfAxis(m_study.job(), t.y()[y]);
                c.hits = sums.weights;
                c.atEnd = sums.atEnd;
                c.now = c.proposed = t.cell(x, y);
                if (sums.weights > 0) {
                    c.error = sums.mean;
                    c.sd = sums.sd();
                    c.plusMinus = sums.plusMinus();
                    c.least = sums.least;
                    c.most = sums.most;
                    c.contentLeast = sums.contentLeast;
                    c.contentMost = sums.contentMost;
                    c.lastSeen = sums.lastSeen;
                }
                c.state = c.hits + c.atEnd <= 0       ? S::never
                          : c.hits >= m_out.leastHits ? S::corrected
                                                      : S::tooFew;
                m_out.cells.push_back(std::move(c));
            }
    }

    double step(double error) const { return std::clamp(m_out.damping * error, -m_out.clamp, m_out.clamp); }

    void takeCells() {
        for (std::size_t i = 0; i < m_out.cells.size(); ++i) {
            const FuelCell &c = m_out.cells[i];
            if (c.state == S::corrected) m_shares[i] = step(c.error);
        }
        for (std::size_t i = 0; i < m_out.cells.size(); ++i)
            if (m_out.cells[i].state != S::corrected) infer(i);
    }

    // Of the corrected cells within so many rings, the nearer by more; half of it with each ring.
    void infer(std::size_t i) {
        const int columns = static_cast<int>(m_out.now.x().size()),
                  rows = static_cast<int>(m_out.now.y().size());
        const int x0 = static_cast<int>(i) % columns, y0 = static_cast<int>(i) / columns;
        double sum = 0, weights = 0;
        int nearest = m_options.neighbours + 1;
        for (int y = std::max(0, y0 - m_options.neighbours);
             y <= std::min(rows - 1, y0 + m_options.neighbours); ++y)
            for (int x = std::max(0, x0 - m_options.neighbours);
                 x <= std::min(columns - 1, x0 + m_options.neighbours); ++x) {
                const std::size_t at = static_cast<std::size_t>(y * columns + x);
                if (m_out.cells[at].state != S::corrected) continue;
                const int ring = std::max(std::abs(x - x0), std::abs(y - y0));
                const double weight = 1.0 / (ring * ring);
                sum += weight * m_shares[at];
                weights += weight;
                nearest = std::min(nearest, ring);
            }
        if (weights <= 0) return;
        m_shares[i] = sum / weights * std::pow(0.5, nearest);
        m_inferred.push_back(i);
    }

    void takeRegion(const FuelRegion &r) {
        double sum = 0, weights = 0;
        const auto in = [&r](const FuelCell &c) {
            return c.rpm >= r.rpmFrom && c.rpm <= r.rpmTo && c.loadKpa >= r.loadKpaFrom &&
                   c.loadKpa <= r.loadKpaTo;
        };
        for (const FuelCell &c : m_out.cells)
            if (in(c)) {
                sum += c.hits * c.error;
                weights += c.hits;
            }
        for (std::size_t i = 0; i < m_out.cells.size(); ++i) {
            FuelCell &c = m_out.cells[i];
            if (!in(c)) {
                if (c.state == S::corrected) c.state = S::tooFew; // not of the region: left alone
                continue;
            }
            if (weights < m_out.leastHits) continue;
            m_shares[i] = step(sum / weights);
            if (c.state != S::corrected) m_inferred.push_back(i);
        }
    }

    // What the table would hold; reasons not to are looked at before it is written down.
    void settle() {
        const Job &job = m_study.job();
        const InjectorDemand demand(job, m_out.content, job.conditions.intakeUsualC);
        const std::vector<bool> locks = locksOfBlend(m_study, CalibratedQuantity::fuel, m_out.content);
        const TableField field = tableIn(job, CalibratedQuantity::fuel, false);
        for (const std::size_t i : m_inferred)
            m_out.cells[i].state = S::inferred;
        for (std::size_t i = 0; i < m_out.cells.size(); ++i) {
            FuelCell &c = m_out.cells[i];
            // A tenth of the samples at the end of the supply speak for all of them.
            constexpr double share = 0.1;
            const bool short_ = c.atEnd > share * (c.hits + c.atEnd) && c.atEnd >= 1;
            if (m_shares[i] == 0) {
                if (short_ && c.hits < m_out.leastHits) c.state = S::supply;
                continue;
            }
            const double offset = demand.lineAt({c.rpm, c.loadKpa}).offset;
            const double wanted = offset + (c.now - offset) * (1 + m_shares[i]);
            if (locks[i])
                c.state = S::locked;
            else if (short_ && m_shares[i] > 0)
                c.state = S::supply;
            else if (!(wanted >= field.least && wanted <= field.most))
                c.state = S::noNumber;
            else {
                c.proposed = wanted;
                m_out.proposed.setCell(c.cell, wanted);
            }
        }
    }

    void predict() {
        double before = 0, after = 0;
        const FuelForecast forecast(m_study, m_out.content, m_out.now, m_out.proposed);
        for (const FuelSample &s : m_samples.samples) {
            if (s.supplyAtEnd || !counts(s)) continue;
            const double then = forecast.errorThen(s);
            before += s.error * s.error;
            after += then * then;
        }
        const double n = static_cast<double>(m_out.samples);
        m_out.rmsBefore = std::sqrt(before / n);
        m_out.rmsPredicted = std::sqrt(after / n);
    }

    const Study &m_study;
    const FuelSamples &m_samples;
    const FuelProposalOptions &m_options;
    double m_window = 0;
    std::vector<CellSums> m_sums;
    std::vector<double> m_shares;
    std::vector<std::size_t> m_inferred;
    FuelProposal m_out;
};

} // namespace

std::span<const FuelCellStateDefinition> allFuelCellStates() {
    return states;
}

const FuelCellStateDefinition &definitionOf(FuelCellState state) {
    return states[static_cast<std::size_t>(state)];
}

std::size_t FuelProposal::count(FuelCellState state) const {
    return static_cast<std::size_t>(std::ranges::count(cells, state, &FuelCell::state));
}

FuelForecast::FuelForecast(const Study &study, double content, const Table2D &now, const Table2D &then)
    : m_demand(study.job(), content, study.job().conditions.intakeUsualC), m_now(now), m_then(then) {}

double FuelForecast::errorThen(const FuelSample &s) const {
    const double offset = m_demand.lineAt({s.rpm, s.loadKpa}).offset;
    return (1 + s.error) * (m_now.lookup(s.rpm, s.load).value - offset) /
               (m_then.lookup(s.rpm, s.load).value - offset) -
           1;
}

FuelProposal proposeFuel(const Study &study, const FuelSamples &samples, const FuelProposalOptions &options) {
    return Proposer(study, samples, options).propose();
}

Job withFuel(const Job &job, const FuelProposal &proposal) {
    Job after = job;
    setBlend(after, CalibratedQuantity::fuel, proposal.content, proposal.proposed);
    keepLocked(job, after);
    return after;
}

Job withFuel(const Job &job, const FuelProposal &proposal, const FuelSamples &samples,
             const std::string &at) {
    Job after = withFuel(job, proposal);
    Correction c;
    c.at = at;
    c.content = proposal.content;
    c.damping = proposal.damping;
    c.rmsBefore = proposal.rmsBefore;
    c.rmsPredicted = proposal.rmsPredicted;
    std::vector<std::string> ids;
    for (const std::size_t log : proposal.logs)
        ids.push_back(samples.logs[log].info.id);
    c.logs = listOfIds(ids);
    const Table2D &t = proposal.now;
    c.cells = textOf(
        changedCells(job, after, CalibratedQuantity::fuel, [&](const std::string &, double rpm, double y) {
            const FuelCell &cell = proposal.cells[t.y().nearest(y) * t.x().size() + t.x().nearest(rpm)];
            CorrectedCell found;
            found.hits = cell.state == FuelCellState::corrected ? cell.hits : 0;
            found.plusMinus = cell.plusMinus;
            found.error = cell.error;
            return found;
        }));
    after.corrections.push_back(std::move(c));
    return after;
}

} // namespace wheelwright
