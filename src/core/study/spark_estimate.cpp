// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/spark_estimate.h"

#include "core/base/error.h"
#include "core/flow/engine_air.h"
#include "core/job/named_tables.h"
#include "core/study/content_tables.h"
#include "core/study/fuel_delivery.h"
#include "core/study/mechanical_lambda.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

constexpr double coarseStepDeg = 2; // spark moves by 0.01° against 0.1°: cylinder.h
constexpr double leastVe = 0.1, mostVe = 2;

CylinderShape shapeOf(const Job &job) {
    CylinderShape s;
    s.compressionRatio = job.engine.compressionRatio;
    s.rodRatio = job.engine.rodRatio;
    s.displacementL = job.engine.displacementL / job.engine.cylinders;
    return s;
}

ChargeModel modelOf(const Job &job) {
    ChargeModel m;
    m.coolingShare = coolingShareOf(job.engine.fuelPlace);
    return m;
}

double exhaustKpa(const Job &job, double manifoldKpa) {
    // Open to the air but for a muffler; a turbine holds back about what it gives. Common practice.
    constexpr double muffler = 1.05;
    const double open = job.conditions.ambientKpa * muffler;
    return job.engine.charging == Charging::turbo ? std::max(open, manifoldKpa) : open;
}

// The air that the fuel tables of a job imply at one content.
class ImpliedAir {
  public:
    ImpliedAir(const Job &job, double content)
        : m_job(job), m_fuel(blendModelOf(job).properties(blendAt(job, content))),
          m_demand(job, content, job.conditions.intakeUsualC) {}

    double ve(EnginePoint at, double tableFuel, double lambda) const {
        constexpr double mgPerMm3AtOneKgM3 = 1e-3;
        const double fuelMg = m_demand.mm3(tableFuel, at, lambda) * m_fuel.densityKgM3 * mgPerMm3AtOneKgM3;
        const double full = airPerCycleMg(1, at.loadKpa, m_job.engine.displacementL / m_job.engine.cylinders,
                                          m_job.conditions.intakeUsualC);
        return std::clamp(fuelMg * lambda * m_fuel.stoichiometricAfr / full, leastVe, mostVe);
    }
    const BlendProperties &fuel() const { return m_fuel; }

  private:
    const Job &m_job;
    BlendProperties m_fuel;
    InjectorDemand m_demand;
};

void requireWithin(const char *where, double v, double least, double most) {
    if (!(v >= least && v <= most)) throw InputError(where, fromTo(least, most), exactly(v));
}

void check(const EstimateAt &asked) {
    if (asked.lambda) requireWithin("lambda", *asked.lambda, 0.5, 1.5);
    if (asked.intakeC) requireWithin("intake_c", *asked.intakeC, -40, 150);
    if (asked.compressionRatio) requireWithin("compression", *asked.compressionRatio, 4, 25);
    if (asked.sparkDeg) requireWithin("spark_deg", *asked.sparkDeg, latestSparkTried, earliestSparkTried);
    if (asked.veShare) requireWithin("ve_share", *asked.veShare, 0.1, 2);
}

Breath breathAt(const Study &study, const OperatingPoint &point, const EstimateAt &asked) {
    const Job &job = study.job();
    Breath b;
    b.rpm = point.rpm;
    if (job.control == FuelControl::mechanical) {
        const MixturePoint mixture = mixtureOfJob(job, point.rpm);
        b.fuel = blendModelOf(job).properties(blendAt(job, mechanicalContent(job)));
        b.lambda = mixture.lambda;
        b.ve = job.mechanical.ve;
        b.intakeC = job.mechanical.intakeC;
    } else {
        const BlendedPoint p = blendedPoint(study, point);
        const ImpliedAir air(job, point.content);
        b.fuel = air.fuel();
        b.lambda = p.lambda;
        b.ve = air.ve({point.rpm, point.loadKpa}, p.fuel, p.lambda);
        b.intakeC = job.conditions.intakeUsualC;
    }
    b.manifoldKpa = point.loadKpa;
    b.lambda = asked.lambda.value_or(b.lambda);
    b.intakeC = asked.intakeC.value_or(b.intakeC);
    b.ve *= asked.veShare.value_or(1);
    return b;
}

// Nobody takes more than best spark, however much a fuel stands.
double usefulDeg(const SparkEstimate &e) {
    return e.knock.kind == KnockLimit::Kind::never ? e.bestDeg : std::min(e.knock.deg, e.bestDeg);
}

void requirePlace(const OperatingPoint &p) {
    requireWithin("content", p.content, 0, 1);
    requireWithin("rpm", p.rpm, 100, 25000);
    requireWithin("load_kpa", p.loadKpa, 5, 1000);
}

} // namespace

SparkEstimator::SparkEstimator(const Study &study)
    : m_study(study), m_model(modelOf(study.job())), m_cylinder(shapeOf(study.job()), coarseStepDeg) {}

SparkEstimator SparkEstimator::with(const ChargeModel &model) const {
    SparkEstimator other = *this;
    other.m_model = model;
    return other;
}

SparkEstimate SparkEstimator::at(const OperatingPoint &point, const EstimateAt &asked) const {
    requirePlace(point);
    check(asked);
    const Job &job = m_study.job();
    SparkEstimate e;
    e.breath = breathAt(m_study, point, asked);
    std::optional<Cylinder> other;
    if (asked.compressionRatio && *asked.compressionRatio != m_cylinder.shape().compressionRatio) {
        CylinderShape s = m_cylinder.shape();
        s.compressionRatio = *asked.compressionRatio;
        other.emplace(s, coarseStepDeg);
    }
    const Cylinder &cylinder = other ? *other : m_cylinder;
    e.trapped = trap(cylinder.shape(), m_model, e.breath);
    e.knock = cylinder.knockLimit(e.trapped.charge, e.trapped.burn, point.rpm);
    e.bestDeg = bestSparkDeg(e.trapped.burn);
    e.sparkDeg = asked.sparkDeg.value_or(usefulDeg(e));
    e.cycle = cylinder.cycle(e.trapped.charge, e.trapped.burn, point.rpm, e.sparkDeg);
    e.torqueNm = torqueNm(brakeKpa(e.cycle.workKpa, point.rpm, point.loadKpa, exhaustKpa(job, point.loadKpa)),
                          job.engine.displacementL);
    return e;
}

Breath SparkEstimator::breath(const OperatingPoint &point, const EstimateAt &asked) const {
    return breathAt(m_study, point, asked);
}

std::vector<double> SparkEstimator::limits(std::span<const Breath> breaths, double octaneFactor) const {
    std::vector<Charge> charges;
    std::vector<Burn> burns;
    std::vector<double> rpm, out;
    for (const Breath &b : breaths) {
        const TrappedCharge c = trap(m_cylinder.shape(), m_model, b);
        charges.push_back(c.charge);
        charges.back().octane *= octaneFactor;
        burns.push_back(c.burn);
        rpm.push_back(b.rpm);
    }
    std::vector<KnockLimit> found(breaths.size());
    m_cylinder.knockLimits(charges, burns, rpm, found);
    for (const KnockLimit &k : found)
        out.push_back(k.kind == KnockLimit::Kind::never ? earliestSparkTried : k.deg);
    return out;
}

EstimateSigma estimateSigma(const SparkEstimator &estimator, const Job &job, const OperatingPoint &point) {
    EstimateSigma s;
    const double here = usefulDeg(estimator.at(point));
    s.parts.push_back({MARKED("estimate_sigma.model", "the model, before any evidence"),
                       modelSigmaDeg,
                       Dimension::sparkAngle,
                       modelSigmaDeg,
                       {}});
    const auto part = [&](const char *path, const Phrase &title, double offBy, Dimension dimension,
                          const EstimateAt &asked, const SparkEstimator &with) {
        if (isStated(job, path)) return;
        s.parts.push_back({title, offBy, dimension, std::abs(usefulDeg(with.at(point, asked)) - here), path});
    };
    constexpr double ratioOff = 1, airOff = 15, octaneOff = 2, coolingOff = 0.2, veOff = 0.1;
    EstimateAt ratio, air, ve;
    ratio.compressionRatio = job.engine.compressionRatio + ratioOff;
    air.intakeC =
        (job.control == FuelControl::mechanical ? job.mechanical.intakeC : job.conditions.intakeUsualC) +
        airOff;
    ve.veShare = 1 + veOff;
    ChargeModel octane = estimator.model(), cooling = estimator.model();
    octane.octaneShift -= octaneOff;
    cooling.coolingShare += coolingOff;
    part("engine.compression_ratio", MARKED("estimate_sigma.compression", "compression ratio, not stated"),
         ratioOff, Dimension::none, ratio, estimator);
    part(job.control == FuelControl::mechanical ? "mechanical.intake_c" : "conditions.intake_usual_c",
         MARKED("estimate_sigma.intake", "usual intake air, not stated"), airOff,
         Dimension::temperatureDifference, air, estimator);
    part("fuel.gasoline.ron", MARKED("estimate_sigma.octane", "octane of the gasoline, not stated"),
         octaneOff, Dimension::octane, {}, estimator.with(octane));
    part("engine.fuel_place", MARKED("estimate_sigma.cooling", "place of injection, not stated"), coolingOff,
         Dimension::ratio, {}, estimator.with(cooling));
    // Cells have origins instead of statements.
    if (job.control == FuelControl::controller &&
        std::ranges::any_of(endTable(job, CalibratedQuantity::fuel, point.content, false).origins(), guessed))
        s.parts.push_back({MARKED("estimate_sigma.air", "air, while the fuel tables are estimates"), veOff,
                           Dimension::ratio, std::abs(usefulDeg(estimator.at(point, ve)) - here),
                           "calibration.fuel"});
    double sum = 0;
    for (const EstimateSigma::Part &p : s.parts)
        sum += p.deg * p.deg;
    s.deg = std::sqrt(sum);
    return s;
}

EstimateTable estimateTable(const Study &given, double content, std::stop_token stop) {
    const Study &study = given.inPressure();
    const Job &job = study.job();
    EstimateTable t;
    t.content = job.control == FuelControl::mechanical ? mechanicalContent(job) : content;
    requireWithin("content", content, 0, 1);
    const Table2D &axes = *study.ends(CalibratedQuantity::spark, t.content).low;
    t.rpm = axes.x();
    t.loadKpa = axes.y();
    const SparkEstimator estimator(study);
    const Cylinder cylinder(shapeOf(job), coarseStepDeg);
    double worst = -1;
    OperatingPoint hardest{t.content, t.rpm.last(), t.loadKpa.last()};
    const std::vector<ReachAtSpeed> reach = study.reach(t.content, t.rpm.points());
    std::vector<Charge> charges(t.rpm.size());
    std::vector<Burn> burns(t.rpm.size());
    std::vector<KnockLimit> limits(t.rpm.size());
    for (const double load : t.loadKpa.points()) {
        if (stop.stop_requested()) return {};
        for (std::size_t x = 0; x < t.rpm.size(); ++x) {
            const TrappedCharge c =
                trap(cylinder.shape(), estimator.model(), breathAt(study, {t.content, t.rpm[x], load}, {}));
            charges[x] = c.charge;
            burns[x] = c.burn;
        }
        cylinder.knockLimits(charges, burns, t.rpm.points(), limits);
        for (std::size_t x = 0; x < t.rpm.size(); ++x) {
            t.knocks.push_back(limits[x].kind != KnockLimit::Kind::never);
            t.knockDeg.push_back(t.knocks.back() ? limits[x].deg : earliestSparkTried);
            t.bestDeg.push_back(bestSparkDeg(burns[x]));
            const double held = t.bestDeg.back() - t.knockDeg.back();
            if (reach[x].reaches(load) && held > worst) {
                worst = held;
                hardest = {t.content, t.rpm[x], load};
            }
        }
    }
    t.sigmaDeg = estimateSigma(estimator, job, hardest).deg;
    return t;
}

namespace {

// Rows from the air around up, of the knock limit: under it nothing is asked of a ceiling.
Table2D cellsOf(const EstimateTable &t, const std::vector<double> &values, double fromKpa) {
    std::vector<double> rows, cells;
    const std::size_t columns = t.rpm.size();
    for (std::size_t y = 0; y < t.loadKpa.size(); ++y) {
        if (t.loadKpa[y] < fromKpa && y + 2 <= t.loadKpa.size() - 1) continue;
        rows.push_back(t.loadKpa[y]);
        for (std::size_t x = 0; x < columns; ++x) {
            constexpr double perDegree = 10; // an estimate has no more digits
            cells.push_back(std::clamp(std::round(values[y * columns + x] * perDegree) / perDegree,
                                       latestSparkTried, earliestSparkTried));
        }
    }
    Table2D table(t.rpm, Axis(std::move(rows)), std::move(cells));
    table.setOrigins(std::vector(table.cells().size(), CellOrigin::estimated));
    return table;
}

void replaceEstimate(Job &job, ExtraTable table) {
    constexpr double same = 0.005;
    for (std::size_t i = job.extras.size(); i-- > 0;) {
        const ExtraTable &old = job.extras[i];
        if (old.kind == table.kind && std::abs(old.content - table.content) < same && whollyEstimated(old))
            removeExtra(job, i);
    }
    const std::string name = table.name;
    const auto taken = [&](const ExtraTable &e) { return e.name == table.name; };
    for (int n = 2; std::ranges::any_of(job.extras.values(), taken); ++n)
        table.name = name + " " + std::to_string(n);
    job.extras.push_back(std::move(table));
}

} // namespace

Job withEstimatedCeilings(const Study &study, std::span<const double> contents, std::stop_token stop) {
    std::vector<EstimateTable> tables;
    for (const double content : contents) {
        tables.push_back(estimateTable(study, content, stop));
        if (stop.stop_requested()) return study.job();
    }
    return withEstimatedCeilings(study, tables);
}

Job withEstimatedCeilings(const Study &study, std::span<const EstimateTable> tables) {
    constexpr double ceilingsFromKpa = 100, perDegree = 10;
    Job job = study.job();
    for (const EstimateTable &t : tables) {
        const std::string at = " " + contentName(t.content, job.alcohol == Alcohol::methanol);
        const double sigma = std::round(t.sigmaDeg * perDegree) / perDegree;
        replaceEstimate(job, {TableKind::sparkCeiling, "Estimated ceiling" + at,
                              cellsOf(t, t.knockDeg, ceilingsFromKpa), t.content, sigma});
        replaceEstimate(job, {TableKind::sparkBest, "Estimated best spark" + at, cellsOf(t, t.bestDeg, 0),
                              t.content, sigma});
    }
    return job;
}

std::optional<KnockShares> knockShares(const Study &given) {
    const Study &study = given.inPressure();
    const Job &job = study.job();
    const double base = job.calibration.baseContent, top = job.calibration.topContent;
    const Axis &speeds = study.ends(CalibratedQuantity::spark, base).low->x();
    const SparkEstimator estimator(study);
    KnockShares s;
    double least = earliestSparkTried;
    bool found = false;
    const std::vector<ReachAtSpeed> reach = study.reach(base, speeds.points());
    const double highest = std::ranges::max(reach, {}, &ReachAtSpeed::targetKpa).targetKpa;
    for (std::size_t i = 0; i < speeds.size(); ++i) {
        constexpr double nearly = 0.98;
        if (!reach[i].runs || reach[i].targetKpa < nearly * highest) continue;
        const OperatingPoint p{base, speeds[i], reach[i].targetKpa};
        const double deg = usefulDeg(estimator.at(p));
        if (deg < least) {
            least = deg;
            s.at = p;
            found = true;
        }
    }
    if (!found) return std::nullopt;
    const auto limit = [&](const SparkEstimator &with, double content) {
        const KnockLimit k = with.at({content, s.at.rpm, s.at.loadKpa}).knock;
        return k.kind == KnockLimit::Kind::never ? earliestSparkTried : k.deg;
    };
    const double cap = estimator.at({top, s.at.rpm, s.at.loadKpa}).bestDeg;
    const double low = std::min(cap, limit(estimator, base)), high = std::min(cap, limit(estimator, top));
    if (high - low < 1) return std::nullopt;
    constexpr int steps = 15;
    double before = 0;
    for (int i = 0; i <= steps; ++i) {
        const double content = i == steps ? top : base + (top - base) * i / steps;
        const double deg = std::min(cap, limit(estimator, content));
        // Never falling, exactly 0 and 1 at the ends.
        before = i == 0 ? 0 : i == steps ? 1 : std::clamp((deg - low) / (high - low), before, 1.0);
        s.contents.push_back(content);
        s.shares.push_back(before);
    }
    s.middleContent = (base + top) / 2;
    const auto middle = [&](const ChargeModel &model) {
        const SparkEstimator with = estimator.with(model);
        const double from = limit(with, base), until = limit(with, top);
        return (limit(with, s.middleContent) - from) / (until - from);
    };
    ChargeModel plain = estimator.model(), dry = estimator.model();
    plain.sensitivityAtBoost = 0;
    dry.coolingShare = 0;
    s.middle = middle(estimator.model());
    s.withoutSensitivity = middle(plain);
    s.withoutCooling = middle(dry);
    const auto moles = [&](double content) {
        const BlendProperties f = study.fuelAt(content);
        return f.ethanolMoleFraction + f.methanolMoleFraction;
    };
    s.moleFraction = (moles(s.middleContent) - moles(base)) / (moles(top) - moles(base));
    return s;
}

void takeKnockShape(Job &job) {
    if (definitionOf(job.calibration.school).levels)
        throw InputError(
            "curve",
            MARKED("expected.a_school_with_a_curve_over_content", "a school with a curve over content"),
            std::string(definitionOf(job.calibration.school).title.text));
    const std::optional<KnockShares> shares = knockShares(Study(job));
    if (!shares)
        throw InputError("curve",
                         MARKED("expected.fuels_that_differ_by_a_degree",
                                "two fuels that the estimate tells apart by a degree or more"),
                         MARKED("found.less_than_a_degree", "less than a degree"));
    TwoTable &spark = job.calibration.of(CalibratedQuantity::spark);
    spark.customWeight = Curve(shares->contents, shares->shares);
    spark.shape = WeightShape::custom;
}

Explanation explainBestSpark(const Study &study, const OperatingPoint &point, const EstimateAt &asked) {
    const SparkEstimate e = SparkEstimator(study).at(point, asked);
    Explanation x;
    constexpr Dimension deg = Dimension::sparkAngle;
    x.title = MARKED("spark_estimate.best", "Best spark, estimated");
    x.result = {e.bestDeg, deg};
    x.formula = MARKED("spark_estimate.best.formula", "spark = delay + Δθ · (ln 2 / 5)^⅓ − 10°");
    x.substituted = {MARKED("spark_estimate.best.numbers", "{0} + {1} · 0.5175 − 10° = {2}"),
                     {{e.trapped.burn.delayDeg, deg}, {e.trapped.burn.durationDeg, deg}, {e.bestDeg, deg}}};
    x.inputs = {
        {"delay", MARKED("spark_estimate.delay", "ignition delay"), {e.trapped.burn.delayDeg, deg}, {}},
        {"Δθ",
         MARKED("spark_estimate.duration", "length of the burn"),
         {e.trapped.burn.durationDeg, deg},
         {}},
        {"λ",
         MARKED("spark_estimate.lambda", "λ there"),
         {e.breath.lambda, Dimension::mixture},
         "calibration.lambda.base"}};
    x.source = MARKED("spark_estimate.best.source",
                      "Half burned at 10° after top dead centre: Heywood (1988) section 9.1; Wiebe function, "
                      "eq. 9.8; delay and length by speed, load and λ: common practice, from memory");
    x.uncertainty = {MARKED("spark_estimate.uncertainty",
                            "± {0} before any evidence; what was found on the engine overrules it."),
                     {{modelSigmaDeg, deg}}};
    x.change = {MARKED("spark_estimate.best.change",
                       "A sweep of spark on a dyno: torque falls about with the square of the distance."),
                {}};
    return x;
}

Explanation explainKnockLimit(const Study &study, const OperatingPoint &point, const EstimateAt &asked) {
    const SparkEstimator estimator(study);
    const SparkEstimate e = estimator.at(point, asked);
    const EstimateSigma sigma = estimateSigma(estimator, study.job(), point);
    constexpr Dimension deg = Dimension::sparkAngle;
    const bool never = e.knock.kind == KnockLimit::Kind::never;
    Explanation x;
    x.title = MARKED("spark_estimate.knock", "Spark that it stands, estimated");
    x.result = {never ? earliestSparkTried : e.knock.deg, deg};
    x.formula = MARKED("spark_estimate.knock.formula",
                       "∫ dt/τ = 1 before 90 % has burned, τ = 17.68 (ON/100)^3.402 p^−1.7 e^(3800/T) ms");
    if (never)
        x.substituted = {
            MARKED("spark_estimate.knock.never", "∫ dt/τ stays under 1 up to {0}: {1} at {2}"),
            {{earliestSparkTried, deg}, {e.cycle.knockIntegral, Dimension::none}, {e.sparkDeg, deg}}};
    else
        x.substituted = {MARKED("spark_estimate.knock.numbers", "1 is reached from {0} on; {1} at {2}"),
                         {{e.knock.deg, deg}, {e.cycle.knockIntegral, Dimension::none}, {e.sparkDeg, deg}}};
    const Charge &c = e.trapped.charge;
    x.inputs = {{"ON",
                 MARKED("spark_estimate.octane", "octane index"),
                 {c.octane, Dimension::octane},
                 "fuel.gasoline.ron"},
                {"p",
                 MARKED("spark_estimate.pressure", "pressure when the valve has closed"),
                 {c.pressureKpa, Dimension::pressure},
                 {}},
                {"T",
                 MARKED("spark_estimate.temperature", "temperature then"),
                 {c.temperatureK - 273.15, Dimension::temperature},
                 "conditions.intake_usual_c"},
                {"ΔT",
                 MARKED("spark_estimate.cooling", "of it, taken by the fuel"),
                 {e.trapped.coolingK, Dimension::temperatureDifference},
                 "engine.fuel_place"},
                {"r",
                 MARKED("spark_estimate.ratio", "compression ratio"),
                 {asked.compressionRatio.value_or(study.job().engine.compressionRatio), Dimension::none},
                 "engine.compression_ratio"},
                {"λ",
                 MARKED("spark_estimate.lambda", "λ there"),
                 {e.breath.lambda, Dimension::mixture},
                 "calibration.lambda.base"},
                {"VE",
                 MARKED("spark_estimate.ve", "air that the fuel tables imply"),
                 {e.breath.ve * 100, Dimension::volumetricEfficiency},
                 "calibration.fuel.base"}};
    for (const EstimateSigma::Part &p : sigma.parts)
        x.inputs.push_back({"±", p.title, {p.deg, deg}, p.link});
    x.source =
        MARKED("spark_estimate.knock.source",
               "Douaud and Eyzat, SAE 780080 (1978); Livengood and Wu (1955); one zone: Heywood (1988) "
               "section 9.2.2; octane by mole fraction: Anderson et al., SAE 2010-01-2137; octane index: "
               "Kalghatgi, SAE 2001-01-3584 (from memory)");
    x.uncertainty = {
        MARKED("spark_estimate.knock.uncertainty",
               "± {0}: the root of the squares of its parts. An estimate clears no question; what "
               "was found on the engine overrules it."),
        {{sigma.deg, deg}}};
    x.change = {MARKED("spark_estimate.knock.change",
                       "Knock seen or not seen in pulls; a cooler charge, a richer mixture, more octane."),
                {}};
    return x;
}

} // namespace wheelwright
