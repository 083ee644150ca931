// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/live/seat.h"

#include "core/base/limits.h"
#include "core/evidence/log_review.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

namespace wheelwright {
namespace {

using R = ChannelRole;
using Kind = SeatMark::Kind;

constexpr double nobodySaid = std::numeric_limits<double>::quiet_NaN();

double most(double a, double b) {
    return std::fmax(a, b); // what is not a number counts for nothing
}

constexpr double marksOilFromRpm = 1500; // as the rule asks

// Targets and limits as the rules use them, where the engine is now.
void addMarks(const WatchedLog &log, std::size_t i, SeatReview &out) {
    const auto mark = [&](R role, Kind kind, double value, bool least = false) {
        if (value == value) out.marks[static_cast<std::size_t>(role)].push_back({kind, value, least});
    };
    const double lambda = log.lambdaTarget(i), load = log.at(R::map, i), rpm = log.at(R::rpm, i);
    mark(R::lambda, Kind::target, lambda);
    if (load > log.limit("watch.lean.load")) mark(R::lambda, Kind::stop, lambda + log.limit("watch.lean"));
    mark(R::spark, Kind::target, log.tableAt(CalibratedQuantity::spark, i));
    const double boost = log.boostTarget(i);
    mark(R::map, Kind::target, boost);
    mark(R::map, Kind::stop,
         std::max(boost, log.ambientKpa() + log.job().boost.springKpa) + log.limit("boost.overshoot"));
    mark(R::knockRetard, Kind::stop, log.limit("watch.knock"));
    mark(R::duty, Kind::caution, log.limit("flow.duty.caution"));
    mark(R::duty, Kind::stop, log.limit("flow.duty.stop"));
    mark(R::coolantTemp, Kind::stop, log.limit("watch.coolant"));
    mark(R::battery, Kind::stop, log.limit("watch.battery"), true);
    if (rpm > marksOilFromRpm)
        mark(R::oilPressure, Kind::stop, log.limit("watch.oil") / 1000 * rpm + log.ambientKpa(), true);
    const double share = log.railShare(i), rail = log.at(R::railPressure, i);
    if (share > 0 && rail == rail) {
        // The share is of the pressure across the injectors: rail over the manifold.
        const double across = rail - (load == load ? load : log.ambientKpa()), should = across / share;
        mark(R::railPressure, Kind::target, rail - across + should);
        mark(R::railPressure, Kind::stop, rail - across + should * (1 - log.limit("flow.sag")), true);
    }
    mark(R::rpm, Kind::stop, log.job().engine.revLimitRpm);
}

// Those that the log has no channels for, and those that could not be asked all through a stretch, since
// something that they need fell silent there.
std::vector<const WatchRule *> unasked(const WatchedLog &log, const LogFindings &all, std::size_t from,
                                       std::size_t to) {
    std::vector<const WatchRule *> out;
    for (const WatchRule *rule : allWatchRules())
        if (std::ranges::find(all.notAsked, rule) != all.notAsked.end() ||
            silentFor(*rule, log, from, to) != R::none)
            out.push_back(rule);
    return out;
}

PullVerdict verdictOf(const WatchedLog &log, const Episode &pull, const LogFindings &all) {
    PullVerdict out;
    out.beginS = pull.beginS;
    out.endS = pull.endS;
    out.rpmFrom = pull.rpmFrom;
    out.rpmTo = pull.rpmTo;
    out.content = pull.content;
    out.peakKpa = pull.peakLoadKpa;
    out.lambdaOver = out.knockDeg = out.duty = out.railShare = nobodySaid;
    const double from = log.limit("watch.lean.load");
    constexpr double afterCutS = 1, behindS = 0.5; // as the rule on λ waits
    std::vector<double> own;
    own.reserve(log.trace().size());
    for (std::size_t i = 0; i < log.trace().size(); ++i)
        own.push_back(log.lambdaTarget(i));
    const std::vector<double> targets = highestLately(log.trace(), own, behindS);
    for (std::size_t i = pull.from; i <= pull.to; ++i) {
        out.knockDeg = most(out.knockDeg, log.at(R::knockRetard, i));
        out.duty = most(out.duty, log.at(R::duty, i));
        out.railShare = std::fmin(out.railShare, log.fuelCut(i) ? nobodySaid : log.railShare(i));
        if (!(log.at(R::map, i) > from) || log.sinceCutS(i) <= afterCutS) continue;
        out.lambdaOver = most(out.lambdaOver, log.at(R::lambda, i) - targets[i]);
    }
    for (const WatchRule *rule : allWatchRules())
        for (const LogFinding &f : all.found)
            if (f.rule == rule && f.endS >= pull.beginS && f.beginS <= pull.endS) out.found.push_back(f);
    out.notAsked = unasked(log, all, pull.from, pull.to);
    return out;
}

} // namespace

SeatStanding standingOf(double value, std::span<const SeatMark> marks) {
    SeatStanding out = SeatStanding::notJudged;
    if (value != value) return out;
    for (const SeatMark &m : marks) {
        if (m.kind == Kind::target) continue;
        const bool passed = m.least ? value < m.value : value > m.value;
        out = std::max(out, !passed                   ? SeatStanding::within
                            : m.kind == Kind::caution ? SeatStanding::caution
                                                      : SeatStanding::over);
    }
    return out;
}

std::span<const ChannelRole> usualSeatRoles() {
    static constexpr std::array roles{R::rpm, R::map, R::lambda, R::spark, R::knockRetard, R::duty};
    return roles;
}

std::span<const ChannelRole> seatRoles() {
    static constexpr std::array roles{
        R::rpm,        R::map,          R::lambda,     R::spark,       R::knockRetard,  R::duty,
        R::ethanol,    R::railPressure, R::intakeTemp, R::coolantTemp, R::exhaustTemp,  R::oilPressure,
        R::battery,    R::solenoidDuty, R::throttle,   R::boostTarget, R::lambdaTarget, R::fuelTemp,
        R::pulseWidth, R::speed,        R::gear,       R::torque,      R::power,        R::sprayFlow};
    return roles;
}

// Common practice; what the job states goes before it.
SeatSpan spanOf(ChannelRole role, const Study &study) {
    const Job &job = study.job();
    const double ambient = job.conditions.ambientKpa;
    const Axis &load = study.inPressure().job().calibration.of(CalibratedQuantity::spark).base.y();
    switch (role) {
    case R::rpm:
        return {0, job.engine.revLimitRpm * 1.05};
    case R::map:
    case R::boostTarget:
    case R::dynoMap:
        return {0, std::max(load.last(), ambient) * 1.1};
    case R::lambda:
    case R::lambdaTarget:
        return {0.6, 1.2};
    case R::spark:
        return {-5, 45};
    case R::knockRetard:
        return {0, 10};
    case R::duty:
    case R::solenoidDuty:
    case R::throttle:
    case R::ethanol:
    case R::humidity:
    case R::portShare:
        return {0, 1};
    case R::railPressure:
        return {ambient, ambient + 2 * job.injectors.railPressureKpa};
    case R::oilPressure:
        return {ambient, ambient + 700};
    case R::battery:
        return {10, 16};
    case R::exhaustTemp:
        return {0, 1100};
    case R::coolantTemp:
        return {0, 130};
    case R::intakeTemp:
    case R::fuelTemp:
        return {-10, 90};
    default: {
        const ChannelRoleDefinition &d = definitionOf(role);
        return {d.least, d.most};
    }
    }
}

Phrase inWords(const PullVerdict &v) {
    Phrase where{MARKED("seat.pull", "Pull {0}–{1}, {2}"),
                 {Measured{v.rpmFrom, Dimension::engineSpeed}, Measured{v.rpmTo, Dimension::engineSpeed},
                  Measured{v.peakKpa, Dimension::pressure}}};
    if (!v.found.empty()) {
        std::vector<Phrase> words;
        for (const LogFinding &f : v.found)
            words.push_back(
                {MARKED("seat.pull.finding", "{A}: {B}"), {}, {}, {Phrase(f.rule->title), inWords(f)}});
        return {MARKED("seat.pull.found", "{A}: {B}"), {}, {}, {std::move(where), listed(words)}};
    }
    if (v.notAsked.empty())
        return {MARKED("seat.pull.clean", "{A}: clean, all rules asked"), {}, {}, {std::move(where)}};
    std::vector<Phrase> words;
    for (const WatchRule *r : v.notAsked)
        words.emplace_back(r->title);
    return {MARKED("seat.pull.clean_so_far", "{A}: nothing found, but not judged: {B}"),
            {},
            {},
            {std::move(where), listed(words)}};
}

Phrase numbersOf(const PullVerdict &v) {
    std::vector<Phrase> out;
    const auto say = [&](PhraseText text, double value, Dimension dimension) {
        if (value == value) out.emplace_back(text, std::vector{Measured{value, dimension}});
    };
    say(MARKED("seat.pull.lambda", "λ beside its target by {0} at most"), v.lambdaOver, Dimension::mixture);
    say(MARKED("seat.pull.knock", "knock retard {0} at most"), v.knockDeg, Dimension::sparkAngle);
    say(MARKED("seat.pull.duty", "duty {0} at most"), v.duty, Dimension::ratio);
    say(MARKED("seat.pull.rail", "rail {0} at least"), v.railShare, Dimension::ratio);
    return listed(out);
}

bool clean(const PullVerdict &verdict) {
    return verdict.found.empty() && verdict.notAsked.empty();
}

SeatReview reviewSeat(const Study &study, LogTrace trace) {
    SeatReview out;
    if (trace.size() == 0) return out;
    const WatchedLog log(study, std::move(trace));
    const LogTrace &t = log.trace();
    const std::size_t last = t.size() - 1;
    out.atS = t.timeS(last);
    const LogFindings findings = watch(log);
    constexpr double latelyS = 1;
    out.notAsked = unasked(log, findings, t.indexAt(out.atS - latelyS), last);
    for (const WatchRule *rule : allWatchRules()) {
        const LogFinding *now = nullptr;
        for (const LogFinding &f : findings.found)
            if (f.rule == rule && f.endS >= out.atS - callHeldS) now = &f;
        if (now) out.calls.push_back({rule, now->worst, now->limit});
    }
    addMarks(log, last, out);
    constexpr double overS = 0.3; // the throttle is shut for so long
    for (const Episode &e : only(log.episodes(), EpisodeKind::pull)) {
        out.pulling = out.atS - e.endS < overS;
        if (!out.pulling) out.lastPull = verdictOf(log, e, findings);
    }
    return out;
}

SeatCoverage coverageOf(const Study &study, const LogTrace &trace, double afterS) {
    const Table2D &spark = study.inPressure().job().calibration.of(CalibratedQuantity::spark).base;
    SeatCoverage out{spark.x(), spark.y(), {}, {}};
    out.samples.assign(out.rpm.size() * out.loadKpa.size(), 0);
    const auto nearest = [](const Axis &axis, double v) {
        const AxisPosition p = axis.locate(v);
        return p.cell + (p.t > 0.5 ? 1 : 0);
    };
    constexpr double running = 400;
    for (std::size_t i = 0; i < trace.size(); ++i) {
        if (trace.timeS(i) <= afterS) continue;
        const double rpm = trace.at(R::rpm, i), load = trace.at(R::map, i);
        out.now.reset();
        if (!(rpm >= running) || load != load || trace.at(R::pulseWidth, i) <= 0) continue;
        const CellIndex cell{nearest(out.rpm, rpm), nearest(out.loadKpa, load)};
        ++out.samples[cell.y * out.rpm.size() + cell.x];
        out.now = cell;
    }
    return out;
}

} // namespace wheelwright
