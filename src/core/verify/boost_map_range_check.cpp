// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/verify/boost_peaks.h"

namespace wheelwright {
namespace {

constexpr double comfortOfSpan = 0.05; // of the sensor's span: common practice
constexpr PhraseText bySensor = MARKED("boost.map_range.aspect.map_sensor", "MAP sensor");
constexpr PhraseText byTable = MARKED("boost.map_range.aspect.load_axis_of", "load axis of the tables");

BoostCeiling ceilingOf(const Job &job) {
    const Engine &engine = job.engine;
    const double span = engine.mapSensorMaxKpa - engine.mapSensorMinKpa;
    BoostCeiling ceiling{engine.mapSensorMinKpa + limitOf(job, "boost.map_range.span") * span, bySensor};
    for (CalibratedQuantity q :
         {CalibratedQuantity::fuel, CalibratedQuantity::spark, CalibratedQuantity::lambda})
        for (const Table2D *t : tablesOf(job, q))
            if (t->y().last() < ceiling.kpa) ceiling = {t->y().last(), byTable};
    return ceiling;
}

CheckOutcome run(const Evaluation &e) {
    const double span = e.job().engine.mapSensorMaxKpa - e.job().engine.mapSensorMinKpa;
    const BoostCeiling ceiling = ceilingOf(e.job());
    return judgeBoostPeaks(e, comfortOfSpan * span, [&](const ContentSlice &) { return ceiling; });
}

Explanation explain(const Evaluation &e, const WorstPlace &p) {
    const double overshoot = limitOf(e.job(), "boost.overshoot");
    Explanation x = explainBoostPeak(e, p);
    x.title = {MARKED("boost.map_range.against", "Boost against the {A}"), {}, {}, {p.aspect}};
    x.formula = MARKED(
        "boost.map_range.formula",
        "peak = boost target + overshoot ≤ least of 95 % of the sensor's span and the last load breakpoints");
    x.inputs.push_back({"sensor",
                        MARKED("boost.map_range.from.high_end_map", "high end of the MAP sensor"),
                        {e.job().engine.mapSensorMaxKpa, Dimension::pressure},
                        "engine.map_sensor_max_kpa"});
    x.inputs.push_back({"share",
                        MARKED("boost.map_range.from.span_may_used", "of the span that may be used"),
                        {limitOf(e.job(), "boost.map_range.span"), Dimension::ratio},
                        "limit:boost.map_range.span"});
    x.source = MARKED("boost.map_range.source", "Common practice: a sensor at the end of its range, or a "
                                                "table past its last row, hides what happens");
    x.uncertainty = {MARKED("boost.map_range.uncertainty", "Take the sensor's range from its data sheet."),
                     {}};
    x.change =
        p.aspect == byTable
            ? Phrase{MARKED("boost.map_range.change",
                            "Extend the load axes to {0}, or lower the target to {1} at {2}."),
                     {{p.value, Dimension::pressure},
                      {p.limit - overshoot, Dimension::pressure},
                      {p.rpm, Dimension::engineSpeed}}}
            : Phrase{MARKED("boost.map_range.change.sensor_higher",
                            "A sensor with a higher range, or a boost target of {0} or less at {1}, {2}."),
                     {{p.limit - overshoot, Dimension::pressure},
                      {p.rpm, Dimension::engineSpeed},
                      {p.content, Dimension::content}}};
    return x;
}

} // namespace

const Check &boostMapRangeCheck() {
    static const Check check{
        "boost.map_range",
        MARKED("boost.map_range.title", "Sensor and axes"),
        MARKED("boost.map_range.named", "sensor and axes"),
        QuestionId::boost,
        MARKED("boost.map_range.question",
               "Does the boost target with its overshoot stay inside the MAP sensor and every load axis?"),
        Dimension::pressure,
        {"boost.map_range.span", "boost.overshoot"},
        CalibratedQuantity::boost,
        0,
        MARKED("boost.map_range.help", "A full mark is 5 % of the sensor's span or more to spare."),
        run,
        explain,
        {"map_sensor", "boost_tables", "engine"}};
    return check;
}

} // namespace wheelwright
