// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/limits.h"
#include "core/study/school_conversion.h"
#include "core/verify/check.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

CheckOutcome run(const Evaluation &e) {
    const Job &job = e.job();
    const double tolerance = limitOf(job, "lambda.model.tolerance");
    // What may be sold: from the weakest to the strongest fuel on the shelf, or from first to last file.
    double low = job.calibration.levels.front().content, high = job.calibration.levels.back().content;
    for (const ShelfEntry &fuel : job.shelf) {
        const double alcohol = job.alcohol == Alcohol::methanol ? fuel.methanol : fuel.ethanol;
        low = std::min(low, alcohol);
        high = std::max(high, alcohol);
    }
    CheckOutcome out;
    for (const ContentSlice &s : e.slices()) {
        WorstFinder worst(e, s, fuelComfort);
        const double error = lambdaOfFileOn(job, s.fuelEnds.lowContent, s.content) - 1;
        const bool asked = s.content >= low - 1e-9 && s.content <= high + 1e-9;
        worst.consider(asked ? tolerance - std::abs(error) : fuelComfort, 0, e.load().front(), error,
                       std::copysign(tolerance, error));
        out.byContent.push_back(worst.place());
    }
    return out;
}

Explanation explain(const Evaluation &e, const WorstPlace &p) {
    const Job &job = e.job();
    Explanation x;
    x.title = MARKED("content.window.working", "λ of the file that fits best");
    x.result = {p.value, Dimension::ratio};
    x.formula = MARKED("content.window.formula", "error = K(tank) / K(file) − 1");
    x.substituted = {MARKED("content.window.numbers", "{0} {1} at {2} in the tank"),
                     {{std::abs(p.value), Dimension::ratio},
                      {p.value, Dimension::ratio},
                      {p.content, Dimension::content}}};
    x.inputs = {{"E", MARKED("content.window.from.tank", "in the tank"), {p.content, Dimension::content}, ""},
                {"n",
                 MARKED("content.window.from.files", "files"),
                 {static_cast<double>(job.calibration.levels.size()), Dimension::count},
                 "calibration.levels"},
                {"±",
                 MARKED("content.window.from.tolerance", "tolerance"),
                 {limitOf(job, "lambda.model.tolerance"), Dimension::ratio},
                 "limit:lambda.model.tolerance"}};
    x.source = {MARKED("content.window.source",
                       "Mass-weighted fuel model, Heywood (1988) eq. 3.6 and table D.4; tolerance: {A}"),
                {},
                {},
                {limitOrigin(job, "lambda.model.tolerance")}};
    x.uncertainty = {MARKED("content.window.uncertainty",
                            "Without a sensor the content is what the tube says: test every fill."),
                     {}};
    x.change = {MARKED("content.window.change", "A file for a content near {0}."),
                {{p.content, Dimension::content}}};
    return x;
}

} // namespace

const Check &contentWindowCheck() {
    static const Check check{
        "content.window",
        MARKED("content.window.title", "Windows of content"),
        MARKED("content.window.named", "windows of content"),
        QuestionId::sensor,
        MARKED("content.window.question", "Does some file fit every fuel that may be in the tank?"),
        Dimension::ratio,
        {"lambda.model.tolerance"},
        CalibratedQuantity::fuel,
        fuelKnownTo / fuelComfort,
        MARKED("content.window.help", "A full mark is 3 % or more inside the tolerance; under 1 % is a "
                                      "caution: λ and content are known to about so much."),
        run,
        explain,
        {"fuel_tables"},
        true,
        [](const Job &job) { return job.calibration.school == School::windowSet; }};
    return check;
}

} // namespace wheelwright
