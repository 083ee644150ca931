// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/tables/lambda_lines.h"
#include "core/verify/check.h"

namespace wheelwright {
namespace {

constexpr double comfort = 0.05; // λ inside the line at which a margin is called comfortable: common practice

CheckOutcome run(const Evaluation &e) {
    const LeanLine line(e.job().limits);
    const double ambient = e.job().conditions.ambientKpa;
    return judgeReachablePoints(e, comfort, [&](const ContentSlice &s) {
        const ByLoad cruise(
            e, [&line, &s](double load) { return line.at(load, s.ethanolMoles, s.methanolMoles); });
        const ByLoad full(e, [&line, &s, ambient](double load) {
            return line.atFullThrottle(load, ambient, s.ethanolMoles, s.methanolMoles);
        });
        return [&s, cruise, full, ambient](const auto &p) {
            const double most = s.reach[p.rpmIndex].boosted(ambient) ? p.of(cruise) : p.of(full);
            const double lambda = p.of(s.lambda);
            return Judged{most - lambda, lambda, most};
        };
    });
}

Explanation explain(const Evaluation &, const WorstPlace &p) {
    Explanation x;
    x.title = MARKED("lambda.lean.working", "Distance from the lean line");
    x.result = {p.uncapped, Dimension::none};
    x.formula = MARKED("lambda.lean.formula", "margin = (lean line − λ target) / 0.05");
    x.substituted = {MARKED("lambda.lean.numbers", "({1} − {0}) / 0.05"),
                     {{p.value, Dimension::mixture}, {p.limit, Dimension::mixture}}};
    x.inputs = {
        {"λ",
         MARKED("lambda.lean.from.lambda_target_here", "lambda target here"),
         {p.value, Dimension::mixture},
         "calibration.lambda"},
        {"lean line",
         MARKED("lambda.lean.from.leanest_allowed_fuel", "leanest allowed for this fuel at this load"),
         {p.limit, Dimension::mixture},
         "limit:lambda.lean.200kpa"}};
    x.source =
        MARKED("lambda.lean.source",
               "Common practice: line over load for gasoline, moved by mole fraction towards the alcohols' "
               "own lines");
    x.uncertainty = {
        MARKED("lambda.lean.uncertainty", "A wideband is good to about λ 0.01 to 0.02 when warm and new."),
        {}};
    x.change = {
        MARKED("lambda.lean.change", "Clears with a lambda target of {0} or richer at {1}, {2}, {3}."),
        {{p.limit, Dimension::mixture},
         {p.rpm, Dimension::engineSpeed},
         {p.loadKpa, Dimension::pressure},
         {p.content, Dimension::content}}};
    return x;
}

} // namespace

const Check &lambdaLeanCheck() {
    static const Check check{
        "lambda.lean",
        MARKED("lambda.lean.title", "Lean line"),
        MARKED("lambda.lean.named", "lean line"),
        QuestionId::mixture,
        MARKED("lambda.lean.question",
               "Is the lambda target never leaner than the lean line for this fuel and load?"),
        Dimension::mixture,
        {"lambda.lean.100kpa", "lambda.lean.full_load", "lambda.lean.120kpa", "lambda.lean.150kpa",
         "lambda.lean.200kpa", "lambda.lean.250kpa", "lambda.lean.ethanol_allowance",
         "lambda.lean.methanol_150kpa"},
        CalibratedQuantity::lambda,
        0,
        MARKED("lambda.lean.help", "A full mark is λ 0.05 or more on the rich side of the line."),
        run,
        explain,
        {"lambda_tables"}};
    return check;
}

} // namespace wheelwright
