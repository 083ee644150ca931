// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/boost_plan.h"

#include "core/base/limits.h"
#include "core/study/headroom.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace wheelwright {
namespace {

void finish(BoostGroup &g) {
    std::vector<double> duty, boost;
    double sum = 0;
    for (const BoostPoint &p : g.points) {
        duty.push_back(p.duty);
        boost.push_back(p.boostKpa);
        sum += p.content;
    }
    g.content = sum / static_cast<double>(g.points.size());
    if (std::set<double>(duty.begin(), duty.end()).size() >= 2) g.fit.emplace(duty, boost);
}

// Rise per duty at the upper end of a fit, kPa: of its last step that rises.
double lastSlope(const MonotoneFit &fit) {
    const auto &x = fit.x();
    const auto &y = fit.fitted();
    for (std::size_t i = x.size() - 1; i > 0; --i)
        if (y[i] > y[i - 1]) return (y[i] - y[i - 1]) / (x[i] - x[i - 1]);
    return 0;
}

double boostFor(const MonotoneFit &fit, double duty) {
    const double past = duty - fit.x().back();
    return past > 0 ? fit.fitted().back() + past * lastSlope(fit) : fit.at(duty);
}

} // namespace

double dutyFor(const MonotoneFit &fit, double boostKpa) {
    const double inside = fit.reaches(boostKpa);
    if (!std::isnan(inside)) return inside;
    const double slope = lastSlope(fit);
    return slope > 0 ? fit.x().back() + (boostKpa - fit.fitted().back()) / slope : 2;
}

std::vector<BoostGroup> boostGroups(const Job &job) {
    std::vector<BoostPoint> points = job.boost.points;
    std::ranges::stable_sort(points, [](const BoostPoint &a, const BoostPoint &b) {
        return a.gear < b.gear || (a.gear == b.gear && a.content < b.content);
    });
    constexpr double sameContent = 0.075;
    std::vector<BoostGroup> groups;
    for (const BoostPoint &p : points) {
        const bool joins = !groups.empty() && groups.back().gear == p.gear &&
                           p.content - groups.back().points.back().content <= sameContent;
        if (!joins) groups.push_back({p.gear, 0, {}, {}});
        groups.back().points.push_back(p);
    }
    for (BoostGroup &g : groups)
        finish(g);
    return groups;
}

const BoostGroup *boostGroupFor(const std::vector<BoostGroup> &groups, double gear, double content) {
    const BoostGroup *best = nullptr;
    for (const BoostGroup &g : groups) {
        if (!g.fit || (gear > 0 && g.gear != gear)) continue;
        const double distance = std::abs(g.content - content);
        // Of equally near ones the taller gear, which loads the engine longer.
        if (!best || distance < std::abs(best->content - content) ||
            (distance == std::abs(best->content - content) && g.gear > best->gear))
            best = &g;
    }
    return best;
}

OverboostCut overboostCut(const Job &job, double boostKpa, double content) {
    const double room = limitOf(job, "boost.cut.room");
    const double engine = job.engine.boostLimitKpa.at(content), readable = job.engine.mapSensorMaxKpa;
    const Measured gauge{boostKpa - job.conditions.ambientKpa, Dimension::pressureGauge};
    // The cut must come before the engine's limit, and not into the boost itself or its peak.
    constexpr double overPeakKpa = 3; // common practice
    const double cut = std::min(boostKpa + std::max({limitOf(job, "boost.step"), room,
                                                     limitOf(job, "boost.overshoot") + overPeakKpa}),
                                engine);
    if (cut < boostKpa + room)
        return {cut,
                {MARKED("boost_plan.no_room", "The engine's limit of {1} leaves no room for a cut over {0}."),
                 {gauge, {engine, Dimension::pressure}}}};
    if (cut > readable)
        return {cut,
                {MARKED("boost_plan.cut_unreadable",
                        "A cut over {0} cannot be read: the MAP sensor ends at {1}."),
                 {gauge, {readable, Dimension::pressure}}}};
    return {cut, {}};
}

BoostStepPlan planBoostSteps(const Study &study, const BoostGroup &group, double content) {
    const Job &job = study.job();
    BoostStepPlan plan;
    const MonotoneFit &fit = *group.fit;
    const double ambient = job.conditions.ambientKpa;
    const double step = limitOf(job, "boost.step"), dutyStep = limitOf(job, "boost.step.duty");
    plan.targetKpa = boostTargets(study, {content}).front() - ambient;
    plan.fromKpa = std::ranges::max_element(group.points, {}, &BoostPoint::boostKpa)->boostKpa;
    constexpr double near = 0.5; // kPa: nobody controls boost closer
    constexpr std::size_t mostSteps = 40;
    double boost = plan.fromKpa, duty = std::min(1.0, dutyFor(fit, boost));
    if (boost >= plan.targetKpa - near)
        plan.remark = {MARKED("boost_plan.reached", "The target, {0}, has been reached in these pulls: {1}."),
                       {{plan.targetKpa, Dimension::pressureGauge}, {boost, Dimension::pressureGauge}}};
    while (boost < plan.targetKpa - near && plan.steps.size() < mostSteps) {
        double next = std::min(boost + step, plan.targetKpa), at = dutyFor(fit, next);
        if (at > duty + dutyStep) {
            at = duty + dutyStep;
            next = boostFor(fit, at);
        }
        if (at > 1 || next <= boost + 1e-6) {
            plan.remark = {
                MARKED("boost_plan.solenoid_ends",
                       "The solenoid comes to its end at about {0}: a stiffer spring before more boost."),
                {{boostFor(fit, 1), Dimension::pressureGauge}}};
            break;
        }
        boost = next;
        duty = at;
        const OverboostCut cut = overboostCut(job, boost + ambient, content);
        if (!cut.why.text.empty()) {
            plan.remark = cut.why;
            break;
        }
        plan.steps.push_back({duty, boost, fit.sigma(), cut.kpa, duty > fit.x().back()});
    }
    return plan;
}

} // namespace wheelwright
