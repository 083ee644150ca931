// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/evidence/coverage.h"

#include "core/base/error.h"
#include "core/evidence/lambda_delay.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace wheelwright {
namespace {

using R = ChannelRole;

constexpr std::array bands{0.0, 0.03, 0.13, 0.23, 0.33, 0.43, 0.53, 0.63, 0.73, 0.83, 0.93, 1.0};

} // namespace

std::string_view coverageKey(CoverageState state) {
    constexpr std::array<std::string_view, 3> keys{"never", "seen", "proven"};
    return keys[static_cast<std::size_t>(state)];
}

std::span<const double> coverageBands() {
    return bands;
}

Coverage::Coverage(const Study &study)
    : m_limits(study.job().limits),
      m_rpm(study.inPressure().job().calibration.of(CalibratedQuantity::spark).base.x()),
      m_load(study.inPressure().job().calibration.of(CalibratedQuantity::spark).base.y()) {
    for (std::size_t b = 0; b + 1 < bands.size(); ++b)
        for (std::size_t y = 0; y < m_load.size(); ++y)
            for (std::size_t x = 0; x < m_rpm.size(); ++x) {
                CoverageCell &c = m_cells.emplace_back();
                c.rpm = m_rpm[x];
                c.loadKpa = m_load[y];
                c.contentFrom = bands[b];
                c.contentTo = bands[b + 1];
            }
}

std::size_t Coverage::bandOf(double content) const {
    const auto above = std::upper_bound(bands.begin(), bands.end() - 1, content);
    return static_cast<std::size_t>(std::max<std::ptrdiff_t>(1, above - bands.begin())) - 1;
}

const CoverageCell &Coverage::at(std::size_t x, std::size_t y, std::size_t band) const {
    return m_cells[(band * m_load.size() + y) * m_rpm.size() + x];
}

void Coverage::add(const WatchedLog &log, const CleanLog &cleaned, const LogInfo &info, bool current) {
    const LogTrace &t = log.trace();
    const std::optional<LambdaDelay> delay = statedDelay(log.job());
    const std::vector<std::size_t> places = delay ? placesOfLambda(log, *delay) : std::vector<std::size_t>();
    const bool proves = current && t.has(R::coolantTemp);
    constexpr double running = 400;
    for (std::size_t i = 0; i < t.size(); ++i) {
        const double rpm = log.at(R::rpm, i), load = log.at(R::map, i), content = t.content(i);
        // A place is speed, load and content: without one of them nobody can say where it was.
        if (!(rpm >= running) || load != load || content != content || log.fuelCut(i)) continue;
        // Outside of the tables the engine gets what stands at their end.
        const AxisPosition px = m_rpm.locate(rpm), py = m_load.locate(load);
        const std::size_t band = bandOf(std::clamp(content, 0.0, 1.0));
        for (const auto &[x, wx] : {std::pair{px.cell, 1 - px.t}, {px.cell + 1, px.t}})
            for (const auto &[y, wy] : {std::pair{py.cell, 1 - py.t}, {py.cell + 1, py.t}}) {
                const double w = wx * wy;
                if (!(w > 0)) continue;
                CoverageCell &c = m_cells[(band * m_load.size() + y) * m_rpm.size() + x];
                c.hits += w;
                const double knock = log.at(R::knockRetard, i);
                if (knock == knock && current) c.knockDeg = std::max(c.knockDeg, knock);
                if (info.added >= c.lastSeen) {
                    c.lastSeen = info.added;
                    c.revision = info.revision;
                }
                if (!cleaned.kept[i]) continue;
                c.cleanHits += w;
                if (!proves || std::isnan(log.at(R::coolantTemp, i)))
                    continue; // nobody knows whether it was warm
                // What the sensor reads then must be clean too: the throttle may have shut on the way.
                const std::size_t read = delay ? places[i] : i;
                const bool clean = read < t.size() && cleaned.kept[read];
                const double error = clean ? log.at(R::lambda, read) - log.lambdaTarget(i) : 0;
                if (clean && error == error) {
                    c.lambdaHits += w;
                    c.lambdaError += (error - c.lambdaError) * w / c.lambdaHits;
                }
                if (knock == knock) c.knockHits += w;
                c.provenHits += w;
            }
    }
}

void Coverage::add(const Coverage &one, const LogInfo &info, bool current) {
    if (m_rpm != one.m_rpm || m_load != one.m_load)
        throw InputError("coverage", MARKED("expected.same_cells", "a coverage of the same cells"),
                         MARKED("found.other_cells", "one of others"));
    for (std::size_t i = 0; i < m_cells.size(); ++i) {
        CoverageCell &c = m_cells[i];
        const CoverageCell &o = one.m_cells[i];
        if (!(o.hits > 0)) continue;
        c.hits += o.hits;
        c.cleanHits += o.cleanHits;
        if (info.added >= c.lastSeen) {
            c.lastSeen = info.added;
            c.revision = info.revision;
        }
        if (!current) continue;
        c.knockDeg = std::max(c.knockDeg, o.knockDeg);
        if (o.lambdaHits > 0) {
            c.lambdaHits += o.lambdaHits;
            c.lambdaError += (o.lambdaError - c.lambdaError) * o.lambdaHits / c.lambdaHits;
        }
        c.knockHits += o.knockHits;
        c.provenHits += o.provenHits;
    }
}

CoverageState Coverage::state(const CoverageCell &c) const {
    const double least = limitOf(m_limits, "evidence.least_hits");
    if (c.hits < least) return CoverageState::never;
    const bool onTarget = c.lambdaHits >= least && std::abs(c.lambdaError) <= limitOf(m_limits, "watch.lean");
    const bool quiet = c.knockHits >= least && c.knockDeg <= limitOf(m_limits, "watch.knock");
    return c.provenHits >= least && onTarget && quiet ? CoverageState::proven : CoverageState::seen;
}

bool Coverage::hasCellsOf(const Study &study) const {
    const Table2D &spark = study.inPressure().job().calibration.of(CalibratedQuantity::spark).base;
    return m_rpm == spark.x() && m_load == spark.y();
}

Proof Coverage::proof() const {
    std::vector<BeenThere> states;
    states.reserve(m_cells.size());
    for (const CoverageCell &c : m_cells)
        states.push_back(state(c));
    return {m_rpm, m_load, {bands.begin(), bands.end()}, std::move(states)};
}

} // namespace wheelwright
