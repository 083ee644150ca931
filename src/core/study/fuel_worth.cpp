// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/fuel_worth.h"

#include <algorithm>

namespace wheelwright {
namespace {

constexpr double richer = 0.05, coolerK = 10, lessCompression = 1, eitherSideKpa = 5;

double degrees(const KnockLimit &limit) {
    return limit.kind == KnockLimit::Kind::never ? earliestSparkTried : limit.deg;
}

class Lines {
  public:
    explicit Lines(FuelWorth &worth) : m_worth(worth) {}
    // from, to: the limits without and with it.
    void add(const char *id, const PhraseText &title, const ExplanationInput &before,
             const ExplanationInput &after, double from, double to) {
        WorthLine line;
        line.id = id;
        line.degrees = to - from;
        line.kpa = m_worth.degPerKpa > 0 ? line.degrees / m_worth.degPerKpa : 0;
        Explanation &x = line.working;
        constexpr Dimension deg = Dimension::sparkAngle;
        x.title = title;
        x.result = {line.degrees, deg};
        x.formula = MARKED("fuel_worth.formula", "limit with it − limit without it");
        x.substituted = {
            MARKED("fuel_worth.numbers", "{0} − {1} = {2}; the limit falls by {3} in 10 kPa, so worth {4}"),
            {{to, deg},
             {from, deg},
             {line.degrees, deg},
             {10 * m_worth.degPerKpa, deg},
             {line.kpa, Dimension::pressureDifference}}};
        x.inputs = {before, after};
        x.source =
            MARKED("fuel_worth.source", "Knock limit of the estimate: Douaud and Eyzat, SAE 780080 (1978)");
        x.uncertainty = {MARKED("fuel_worth.uncertainty",
                                "Differences are better known than the limit itself, which is ± {0}."),
                         {{m_worth.sigmaDeg, deg}}};
        x.change = {MARKED("fuel_worth.change", "Pulls on both fuels at the same boost."), {}};
        m_worth.lines.push_back(std::move(line));
    }

  private:
    FuelWorth &m_worth;
};

// How fast the limit falls with pressure alone: the mixture stays.
double degreesPerKpa(const SparkEstimator &estimator, const OperatingPoint &point, const EstimateAt &asked,
                     double lambda) {
    const auto limitAt = [&](double loadKpa) {
        EstimateAt same = asked;
        same.lambda = lambda;
        return degrees(estimator.at({point.content, point.rpm, loadKpa}, same).knock);
    };
    return std::max(0.0, (limitAt(point.loadKpa - eitherSideKpa) - limitAt(point.loadKpa + eitherSideKpa)) /
                             (2 * eitherSideKpa));
}

// The fuel as a whole, and what of it is octane, sensitivity, cooling and burn.
void addFuel(const SparkEstimator &estimator, const Job &job, const OperatingPoint &point, FuelWorth &w) {
    Lines lines(w);
    const double from = degrees(w.base.knock), to = degrees(w.here.knock);
    const BlendProperties &f0 = w.base.breath.fuel, &f1 = w.here.breath.fuel;
    lines.add("content", MARKED("fuel_worth.content", "The fuel"),
              {"E₀",
               MARKED("fuel_worth.base", "base fuel"),
               {job.calibration.baseContent, Dimension::content},
               "calibration.base_content"},
              {"E", MARKED("fuel_worth.here", "this fuel"), {point.content, Dimension::content}, {}}, from,
              to);
    // One thing after the other put into the base fuel's charge; what is left is the burn.
    TrappedCharge charge = w.base.trapped;
    double soFar = from;
    const auto next = [&](const char *id, const PhraseText &title, const ExplanationInput &before,
                          const ExplanationInput &after) {
        const double limit = degrees(estimator.limit(charge, point.rpm));
        lines.add(id, title, before, after, soFar, limit);
        soFar = limit;
    };
    charge.charge.octane += f1.researchOctane - f0.researchOctane;
    next("octane", MARKED("fuel_worth.octane", "of it, octane"),
         {"RON₀",
          MARKED("fuel_worth.ron_before", "RON of the base fuel"),
          {f0.researchOctane, Dimension::octane},
          "fuel.gasoline.ron"},
         {"RON",
          MARKED("fuel_worth.ron", "RON of this fuel"),
          {f1.researchOctane, Dimension::octane},
          "fuel.ethanol.ron"});
    charge.charge.octane = w.here.trapped.charge.octane;
    next("sensitivity", MARKED("fuel_worth.sensitivity", "of it, sensitivity"),
         {"S₀",
          MARKED("fuel_worth.sensitivity_before", "RON − MON of the base fuel"),
          {f0.researchOctane - f0.motorOctane, Dimension::octane},
          "fuel.gasoline.mon"},
         {"S",
          MARKED("fuel_worth.sensitivity_here", "RON − MON of this fuel"),
          {f1.researchOctane - f1.motorOctane, Dimension::octane},
          "fuel.ethanol.mon"});
    const double before = charge.charge.temperatureK;
    charge.charge.temperatureK = w.here.trapped.charge.temperatureK;
    charge.charge.pressureKpa *= charge.charge.temperatureK / before; // the same mass
    next("cooling", MARKED("fuel_worth.cooling", "of it, charge cooling"),
         {"ΔT₀",
          MARKED("fuel_worth.cooling_before", "taken by the base fuel"),
          {w.base.trapped.coolingK, Dimension::temperatureDifference},
          "engine.fuel_place"},
         {"ΔT",
          MARKED("fuel_worth.cooling_here", "taken by this fuel"),
          {w.here.trapped.coolingK, Dimension::temperatureDifference},
          "engine.fuel_place"});
    charge = w.here.trapped;
    next("burn", MARKED("fuel_worth.burn", "of it, heat and length of the burn"),
         {"Δθ₀",
          MARKED("fuel_worth.burn_before", "burn of the base fuel"),
          {w.base.trapped.burn.durationDeg, Dimension::sparkAngle},
          {}},
         {"Δθ",
          MARKED("fuel_worth.burn_here", "burn of this fuel"),
          {w.here.trapped.burn.durationDeg, Dimension::sparkAngle},
          {}});
}

// What a richer mixture, cooler air and less compression are worth, each by itself.
void addChanges(const SparkEstimator &estimator, const Job &job, const OperatingPoint &point,
                const EstimateAt &asked, FuelWorth &w) {
    Lines lines(w);
    const double to = degrees(w.here.knock);
    const auto alone = [&](const char *id, const PhraseText &title, const ExplanationInput &is,
                           const ExplanationInput &becomes, const EstimateAt &changed) {
        lines.add(id, title, is, becomes, to, degrees(estimator.at(point, changed).knock));
    };
    const Breath &b = w.here.breath;
    EstimateAt change = asked;
    change.lambda = std::max(0.5, b.lambda - richer);
    alone("lambda", MARKED("fuel_worth.lambda", "0.05 λ richer"),
          {"λ₀",
           MARKED("fuel_worth.lambda_before", "λ there"),
           {b.lambda, Dimension::mixture},
           "calibration.lambda.base"},
          {"λ", MARKED("fuel_worth.lambda_here", "λ then"), {*change.lambda, Dimension::mixture}, {}},
          change);
    change = asked;
    change.intakeC = b.intakeC - coolerK;
    alone("intake", MARKED("fuel_worth.intake", "10 K cooler intake air"),
          {"T₀",
           MARKED("fuel_worth.intake_before", "intake air there"),
           {b.intakeC, Dimension::temperature},
           "conditions.intake_usual_c"},
          {"T",
           MARKED("fuel_worth.intake_here", "intake air then"),
           {*change.intakeC, Dimension::temperature},
           {}},
          change);
    change = asked;
    const double ratio = asked.compressionRatio.value_or(job.engine.compressionRatio);
    change.compressionRatio = ratio - lessCompression;
    alone("compression", MARKED("fuel_worth.compression", "one less of compression"),
          {"r₀",
           MARKED("fuel_worth.compression_before", "compression ratio"),
           {ratio, Dimension::none},
           "engine.compression_ratio"},
          {"r",
           MARKED("fuel_worth.compression_here", "compression ratio then"),
           {*change.compressionRatio, Dimension::none},
           {}},
          change);
}

} // namespace

FuelWorth fuelWorth(const Study &study, const OperatingPoint &point, const EstimateAt &asked) {
    const SparkEstimator estimator(study);
    const Job &job = study.job();
    FuelWorth w;
    w.here = estimator.at(point, asked);
    w.base = estimator.at({job.calibration.baseContent, point.rpm, point.loadKpa}, asked);
    w.sigmaDeg = estimateSigma(estimator, job, point).deg;
    if (w.here.knock.kind == KnockLimit::Kind::never || w.base.knock.kind == KnockLimit::Kind::never)
        return w;
    w.degPerKpa = degreesPerKpa(estimator, point, asked, w.here.breath.lambda);
    addFuel(estimator, job, point, w);
    addChanges(estimator, job, point, asked, w);
    return w;
}

} // namespace wheelwright
