// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/headroom.h"

#include "core/base/error.h"
#include "core/base/limits.h"
#include "core/flow/injector.h"
#include "core/job/job_schema.h"
#include "core/study/evaluation.h"
#include "core/study/fuel_delivery.h"
#include "core/study/study.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <optional>

namespace wheelwright {
namespace {

using enum LimitingPart;
using enum CalibratedQuantity;
constexpr std::array allParts{dutyCaution, dutyStop, pump, mapSensor, springRatio, engine};

bool known(const Job &job, LimitingPart part) {
    if (part == LimitingPart::pump) return !job.supply.pumps.empty() && !job.supply.points.empty();
    return part != springRatio || job.boost.springKpa > 0;
}

/// What the fuel does not change, at the loads of an evaluation and on to the end of the scale: worked out
/// once for all contents, since data sheets are slow to read.
struct Supply {
    struct Here {
        double deadMs, msPerMm3, pumpLMin; ///< ms per mm³ on a fuel like the one they were rated with
    };
    std::vector<double> loads;
    std::vector<EdgeOfReach> places; ///< of the loads between those of the evaluation, at its first speed

    explicit Supply(const Evaluation &e) : m_job(e.job()), m_rail(e.job()), m_dead(e.job().injectors) {
        constexpr double leastKpa = 20, stepKpa = 10;
        for (const double load : e.load())
            if (load > leastKpa && load < mostFrontierKpa) loads.push_back(load);
        loads.insert(loads.begin(), leastKpa);
        while (loads.back() + stepKpa < mostFrontierKpa)
            loads.push_back(loads.back() + stepKpa);
        loads.push_back(mostFrontierKpa);
        if (known(m_job, LimitingPart::pump)) m_pumps.emplace(m_job);
        for (const double load : loads) {
            const EdgePoint p = e.pointAt(0, load);
            places.push_back({0, p.loadIndex, p.share, load});
        }
        m_perSpeed = m_rail.bySpeed() ? loads.size() : 0;
        for (const double rpm : e.rpm().first(m_rail.bySpeed() ? e.rpm().size() : 1))
            for (const double load : loads)
                m_here.push_back(at({rpm, load}));
    }

    const Here &at(std::size_t rpmIndex, std::size_t load) const {
        return m_here[rpmIndex * m_perSpeed + load];
    }
    Here at(EnginePoint point) const {
        const double dp = m_rail.acrossKpa(point);
        return {m_dead.at(dp), pulseWidthMs(1, injectorFlowOn(m_job, dp, m_job.injectors.testFluidKgM3), 0),
                m_pumps ? m_pumps->at(point) : 0};
    }

  private:
    const Job &m_job;
    RailPressure m_rail;
    UsualDeadTime m_dead;
    std::optional<PumpFlow> m_pumps; ///< where they are known
    std::vector<Here> m_here;
    std::size_t m_perSpeed = 0;
};

/// One content of a job: asks what the fuel system must do when boost peaks at a manifold pressure, at full
/// throttle. Above the air around, every speed keeps its distance from the highest peak, as the boost tables
/// have it; the same points as Verify's are looked at.
class ContentAsk {
  public:
    ContentAsk(const Evaluation &evaluation, const Supply &supply, double content)
        : m_e(evaluation), m_job(evaluation.job()), m_supply(supply), m_slice(evaluation.sliceAt(content)),
          m_demand(m_job, content, m_job.conditions.intakeColdestC),
          m_longer(1 / volumeFlowOn(1, m_job.injectors.testFluidKgM3, m_slice.mixtureDensity)) {
        for (const ReachAtSpeed &r : m_slice.reach)
            if (r.runs) {
                m_targetKpa = std::max(m_targetKpa, r.targetKpa);
                m_peakKpa = std::max(m_peakKpa, r.highestKpa);
            }
        m_mm3.reserve(m_slice.reach.size() * supply.loads.size());
        for (std::size_t i = 0; i < m_slice.reach.size(); ++i)
            for (const EdgeOfReach &place : supply.places) {
                const EdgePoint p = m_e.edgePoint({i, place.below, place.share, place.loadKpa});
                m_mm3.push_back(m_demand.mm3(p.of(m_slice.fuel), {p.rpm, p.loadKpa}, p.of(m_slice.lambda)));
            }
    }

    double highestWithDuty(double limit) const {
        const Injectors &inj = m_job.injectors;
        return highest([&](const Asked &a, const Supply::Here &here) {
            return injectorDutyOf(a.mm3 * m_longer * here.msPerMm3, here.deadMs, a.rpm, inj.batch) <= limit;
        });
    }

    double highestWithPumps() const {
        const double stop = limitOf(m_job, "flow.pump.stop");
        return highest([&](const Asked &a, const Supply::Here &here) {
            return engineFlowLMin(m_job, a.mm3, a.rpm) * (1 + m_job.supply.margin) <= stop * here.pumpLMin;
        });
    }

    double demandAtTargetLMin() const {
        double worst = 0;
        for (std::size_t i = 0; i < m_slice.reach.size(); ++i)
            if (m_slice.reach[i].runs) {
                const Asked a = askedAt(i, m_slice.reach[i].targetKpa);
                worst = std::max(worst, engineFlowLMin(m_job, a.mm3, a.rpm));
            }
        return worst;
    }

    double targetKpa() const { return m_targetKpa; }
    double peakKpa() const { return m_peakKpa; }
    double densityKgM3() const { return m_slice.mixtureDensity; }

  private:
    struct Asked {
        double rpm, mm3; ///< of one injector and cycle
    };

    Asked askedAt(std::size_t rpmIndex, double load) const {
        const EdgePoint p = m_e.pointAt(rpmIndex, load);
        return {p.rpm, m_demand.mm3(p.of(m_slice.fuel), {p.rpm, load}, p.of(m_slice.lambda))};
    }

    bool fitsAt(std::size_t i, double load, auto fits) const {
        return fits(askedAt(i, load), m_supply.at({m_e.rpm()[i], load}));
    }

    // The highest peak at which nothing fails at any speed. Every speed is looked through upwards to where it
    // fails first, since a table may bulge; the least of what those leave to the peak counts.
    double highest(auto fits) const {
        constexpr double closeKpa = 0.01;
        const double ambient = m_job.conditions.ambientKpa;
        double kpa = mostFrontierKpa;
        for (std::size_t i = 0; i < m_slice.reach.size(); ++i) {
            if (!m_slice.reach[i].runs) continue;
            const double under = m_peakKpa - m_slice.reach[i].highestKpa; // how far below the peak it stays
            // Peak of the whole engine when this speed is at a load.
            const auto peakAt = [&](double load) { return load <= ambient ? load : load + under; };
            for (std::size_t l = 0; l < m_supply.loads.size(); ++l) {
                const double load = m_supply.loads[l];
                if (l > 0 && peakAt(m_supply.loads[l - 1]) >= kpa) break; // another speed ends it before
                const Asked here{m_e.rpm()[i], m_mm3[i * m_supply.loads.size() + l]};
                if (fits(here, m_supply.at(i, l))) continue;
                if (l == 0) return 0;
                double good = m_supply.loads[l - 1], bad = load;
                while (bad - good > closeKpa) {
                    const double middle = (good + bad) / 2;
                    (fitsAt(i, middle, fits) ? good : bad) = middle;
                }
                kpa = std::min(kpa, peakAt(good));
                break;
            }
        }
        return kpa;
    }

    const Evaluation &m_e;
    const Job &m_job;
    const Supply &m_supply;
    ContentSlice m_slice;
    InjectorDemand m_demand;
    std::vector<double> m_mm3; ///< at every speed and every load of the supply
    double m_longer;           ///< that injectors are open on this fuel
    double m_targetKpa = 0, m_peakKpa = 0;
};

double allowed(const Job &job, const ContentAsk &ask, LimitingPart part, double content) {
    switch (part) {
    case dutyCaution:
    case dutyStop: {
        const double limit = limitOf(job, part == dutyStop ? "flow.duty.stop" : "flow.duty.caution");
        return ask.highestWithDuty(limit);
    }
    case LimitingPart::pump:
        return ask.highestWithPumps();
    case mapSensor:
        return job.engine.mapSensorMinKpa + limitOf(job, "boost.map_range.span") *
                                                (job.engine.mapSensorMaxKpa - job.engine.mapSensorMinKpa);
    case springRatio:
        return job.conditions.ambientKpa + limitOf(job, "boost.spring_ratio") * job.boost.springKpa;
    case LimitingPart::engine:
        return job.engine.boostLimitKpa.at(content);
    }
    return 0;
}

Measured contentOf(double c) {
    return {c, Dimension::content};
}
Measured pressureOf(double kpa) {
    return {kpa, Dimension::pressure};
}

// What a part must bear: the peak; a spring holds the target, which its solenoid raises.
const std::vector<double> &askedOf(const Frontier &f, const FrontierLine &line) {
    return line.part == springRatio ? f.targetKpa : f.peakKpa;
}

// Where what is asked meets a part's line first, going up in content; and what the part allows at the top
// content.
Phrase describe(const Study &study, const Frontier &f, const FrontierLine &line) {
    const std::vector<double> &asked = askedOf(f, line);
    const Phrase name = limitingPartTitle(line.part);
    const double top = study.job().calibration.topContent;
    const Measured atTop = pressureOf(boostAllowed(study, line.part, top));
    if (line.kpa[0] < asked[0])
        return {MARKED("frontier.from_base",
                       "{A}: reached from the base fuel on, {0} allowed and {1} asked; with {2} at {3}."),
                {pressureOf(line.kpa[0]), pressureOf(asked[0]), contentOf(top), atTop},
                {},
                {name}};
    for (std::size_t i = 0; i + 1 < f.contents.size(); ++i) {
        const double a = line.kpa[i] - asked[i], b = line.kpa[i + 1] - asked[i + 1];
        if (a < 0 || b >= 0) continue;
        const double share = a / (a - b);
        return {MARKED("frontier.reached", "{A}: reached at {0} with {1}, or with {2} at {3}."),
                {contentOf(f.contents[i] + (f.contents[i + 1] - f.contents[i]) * share),
                 pressureOf(asked[i] + (asked[i + 1] - asked[i]) * share), contentOf(top), atTop},
                {},
                {name}};
    }
    double least = mostFrontierKpa, where = 0;
    for (std::size_t i = 0; i < f.contents.size(); ++i)
        if (line.kpa[i] - asked[i] < least) {
            least = line.kpa[i] - asked[i];
            where = f.contents[i];
        }
    return {MARKED("frontier.never", "{A}: never reached; nearest at {0}, with {1} to spare."),
            {contentOf(where), {least, Dimension::pressureDifference}},
            {},
            {name}};
}

// The content at which a part ends the target first; 2 when none does.
double firstHit(const Frontier &f, const FrontierLine &line) {
    const std::vector<double> &asked = askedOf(f, line);
    for (std::size_t i = 0; i < f.contents.size(); ++i)
        if (line.kpa[i] < asked[i]) return f.contents[i];
    return 2;
}

void sayInOrder(const Study &study, Frontier &f) {
    std::vector<const FrontierLine *> order;
    for (const FrontierLine &line : f.lines)
        order.push_back(&line);
    const auto least = [&](const FrontierLine *line) {
        const std::vector<double> &asked = askedOf(f, *line);
        double room = mostFrontierKpa;
        for (std::size_t i = 0; i < f.contents.size(); ++i)
            room = std::min(room, line->kpa[i] - asked[i]);
        return room;
    };
    std::ranges::stable_sort(order, [&](const FrontierLine *a, const FrontierLine *b) {
        const double ha = firstHit(f, *a), hb = firstHit(f, *b);
        return ha < hb || (ha == hb && least(a) < least(b));
    });
    for (const FrontierLine *line : order)
        f.sentences.push_back({line->part, describe(study, f, *line)});
}

} // namespace

std::string_view limitingPartId(LimitingPart p) {
    constexpr std::array<std::string_view, 6> ids{"duty_caution", "duty_stop",    "pump",
                                                  "map_sensor",   "spring_ratio", "engine"};
    return ids[static_cast<std::size_t>(p)];
}

PhraseText limitingPartTitle(LimitingPart p) {
    constexpr std::array titles{MARKED("limiting.duty_caution", "Injectors, caution"),
                                MARKED("limiting.duty_stop", "Injectors, stop"),
                                MARKED("limiting.pump", "Pumps"),
                                MARKED("limiting.map_sensor", "MAP sensor"),
                                MARKED("limiting.spring_ratio", "Spring"),
                                MARKED("limiting.engine", "Engine limit")};
    return titles[static_cast<std::size_t>(p)];
}

bool Frontier::reaches(const FrontierLine &line) const {
    return firstHit(*this, line) <= 1;
}

std::size_t Frontier::nearest(double content) const {
    if (contents.empty()) return 0;
    return static_cast<std::size_t>(std::lround(content * static_cast<double>(contents.size() - 1)));
}

double boostAllowed(const Study &given, LimitingPart part, double content) {
    const Study &study = given.inPressure();
    const Job &job = study.job();
    if (!(content >= 0 && content <= 1))
        throw InputError("content",
                         MARKED("expected.a_volume_fraction_from_0_to_1", "a volume fraction from 0 to 1"),
                         std::to_string(content));
    if (!known(job, part))
        throw InputError(std::string(limitingPartTitle(part).text),
                         MARKED("expected.data_in_the_job", "data in the job"), MARKED("found.none", "none"));
    const Supply supply(study.evaluation());
    return std::min(mostFrontierKpa,
                    allowed(job, ContentAsk(study.evaluation(), supply, content), part, content));
}

Frontier frontier(const Study &given, std::size_t points, std::stop_token stop) {
    const Study &study = given.inPressure();
    const Job &job = study.job();
    if (points < 2 || points > 201)
        throw InputError("points", MARKED("expected.2_to_201", "2 to 201"), std::to_string(points));
    Frontier f;
    for (const LimitingPart part : allParts)
        if (known(job, part)) f.lines.push_back({part, {}});
    const Supply supply(study.evaluation());
    for (std::size_t i = 0; i < points; ++i) {
        if (stop.stop_requested()) return {};
        const double content = static_cast<double>(i) / static_cast<double>(points - 1);
        const ContentAsk ask(study.evaluation(), supply, content);
        f.contents.push_back(content);
        f.targetKpa.push_back(ask.targetKpa());
        f.peakKpa.push_back(ask.peakKpa());
        for (FrontierLine &line : f.lines)
            line.kpa.push_back(std::min(mostFrontierKpa, allowed(job, ask, line.part, content)));
        const Blend blend = blendAt(job, content);
        const double gS = ask.demandAtTargetLMin() * ask.densityKgM3() / 60;
        const BsfcBand bsfc = usualBsfc(f.targetKpa.back() > job.conditions.ambientKpa * 1.05,
                                        blend.ethanol.fraction(), blend.methanol.fraction());
        f.powerKw.emplace_back(powerKw(gS, bsfc.high), powerKw(gS, bsfc.low));
    }
    sayInOrder(study, f);
    return f;
}

std::vector<double> boostTargets(const Study &study, const std::vector<double> &contents) {
    const Job &job = study.job();
    std::vector<double> speeds{job.engine.revLimitRpm};
    for (const CalibratedQuantity q : {boost, fuel})
        for (const Table2D *t : tablesOf(job, q))
            for (const double rpm : t->x().points())
                if (rpm < job.engine.revLimitRpm) speeds.push_back(rpm);
    std::vector<double> targets;
    for (const double content : contents) {
        double target = 0;
        for (const ReachAtSpeed &r : study.reach(content, speeds))
            target = std::max(target, r.targetKpa);
        targets.push_back(target);
    }
    return targets;
}

void moveBoostTarget(Job &job, double content, double kpa) {
    const Study before(job);
    const double step = kpa - boostTargets(before, {content}).front();
    const BlendEnds ends = before.ends(boost, content);
    const bool one = ends.low == ends.high;
    const double w = one ? 0 : ends.weight;
    const double norm = (1 - w) * (1 - w) + w * w; // least change: both ends move by their weights
    const TableField &field = tableOf(boost, false);
    for (const bool high : {false, true}) {
        if (high && one) continue;
        const double move = step * (high ? w : 1 - w) / norm;
        Table2D &t = endTable(job, boost, content, high);
        for (std::size_t y = 0; y < t.y().size(); ++y) {
            const bool gears = job.calibration.boostAxis == BoostAxis::gear;
            const double throttle = !gears && t.y().last() > 0 ? t.y()[y] / t.y().last() : 1;
            for (std::size_t x = 0; x < t.x().size(); ++x)
                t.setCell({x, y}, std::clamp(t.cell(x, y) + move * throttle, field.least, field.most));
        }
    }
}

} // namespace wheelwright
