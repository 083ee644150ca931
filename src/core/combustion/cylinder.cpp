// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/combustion/cylinder.h"

#include "core/base/error.h"
#include "core/base/portable_math.h"
#include "core/base/wide.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <string>

namespace wheelwright {
namespace {

constexpr double wiebeA = 5;       // Heywood eq. 9.8 and text; its m is 2, so the power is 3
constexpr double knockUntil = 0.9; // share burned after which nothing is left that could knock
constexpr double mgPerG = 1000, msPerS = 1000;
constexpr double wallK = 450; // of the metal: common practice
constexpr double kpaPerAtm = 101.325;

// Where ln(1/(1 − x)) = 5 z³.
double burnedAt(double share) {
    return std::cbrt(-std::log(1 - share) / wiebeA);
}

void require(bool holds, const char *where, PhraseText expected, double found) {
    if (!holds) throw InputError(where, expected, std::to_string(found));
}

void check(const CylinderShape &s, double stepDeg) {
    require(s.compressionRatio > 1 && std::isfinite(s.compressionRatio), "compression ratio",
            MARKED("expected.more_than_1", "more than 1"), s.compressionRatio);
    require(s.rodRatio > 1 && std::isfinite(s.rodRatio), "rod ratio",
            MARKED("expected.more_than_1", "more than 1"), s.rodRatio);
    require(s.displacementL > 0 && std::isfinite(s.displacementL), "cylinder displacement",
            MARKED("expected.more_than_0", "more than 0"), s.displacementL);
    require(s.closedDeg >= -180 && s.closedDeg < 0, "intake valve closes",
            MARKED("expected.from_minus_180_to_before_0", "from −180° to before 0°"), s.closedDeg);
    require(s.openDeg > 0 && s.openDeg <= 180, "exhaust valve opens",
            MARKED("expected.after_0_to_180", "after 0° up to 180°"), s.openDeg);
    require(stepDeg > 0 && stepDeg <= 5, "step", MARKED("expected.0_to_5_deg", "more than 0°, at most 5°"),
            stepDeg);
}

double slopeLPerDeg(const CylinderShape &s, double deg) {
    constexpr double radiansPerDegree = 0x1.1df46a2529d39p-6;
    const auto [sine, cosine] = portable::sineCosine(deg);
    const double clearance = s.displacementL / (s.compressionRatio - 1);
    return clearance * 0.5 * (s.compressionRatio - 1) * sine *
           (1 + cosine / std::sqrt(s.rodRatio * s.rodRatio - sine * sine)) * radiansPerDegree;
}

// What is the same for all cycles of a cylinder.
struct Grid {
    const double *volumeL, *slope, *areaM2; ///< at every half step
    const double *volumeLog, *motored;      ///< likewise, against the volume when the valve closes
    std::size_t steps;
    double fromDeg, stepDeg, displacementL, strokeM, boreTerm;
    GasLaw gas;
};

template <std::size_t n>
struct Lanes {
    std::array<double, n> ivcKpa, ivcK, heatJ, chargeMg, wallFactor, octane, start, duration, msPerDeg,
        pistonMS;
};
template <std::size_t n>
struct LaneResults {
    std::array<double, n> peak, peakDeg, work, integral, unburned, openKpa, burned, wall;
};

// The whole cycle of n charges side by side: every inner loop is over the lanes, without a branch, so that
// the compiler can take several at once.
template <std::size_t n>
[[gnu::always_inline]] inline void integrate(const Grid &g, const Lanes<n> &in, LaneResults<n> &out) {
    using Row = std::array<double, n>;
    const double h = g.stepDeg;
    const double burnedSlope = (g.gas.burnedGamma - g.gas.unburnedGamma) / knockUntil;
    const double polytropic = (g.gas.unburnedGamma - 1) / g.gas.unburnedGamma;
    const double lastZ = burnedAt(knockUntil);
    Row p = in.ivcKpa, rateA, rateB, gain, share, knock, delayFactor, pressureLog, before, beforeThat,
        peak = p, peakDeg, work{}, integral{}, unburned{}, wall{}, filmFactor, gasSpeed, wallPerK;
    for (std::size_t i = 0; i < n; ++i) {
        // ms⁻¹ at p_ivc but for the exponential.
        delayFactor[i] = 1 / (17.68 * portable::pow(in.octane[i] / 100, 3.402) *
                              portable::pow(in.ivcKpa[i] / kpaPerAtm, -1.7));
        // Woschni's film, but for p^0.8 T^−0.55 w^0.8; J/(K °) with an area in m².
        filmFactor[i] = in.wallFactor[i] * 3.26 * g.boreTerm * portable::pow(in.ivcKpa[i], 0.8) *
                        portable::pow(in.ivcK[i], -0.55) * in.msPerDeg[i] / msPerS;
        gasSpeed[i] = 3.24e-3 * g.displacementL * in.ivcK[i] / g.volumeL[0];
        wallPerK[i] = mgPerG / (in.chargeMg[i] * chargeGasConstant);
        knock[i] = delayFactor[i] * portable::exp(-3800 / in.ivcK[i]);
        peakDeg[i] = g.fromDeg;
        pressureLog[i] = 0;
        before[i] = beforeThat[i] = p[i];
    }
    // J per litre is kPa.
    const auto lines = [&](double deg, std::size_t at, Row &a, Row &b, Row &c, Row &x)
        __attribute__((always_inline)) {
        const double volume = g.volumeL[at], slope = g.slope[at];
        for (std::size_t i = 0; i < n; ++i) {
            double z = (deg - in.start[i]) / in.duration[i];
            z = z > 0 ? z : 0;
            const double left = portable::exp(-wiebeA * z * z * z);
            x[i] = 1 - left;
            const double held = x[i] < knockUntil ? x[i] : knockUntil;
            const double gm = g.gas.unburnedGamma + burnedSlope * held;
            a[i] = -gm * slope / volume;
            c[i] = (gm - 1) / volume;
            b[i] = c[i] * in.heatJ[i] * (3 * wiebeA * z * z * left / in.duration[i]);
        }
    };
    lines(g.fromDeg, 0, rateA, rateB, gain, share);
    Row midA, midB, midGain, midShare, endA, endB, endGain, endShare;
    for (std::size_t step = 0; step < g.steps; ++step) {
        const double deg = g.fromDeg + h * static_cast<double>(step);
        const std::size_t at = 2 * step;
        lines(deg + h / 2, at + 1, midA, midB, midGain, midShare);
        lines(deg + h, at + 2, endA, endB, endGain, endShare);
        const double motored = g.motored[at];
        for (std::size_t i = 0; i < n; ++i) {
            const double p0 = p[i];
            // The film is that of the step's beginning; what it takes is a straight line in p.
            // What a branch alone would work out, or read, keeps the compiler from taking several lanes at
            // once.
            const double burning = gasSpeed[i] * (p0 / in.ivcKpa[i] - motored);
            const double speed = 2.28 * in.pistonMS[i] + (share[i] > 0 ? burning : 0);
            const double film = filmFactor[i] * portable::exp(0.25 * pressureLog[i] - 0.55 * g.volumeLog[at] +
                                                              0.8 * portable::log(speed));
            const double perKpa0 = film * g.areaM2[at] * g.volumeL[at] * wallPerK[i],
                         perKpa1 = film * g.areaM2[at + 1] * g.volumeL[at + 1] * wallPerK[i],
                         perKpa2 = film * g.areaM2[at + 2] * g.volumeL[at + 2] * wallPerK[i];
            const double less0 = film * g.areaM2[at] * wallK, less1 = film * g.areaM2[at + 1] * wallK,
                         less2 = film * g.areaM2[at + 2] * wallK;
            const double a0 = rateA[i] - gain[i] * perKpa0, b0 = rateB[i] + gain[i] * less0;
            const double a1 = midA[i] - midGain[i] * perKpa1, b1 = midB[i] + midGain[i] * less1;
            const double a2 = endA[i] - endGain[i] * perKpa2, b2 = endB[i] + endGain[i] * less2;
            const double k1 = a0 * p0 + b0;
            const double k2 = a1 * (p0 + h / 2 * k1) + b1;
            const double k3 = a1 * (p0 + h / 2 * k2) + b1;
            const double k4 = a2 * (p0 + h * k3) + b2;
            const double p1 = p0 + h / 6 * (k1 + 2 * k2 + 2 * k3 + k4);
            // Simpson's rule, with the middle of the cubic through both ends and their slopes.
            const double slope1 = a2 * p1 + b2;
            const double middle = (p0 + p1) / 2 + h / 8 * (k1 - slope1);
            wall[i] += h / 6 * (perKpa0 * p0 - less0 + 4 * (perKpa1 * middle - less1) + perKpa2 * p1 - less2);
            work[i] += h / 6 * (p0 * g.slope[at] + 4 * middle * g.slope[at + 1] + p1 * g.slope[at + 2]);
            p[i] = p1;
            // A parabola through the highest and its neighbours.
            const bool top = (before[i] >= p1) & (before[i] >= beforeThat[i]) & (before[i] > peak[i]);
            const double bend = beforeThat[i] - 2 * before[i] + p1, lean = p1 - beforeThat[i];
            const double shift = -0.5 * lean / (bend < 0 ? bend : -1);
            const double crest = before[i] + 0.25 * lean * shift, crestDeg = deg + shift * h;
            peak[i] = top ? crest : peak[i];
            peakDeg[i] = top ? crestDeg : peakDeg[i];
            beforeThat[i] = before[i];
            before[i] = p1;
        }
        for (std::size_t i = 0; i < n; ++i) {
            pressureLog[i] = portable::log(p[i] / in.ivcKpa[i]);
            const double endGas = in.ivcK[i] * portable::exp(polytropic * pressureLog[i]);
            const double rate = delayFactor[i] * portable::exp(1.7 * pressureLog[i] - 3800 / endGas);
            // The part of the step before nine tenths have burned.
            const double last = in.start[i] + lastZ * in.duration[i];
            double part = (last - deg) / h;
            part = part < 0 ? 0 : part > 1 ? 1 : part;
            const double until = knock[i] + part * (rate - knock[i]);
            const double gained = part * h * in.msPerDeg[i] * 0.5 * (knock[i] + until);
            const double total = integral[i] + gained;
            const bool now = (integral[i] < 1) & (total >= 1);
            const double where = (1 - integral[i]) / (gained > 0 ? gained : 1) * part;
            unburned[i] = now ? 1 - (share[i] + where * (endShare[i] - share[i])) : unburned[i];
            integral[i] = total;
            knock[i] = rate;
            share[i] = endShare[i];
            rateA[i] = endA[i];
            rateB[i] = endB[i];
            gain[i] = endGain[i];
        }
    }
    out = {peak, peakDeg, work, integral, unburned, p, share, wall};
}

// Bore and stroke alike: m³ = π/4 · B³. A wall takes a few per cent more or less with another shape.
double boreM(double displacementL) {
    constexpr double litresPerM3 = 1000;
    return std::cbrt(displacementL / litresPerM3 * 4 / std::numbers::pi);
}

Grid gridOf(const Cylinder &c, const std::vector<double> &volumeL, const std::vector<double> &slope,
            const std::vector<double> &areaM2, const std::vector<double> &volumeLog,
            const std::vector<double> &motored, double stepDeg, GasLaw gas) {
    const double bore = boreM(c.shape().displacementL);
    return {volumeL.data(),
            slope.data(),
            areaM2.data(),
            volumeLog.data(),
            motored.data(),
            volumeL.size() / 2,
            c.shape().closedDeg,
            stepDeg,
            c.shape().displacementL,
            bore,
            portable::pow(bore, -0.2),
            gas};
}

constexpr std::size_t laneCount = 8, fewLanes = 4;

WHEELWRIGHT_WIDE void integrateMany(const Grid &g, const Lanes<laneCount> &in, LaneResults<laneCount> &out) {
    integrate<laneCount>(g, in, out);
}

WHEELWRIGHT_WIDE void integrateFew(const Grid &g, const Lanes<fewLanes> &in, LaneResults<fewLanes> &out) {
    integrate<fewLanes>(g, in, out);
}

void integrateOne(const Grid &g, const Lanes<1> &in, LaneResults<1> &out) {
    integrate<1>(g, in, out);
}

template <std::size_t n>
void load(Lanes<n> &to, std::size_t i, const Charge &c, const Burn &b, double rpm, double spark,
          const Grid &g) {
    const double closedL = g.volumeL[0];
    to.ivcKpa[i] = c.pressureKpa;
    to.ivcK[i] = c.temperatureK;
    to.chargeMg[i] = c.pressureKpa * closedL / (chargeGasConstant * c.temperatureK) * mgPerG;
    to.heatJ[i] = c.heatKjKg * to.chargeMg[i] / mgPerG;
    to.wallFactor[i] = c.wallFactor;
    constexpr double metresPerSecond = 2.0 / 60; // two strokes a turn
    to.pistonMS[i] = metresPerSecond * g.strokeM * rpm;
    to.octane[i] = c.octane;
    to.start[i] = b.delayDeg - spark;
    to.duration[i] = b.durationDeg;
    constexpr double degPerMsAtOneRpm = 0.006;
    to.msPerDeg[i] = 1 / (degPerMsAtOneRpm * rpm);
}

template <std::size_t n>
CycleResult result(const Grid &g, const Lanes<n> &in, const LaneResults<n> &from, std::size_t i) {
    CycleResult r;
    r.peakKpa = from.peak[i];
    r.peakDeg = from.peakDeg[i];
    r.workKpa = from.work[i] / g.displacementL;
    r.halfBurnedDeg = in.start[i] + in.duration[i] * burnedAt(0.5);
    r.knockIntegral = from.integral[i];
    r.unburnedAtKnock = from.unburned[i];
    r.openKpa = from.openKpa[i];
    r.chargeMg = in.chargeMg[i];
    r.openK = r.openKpa * g.volumeL[2 * g.steps] / (in.chargeMg[i] / mgPerG * chargeGasConstant);
    r.heatJ = in.heatJ[i] * from.burned[i];
    r.wallJ = from.wall[i];
    r.workJ = from.work[i];
    return r;
}

} // namespace

double cylinderVolumeL(const CylinderShape &s, double deg) {
    const auto [sine, cosine] = portable::sineCosine(deg);
    const double clearance = s.displacementL / (s.compressionRatio - 1);
    return clearance * (1 + 0.5 * (s.compressionRatio - 1) *
                                (s.rodRatio + 1 - cosine - std::sqrt(s.rodRatio * s.rodRatio - sine * sine)));
}

double burnedAtDeg(const Burn &burn, double sparkDeg, double share) {
    return burn.delayDeg - sparkDeg + burn.durationDeg * burnedAt(share);
}

double bestSparkDeg(const Burn &burn) {
    constexpr double halfBurnedDeg = 10;
    return burnedAtDeg(burn, 0, 0.5) - halfBurnedDeg;
}

Cylinder::Cylinder(const CylinderShape &shape, double stepDeg, GasLaw gas) : m_shape(shape), m_gas(gas) {
    check(shape, stepDeg);
    const double span = shape.openDeg - shape.closedDeg;
    const auto steps = static_cast<std::size_t>(std::ceil(span / stepDeg - 1e-9));
    m_stepDeg = span / static_cast<double>(steps);
    for (std::size_t i = 0; i <= 2 * steps; ++i) {
        const double deg = shape.closedDeg + m_stepDeg / 2 * static_cast<double>(i);
        m_volumeL.push_back(cylinderVolumeL(shape, deg));
        m_slope.push_back(slopeLPerDeg(shape, deg));
        // Two flat ends and the liner between.
        constexpr double litresPerM3 = 1000;
        const double bore = boreM(shape.displacementL), flat = std::numbers::pi / 4 * bore * bore;
        m_areaM2.push_back(2 * flat + std::numbers::pi * bore * (m_volumeL.back() / litresPerM3) / flat);
        m_volumeLog.push_back(portable::log(m_volumeL.back() / m_volumeL.front()));
        m_motored.push_back(portable::exp(-gas.unburnedGamma * m_volumeLog.back()));
    }
}

CycleResult Cylinder::cycle(const Charge &charge, const Burn &burn, double rpm, double sparkDeg) const {
    const Grid grid = gridOf(*this, m_volumeL, m_slope, m_areaM2, m_volumeLog, m_motored, m_stepDeg, m_gas);
    Lanes<1> in{};
    LaneResults<1> out{};
    load(in, 0, charge, burn, rpm, sparkDeg, grid);
    integrateOne(grid, in, out);
    return result(grid, in, out, 0);
}

void Cylinder::cycles(std::span<const Charge> charges, std::span<const Burn> burns,
                      std::span<const double> rpm, std::span<const double> sparkDeg,
                      std::span<CycleResult> out) const {
    const Grid grid = gridOf(*this, m_volumeL, m_slope, m_areaM2, m_volumeLog, m_motored, m_stepDeg, m_gas);
    // From a place on as many as there are lanes; those without work repeat the last.
    const auto some =
        [&]<std::size_t n>(std::size_t first,
                           void (*integrateAll)(const Grid &, const Lanes<n> &, LaneResults<n> &)) {
            const std::size_t count = std::min(n, out.size() - first);
            Lanes<n> in{};
            LaneResults<n> made{};
            for (std::size_t i = 0; i < n; ++i) {
                const std::size_t from = first + std::min(i, count - 1);
                load(in, i, charges[from], burns[from], rpm[from], sparkDeg[from], grid);
            }
            integrateAll(grid, in, made);
            for (std::size_t i = 0; i < count; ++i)
                out[first + i] = result(grid, in, made, i);
            return first + count;
        };
    for (std::size_t first = 0; first < out.size();)
        first = out.size() - first > fewLanes ? some(first, integrateMany) : some(first, integrateFew);
}

KnockLimit Cylinder::knockLimit(const Charge &charge, const Burn &burn, double rpm) const {
    std::array<Charge, laneCount> charges;
    std::array<Burn, laneCount> burns;
    std::array<double, laneCount> speeds, sparks;
    std::array<CycleResult, laneCount> found;
    charges.fill(charge);
    burns.fill(burn);
    speeds.fill(rpm);
    double low = latestSparkTried, high = earliestSparkTried;
    // Each round leaves a seventh of the span: the first rise through 1, or the neighbours of the highest
    // where there is none yet, since with spark far too early ∫dt/τ falls again.
    constexpr int rounds = 3;
    bool crossed = false;
    for (int round = 0; round < rounds; ++round) {
        for (std::size_t i = 0; i < laneCount; ++i)
            sparks[i] = low + (high - low) * static_cast<double>(i) / (laneCount - 1);
        cycles(charges, burns, speeds, sparks, found);
        const auto first =
            std::ranges::find_if(found, [](const CycleResult &r) { return r.knockIntegral >= 1; });
        if (first == found.begin() && !crossed) return {KnockLimit::Kind::always, latestSparkTried};
        if (first != found.end()) {
            crossed = true;
            const auto at = static_cast<std::size_t>(std::max<std::ptrdiff_t>(1, first - found.begin()));
            low = sparks[at - 1];
            high = sparks[at];
            if (round + 1 == rounds) {
                // The logarithm is close to a straight line.
                const double below = portable::log(found[at - 1].knockIntegral),
                             above = portable::log(found[at].knockIntegral);
                return {KnockLimit::Kind::at, low + (high - low) * -below / (above - below)};
            }
            continue;
        }
        const auto most = std::ranges::max_element(found, {}, &CycleResult::knockIntegral) - found.begin();
        constexpr double farFrom = 0.8;
        if (found[static_cast<std::size_t>(most)].knockIntegral < farFrom) break;
        low = sparks[static_cast<std::size_t>(std::max<std::ptrdiff_t>(0, most - 1))];
        high = sparks[static_cast<std::size_t>(std::min<std::ptrdiff_t>(laneCount - 1, most + 1))];
    }
    return {};
}

void Cylinder::knockLimits(std::span<const Charge> charges, std::span<const Burn> burns,
                           std::span<const double> rpm, std::span<KnockLimit> out) const {
    for (std::size_t first = 0; first < out.size(); first += laneCount) {
        const std::size_t count = std::min(laneCount, out.size() - first);
        limitsOfSome(charges.subspan(first, count), burns.subspan(first, count), rpm.subspan(first, count),
                     out.subspan(first, count));
    }
}

// A lane a charge: three tries say between which sparks ∫dt/τ rises through 1, then the secant of its
// logarithm, which is nearly a straight line, held inside. What comes close without crossing is left to the
// thorough search.
void Cylinder::limitsOfSome(std::span<const Charge> charges, std::span<const Burn> burns,
                            std::span<const double> rpm, std::span<KnockLimit> out) const {
    struct Bracket {
        double low = latestSparkTried, high = latestSparkTried, lowLog = 0, highLog = 0;
        double lastLog = 0; ///< how far the last try was from 1
        bool found = false, wasAbove = false;
    };
    std::array<Bracket, laneCount> lanes;
    std::array<double, laneCount> sparks{}, most{};
    std::array<CycleResult, laneCount> found;
    const std::size_t count = out.size();
    const auto tryAll = [&] {
        cycles(charges, burns, rpm, std::span(sparks).first(count), std::span(found).first(count));
    };
    constexpr std::array tries{latestSparkTried, 8.0, 28.0, 46.0};
    for (const double spark : tries) {
        if (std::ranges::all_of(std::span(lanes).first(count), &Bracket::found)) break;
        sparks.fill(spark);
        tryAll();
        for (std::size_t i = 0; i < count; ++i) {
            Bracket &b = lanes[i];
            if (b.found) continue;
            const double log = portable::log(found[i].knockIntegral);
            most[i] = std::max(most[i], found[i].knockIntegral);
            (log >= 0 ? b.high : b.low) = spark;
            (log >= 0 ? b.highLog : b.lowLog) = log;
            b.found = log >= 0;
        }
    }
    constexpr int steps = 5;
    for (int step = 0; step < steps; ++step) {
        for (std::size_t i = 0; i < count; ++i) {
            const Bracket &b = lanes[i];
            const double share = std::clamp(-b.lowLog / (b.highLog - b.lowLog), 0.02, 0.98);
            sparks[i] = b.found && b.high > b.low ? b.low + (b.high - b.low) * share : latestSparkTried;
        }
        if (step + 1 == steps) break;
        tryAll();
        for (std::size_t i = 0; i < count; ++i) {
            Bracket &b = lanes[i];
            if (!b.found || b.high <= b.low) continue;
            const double log = portable::log(found[i].knockIntegral);
            const bool above = log >= 0;
            (above ? b.high : b.low) = sparks[i];
            (above ? b.highLog : b.lowLog) = log;
            // The end that stays for a second time counts half: the Illinois variant of the false position.
            if (step > 0 && above == b.wasAbove) (above ? b.lowLog : b.highLog) /= 2;
            b.wasAbove = above;
            b.lastLog = std::abs(log);
        }
    }
    constexpr double mayStillCross = 0.7, closeEnough = 0.005;
    for (std::size_t i = 0; i < count; ++i) {
        const Bracket &b = lanes[i];
        if (b.found && b.high <= b.low)
            out[i] = {KnockLimit::Kind::always, latestSparkTried};
        else if (b.found ? b.lastLog < closeEnough : most[i] < mayStillCross)
            out[i] = b.found ? KnockLimit{KnockLimit::Kind::at, sparks[i]} : KnockLimit{};
        else
            out[i] = knockLimit(charges[i], burns[i], rpm[i]);
    }
}

} // namespace wheelwright
