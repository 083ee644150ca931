// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/tables/lambda_lines.h"
#include "core/verify/check.h"

#include <type_traits>

namespace wheelwright {
namespace {

constexpr double comfort = 0.05; // λ inside the line at which a margin is called comfortable: common practice

CheckOutcome run(const Evaluation &e) {
    const LeanLine line(e.job().limits);
    const double ambient = e.job().conditions.ambientKpa;
    const ByPoint gasoline(e, [line](double load) { return line.partsAt(load).gasoline; });
    const ByPoint methanol(e, [line](double load) { return line.partsAt(load).methanol; });
    const ByPoint share(e, [ambient](double load) { return LeanLine::fullShareAt(load, ambient); });
    return judgeReachablePoints(e, comfort, [&](const ContentSlice &s) {
        return [&, ethanol = s.ethanolMoles, alcohol = s.methanolMoles](const auto &p) {
            constexpr bool onGrid = std::is_same_v<decltype(p), const GridPoint &>;
            const LeanLine::Parts parts =
                onGrid ? LeanLine::Parts{p.of(gasoline), p.of(methanol)} : line.partsAt(p.loadKpa);
            const double near = onGrid ? p.of(share) : LeanLine::fullShareAt(p.loadKpa, ambient);
            const double cruise = line.of(parts, ethanol, alcohol);
            const double full = line.towardsFull(cruise, near, ethanol);
            const double most = s.reach[p.rpmIndex].boosted(ambient) ? cruise : full;
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
