// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/school.h"

#include <algorithm>

namespace wheelwright {
namespace {

using Ends = std::array<BlendEnds, calibratedQuantityCount>;

// School D: the narrowest window that holds the content, or the nearest one.
const ContentLevel &windowFor(const std::vector<ContentLevel> &levels, double content, bool &outside) {
    const auto distance = [content](const ContentLevel &l) {
        return std::max({l.windowLow - content, content - l.windowHigh, 0.0});
    };
    const auto best = std::ranges::min_element(levels, [&](const ContentLevel &a, const ContentLevel &b) {
        const double da = distance(a), db = distance(b);
        return da < db || (da == db && a.windowHigh - a.windowLow < b.windowHigh - b.windowLow);
    });
    outside = distance(*best) > 1e-12;
    return *best;
}

Ends alone(const ContentLevel &level, bool outside) {
    Ends ends;
    for (CalibratedQuantity q : allQuantities) {
        BlendEnds &e = ends[static_cast<std::size_t>(q)];
        e.low = e.high = &level.of(q);
        e.lowContent = e.highContent = level.content;
        e.outside = outside;
    }
    return ends;
}

// School E: linear between neighbours; beyond the last of them as the job says.
Ends stacked(const Calibration &c, double content) {
    const std::vector<ContentLevel> &levels = c.levels.values();
    if (levels.size() == 1) return alone(levels[0], content != levels[0].content);
    std::size_t high = 1;
    while (high + 1 < levels.size() && levels[high].content < content)
        ++high;
    const ContentLevel &a = levels[high - 1], &b = levels[high];
    double weight = (content - a.content) / (b.content - a.content);
    const bool outside = weight < 0 || weight > 1;
    const bool goesOn = outside && c.outside == OutsideRule::extrapolate;
    weight = goesOn ? std::clamp(weight, -furthestExtrapolation, 1 + furthestExtrapolation)
                    : std::clamp(weight, 0.0, 1.0);
    Ends ends;
    for (CalibratedQuantity q : allQuantities)
        ends[static_cast<std::size_t>(q)] = {&a.of(q), &b.of(q), a.content, b.content,
                                             weight,   1,        outside,   goesOn};
    return ends;
}

bool hasLevels(const Calibration &c) {
    return definitionOf(c.school).levels && !c.levels.empty();
}

} // namespace

Ends SchoolModel::at(double content) const {
    const Calibration &c = m_job.calibration;
    if (hasLevels(c)) {
        if (c.school == School::stack) return stacked(c, content);
        bool outside = false;
        const ContentLevel &level = windowFor(c.levels, content, outside);
        return alone(level, outside);
    }
    const Weights w = m_weights.at(content);
    Ends ends;
    for (CalibratedQuantity q : allQuantities) {
        const TwoTable &t = c.of(q);
        ends[static_cast<std::size_t>(q)] = {&t.base, &t.top, c.baseContent, c.topContent,
                                             w[q],    1,      w.outside,     w.extrapolated};
    }
    if (c.school == School::fuelModel) {
        BlendEnds &fuel = ends[static_cast<std::size_t>(CalibratedQuantity::fuel)];
        fuel.high = fuel.low;
        fuel.highContent = fuel.lowContent;
        fuel.weight = 0;
        fuel.scale = c.learnedFuelCorrection.at(content);
    }
    return ends;
}

namespace {

template <class Table, class CalibrationType>
std::vector<Table *> tablesIn(CalibrationType &c, CalibratedQuantity q) {
    std::vector<Table *> tables;
    if (hasLevels(c)) {
        for (auto &l : c.levels)
            tables.push_back(&l.of(q));
        return tables;
    }
    tables.push_back(&c.of(q).base);
    if (c.school != School::fuelModel || q != CalibratedQuantity::fuel) tables.push_back(&c.of(q).top);
    return tables;
}

} // namespace

std::vector<const Table2D *> tablesOf(const Job &job, CalibratedQuantity q) {
    return tablesIn<const Table2D>(job.calibration, q);
}

std::vector<Table2D *> tablesOf(Job &job, CalibratedQuantity q) {
    return tablesIn<Table2D>(job.calibration, q);
}

namespace {

// Of base and top: whether the top one is meant.
bool isTop(const Calibration &c, CalibratedQuantity q, bool high) {
    return high && !(c.school == School::fuelModel && q == CalibratedQuantity::fuel);
}

} // namespace

const Table2D &endTable(const Job &job, CalibratedQuantity q, double content, bool high) {
    const Calibration &c = job.calibration;
    if (!hasLevels(c)) return isTop(c, q, high) ? c.of(q).top : c.of(q).base;
    const BlendEnds ends = SchoolModel(job).at(q, content);
    return high ? *ends.high : *ends.low;
}

Table2D &endTable(Job &job, CalibratedQuantity q, double content, bool high) {
    Calibration &c = job.calibration;
    if (!hasLevels(c)) return isTop(c, q, high) ? c.of(q).top : c.of(q).base;
    const Table2D *end = &endTable(std::as_const(job), q, content, high);
    const std::vector<ContentLevel> &levels = c.levels.values();
    const auto at = std::ranges::find_if(levels, [&](const ContentLevel &l) { return &l.of(q) == end; });
    const auto place = static_cast<std::size_t>(at - levels.begin());
    return c.levels[place].of(q);
}

double BlendEnds::at(double rpm, double y) const {
    return blend(low->lookup(rpm, y).value, high->lookup(rpm, y).value);
}

bool followsSensor(const Job &job) {
    return job.fuelSystem.contentSensor && job.calibration.school != School::windowSet;
}

} // namespace wheelwright
