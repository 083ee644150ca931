// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ladder/ladder_plan.h"

#include "core/base/limits.h"
#include "core/ladder/ladder_fuel.h"
#include "core/ladder/pass_ladder.h"
#include "core/ladder/rung_demand.h"
#include "core/study/boost_plan.h"
#include "core/study/headroom.h"

#include <algorithm>
#include <charconv>
#include <cmath>

namespace wheelwright {
namespace {

constexpr double sameContent = 0.02; // two rungs that near are one
constexpr double closeKpa = 1;       // nobody controls boost closer

Measured contentOf(double c) {
    return {c, Dimension::content};
}
Measured pressureOf(double kpa) {
    return {kpa, Dimension::pressure};
}
Measured shareOf(double share) {
    return {share, Dimension::ratio};
}

std::string idOf(RungKind kind, double number) {
    return std::string(rungKindKey(kind)) + "." + std::to_string(std::lround(number));
}

// Behind a rung's kind; 0 where there is none.
double numberAt(const std::string &id, std::size_t at) {
    double v = 0;
    std::from_chars(id.data() + at, id.data() + id.size(), v);
    return v;
}

double contentOfFuel(const Job &job, const std::string &name) {
    const auto at = std::ranges::find(job.shelf, name, &ShelfEntry::name);
    if (at == job.shelf.end()) return -1;
    return std::min(1.0, at->ethanol + at->methanol);
}

std::vector<double> contentsOfFuels(const Job &job) {
    std::vector<double> out;
    for (const LadderFuel &f : job.ladderFuels)
        if (const double c = contentOfFuel(job, f.fuel); c >= 0) out.push_back(c);
    return out;
}

/// Makes the ladder of one study.
class LadderPlanner {
  public:
    LadderPlanner(const Study &study, std::string_view today)
        : m_study(study), m_job(study.job()), m_today(today), m_contents(ladderContents(study)),
          m_groups(boostGroups(study.job())), m_ambient(study.job().conditions.ambientKpa) {}

    Ladder plan() {
        findBoost();
        addPlain(RungKind::preflight);
        addBaseBoost();
        addContents();
        addTopBoost();
        addWayDown();
        addPlain(RungKind::road);
        addPlain(RungKind::handOver);
        for (const RungPass &p : m_job.ladderPassed)
            m_ladder.spent += p.price;
        if (!m_job.ladderPassed.empty() && highestPower() > 0 && enough()) leaveOut();
        for (std::size_t i = 0; i < m_ladder.rungs.size(); ++i) {
            // What ends the boost of the base fuel ends not the contents, unless it is its first rung.
            const Rung &r = m_ladder.rungs[i];
            if (r.state == RungState::outOfReach &&
                (r.kind != RungKind::baseBoost || m_ladder.rungs[i - 1].kind == RungKind::preflight))
                endWayUp(m_ladder, i, r.why);
        }
        planLadderFuel(m_ladder, m_study, m_contents.top, m_today);
        endWithoutPulls();
        findNext();
        return std::move(m_ladder);
    }

  private:
    void findBoost() {
        const auto targets = boostTargets(m_study, {m_contents.base, m_contents.top});
        m_baseKpa = m_job.ladder.baseBoostKpa > 0 ? m_job.ladder.baseBoostKpa : targets[0];
        m_topKpa = m_job.ladder.topBoostKpa > 0 ? m_job.ladder.topBoostKpa : targets[1];
        constexpr double boosted = 1.05; // over the open air, as reach has it
        m_sets =
            m_job.engine.charging == Charging::turbo && std::max(m_baseKpa, m_topKpa) > boosted * m_ambient;
    }

    Rung rungOf(RungKind kind, double content, std::optional<double> boostKpa, std::string id) const {
        Rung r;
        r.kind = kind;
        r.id = std::move(id);
        r.content = content;
        r.boostKpa = boostKpa;
        r.pulls = hasPulls(kind) ? m_job.ladder.pulls : 0;
        if (hasPulls(kind)) {
            r.demand = rungDemand(m_study, content, boostKpa);
            const BlendModel &blends = m_study.blends();
            r.multiplier = blends.volumeMultiplier(blendAt(m_job, content), blendAt(m_job, m_contents.base));
        }
        if (boostKpa) {
            const OverboostCut cut = overboostCut(m_job, *boostKpa, content);
            r.cutKpa = cut.kpa;
            r.why = cut.why;
            solenoid(r);
        }
        if (hasPulls(kind) && r.why.empty()) r.why = whatEnds(r);
        if (!r.why.empty()) r.state = RungState::outOfReach;
        if (passed(r)) {
            r.state = RungState::passed;
            r.why = {};
        }
        return r;
    }

    void solenoid(Rung &r) const {
        const double gauge = *r.boostKpa - m_ambient;
        if (m_job.boost.springKpa > 0 && gauge <= m_job.boost.springKpa + closeKpa) {
            r.solenoidDuty = 0;
            return;
        }
        const BoostGroup *group = boostGroupFor(m_groups, 0, r.content);
        if (!group) return;
        const double duty = dutyFor(*group->fit, gauge);
        if (duty <= 1) {
            r.solenoidDuty = duty;
        } else if (r.why.empty()) {
            r.why = {MARKED("ladder.ends.solenoid",
                            "The solenoid comes to its end before {0}: a stiffer spring first."),
                     {{gauge, Dimension::pressureGauge}}};
        }
    }

    // What the model says will end it; empty: nothing.
    Phrase whatEnds(const Rung &r) const {
        const RungDemand &d = r.demand;
        const double caution = limitOf(m_job, "flow.duty.caution");
        if (d.duty > caution) {
            const double allowed = boostWithinDuty(m_study, r.content, caution);
            return {
                MARKED("ladder.ends.duty",
                       "Injectors: {0} of their time at {1}, over the caution of {2}. At most {3} there, or "
                       "larger injectors."),
                {shareOf(d.duty), pressureOf(d.loadKpa), shareOf(caution), pressureOf(allowed)}};
        }
        if (d.pumpShare && *d.pumpShare > limitOf(m_job, "flow.pump.stop"))
            return {MARKED("ladder.ends.pump", "Pumps: {0} of what they deliver is asked for."),
                    {shareOf(*d.pumpShare)}};
        const double spring = m_job.boost.springKpa;
        if (r.boostKpa && spring > 0 &&
            *r.boostKpa - m_ambient > limitOf(m_job, "boost.spring_ratio") * spring)
            return {MARKED("ladder.ends.spring", "Spring: {0} is more than {1} times its {2}."),
                    {{*r.boostKpa - m_ambient, Dimension::pressureGauge},
                     {limitOf(m_job, "boost.spring_ratio"), Dimension::none},
                     {spring, Dimension::pressureGauge}}};
        return {};
    }

    // Of boost rungs whoever passed a higher one passed it.
    bool passed(const Rung &r) const {
        return std::ranges::any_of(m_job.ladderPassed, [&](const RungPass &p) {
            if (p.rung == r.id) return true;
            const std::string prefix = std::string(rungKindKey(r.kind)) + ".";
            const bool boost = r.kind == RungKind::baseBoost || r.kind == RungKind::topBoost;
            return boost && r.boostKpa && p.rung.starts_with(prefix) &&
                   numberAt(p.rung, prefix.size()) >= *r.boostKpa - closeKpa;
        });
    }

    void add(Rung r) {
        if (r.state == RungState::outOfReach && m_ladder.ends.empty()) m_ladder.ends = r.why;
        m_ladder.rungs.push_back(std::move(r));
    }
    void addPlain(RungKind kind) { add(rungOf(kind, m_contents.base, {}, std::string(rungKindKey(kind)))); }

    // Boost targets from one to another: steps of at most boost.step, and, where pulls say what the solenoid
    // does, of at most boost.step.duty.
    std::vector<double> steps(double fromKpa, double toKpa, double content) const {
        const double step = limitOf(m_job, "boost.step"), dutyStep = limitOf(m_job, "boost.step.duty");
        const BoostGroup *group = boostGroupFor(m_groups, 0, content);
        std::vector<double> out;
        constexpr std::size_t most = 40;
        for (double at = fromKpa; at < toKpa - closeKpa && out.size() < most;) {
            // What is left goes in even steps: no last one of a few kPa.
            double next = at + (toKpa - at) / std::ceil((toKpa - at) / step - rounding);
            if (group) {
                const double duty = dutyFor(*group->fit, at - m_ambient);
                while (next > at + closeKpa && duty <= 1 &&
                       dutyFor(*group->fit, next - m_ambient) > duty + dutyStep + rounding)
                    next -= closeKpa;
            }
            out.push_back(next);
            at = next;
        }
        return out;
    }

    void addBaseBoost() {
        if (!m_sets) {
            Rung r = rungOf(RungKind::baseBoost, m_contents.base, {}, "base_boost");
            if (m_job.engine.charging == Charging::blower)
                r.remarks.push_back(MARKED("ladder.remark.blower",
                                           "A blower's boost goes by its pulley: nothing is stepped here."));
            return addBase(std::move(r), true);
        }
        const double spring = m_job.boost.springKpa;
        const double least = m_ambient + (spring > 0 ? spring : limitOf(m_job, "boost.step"));
        const double from = spring > 0 ? least : std::min(least, m_baseKpa);
        if (from > m_baseKpa + closeKpa)
            m_ladder.remarks.push_back(
                {MARKED("ladder.remark.stiff_spring",
                        "The spring alone gives {0}, more than is wanted on the base fuel."),
                 {{spring, Dimension::pressureGauge}}});
        m_baseKpa = std::max(m_baseKpa, from);
        m_topKpa = std::max(m_topKpa, m_baseKpa);
        bool first = true;
        std::vector<double> series = steps(from, m_baseKpa, m_contents.base);
        series.insert(series.begin(), from);
        for (const double kpa : series) {
            Rung r = rungOf(RungKind::baseBoost, m_contents.base, kpa, idOf(RungKind::baseBoost, kpa));
            if (first && !(spring > 0))
                r.remarks.push_back(MARKED("ladder.remark.spring",
                                           "The spring has not been measured: the first pull is with the "
                                           "solenoid off, whatever boost comes of it."));
            const bool ended = r.state == RungState::outOfReach;
            addBase(std::move(r), first);
            // More content may still be made of what the base fuel stands.
            if (ended && !first) {
                m_baseKpa = *m_ladder.rungs[m_ladder.rungs.size() - 2].boostKpa;
                break;
            }
            first = false;
        }
    }
    void addBase(Rung r, bool first) {
        r.remarks.insert(
            r.remarks.begin(),
            first
                ? MARKED("ladder.advice.first", "Idle, light load in a high gear, part throttle, one short "
                                                "pull, then full pulls. Fuel first, spark conservative.")
                : MARKED("ladder.advice.boost", "Spark stays low where the engine has not been; it is added "
                                                "after the boost."));
        add(std::move(r));
    }

    void addContents() {
        for (const double content : m_contents.up) {
            Rung r = rungOf(RungKind::content, content, m_sets ? std::optional(m_baseKpa) : std::nullopt,
                            idOf(RungKind::content, content * 100));
            r.remarks.push_back(MARKED("ladder.advice.content",
                                       "Same boost and same spark first: what did the fuel alone do? Is λ on "
                                       "target? Then spark, a little at a time."));
            const double rated = m_job.alcohol == Alcohol::methanol ? m_job.fuelSystem.ratedMethanol
                                                                    : m_job.fuelSystem.ratedEthanol;
            if (content > rated + sameContent)
                r.remarks.push_back({MARKED("ladder.remark.rated",
                                            "Pump, hoses and seals are rated for {0} only, as far as the job "
                                            "says: see their data sheets first."),
                                     {contentOf(rated)}});
            add(std::move(r));
        }
    }

    void addTopBoost() {
        if (!m_sets || m_contents.up.empty()) return;
        for (const double kpa : steps(m_baseKpa, m_topKpa, m_contents.top)) {
            Rung r = rungOf(RungKind::topBoost, m_contents.top, kpa, idOf(RungKind::topBoost, kpa));
            r.remarks.push_back(MARKED("ladder.advice.boost", "Spark stays low where the engine has not "
                                                              "been; it is added after the boost."));
            add(std::move(r));
        }
    }

    void addWayDown() {
        if (m_contents.up.empty()) return;
        Rung r = rungOf(RungKind::wayDown, m_contents.base, {}, "way_down");
        r.remarks.push_back(MARKED("ladder.advice.way_down",
                                   "Spark, boost and any spray must come back down on their own: the log is "
                                   "held against one at the top."));
        add(std::move(r));
    }

    double highestPower() const {
        double most = 0;
        for (const RungPass &p : m_job.ladderPassed)
            most = std::max(most, p.powerKw);
        return most;
    }
    bool enough() const { return m_job.ladder.powerKw > 0 && highestPower() >= m_job.ladder.powerKw; }

    // Enough is enough: what is left of the way up is only for fuels that it must run on.
    void leaveOut() {
        const std::vector<double> must = contentsOfFuels(m_job);
        const double highest = must.empty() ? 0 : std::ranges::max(must);
        const Phrase why{MARKED("ladder.enough", "Enough is enough: {0} of the {1} wanted is there."),
                         {{highestPower(), Dimension::power}, {m_job.ladder.powerKw, Dimension::power}}};
        for (Rung &r : m_ladder.rungs) {
            const bool boost = r.kind == RungKind::baseBoost || r.kind == RungKind::topBoost;
            const bool content = r.kind == RungKind::content && r.content > highest + sameContent;
            if (r.state == RungState::passed || !(boost || content)) continue;
            r.state = RungState::notNeeded;
            r.why = why;
        }
        m_ladder.ends = {};
        for (const Rung &r : m_ladder.rungs)
            if (r.state == RungState::outOfReach && m_ladder.ends.empty()) m_ladder.ends = r.why;
    }

    // Where no other content can be reached nothing has to come down, and where nothing can be pulled there
    // is nothing to drive or to hand over.
    void endWithoutPulls() {
        const auto reached = [&](std::initializer_list<RungKind> kinds) {
            return std::ranges::any_of(m_ladder.rungs, [&](const Rung &r) {
                return std::ranges::find(kinds, r.kind) != kinds.end() && r.state != RungState::outOfReach;
            });
        };
        const auto end = [&](std::initializer_list<RungKind> kinds) {
            for (Rung &r : m_ladder.rungs)
                if (std::ranges::find(kinds, r.kind) != kinds.end() && open(r)) {
                    r.state = RungState::outOfReach;
                    r.why = m_ladder.ends;
                }
        };
        if (m_ladder.ends.empty() || reached({RungKind::content, RungKind::topBoost})) return;
        end({RungKind::wayDown});
        if (!reached({RungKind::baseBoost})) end({RungKind::road, RungKind::handOver});
    }

    bool open(const Rung &r) const { return r.state == RungState::later; }

    void findNext() {
        const auto at = std::ranges::find_if(m_ladder.rungs, [&](const Rung &r) { return open(r); });
        if (at != m_ladder.rungs.end()) at->state = RungState::next;
    }

    static constexpr double rounding = 1e-9;
    const Study &m_study;
    const Job &m_job;
    std::string_view m_today;
    LadderContents m_contents;
    std::vector<BoostGroup> m_groups;
    double m_ambient, m_baseKpa = 0, m_topKpa = 0;
    bool m_sets = false; ///< boost can be set, so that it goes in steps
    Ladder m_ladder;
};

} // namespace

std::vector<double> usualLadderContents() {
    return {0.10, 0.25, 0.40, 0.50, 0.60, 0.70};
}

LadderContents ladderContents(const Study &study) {
    const Job &job = study.job();
    LadderContents out;
    out.base = job.calibration.baseContent;
    out.top = job.calibration.topContent;
    if (job.ladder.topContent > 0) {
        out.top = job.ladder.topContent;
    } else if (const auto fuels = fuelsForPlans(job, out.base, {})) {
        out.top = std::min(out.top, std::ranges::max(fuels->shelf, {}, &ShelfFuel::content).content);
    }
    if (out.top <= out.base + sameContent) {
        out.top = out.base;
        return out;
    }
    std::vector<double> wanted{out.top};
    for (const double c : contentsOfFuels(job))
        wanted.push_back(std::min(c, out.top));
    std::vector<double> between;
    if (job.ladder.route == LadderRoute::steps) {
        for (const LadderContent &c : job.ladderContents)
            between.push_back(c.content);
        if (between.empty()) between = usualLadderContents();
    }
    // Those that must be there first: a step that lies beside one of them is left out.
    for (const auto &list : {wanted, between})
        for (const double c : list)
            if (c > out.base + sameContent && c <= out.top &&
                std::ranges::none_of(out.up, [&](double u) { return std::abs(u - c) < sameContent; }))
                out.up.push_back(c);
    std::ranges::sort(out.up);
    return out;
}

Ladder planLadder(const Study &study, std::string_view today) {
    if (study.job().control == FuelControl::mechanical) return planPasses(study);
    return LadderPlanner(study, today).plan();
}

void setForRung(Job &job, const Rung &rung) {
    if (rung.pass) job.mechanical.injection.main.diameterMm = rung.pass->pillMm;
    if (!rung.boostKpa) return;
    const Study before(job);
    const LadderContents contents = ladderContents(before);
    // What the tables ask for now is the goal: once they are turned down it would be forgotten.
    const std::vector<double> goal = boostTargets(before, {contents.base, contents.top});
    if (job.ladder.baseBoostKpa <= 0) job.ladder.baseBoostKpa = goal[0];
    if (job.ladder.topBoostKpa <= 0) job.ladder.topBoostKpa = goal[1];
    constexpr int rounds = 8; // either end moves the other's content a little
    for (int i = 0; i < rounds; ++i) {
        if (rung.kind != RungKind::topBoost) moveBoostTarget(job, contents.base, *rung.boostKpa);
        moveBoostTarget(job, contents.top, *rung.boostKpa);
    }
    if (rung.cutKpa > 0) job.boost.cutKpa = rung.cutKpa;
}

} // namespace wheelwright
