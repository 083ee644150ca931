// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ladder/gate.h"
#include "core/ladder/ladder_forecast.h"
#include "core/ladder/ladder_status.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

using D = Dimension;

/// The first full pull of a rung, and those of other rungs before it.
struct Held {
    const PullFacts *pull = nullptr;
    std::vector<const PullFacts *> before; ///< of other rungs
};

Held firstPull(const RungEvidence &e) {
    Held out;
    for (const PullFacts &p : e.facts.pulls) {
        if (!p.full || !p.contentUsable) continue;
        if (belongsTo(p, e.rung, e.ladder, e.job())) {
            if (!e.pulls.empty() && std::abs(p.content - e.pulls.back()->content) > samePlaceContent)
                continue; // put right since
            out.pull = &p;
            break;
        }
        out.before.push_back(&p);
    }
    return out;
}

struct Compared {
    double offs = 0; ///< in bands of 95 %
    Phrase said;
};

Compared compare(double found, Uncertain forecast, PhraseText words, Dimension dimension,
                 Dimension difference) {
    const double band = within95 * forecast.sigma;
    return {std::abs(found - forecast.value) / band,
            {words, {{found, dimension}, {forecast.value, dimension}, {band, difference}}}};
}

GateAnswer answerForecast(const RungEvidence &e) {
    if (e.pulls.empty()) return noPulls(e);
    const Held held = firstPull(e);
    GateAnswer a;
    a.toPass = MARKED("gate.forecast.to_pass.pull", "A full pull whose calibration is known.");
    a.remedy = GateRemedy::pull;
    if (!held.pull) {
        a.said = MARKED("gate.forecast.no_full", "Nobody has made a full pull on this rung yet.");
        return a;
    }
    const PullFacts &p = *held.pull;
    a.used = {useOf(p)};
    if (!p.ran) {
        a.said = MARKED("gate.forecast.no_tables", "The calibration of its first full pull is not known.");
        return a;
    }
    const PullTrends trends(*p.ran, held.before);
    std::vector<Compared> all;
    if (const double found = trends.fuelFound(p); found == found) {
        const Uncertain over = trends.fuelOver(p.content, p.fullest.loadKpa);
        const double tables = tablesDuty(*p.ran, p.content, p.fullest),
                     forecast = tables * std::exp(over.value);
        all.push_back(
            compare(tables * std::exp(found), {forecast, forecast * over.sigma},
                    MARKED("gate.forecast.duty", "injectors, λ on target, {0} where {1} ± {2} was forecast"),
                    D::ratio, D::ratio));
    }
    if (const double overAim = heldOverAim(p); overAim == overAim) {
        const double aimed = p.heldKpa - overAim;
        const Uncertain over = trends.heldOver(p.content, aimed);
        all.push_back(compare(p.heldKpa, {aimed + over.value, over.sigma},
                              MARKED("gate.forecast.boost", "boost {0} where {1} ± {2} was forecast"),
                              D::pressure, D::pressureDifference));
        if (const auto solenoid = trends.solenoid(p.content, p.heldKpa);
            solenoid && p.solenoidDuty == p.solenoidDuty)
            all.push_back(
                compare(p.solenoidDuty, *solenoid,
                        MARKED("gate.forecast.solenoid", "solenoid {0} where {1} ± {2} was forecast"),
                        D::ratio, D::ratio));
    }
    if (const auto power = trends.powerKw(p.content, p.fullest.loadKpa); power && p.powerKw == p.powerKw)
        all.push_back(compare(p.powerKw, *power,
                              MARKED("gate.forecast.power", "power {0} where {1} ± {2} was forecast"),
                              D::power, D::power));
    if (all.empty())
        return noChannel(e, MARKED("gate.channel.forecast", "λ with duty, boost with its target, or power"));
    std::ranges::stable_sort(all, std::greater{}, &Compared::offs);
    Phrase list = all.front().said;
    for (std::size_t i = 1; i < all.size(); ++i)
        list = {MARKED("ladder.and", "{A}, {B}"), {}, {}, {list, all[i].said}};
    const double allowed = e.limit("ladder.forecast");
    a.remedy = GateRemedy::none;
    a.toPass = {};
    const RungLook *look = e.look("forecast");
    if (all.front().offs <= allowed) {
        a.verdict = GateVerdict::passed;
        a.said = all.front().offs <= 1
                     ? Phrase{MARKED("gate.forecast.held", "As forecast: {A}."), {}, {}, {list}}
                     : Phrase{MARKED("gate.forecast.beside", "Beside its band, which one in twenty is: {A}."),
                              {},
                              {},
                              {list}};
    } else if (look && !look->note.empty()) {
        a.verdict = GateVerdict::passed;
        a.said = {MARKED("gate.forecast.explained", "Not as forecast, and explained ({a}): {A}."),
                  {},
                  {look->note},
                  {list}};
        a.used.push_back({GateUse::Kind::look, "forecast", look->at});
    } else {
        a.verdict = GateVerdict::failed;
        a.said = {MARKED("gate.forecast.off", "Not as forecast: {A}."), {}, {}, {list}};
        a.toPass = MARKED(
            "gate.forecast.to_pass",
            "Find out why before the next step: the fuel that was poured, a sensor, fuel pressure, a leak. "
            "Then say what it was.");
        a.remedy = GateRemedy::lookAt;
    }
    return a;
}

// There is nothing to forecast the first rung from.
bool hasBefore(const RungEvidence &e) {
    const Held held = firstPull(e);
    return !held.before.empty();
}

} // namespace

const Gate &forecastGate() {
    static const Gate gate{
        "forecast",
        MARKED("gate.forecast", "As forecast"),
        MARKED("gate.forecast.question", "Did the first full pull show what the rungs before said it would?"),
        {RungKind::baseBoost, RungKind::content, RungKind::topBoost},
        answerForecast,
        true,
        {"ladder.forecast"},
        hasBefore};
    return gate;
}

} // namespace wheelwright
