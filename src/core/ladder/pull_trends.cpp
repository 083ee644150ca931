// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ladder/pull_trends.h"

#include <cmath>

namespace wheelwright {
namespace {

// What is known before any pull: standard errors of the number itself, of its change from pure base fuel to
// pure alcohol, and of its change for a factor of e in pressure; then by how much rungs scatter. From memory.
struct Prior {
    double level, perContent, perLnLoad, scatter;
};
constexpr Prior fuelPrior{0.05, 0.10, 0.12, 0.012};
constexpr Prior heldPrior{4, 8, 6, 2.5}; // kPa
// With the solenoid at rest boost is what the spring gives, whatever was aimed at: it says little of other
// rungs.
constexpr double solenoidAtRest = 0.03, restScatterKpa = 9;
// About a level that nobody knows; power goes with the air, and a cool fuel gains a little.
constexpr Prior powerPrior{10, 0.10, 0.30, 0.025};
constexpr double powerPerLnLoad = 1.0, powerPerContent = 0.08;
// Duty of the solenoid, from the spring on: at the spring it is 0. For 100 kPa.
constexpr Prior solenoidPrior{0.03, 0.12, 0.3, 0.015};
constexpr double solenoidPer100Kpa = 0.6;

double meanBy(const std::vector<const PullFacts *> &pulls, const auto &of) {
    double sum = 0, count = 0;
    for (const PullFacts *p : pulls)
        if (const double v = of(*p); v == v) {
            sum += v;
            ++count;
        }
    return count > 0 ? sum / count : PullFacts::unknown;
}

} // namespace

PullTrends::PullTrends(const Study &given, std::span<const PullFacts *const> pulls)
    : m_study(given.inPressure()), m_ambientKpa(m_study.job().conditions.ambientKpa),
      m_baseContent(m_study.job().calibration.baseContent), m_springKpa(m_study.job().boost.springKpa),
      m_intakeC(m_study.job().conditions.intakeUsualC) {
    for (const PullFacts *p : pulls) {
        if (!p->full || !p->contentUsable || !(p->content == p->content)) continue;
        const double boost = p->aimedKpa == p->aimedKpa ? p->aimedKpa : p->peakKpa;
        const auto same = std::ranges::find_if(m_rungs, [&](const Place &place) {
            return std::abs(place.content - p->content) <= samePlaceContent &&
                   std::abs(place.boostKpa - boost) <= samePlaceKpa;
        });
        if (same == m_rungs.end())
            m_rungs.push_back({p->content, boost, {p}});
        else
            same->pulls.push_back(p);
    }
    if (!m_rungs.empty()) {
        const auto &last = m_rungs.back().pulls;
        const double rpm = meanBy(last, [](const PullFacts &p) { return p.fullest.rpm; });
        if (rpm > 0) {
            m_fullestRpm = rpm;
            m_intakeC = meanBy(last, [](const PullFacts &p) { return p.fullest.intakeC; });
        }
    }
    std::vector<PriorRow> fuel, held, fullest, solenoid, power;
    for (const Place &place : m_rungs) {
        const double content = meanBy(place.pulls, [](const PullFacts &p) { return p.content; });
        const double duty = meanBy(place.pulls, [](const PullFacts &p) { return p.solenoidDuty; });
        const double boostScatter = duty < solenoidAtRest ? restScatterKpa : heldPrior.scatter;
        const double load = meanBy(place.pulls, [](const PullFacts &p) { return p.fullest.loadKpa; });
        const auto add = [](std::vector<PriorRow> &rows, std::vector<double> at, double value, double sigma) {
            if (value == value) rows.push_back({std::move(at), value, sigma});
        };
        if (load == load) {
            add(fuel, factors(content, load),
                meanBy(place.pulls, [&](const PullFacts &p) { return fuelFound(p); }), fuelPrior.scatter);
            add(fullest, factors(content, place.boostKpa), load - place.boostKpa, boostScatter);
            const double kw = meanBy(place.pulls, [](const PullFacts &p) { return p.powerKw; });
            add(power, factors(content, load),
                std::log(kw) - powerPerLnLoad * std::log(load / m_ambientKpa) -
                    powerPerContent * (content - m_baseContent),
                powerPrior.scatter);
        }
        const double over = meanBy(place.pulls, heldOverAim);
        if (!(over == over)) continue;
        add(held, factors(content, place.boostKpa), over, boostScatter);
        const double at = meanBy(place.pulls, [](const PullFacts &p) { return p.heldKpa; });
        add(solenoid, solenoidFactors(content, at),
            duty - solenoidPer100Kpa * solenoidFactors(content, at)[2], solenoidPrior.scatter);
    }
    const auto priors = [](const Prior &p) { return std::vector{p.level, p.perContent, p.perLnLoad}; };
    // Where logs do not say it, the runs that rungs were passed with.
    if (power.empty())
        for (const RungPass &p : m_study.job().ladderPassed)
            if (p.powerKw > 0 && p.boostKpa > 0)
                power.push_back({factors(p.content, p.boostKpa),
                                 std::log(p.powerKw) - powerPerLnLoad * std::log(p.boostKpa / m_ambientKpa) -
                                     powerPerContent * (p.content - m_baseContent),
                                 powerPrior.scatter});
    m_fuel.emplace(priors(fuelPrior), fuel);
    m_held.emplace(priors(heldPrior), held);
    m_load.emplace(priors(heldPrior), fullest);
    if (!solenoid.empty()) m_solenoid.emplace(priors(solenoidPrior), solenoid);
    if (!power.empty()) m_power.emplace(priors(powerPrior), power);
}

double heldOverAim(const PullFacts &p) {
    return p.heldKpa - (p.aimedKpa == p.aimedKpa ? p.aimedKpa : p.targetKpa);
}

std::vector<double> PullTrends::factors(double content, double loadKpa) const {
    return {1, content - m_baseContent, std::log(loadKpa / m_ambientKpa)};
}

// Over the spring, in steps of 100 kPa.
std::vector<double> PullTrends::solenoidFactors(double content, double boostKpa) const {
    return {1, content - m_baseContent, (boostKpa - m_ambientKpa - m_springKpa) / 100};
}

std::vector<PullTrends::Found> PullTrends::found() const {
    std::vector<Found> out;
    for (const Place &place : m_rungs)
        out.push_back({meanBy(place.pulls, [](const PullFacts &p) { return p.content; }), place.boostKpa,
                       meanBy(place.pulls, [&](const PullFacts &p) {
                           return std::exp(fuelFound(p)) * tablesDuty(m_study, p.content, p.fullest);
                       })});
    return out;
}

double PullTrends::fuelFound(const PullFacts &p) const {
    const PullFacts::Fullest &f = p.fullest;
    if (!(f.duty > 0) || !(f.lambda > 0) || !(f.loadKpa > 0)) return PullFacts::unknown;
    const double wanted =
        m_study.blended(CalibratedQuantity::lambda, p.content).lookup(f.rpm, f.loadKpa).value;
    const double given = tablesDuty(m_study, p.content, f);
    return given > 0 && wanted > 0 ? std::log(f.duty * f.lambda / wanted / given) : PullFacts::unknown;
}

namespace {

Uncertain oneMore(const PriorFit &fit, const std::vector<double> &at, double scatter) {
    const PriorFit::Band band = fit.of(at);
    return {band.mean, std::hypot(band.sigma, scatter * fit.raised())};
}

} // namespace

Uncertain PullTrends::fuelOver(double content, double loadKpa) const {
    return oneMore(*m_fuel, factors(content, loadKpa), fuelPrior.scatter);
}

Uncertain PullTrends::heldOver(double content, double targetKpa) const {
    return oneMore(*m_held, factors(content, targetKpa), heldPrior.scatter);
}

Uncertain PullTrends::fullestOver(double content, double aimedKpa) const {
    return oneMore(*m_load, factors(content, aimedKpa), heldPrior.scatter);
}

std::optional<Uncertain> PullTrends::solenoid(double content, double boostKpa) const {
    if (!m_solenoid) return std::nullopt;
    const std::vector<double> at = solenoidFactors(content, boostKpa);
    Uncertain u = oneMore(*m_solenoid, at, solenoidPrior.scatter);
    u.value += solenoidPer100Kpa * at[2];
    return u;
}

std::optional<Uncertain> PullTrends::powerKw(double content, double loadKpa) const {
    if (!m_power) return std::nullopt;
    const std::vector<double> at = factors(content, loadKpa);
    const Uncertain u = oneMore(*m_power, at, powerPrior.scatter);
    const double kw = std::exp(u.value + powerPerLnLoad * at[2] + powerPerContent * at[1]);
    return Uncertain{kw, kw * u.sigma};
}

} // namespace wheelwright
