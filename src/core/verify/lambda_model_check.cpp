// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/limits.h"
#include "core/study/fuel_delivery.h"
#include "core/verify/check.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

/// What the tables would have to hold at one content, given that both ends are right where they were
/// calibrated: the true VE moves in a straight line between the ends, the fuel multiplier follows the fuel
/// model.
struct Wanted {
    double lowShare, highShare; ///< need = lowShare · low end + highShare · high end

    /// multiplierInside: the numbers hold the fuel multiplier of their content.
    Wanted(const Evaluation &e, const ContentSlice &s, bool multiplierInside) {
        const BlendEnds &ends = s.fuelEnds;
        const double along =
            ends.highContent > ends.lowContent
                ? std::clamp((s.content - ends.lowContent) / (ends.highContent - ends.lowContent), 0.0, 1.0)
                : 0;
        // Of tables that are right where they were calibrated, what was learned there is in them already; a
        // table of true VE has the correction beside it, on both sides of the comparison.
        const bool beside = e.job().calibration.school == School::fuelModel;
        const Curve &learned = e.job().calibration.learnedFuelCorrection;
        const auto share = [&](double of, double content) {
            return of * learned.at(s.content) / (beside ? 1 : learned.at(content)) *
                   (multiplierInside ? s.fuelMultiplier / multiplierAt(e, content) : 1);
        };
        lowShare = share(1 - along, ends.lowContent);
        highShare = share(along, ends.highContent);
    }

    static double multiplierAt(const Evaluation &e, double content) {
        const auto slice = std::ranges::min_element(
            e.slices(), {}, [content](const ContentSlice &s) { return std::abs(s.content - content); });
        return slice->fuelMultiplier; // every calibrated content is a slice
    }
};

// The same for numbers that are no VE: all are taken to the fuel that they ask for at λ 1, since the lambda
// target is inside them.
CheckOutcome runByVolume(const Evaluation &e, double tolerance) {
    const double usual = e.job().conditions.intakeUsualC;
    return judgeReachablePoints(e, fuelComfort, [&, usual](const ContentSlice &s) {
        const InjectorDemand now(e.job(), s.content, usual), low(e.job(), s.fuelEnds.lowContent, usual),
            high(e.job(), s.fuelEnds.highContent, usual);
        return [&, now, low, high, need = Wanted(e, s, true)](const auto &p) {
            const auto atLambdaOne = [&](const InjectorDemand &demand, double value, double lambda) {
                return demand.mm3(value, {p.rpm, p.loadKpa}, lambda) * lambda;
            };
            const double atLow = atLambdaOne(low, p.lowOf(s.fuel), p.lowOf(s.lambda));
            const double atHigh = atLambdaOne(high, p.highOf(s.fuel), p.highOf(s.lambda));
            const double given = atLambdaOne(now, p.of(s.fuel), p.of(s.lambda));
            const double error = given / (need.lowShare * atLow + need.highShare * atHigh) - 1;
            return Judged{tolerance - std::abs(error), error, std::copysign(tolerance, error)};
        };
    });
}

CheckOutcome run(const Evaluation &e) {
    const double tolerance = limitOf(e.job(), "lambda.model.tolerance");
    const FuelMeaning meaning = e.job().calibration.fuelMeaning;
    if (meaning == FuelMeaning::pulseWidth || meaning == FuelMeaning::fuelMass)
        return runByVolume(e, tolerance);
    const bool inside = meaning == FuelMeaning::contentReferencedVe;
    return judgeReachablePoints(e, fuelComfort, [&e, tolerance, inside](const ContentSlice &s) {
        return [fuel = s.fuel, tolerance, need = Wanted(e, s, inside)](const auto &p) {
            const double wanted = need.lowShare * p.lowOf(fuel) + need.highShare * p.highOf(fuel);
            const double error = p.of(fuel) / wanted - 1;
            return Judged{tolerance - std::abs(error), error, std::copysign(tolerance, error)};
        };
    });
}

Explanation explain(const Evaluation &e, const WorstPlace &p) {
    Explanation x;
    const double tolerance = limitOf(e.job(), "lambda.model.tolerance");
    x.title = MARKED("lambda.model.working", "Fuelling against the need");
    x.result = {p.value, Dimension::ratio};
    x.formula = MARKED("lambda.model.formula",
                       "error = blended table / need − 1,  need = VE · K(E) · c(E) / c where calibrated");
    x.substituted = {p.value < 0 ? MARKED("lambda.model.numbers.lean", "{0} fuel too little (lean) at {1}")
                                 : MARKED("lambda.model.numbers.rich", "{0} fuel too much (rich) at {1}"),
                     {{std::abs(p.value), Dimension::ratio}, {p.content, Dimension::content}}};
    x.inputs = {{"E_A",
                 MARKED("lambda.model.from.base_tables_calibrated", "base tables calibrated at"),
                 {e.job().calibration.baseContent, Dimension::content},
                 "calibration.base_content"},
                {"E_B",
                 MARKED("lambda.model.from.top_tables_calibrated", "top tables calibrated at"),
                 {e.job().calibration.topContent, Dimension::content},
                 "calibration.top_content"},
                {"±",
                 MARKED("lambda.model.from.tolerance", "tolerance"),
                 {tolerance, Dimension::ratio},
                 "limit:lambda.model.tolerance"}};
    const Curve &learned = e.job().calibration.learnedFuelCorrection;
    if (learned.axis().size() > 1)
        for (const auto &[symbol, at] :
             {std::pair("c", p.content), std::pair("c_A", e.job().calibration.baseContent),
              std::pair("c_B", e.job().calibration.topContent)})
            x.inputs.push_back(
                {symbol,
                 Phrase{MARKED("lambda.model.from.learned", "learned at {0}"), {{at, Dimension::content}}},
                 {learned.at(at), Dimension::none},
                 "calibration.learned_fuel_correction"});
    x.source =
        MARKED("lambda.model.source",
               "Mass-weighted fuel model: stoichiometry from Heywood (1988) eq. 3.6 and table D.4; learned "
               "correction c(E) from the job");
    x.uncertainty = {MARKED("lambda.model.uncertainty",
                            "Charge cooling moves the true need by a few per cent; a "
                            "correction learned from logs takes that up."),
                     {}};
    const bool outside =
        p.content < e.job().calibration.baseContent || p.content > e.job().calibration.topContent;
    x.change = outside
                   ? Phrase{MARKED("lambda.model.change",
                                   "{0} lies beyond the calibrated contents. Calibrate a table nearer to it, "
                                   "let the curve go on "
                                   "beyond its ends, or keep the tank inside."),
                            {{p.content, Dimension::content}}}
                   : Phrase{MARKED("lambda.model.change.use_physical",
                                   "Use the physical fuel weight, or move the weight curve at {0}."),
                            {{p.content, Dimension::content}}};
    return x;
}

} // namespace

const Check &lambdaModelCheck() {
    static const Check check{
        "lambda.model",
        MARKED("lambda.model.title", "Fuel for content"),
        MARKED("lambda.model.named", "fuel for content"),
        QuestionId::mixture,
        MARKED("lambda.model.question", "Does the blended fuel table deliver what this content needs?"),
        Dimension::ratio,
        {"lambda.model.tolerance"},
        CalibratedQuantity::fuel,
        fuelKnownTo / fuelComfort,
        MARKED("lambda.model.help", "A full mark is 3 % or more inside the tolerance; under 1 % is a "
                                    "caution: λ and content are known to about so much."),
        run,
        explain,
        {"fuel_tables"}};
    return check;
}

} // namespace wheelwright
