// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/tables/lambda_lines.h"
#include "core/verify/check.h"

namespace wheelwright {
namespace {

constexpr double comfort = 0.05; // λ inside the line at which a margin is called comfortable: common practice

CheckOutcome run(const Evaluation &e) {
    return judgeReachablePoints(e, comfort, [&](const ContentSlice &s) {
        const double limit = richLine(e.job().limits, s.ethanolMoles, s.methanolMoles);
        return [blended = s.lambda, limit](const auto &p) {
            const double lambda = p.of(blended);
            return Judged{lambda - limit, lambda, limit};
        };
    });
}

Explanation explain(const Evaluation &, const WorstPlace &p) {
    Explanation x;
    x.title = MARKED("lambda.rich.working", "Distance from the rich line");
    x.result = {p.uncapped, Dimension::none};
    x.formula = MARKED("lambda.rich.formula", "margin = (λ target − rich line) / 0.05");
    x.substituted = {MARKED("lambda.rich.numbers", "({0} − {1}) / 0.05"),
                     {{p.value, Dimension::mixture}, {p.limit, Dimension::mixture}}};
    x.inputs = {{"λ",
                 MARKED("lambda.rich.from.lambda_target_here", "lambda target here"),
                 {p.value, Dimension::mixture},
                 "calibration.lambda"},
                {"rich line",
                 MARKED("lambda.rich.from.richest_allowed_fuel", "richest allowed for this fuel"),
                 {p.limit, Dimension::mixture},
                 "limit:lambda.rich.gasoline"}};
    x.source = MARKED("lambda.rich.source",
                      "Common practice: one line for each fuel, between them by mole fraction");
    x.uncertainty = {
        MARKED("lambda.rich.uncertainty", "A wideband is good to about λ 0.01 to 0.02 when warm and new."),
        {}};
    x.change = {
        MARKED("lambda.rich.change", "Clears with a lambda target of {0} or leaner at {1}, {2}, {3}."),
        {{p.limit, Dimension::mixture},
         {p.rpm, Dimension::engineSpeed},
         {p.loadKpa, Dimension::pressure},
         {p.content, Dimension::content}}};
    return x;
}

} // namespace

const Check &lambdaRichCheck() {
    static const Check check{
        "lambda.rich",
        MARKED("lambda.rich.title", "Rich line"),
        MARKED("lambda.rich.named", "rich line"),
        QuestionId::mixture,
        MARKED("lambda.rich.question", "Is the lambda target never richer than this fuel burns well?"),
        Dimension::mixture,
        {"lambda.rich.gasoline", "lambda.rich.ethanol", "lambda.rich.methanol"},
        CalibratedQuantity::lambda,
        0,
        MARKED("lambda.rich.help", "A full mark is λ 0.05 or more on the lean side of the line."),
        run,
        explain,
        {"lambda_tables"}};
    return check;
}

} // namespace wheelwright
