// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/limits.h"
#include "core/study/extra_tables.h"
#include "core/study/spark_budget.h"
#include "core/tables/table_kind.h"
#include "core/verify/check.h"

namespace wheelwright {
namespace {

constexpr PhraseText airAspect = MARKED("correct.protect.aspect.hot_intake_air", "hot intake air"),
                     coolantAspect = MARKED("correct.protect.aspect.hot_coolant", "hot coolant");
constexpr double mostProtectedFromKpa = 100; // with no boost there is little to protect: common practice

CheckOutcome run(const Evaluation &e) {
    const Job &job = e.job();
    const SparkDelivery &d = job.sparkDelivery;
    constexpr double comfort = 1;
    const ExtraByLoad usual(job, TableKind::sparkIntake, job.conditions.intakeUsualC),
        hot(job, TableKind::sparkIntake, d.intakeHotC);
    const ByPoint air(e, [usual, hot](double load) { return hot.at(load) - usual.at(load); });
    const double coolant = extraAt(job, TableKind::sparkCoolant, d.coolantHotC) -
                           extraAt(job, TableKind::sparkCoolant, d.coolantUsualC);
    // In thin air less is full load.
    const double from = std::min(mostProtectedFromKpa, job.conditions.ambientKpa);
    CheckOutcome out;
    for (const ContentSlice &s : e.slices()) {
        WorstFinder worst(e, s, comfort);
        visitReachableLoads(e, s, [&](const auto &p) {
            if (p.loadKpa < from) return;
            constexpr double least = 0.1; // takes some
            worst.consider(-p.of(air) - least, p.rpmIndex, p.loadKpa, p.of(air), -least, airAspect);
            worst.consider(-coolant - least, p.rpmIndex, p.loadKpa, coolant, -least, coolantAspect);
        });
        out.byContent.push_back(worst.place());
    }
    return out;
}

Explanation explain(const Evaluation &e, const WorstPlace &p) {
    const Job &job = e.job();
    Explanation x;
    const bool air = p.aspect == airAspect;
    const SparkDelivery &d = job.sparkDelivery;
    x.title = air ? MARKED("correct.protect.working", "Spark in hot intake air")
                  : MARKED("correct.protect.working.spark_hot", "Spark with hot coolant");
    x.result = {p.value, Dimension::sparkAngle};
    x.formula = MARKED("correct.protect.formula", "correction(hot) − correction(usual) < 0");
    x.substituted = {MARKED("correct.protect.numbers", "from {0} to {1} it moves {2}"),
                     {{air ? job.conditions.intakeUsualC : d.coolantUsualC, Dimension::temperature},
                      {air ? d.intakeHotC : d.coolantHotC, Dimension::temperature},
                      {p.value, Dimension::sparkAngle}}};
    x.inputs = {{"hot",
                 MARKED("correct.protect.from.hottest", "hottest"),
                 {air ? d.intakeHotC : d.coolantHotC, Dimension::temperature},
                 air ? "spark.intake_hot_c" : "spark.coolant_hot_c"},
                {"Δα",
                 MARKED("correct.protect.from.what_table_does", "what the table does"),
                 {p.value, Dimension::sparkAngle},
                 air ? "calibration.extras.spark_intake" : "calibration.extras.spark_coolant"}};
    x.source = MARKED("correct.protect.source", "Common practice: hot air and hot coolant take spark");
    x.uncertainty = {MARKED("correct.protect.uncertainty",
                            "How much is a matter of the engine; some is better than none."),
                     {}};
    x.change = {
        MARKED("correct.protect.change", "A correction that takes spark from the usual temperature up."), {}};
    return x;
}

} // namespace

const Check &correctProtectCheck() {
    static const Check check{
        "correct.protect",
        MARKED("correct.protect.title", "Heat protection"),
        MARKED("correct.protect.named", "heat protection"),
        QuestionId::knock,
        MARKED("correct.protect.question", "Do hot intake air and hot coolant take spark away?"),
        Dimension::sparkAngle,
        {},
        CalibratedQuantity::spark,
        0,
        MARKED("correct.protect.help",
               "A full mark takes a degree or more from the usual temperature to the hottest."),
        run,
        explain,
        {"heat_corrections"},
        false};
    return check;
}

} // namespace wheelwright
