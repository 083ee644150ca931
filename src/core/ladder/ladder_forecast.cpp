// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ladder/ladder_forecast.h"

#include "core/base/limits.h"
#include "core/ladder/rung_demand.h"
#include "core/study/headroom.h"

#include <algorithm>
#include <cmath>
#include <functional>

namespace wheelwright {
namespace {

std::vector<const PullFacts *> pointers(const std::vector<PullFacts> &facts) {
    std::vector<const PullFacts *> out;
    out.reserve(facts.size());
    for (const PullFacts &p : facts)
        out.push_back(&p);
    return out;
}

bool isOpen(const Rung &r) {
    return r.state == RungState::next || r.state == RungState::later || r.state == RungState::outOfReach;
}

// Where a number that rises comes to a limit, between two ends; not a number where it does not.
double whereItComesTo(double limit, double from, double to, const std::function<double(double)> &of) {
    if (of(from) >= limit) return from;
    if (of(to) < limit) return PullFacts::unknown;
    double low = from, high = to;
    constexpr int halvings = 12;
    for (int i = 0; i < halvings; ++i) {
        const double middle = (low + high) / 2;
        (of(middle) < limit ? low : high) = middle;
    }
    return high;
}

// In the coldest air with all of its overshoot, as the plan has it, times what pulls have shown.
double dutyAtWorst(const Study &study, const PullTrends &trends, double content, double boostKpa,
                   double sigmas) {
    const RungDemand d = rungDemand(study, content, boostKpa > 0 ? std::optional(boostKpa) : std::nullopt);
    const Uncertain over = trends.fuelOver(content, d.loadKpa);
    return d.duty * std::exp(over.value + sigmas * over.sigma);
}

DutyCrossing crossing(const Study &study, const PullTrends &trends, DutyCrossing c, double from, double to) {
    const auto duty = [&](double at, double sigmas) {
        return dutyAtWorst(study, trends, c.overContent ? at : c.content, c.overContent ? c.boostKpa : at,
                           sigmas);
    };
    c.at = whereItComesTo(c.duty, from, to, [&](double v) { return duty(v, 0); });
    c.earliest = whereItComesTo(c.duty, from, to, [&](double v) { return duty(v, within95); });
    c.latest = whereItComesTo(c.duty, from, to, [&](double v) { return duty(v, -within95); });
    const double end = c.overContent ? c.content : c.boostKpa, likely = duty(end, 0);
    c.atEnd = {likely, (duty(end, within95) - duty(end, -within95)) / 2 / within95};
    return c;
}

} // namespace

const RungForecast *LadderForecast::of(std::string_view rung) const {
    const auto at = std::ranges::find(open, rung, &RungForecast::rung);
    return at == open.end() ? nullptr : &*at;
}

RungForecast forecastRung(const Study &study, const Rung &rung, const PullTrends &trends) {
    RungForecast f;
    f.rung = rung.id;
    f.intakeC = trends.intakeC();
    const RungDemand d = rungDemand(study, rung.content, rung.boostKpa, {f.intakeC, 0, trends.fullestRpm()});
    PullFacts::Fullest place{d.rpm, d.loadKpa, f.intakeC};
    double loadSigma = 0;
    if (rung.boostKpa) {
        const Uncertain held = trends.heldOver(rung.content, *rung.boostKpa);
        f.heldKpa = {*rung.boostKpa + held.value, held.sigma};
        f.solenoidDuty = trends.solenoid(rung.content, f.heldKpa->value);
        if (f.solenoidDuty) f.solenoidDuty->value = std::clamp(f.solenoidDuty->value, 0.0, 1.0);
        if (trends.fullestRpm() > 0) {
            const Uncertain over = trends.fullestOver(rung.content, *rung.boostKpa);
            place.rpm = trends.fullestRpm();
            place.loadKpa = *rung.boostKpa + over.value;
            loadSigma = over.sigma / place.loadKpa; // fuel goes with the air
        }
    }
    f.rpm = place.rpm;
    f.loadKpa = place.loadKpa;
    f.tablesDuty = tablesDuty(study, rung.content, place);
    const Uncertain over = trends.fuelOver(rung.content, place.loadKpa);
    f.fuelOver = {std::expm1(over.value), std::exp(over.value) * over.sigma};
    f.duty.value = f.tablesDuty * (1 + f.fuelOver.value);
    f.duty.sigma = f.duty.value * std::hypot(over.sigma, loadSigma);
    const double target = study.inPressure()
                              .blended(CalibratedQuantity::lambda, rung.content)
                              .lookup(place.rpm, place.loadKpa)
                              .value;
    f.lambdaError = {target * f.fuelOver.value, target * f.fuelOver.sigma};
    f.powerKw = trends.powerKw(rung.content, place.loadKpa);
    f.sparkRpm = d.sparkRpm;
    f.sparkLoadKpa = d.sparkLoadKpa;
    f.askedSparkDeg = d.sparkDeg;
    return f;
}

LadderForecast forecastLadder(const Study &study, const Ladder &ladder, const LadderFacts &facts,
                              LearnedCeilings *learned) {
    const PullTrends trends(study, pointers(facts.pulls));
    LadderForecast out;
    out.rungs = trends.rungs();
    out.found = trends.found();
    const Rung *highestContent = nullptr, *highestBoost = nullptr;
    for (const Rung &r : ladder.rungs) {
        if (!hasPulls(r.kind) || !isOpen(r)) continue;
        RungForecast f = forecastRung(study, r, trends);
        if (learned && learned->any() && f.sparkRpm > 0) {
            const LearnedCeiling *nearest = nullptr;
            const std::vector<LearnedCeiling> ceilings = learned->at(r.content, f.intakeC);
            const auto away = [&](const LearnedCeiling &c) {
                return std::abs(c.rpm / f.sparkRpm - 1) + std::abs(c.loadKpa / f.sparkLoadKpa - 1);
            };
            for (const LearnedCeiling &c : ceilings)
                if (!nearest || away(c) < away(*nearest)) nearest = &c;
            if (nearest) {
                f.sparkRpm = nearest->rpm;
                f.sparkLoadKpa = nearest->loadKpa;
                f.askedSparkDeg = study.inPressure()
                                      .blended(CalibratedQuantity::spark, r.content)
                                      .lookup(nearest->rpm, nearest->loadKpa)
                                      .value;
                f.standsSparkDeg = {nearest->deg, nearest->sigmaDeg};
            }
        }
        out.open.push_back(std::move(f));
        if (r.kind == RungKind::content) highestContent = &r;
        if (r.kind == RungKind::topBoost) highestBoost = &r;
    }
    DutyCrossing c;
    c.duty = limitOf(study.job(), "flow.duty.caution");
    if (highestContent) {
        c.overContent = true;
        c.content = highestContent->content;
        c.boostKpa = highestContent->boostKpa.value_or(0);
        out.crossings.push_back(crossing(study, trends, c, study.job().calibration.baseContent, 1));
    }
    if (highestBoost) {
        c.overContent = false;
        c.content = highestBoost->content;
        c.boostKpa = *highestBoost->boostKpa;
        out.crossings.push_back(
            crossing(study, trends, c, study.job().conditions.ambientKpa, mostFrontierKpa));
    }
    return out;
}

} // namespace wheelwright
