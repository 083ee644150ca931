// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ladder/ladder_status.h"

#include "core/base/error.h"
#include "core/base/limits.h"
#include "core/job/revision.h"
#include "core/runs/run_curve.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace wheelwright {
namespace {

std::optional<ContentOpinions> opinions(const Job &job) {
    if (job.tankEvents.empty()) return std::nullopt;
    try {
        return opinionsOf(job);
    } catch (const InputError &) {
        return std::nullopt; // the tank's own page says what is wrong with it
    }
}

double meanOf(const RungEvidence &e, double PullFacts::*member) {
    double sum = 0, count = 0;
    for (const PullFacts *p : e.pulls)
        if (p->*member == p->*member) {
            sum += p->*member;
            ++count;
        }
    return count > 0 ? sum / count : PullFacts::unknown;
}

// Nearer to this rung's content than to any other's; of the way down not too far over the base.
bool ofContent(double content, const Rung &rung, const Ladder &ladder, const Job &job) {
    if (!hasPulls(rung.kind) || !(content == content)) return false;
    if (rung.kind == RungKind::wayDown) return content <= rung.content + limitOf(job, "ladder.way_down");
    constexpr double rounding = 1e-9;
    const double away = std::abs(content - rung.content);
    return std::ranges::none_of(ladder.rungs, [&](const Rung &other) {
        return hasPulls(other.kind) && other.kind != RungKind::wayDown &&
               std::abs(content - other.content) < away - rounding;
    });
}

// Where the content was put right by another pour, what ran before is of another fuel.
void onlyLastFill(RungEvidence &e) {
    constexpr double sameFill = 0.015;
    double last = PullFacts::unknown;
    const PullFacts *pull = e.pulls.empty() ? nullptr : e.pulls.back();
    const LightLoadFacts *light = e.lights.empty() ? nullptr : e.lights.back();
    const auto placeOf = [&](const std::string &log) {
        const auto at = std::ranges::find(e.job().logs.values(), log, &LogInfo::id);
        return at - e.job().logs.values().begin();
    };
    if (light) last = light->content;
    if (pull && (!light || placeOf(pull->log) >= placeOf(light->log))) last = pull->content;
    const auto another = [&](const auto *f) { return std::abs(f->content - last) > sameFill; };
    std::erase_if(e.pulls, another);
    std::erase_if(e.lights, another);
}

// When something was poured or drained last.
std::string lastPourOf(const Job &job) {
    std::string at;
    for (const TankEvent &t : job.tankEvents)
        if ((t.kind == TankEventKind::pour || t.kind == TankEventKind::drain) && !t.at.empty()) at = t.at;
    return at;
}

// Of the way down what ran on the fuel that was poured for it counts, however far from the base fuel that is:
// that it is too far is for a gate to say.
bool pouredForWayDown(const RungEvidence &e, const std::string &added) {
    const auto &passed = e.job().ladderPassed.values();
    return e.rung.kind == RungKind::wayDown && !passed.empty() && passed.back().at < e.pouredAt &&
           added > e.pouredAt;
}

// What came in before the last pour and missed the rung is what the pour was to put right.
void withoutPutRight(RungEvidence &e) {
    const double within = e.limit("ladder.content");
    const auto putRight = [&](const auto *f) {
        return !e.ofThisFill(f->added) && std::abs(f->content - e.rung.content) > within;
    };
    std::erase_if(e.pulls, putRight);
    std::erase_if(e.lights, putRight);
}

RungEvidence evidenceOf(const Study &study, const Ladder &ladder, const Rung &rung,
                        const LadderFacts &facts) {
    RungEvidence e{study,
                   ladder,
                   rung,
                   facts,
                   {},
                   {},
                   0,
                   opinions(study.job()),
                   calibrationPrint(stateOf(study.job())),
                   lastPourOf(study.job())};
    for (const PullFacts &p : facts.pulls) {
        if (!belongsTo(p, rung, ladder, study.job()) && !pouredForWayDown(e, p.added)) continue;
        if (p.current)
            e.pulls.push_back(&p);
        else
            ++e.otherCalibration;
    }
    for (const LightLoadFacts &l : facts.lights)
        if (l.current && (ofContent(l.content, rung, ladder, study.job()) || pouredForWayDown(e, l.added)))
            e.lights.push_back(&l);
    withoutPutRight(e);
    onlyLastFill(e);
    // As many as are wanted, the last ones: what was put right since does not count against it for ever.
    const std::size_t counted = std::max<std::size_t>(1, e.wanted());
    if (e.pulls.size() > counted)
        e.pulls.erase(e.pulls.begin(), e.pulls.end() - static_cast<std::ptrdiff_t>(counted));
    return e;
}

RungStatus statusOf(const RungEvidence &e) {
    RungStatus s;
    s.rung = e.rung.id;
    s.pulls = e.pulls.size();
    for (const Gate *g : allGates())
        if (std::ranges::find(g->asked, e.rung.kind) != g->asked.end() && (!g->applies || g->applies(e)))
            s.gates.push_back({g, g->answer(e)});
    return s;
}

} // namespace

std::string_view rungLightKey(RungLight light) {
    constexpr std::array<std::string_view, 3> keys{"green", "amber", "red"};
    return keys[static_cast<std::size_t>(light)];
}

PhraseText rungLightWord(RungLight light) {
    constexpr std::array words{MARKED("rung.light.green", "every gate has passed"),
                               MARKED("rung.light.amber", "something is not judged"),
                               MARKED("rung.light.red", "a gate has failed")};
    return words[static_cast<std::size_t>(light)];
}

RungLight RungStatus::light() const {
    RungLight light = RungLight::green;
    for (const GateResult &g : gates) {
        if (g.answer.verdict == GateVerdict::failed) return RungLight::red;
        if (g.answer.verdict == GateVerdict::notJudged) light = RungLight::amber;
    }
    return light;
}

const GateResult *RungStatus::first() const {
    for (const GateVerdict v : {GateVerdict::failed, GateVerdict::notJudged})
        for (const GateResult &g : gates)
            if (g.answer.verdict == v) return &g;
    return nullptr;
}

bool belongsTo(const PullFacts &pull, const Rung &rung, const Ladder &ladder, const Job &job) {
    if (!ofContent(pull.content, rung, ladder, job)) return false;
    if (rung.kind == RungKind::wayDown || !rung.boostKpa) return true;
    // By what was aimed at: whether it came to it is for a gate to say.
    constexpr double closeKpa = 4, wandersKpa = 7; // half a psi, and about one: what boost wanders by
    if (pull.aimedKpa == pull.aimedKpa) return pull.aimedKpa >= *rung.boostKpa - closeKpa;
    return pull.heldKpa >= *rung.boostKpa - wandersKpa;
}

RungStatus rungStatus(const Study &study, const Ladder &ladder, const Rung &rung, const LadderFacts &facts) {
    return statusOf(evidenceOf(study, ladder, rung, facts));
}

double powerAt(const Study &study, double content, const std::string &calibration) {
    const double within = limitOf(study.job(), "ladder.content");
    double most = 0;
    for (const Run &r : study.job().runs) {
        if (r.contentBasis == RunContentBasis::none || r.calibration != calibration ||
            std::abs(r.content - content) > within)
            continue;
        const RunCurve curve = curveOf(r);
        const RunPeak peak = peakOf(curve.rpm, curve.powerKw);
        if (peak.value == peak.value) most = std::max(most, peak.value * (1 - r.knownWithin));
    }
    return most;
}

RungPass passOf(const Study &study, const Ladder &ladder, const LadderFacts &facts, const std::string &id,
                const std::string &at, const std::string &reason) {
    const Rung *rung = ladder.byId(id);
    if (!rung)
        throw InputError("rung", MARKED("expected.rung", "a rung of this ladder"),
                         "'" + echoed(id, 40) + "'");
    const Rung *next = ladder.next();
    if (rung != next)
        throw InputError("rung",
                         next ? Phrase{MARKED("expected.next_rung", "{a}, which is next"), {}, {next->id}}
                              : Phrase(MARKED("expected.no_rung", "none: all is done")),
                         "'" + id + "'");
    const RungEvidence e = evidenceOf(study, ladder, *rung, facts);
    const RungStatus status = statusOf(e);
    if (reason.empty() && !status.passes()) {
        const GateResult *first = status.first();
        throw InputError("gate " + std::string(first->gate->id),
                         MARKED("expected.gate_passed", "passed, or a reason to pass it by hand"),
                         Phrase(gateVerdictWord(first->answer.verdict)));
    }
    RungPass p;
    p.rung = id;
    p.at = at;
    p.by = status.passes() ? PassedBy::evidence : PassedBy::hand;
    p.reason = reason;
    const double content = meanOf(e, &PullFacts::content), boost = meanOf(e, &PullFacts::heldKpa);
    p.content = content == content ? content : rung->content;
    p.boostKpa = boost == boost ? boost : 0;
    p.powerKw = hasPulls(rung->kind) ? powerAt(study, p.content, e.calibration) : 0;
    p.price = rung->price;
    p.calibration = e.calibration;
    std::vector<std::string> logs;
    for (const GateResult &g : status.gates) {
        p.gates += std::string(g.gate->id) + ": " + std::string(gateVerdictKey(g.answer.verdict)) + ". " +
                   format(g.answer.said) + "\n";
        for (const GateUse &u : g.answer.used)
            if (u.kind == GateUse::Kind::log && std::ranges::find(logs, u.id) == logs.end())
                logs.push_back(u.id);
    }
    for (const std::string &log : logs)
        p.logs += log + "\n";
    return p;
}

} // namespace wheelwright
