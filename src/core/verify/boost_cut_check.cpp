// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/limits.h"
#include "core/study/extra_tables.h"
#include "core/verify/check.h"

#include <algorithm>

namespace wheelwright {
namespace {

constexpr double comfortKpa = 7; // over the least room: about one psi, common practice
constexpr PhraseText nearAspect = MARKED("boost.cut.aspect.too_near_the", "too near the target"),
                     sensorAspect = MARKED("boost.cut.aspect.beyond_the_map", "beyond the MAP sensor");

CheckOutcome run(const Evaluation &e) {
    const Job &job = e.job();
    const double room = limitOf(job, "boost.cut.room");
    CheckOutcome out;
    for (const ContentSlice &s : e.slices()) {
        WorstFinder worst(e, s, comfortKpa);
        // A table over content rules over the one number.
        const double cut = extraInUse(job, TableKind::boostCut) ? extraAt(job, TableKind::boostCut, s.content)
                                                                : job.boost.cutKpa;
        const auto at = static_cast<std::size_t>(
            std::ranges::max_element(s.reach, {}, &ReachAtSpeed::targetKpa) - s.reach.begin());
        worst.consider(cut - s.reach[at].targetKpa - room, at, s.reach[at].targetKpa, cut,
                       s.reach[at].targetKpa + room, nearAspect);
        worst.consider(job.engine.mapSensorMaxKpa - cut, at, s.reach[at].targetKpa, cut,
                       job.engine.mapSensorMaxKpa, sensorAspect);
        out.byContent.push_back(worst.place());
    }
    return out;
}

Explanation explain(const Evaluation &e, const WorstPlace &p) {
    const Job &job = e.job();
    const double room = limitOf(job, "boost.cut.room");
    Explanation x;
    x.title = MARKED("boost.cut.working", "Overboost cut");
    x.result = {p.value, Dimension::pressure};
    x.formula = MARKED("boost.cut.formula", "highest target + room ≤ cut ≤ what the MAP sensor reads");
    x.substituted = {MARKED("boost.cut.numbers", "{0} + {1} ≤ {2} ≤ {3}"),
                     {{p.loadKpa, Dimension::pressure},
                      {room, Dimension::pressureDifference},
                      {p.value, Dimension::pressure},
                      {job.engine.mapSensorMaxKpa, Dimension::pressure}}};
    x.inputs = {{"cut",
                 MARKED("boost.cut.from.overboost_cut", "overboost cut"),
                 {p.value, Dimension::pressure},
                 extraInUse(job, TableKind::boostCut) ? "calibration.extras.boost_cut" : "boost.cut_kpa"},
                {"p",
                 MARKED("boost.cut.from.highest_boost_target", "highest boost target"),
                 {p.loadKpa, Dimension::pressure},
                 "calibration.boost"},
                {"room",
                 MARKED("boost.cut.from.least_over_target", "least over the target"),
                 {room, Dimension::pressureDifference},
                 "limit:boost.cut.room"},
                {"MAP",
                 MARKED("boost.cut.from.sensor_reads_up", "sensor reads up to"),
                 {job.engine.mapSensorMaxKpa, Dimension::pressure},
                 "engine.map_sensor_max_kpa"}};
    x.source = {MARKED("boost.cut.source", "Never under target + 1.5 psi: {A}"),
                {},
                {},
                {limitOrigin(job, "boost.cut.room")}};
    x.uncertainty = {
        MARKED("boost.cut.uncertainty",
               "A cut that never acts protects nothing: it belongs one step above the target of the day."),
        {}};
    x.change =
        p.aspect == sensorAspect
            ? Phrase{MARKED("boost.cut.change", "The sensor never reads that much: a cut of {0} or less."),
                     {{job.engine.mapSensorMaxKpa, Dimension::pressure}}}
            : Phrase{MARKED("boost.cut.change.cut_more", "A cut of {0} or more."),
                     {{p.loadKpa + room + comfortKpa, Dimension::pressure}}};
    return x;
}

} // namespace

const Check &boostCutCheck() {
    static const Check check{
        "boost.cut",
        MARKED("boost.cut.title", "Overboost cut"),
        MARKED("boost.cut.named", "overboost cut"),
        QuestionId::boost,
        MARKED("boost.cut.question",
               "Is the overboost cut above the target, and where the sensor can see it?"),
        Dimension::pressure,
        {"boost.cut.room"},
        CalibratedQuantity::boost,
        0,
        MARKED("boost.cut.help", "A full mark is 7 kPa or more over the least room."),
        run,
        explain,
        {"cut", "boost_tables"},
        true,
        boosted};
    return check;
}

} // namespace wheelwright
