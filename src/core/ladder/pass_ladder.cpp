// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ladder/pass_ladder.h"

#include "core/base/limits.h"
#include "core/base/prior_fit.h"
#include "core/study/mechanical_lambda.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

constexpr double hundredths = 100;

std::string passId(double pillMm) {
    return std::string(rungKindKey(RungKind::pass)) + "." + std::to_string(std::lround(pillMm * hundredths));
}

bool samePill(const Job &job, double a, double b) {
    constexpr double ofStep = 0.25;
    return std::abs(a - b) < ofStep * job.mechanical.pillStepMm;
}

Job withPill(Job job, double pillMm) {
    job.mechanical.injection.main.diameterMm = pillMm;
    return job;
}

// λ follows the oxygen: the engine breathes as the job says it, in the air of when its pills were chosen.
double airOfToday(const Job &job) {
    const WeatherAdvice w = adviseForWeather(job);
    return w.densityThen > 0 ? w.densityNow / w.densityThen : 1;
}

PassPlan planOf(const Job &job, double pillMm) {
    const Job fitted = withPill(job, pillMm);
    const double air = airOfToday(job);
    PassPlan p;
    p.pillMm = pillMm;
    const MixturePoint judged = mixtureOfJob(fitted, job.mechanical.judgedRpm);
    p.lambda = judged.lambda * air;
    p.afr = judged.afr * air;
    for (const MixturePoint &m : mixtureOverSpeed(fitted))
        if (m.lambda * air > p.leanestLambda) {
            p.leanestLambda = m.lambda * air;
            p.leanestRpm = m.rpm;
        }
    p.exhaustC = passExhaust(job, p.lambda, pillMm);
    return p;
}

// The largest pill on the grid of steps about the one that is in which is no leaner than the start.
double firstPill(const Job &job) {
    const double in = job.mechanical.injection.main.diameterMm, step = job.mechanical.pillStepMm,
                 rich = limitOf(job, "ladder.pass.start");
    double pill = in;
    const auto lambda = [&](double mm) { return passLambda(job, mm, job.mechanical.judgedRpm); };
    constexpr int most = 200;
    for (int i = 0; i < most && lambda(pill) > rich && pill - step > 0; ++i)
        pill -= step;
    for (int i = 0; i < most && lambda(pill + step) <= rich; ++i)
        pill += step;
    return pill;
}

// The order in which they were made.
Phrase hardStart(const Job &job) {
    if (job.mechanical.passes.empty() || !job.mechanical.passes.back().hardStart) return {};
    return {MARKED("ladder.ends.hard_start", "Hard to start with the {0} pill: the bottom end is lean first. "
                                             "No larger main pill; lean only the "
                                             "top, by a high-speed bypass or the pump spring."),
            {{job.mechanical.passes.back().pillMm, Dimension::length}}};
}

} // namespace

PassesOfPill passesWith(const Job &job, double pillMm) {
    const auto &all = job.mechanical.passes.values();
    PassesOfPill out;
    for (const PassRecord &p : all)
        if (samePill(job, p.pillMm, pillMm)) out.made = &p;
    if (!out.made) return out;
    for (const PassRecord &p : all) {
        if (&p == out.made) break;
        if (!samePill(job, p.pillMm, pillMm)) out.before = &p;
    }
    return out;
}

double passLambda(const Job &job, double pillMm, double rpm) {
    return mixtureOfJob(withPill(job, pillMm), rpm).lambda * airOfToday(job);
}

Uncertain passExhaust(const Job &job, double lambda, double withoutPillMm) {
    // About 480 °C at λ 0.8, and 11 K for each hundredth of λ: between the 600 °F of far too rich and the
    // 1000 °F that are wanted, with how far engines and thermocouples differ. From memory.
    constexpr double at = 0.8, levelC = 480, levelSigmaC = 100, slopeC = 1100, slopeSigmaC = 600,
                     scatterC = 20;
    std::vector<PriorRow> rows;
    for (const PassRecord &p : job.mechanical.passes) {
        if (!(p.exhaustC > 0) || samePill(job, p.pillMm, withoutPillMm)) continue;
        const double beside = passLambda(job, p.pillMm, job.mechanical.judgedRpm) - at;
        rows.push_back({{1, beside}, p.exhaustC - levelC - slopeC * beside, scatterC});
    }
    const PriorFit fit({levelSigmaC, slopeSigmaC}, rows);
    const std::vector<double> here{1, lambda - at};
    const PriorFit::Band band = fit.of(here);
    return {levelC + slopeC * here[1] + band.mean, std::hypot(band.sigma, scatterC * fit.raised())};
}

Ladder planPasses(const Study &study) {
    const Job &job = study.job();
    Ladder ladder;
    ladder.passes = true;
    const double content = mechanicalContent(job), goal = limitOf(job, "ladder.pass.goal");
    const auto passed = [&](const std::string &id) {
        return std::ranges::any_of(job.ladderPassed.values(),
                                   [&](const RungPass &p) { return p.rung == id; });
    };
    const auto add = [&](Rung r) {
        r.content = content;
        if (passed(r.id)) {
            r.state = RungState::passed;
            r.why = {};
        }
        ladder.rungs.push_back(std::move(r));
    };
    Rung preflight;
    preflight.id = rungKindKey(RungKind::preflight);
    preflight.minutes = limitOf(job, "ladder.preflight_min");
    add(preflight);
    const Phrase hard = hardStart(job);
    const double hardMm = hard.empty() ? 0 : job.mechanical.passes.back().pillMm;
    double before = 0;
    constexpr int most = 60;
    double pill = firstPill(job);
    for (int i = 0; i < most; ++i, pill += job.mechanical.pillStepMm) {
        Rung r;
        r.kind = RungKind::pass;
        r.id = passId(pill);
        r.pass = planOf(job, pill);
        if (r.pass->leanestLambda > goal) break;
        r.pass->leanerBy = before > 0 ? r.pass->lambda / before - 1 : 0;
        before = r.pass->lambda;
        r.minutes = limitOf(job, "ladder.pull_min");
        r.remarks.push_back(
            i == 0
                ? MARKED("ladder.advice.first_pass",
                         "A warm-up pass first. Far too rich is safe but washes oil off: look at the "
                         "oil after each pass, and change it where methanol is in it.")
                : MARKED("ladder.advice.pass", "One pill, one pass. Oil pressure in sight; shut off clean, "
                                               "then read the plugs."));
        if (!hard.empty() && pill > hardMm + job.mechanical.pillStepMm / 4) {
            r.state = RungState::outOfReach;
            r.why = hard;
        }
        add(std::move(r));
    }
    if (ladder.rungs.size() == 1)
        ladder.ends = {
            MARKED("ladder.ends.no_pill",
                   "No main pill stays under {0} at every speed: a larger pump or smaller nozzles first."),
            {{goal, Dimension::mixture}}};
    for (const Rung &r : ladder.rungs)
        if (r.state == RungState::outOfReach && ladder.ends.empty()) ladder.ends = r.why;
    Rung handOver;
    handOver.kind = RungKind::handOver;
    handOver.id = rungKindKey(RungKind::handOver);
    add(handOver);
    for (const RungPass &p : job.ladderPassed)
        ladder.spent += p.price;
    const auto next = std::ranges::find(ladder.rungs, RungState::later, &Rung::state);
    if (next != ladder.rungs.end()) next->state = RungState::next;
    for (const Rung &r : ladder.rungs)
        if (r.state == RungState::next || r.state == RungState::later) ladder.minutes += r.minutes;
    return ladder;
}

} // namespace wheelwright
