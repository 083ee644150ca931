// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/limits.h"
#include "core/study/extra_tables.h"
#include "core/study/spark_budget.h"
#include "core/tables/table_kind.h"
#include "core/verify/check.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

CheckOutcome run(const Evaluation &e) {
    const Job &job = e.job();
    const double tolerance = limitOf(job, "lambda.model.tolerance");
    CheckOutcome out;
    for (const ContentSlice &s : e.slices()) {
        // Content is in the tables or in the fuel model already: whatever stands here comes on top.
        const double again = extraAt(job, TableKind::fuelContent, s.content);
        WorstFinder worst(e, s, tolerance);
        worst.consider(tolerance - std::abs(again), 0, e.load().front(), again,
                       std::copysign(tolerance, again));
        out.byContent.push_back(worst.place());
    }
    return out;
}

Explanation explain(const Evaluation &e, const WorstPlace &p) {
    const Job &job = e.job();
    Explanation x;
    x.title = MARKED("correct.double.working", "Content counted twice");
    x.result = {p.value, Dimension::ratio};
    x.formula =
        MARKED("correct.double.formula",
               "error = fuel by content, since the tables or the fuel model hold the content already");
    x.substituted = {MARKED("correct.double.numbers", "{0} too much fuel at {1}"),
                     {{p.value, Dimension::ratio}, {p.content, Dimension::content}}};
    x.inputs = {{"c",
                 MARKED("correct.double.from.fuel_content", "fuel by content"),
                 {p.value, Dimension::ratio},
                 "calibration.extras.fuel_content"},
                {"T",
                 MARKED("correct.double.from.what_fuel_tables", "what the fuel tables hold"),
                 {0, Dimension::none},
                 "calibration.fuel_meaning"},
                {"±",
                 MARKED("correct.double.from.tolerance", "tolerance"),
                 {limitOf(job, "lambda.model.tolerance"), Dimension::ratio},
                 "limit:lambda.model.tolerance"}};
    x.source = {MARKED("correct.double.source", "Content may enter fuel once; tolerance: {A}"),
                {},
                {},
                {limitOrigin(job, "lambda.model.tolerance")}};
    x.uncertainty = {MARKED("correct.double.uncertainty",
                            "A few per cent on purpose are a learned correction: put them there."),
                     {}};
    x.change = {MARKED("correct.double.change",
                       "A table of nought, or no table, and a learned correction c(E) instead."),
                {}};
    return x;
}

} // namespace

const Check &correctDoubleCheck() {
    static const Check check{
        "correct.double",
        MARKED("correct.double.title", "Content once"),
        MARKED("correct.double.named", "content once"),
        QuestionId::mixture,
        MARKED("correct.double.question", "Does content enter the fuel only once?"),
        Dimension::ratio,
        {"lambda.model.tolerance"},
        CalibratedQuantity::fuel,
        0,
        MARKED("correct.double.help",
               "A full mark is no second correction; an empty one is the whole tolerance."),
        run,
        explain,
        {},
        true,
        [](const Job &job) { return extraInUse(job, TableKind::fuelContent) != nullptr; }};
    return check;
}

} // namespace wheelwright
