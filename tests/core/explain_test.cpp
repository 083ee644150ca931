// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/base/limits.h"
#include "core/explain/explain_cell.h"
#include "core/explain/explain_flow.h"
#include "core/explain/explain_fuel.h"
#include "core/job/job_schema.h"
#include "core/job/tank_history.h"
#include "core/study/content_curve.h"
#include "core/study/fuel_delivery.h"
#include "core/study/school.h"
#include "core/study/school_conversion.h"
#include "core/study/spark_budget.h"
#include "core/verify/verdict.h"
#include "formats/job_json.h"
#include "support/arithmetic.h"
#include "support/phrases.h"
#include "support/random_job.h"
#include "support/test_main.h"

#include <QFile>

using namespace wheelwright;
using testing::phrase;
using testing::said;
using namespace wheelwright::testing;

namespace {

constexpr double tight = 1e-9; // relative: the same sum in another order

double near1(double v) {
    return tight * std::max(1.0, std::abs(v));
}

Job moorhen() {
    QFile f(QStringLiteral(SOURCE_DIR "/data/demo/moorhen.json"));
    if (!f.open(QIODevice::ReadOnly)) qFatal("no demo");
    return jobFromJson(f.readAll().toStdString());
}

// The demo with something behind every number of the Flow station.
Job equipped() {
    Job job = demoJob();
    job.aux.fitted = true;
    job.aux.spray.ratedFlowCcMin = 300;
    job.supply.commandedKpa = 310;
    job.supply.measuredKpa = 276;
    job.cylinderNeeds = {{"1", 1}, {"2", 1.03}, {"3", 1.06}, {"4", 1.02}, {"5", 0.99}};
    job.measuredInjectors = {{"a", 720}, {"b", 731}, {"c", 745}, {"d", 716}, {"e", 728}};
    return job;
}

std::vector<Job> jobs() {
    std::vector<Job> all{demoJob(), equipped()};
    for (unsigned seed = 0; seed < 6; ++seed)
        all.push_back(randomJob(seed));
    return all;
}

double in(const Explanation &x, const std::string &symbol) {
    for (const ExplanationInput &i : x.inputs)
        if (i.symbol == symbol) return i.value.value;
    QTest::qFail(("no input " + symbol + " in " + said(x.title)).c_str(), __FILE__, __LINE__);
    return 1e99;
}

// Worked out from the field that the link leads to, rather than the field itself; each has a check of its
// own.
bool derived(const Explanation &x, const ExplanationInput &i) {
    return (said(x.title) == "Pump share" && i.symbol == "p") ||
           (said(x.title) == "Injector duty" && i.symbol == "Q") ||
           (said(x.title) == "Injector duty here" && i.symbol == "Q") ||
           (said(x.title) == "Injector duty" && i.symbol == "t_d") ||
           (said(x.title) == "Spark that corrections take" && i.link == "spark.knock_retard_worst_deg");
}

double shown(const Explanation &x, std::size_t i) {
    if (i < x.substituted.values.size()) return x.substituted.values[i].value;
    QTest::qFail(("no value " + std::to_string(i) + " in " + said(x.title)).c_str(), __FILE__, __LINE__);
    return 1e99;
}

} // namespace

#define NEAR(actual, expected) COMPARE_NEAR(actual, expected, near1(expected))

/// Every working by its numbers: what is named as an input is what went in, and the line with the numbers put
/// in comes to the result.
class ExplainTest : public QObject {
    Q_OBJECT
  private slots:
    void arithmeticItself();
    void cells();
    void weights();
    void tank();
    void plansAndFlushes();
    void settling();
    void tubesSensorsAndLambda();
    void comparisonsAndEffects();
    void limits();
    void powerAndDuty();
    void returnSagAndAssignment();
    void boost();
    void spray();
    void mechanical();
    void budget();
    void everyCheck_data();
    void everyCheck();

  private:
    // What holds for all of them. `evaluated`: counts those whose line is a sum that can be done.
    static void sound(const Job &job, const Explanation &x, const WorstPlace *place = nullptr);
    static inline int s_evaluated = 0;
};

void ExplainTest::sound(const Job &job, const Explanation &x, const WorstPlace *place) {
    QVERIFY2(std::isfinite(x.result.value), said(x.title).c_str());
    for (const ExplanationInput &i : x.inputs) {
        if (const Field *f = fieldByPath(i.link))
            if (const FieldContent content = f->read(job); const double *v = std::get_if<double>(&content))
                if (i.value.dimension == f->dimension && !derived(x, i))
                    QVERIFY2(near(i.value.value, *v, near1(*v)),
                             qPrintable(QStringLiteral("%1: %2 is %3, not %4")
                                            .arg(said(x.title).c_str(), i.link.c_str())
                                            .arg(i.value.value)
                                            .arg(*v)));
        if (i.link.starts_with("limit:")) {
            const double limit = limitOf(job, i.link.substr(6));
            const bool same = near(i.value.value, limit, near1(limit)) ||
                              (place && near(i.value.value, place->limit, near1(place->limit)));
            QVERIFY2(same, qPrintable(QStringLiteral("%1: %2 is %3, not %4")
                                          .arg(said(x.title).c_str(), i.link.c_str())
                                          .arg(i.value.value)
                                          .arg(limit)));
        }
    }
    for (std::size_t v = 0; v < x.substituted.values.size(); ++v) // every number that is worked out is shown
        QVERIFY2(x.substituted.text.find("{" + std::to_string(v) + "}") != std::string::npos,
                 std::string(x.substituted.text).c_str());
    if (const auto sum = valueOf(x.substituted)) {
        ++s_evaluated;
        const double result = x.result.value;
        QVERIFY2(near(*sum, result, 1e-7 * std::max(1.0, std::abs(result))),
                 qPrintable(QStringLiteral("%1: %2 comes to %3, not %4")
                                .arg(said(x.title).c_str(), std::string(x.substituted.text).c_str())
                                .arg(*sum)
                                .arg(result)));
    }
}

void ExplainTest::arithmeticItself() {
    QCOMPARE(valueOf(phrase("(1 − {0}) · {1} + {0} · {2}", {{0.25, {}}, {10, {}}, {20, {}}})),
             std::optional(12.5));
    QCOMPARE(valueOf(phrase("1 − {0} / {1}", {{276, {}}, {310, {}}})), std::optional(1 - 276.0 / 310));
    QCOMPARE(valueOf(phrase("{0} / {1} = {2}", {{3, {}}, {2, {}}, {1.5, {}}})), std::optional(1.5));
    QVERIFY(!valueOf(phrase("{0} / {1} = {2}", {{3, {}}, {2, {}}, {1.4, {}}})).has_value() ||
            *valueOf(phrase("{0} / {1} = {2}", {{3, {}}, {2, {}}, {1.4, {}}})) !=
                1.5); // both sides are looked at
    QVERIFY(!valueOf(phrase("{0} of alcohol in {1}", {{3, {}}, {2, {}}})));
    QVERIFY(!valueOf(phrase("{0}", {{3, {}}}))); // a number alone is no sum
}

void ExplainTest::cells() {
    for (const Job &job : jobs())
        for (const CalibratedQuantity q : allQuantities)
            for (const double content : {0.0, 0.2, 0.37, 0.8, 1.0}) {
                const BlendEnds ends = SchoolModel(job).at(q, content);
                const Table2D &low = *ends.low;
                for (const CellIndex cell :
                     {CellIndex{0, 0}, CellIndex{low.x().size() - 1, low.y().size() / 2}}) {
                    const Explanation x = explainBlendedCell(Study(job), q, content, cell);
                    const double rpm = low.x()[cell.x], y = low.y()[cell.y];
                    NEAR(x.result.value, Study(job).blended(q, content).cell(cell));
                    NEAR(in(x, "E"), content);
                    NEAR(in(x, "A"), low.cell(cell));
                    if (job.calibration.school == School::windowSet) {
                        // One file alone: it says for which content, and when that is not the content's own.
                        NEAR(shown(x, 0), low.cell(cell));
                        NEAR(shown(x, 1), ends.lowContent);
                        NEAR(shown(x, 2), content);
                        QCOMPARE(says(x.change, "lies in no window"), ends.outside);
                        continue;
                    }
                    NEAR(in(x, "B"), ends.high->lookup(rpm, y).value);
                    NEAR(in(x, "w"), ends.weight);
                    if (ends.scale == 1) sound(job, x);
                    if (!ends.outside) {
                        NEAR(x.change.values[0].value, 1 - ends.weight);
                        NEAR(x.change.values[1].value, ends.weight);
                    } else {
                        NEAR(x.change.values[0].value, content);
                        NEAR(x.change.values[1].value, ends.lowContent);
                        NEAR(x.change.values[2].value, ends.highContent);
                    }
                    double shares = 0;
                    for (const bool top : {false, true}) {
                        const Table2D &own = top ? *ends.high : low;
                        const CellIndex at{std::min(cell.x, own.x().size() - 1),
                                           std::min(cell.y, own.y().size() - 1)};
                        const Explanation t = explainTableCell(Study(job), q, top, content, at);
                        sound(job, t);
                        NEAR(t.result.value, own.cell(at));
                        NEAR(in(t, "rpm"), own.x()[at.x]);
                        NEAR(in(t, std::string(tableIn(job, q, top).y.title.text)), own.y()[at.y]);
                        NEAR(in(t, "E"), top ? ends.highContent : ends.lowContent);
                        NEAR(in(t, "w"), top ? ends.weight : 1 - ends.weight);
                        NEAR(shown(t, 0), in(t, "w"));
                        NEAR(shown(t, 1), content);
                        NEAR(t.change.values[0].value, tableIn(job, q, top).least);
                        NEAR(t.change.values[1].value, tableIn(job, q, top).most);
                        shares += in(t, "w");
                    }
                    NEAR(shares, 1);
                }
            }
}

void ExplainTest::weights() {
    for (const Job &job : jobs())
        for (const CalibratedQuantity q : allQuantities)
            for (const double content : {0.15, 0.5, 0.7}) {
                const Calibration &c = job.calibration;
                const double w = WeightModel(job).at(content)[q];
                const Explanation x = explainWeight(Study(job), q, content);
                sound(job, x);
                NEAR(x.result.value, w);
                NEAR(in(x, "E_A"), c.baseContent);
                NEAR(in(x, "E_B"), c.topContent);
                const std::vector<double> line{c.baseContent, c.topContent, content, w};
                for (std::size_t i = 0; i < line.size(); ++i)
                    NEAR(shown(x, i), line[i]);
                if (c.of(q).shape != WeightShape::physical) continue;
                const double straight = (content - c.baseContent) / (c.topContent - c.baseContent);
                NEAR(x.uncertainty.values[0].value, straight);
                NEAR(x.uncertainty.values[1].value, std::abs(w - straight));
            }
}

void ExplainTest::tank() {
    for (const Job &job : jobs()) {
        const TankState now = tankNow(job);
        const UncertainTank known = uncertainTankNow(job);
        const Explanation x = explainTankLevel(job);
        sound(job, x);
        NEAR(x.result.value, now.volumeL);
        NEAR(shown(x, 0), now.volumeL);
        NEAR(shown(x, 1), job.tank.capacityL);
        NEAR(in(x, "n"), static_cast<double>(job.tankEvents.size()));
        NEAR(x.uncertainty.values[0].value, known.volumeL().sigma);
        for (const Opinion &o : opinionsOf(job).all) {
            const Explanation y = explainOpinion(job, o);
            sound(job, y);
            NEAR(y.result.value, o.content.value);
            NEAR(y.uncertainty.values[0].value, o.content.sigma);
            NEAR(in(y, "n"), static_cast<double>(job.tankEvents.size()));
            if (o.source == OpinionSource::arithmetic) {
                NEAR(shown(y, 1), now.volumeL);
                NEAR(shown(y, 0), now.volumeL * alcoholOf(now.content)); // alcohol in it
            } else {
                NEAR(in(y, "c"), o.read.value);
                NEAR(shown(y, 0), o.read.value);
                if (o.poursSince > 0) {
                    NEAR(shown(y, 1), o.read.sigma);
                    NEAR(shown(y, 2), o.poursSince);
                }
            }
        }
    }
}

void ExplainTest::plansAndFlushes() {
    const Job job = demoJob();
    int drained = 0;
    for (const double target : {0.05, 0.2, 0.4, 0.7, 0.95}) {
        const PourRequest r = pourRequestOf(job, target);
        for (const PourPlan &p : planPour(r).plans) {
            const Explanation x = explainPlan(p, r);
            NEAR(x.result.value, p.content);
            NEAR(shown(x, 0) / shown(x, 1), p.content); // alcohol in all of it
            NEAR(shown(x, 1), p.volumeL);
            NEAR(shown(x, 2), r.volumeL);
            NEAR(shown(x, 3), r.content);
            NEAR(in(x, "V"), r.volumeL);
            NEAR(in(x, "c"), r.content);
            NEAR(in(x, "c*"), target);
            NEAR(in(x, "V_cap"), job.tank.capacityL);
            // The balance of the formula, from the inputs alone.
            double volume = r.volumeL, alcohol = r.volumeL * r.content;
            if (p.drainL > 0) {
                ++drained;
                NEAR(in(x, "d"), p.drainL);
                volume -= in(x, "d");
                alcohol -= in(x, "d") * r.content;
            }
            for (std::size_t i = 0; i < p.pourL.size(); ++i)
                if (p.pourL[i] > 0) {
                    volume += in(x, "a" + std::to_string(i + 1));
                    alcohol += in(x, "a" + std::to_string(i + 1)) * r.shelf[i].content;
                }
            NEAR(volume, shown(x, 1));
            NEAR(alcohol, shown(x, 0));
            if (const auto steps = stepsOf(p, r); !steps.empty())
                NEAR(x.uncertainty.values[0].value, steps.back().content.sigma);
            if (!p.exact) NEAR(x.change.values[0].value, std::abs(p.content - target));
        }
    }
    QVERIFY(drained > 0);
    int parts = 0;
    for (const double tolerance : {0.2, 0.02, 0.001}) {
        const TankState tank{30, {VolumeFraction::fraction(0.26), VolumeFraction::fraction(0.04)}};
        const FlushPlan plan = planFlush(30, 0.30, 0.1, 8, 61, 0.11, tolerance);
        const Explanation x = explainFlush(plan, tank, 0.1, 8, 61, 0.11, tolerance);
        NEAR(x.result.value, plan.fills);
        NEAR(in(x, "c_a"), 0.1);
        NEAR(in(x, "r"), 8);
        NEAR(in(x, "V"), 61);
        NEAR(in(x, "c*"), 0.11);
        NEAR(in(x, "±"), tolerance);
        if (plan.lastL > 0) {
            NEAR(shown(x, 0) * (shown(x, 1) - shown(x, 2)) / (shown(x, 2) - shown(x, 3)), shown(x, 4));
            NEAR(shown(x, 4), plan.lastL);
            ++parts;
        } else {
            const double after =
                shown(x, 0) + (shown(x, 1) - shown(x, 0)) * std::pow(shown(x, 2) / shown(x, 3), plan.fills);
            if (plan.possible && plan.fills > 0) NEAR(after, plan.contents.back());
        }
        if (!plan.possible) NEAR(x.change.values[0].value, std::abs(0.1 - 0.11));
    }
    QVERIFY(parts > 0);
}

void ExplainTest::settling() {
    FuelPath p;
    p.lineL = 0.6;
    p.lineFlowLMin = 0.3;
    p.railL = 0.2;
    p.returnL = 0.4;
    p.useLMin = 0.1;
    for (const auto &[surge, surgeFlow] : {std::pair{0.0, 0.0}, std::pair{3.0, 0.0}, std::pair{3.0, 1.5}})
        for (const SensorPlace place : {SensorPlace::feed, SensorPlace::returnLine})
            for (const bool atInjector : {false, true}) {
                p.surgeL = surge;
                p.surgeFlowLMin = surgeFlow;
                p.place = place;
                const Explanation x = explainSettling(p, 0.2, 0.6, atInjector);
                NEAR(shown(x, 2), 0.4);
                NEAR(shown(x, 0) + shown(x, 1) * std::log(shown(x, 2) / 0.01), x.result.value);
                NEAR(x.result.value,
                     atInjector ? injectorSettlingMinutes(p, 0.2, 0.6) : settlingMinutes(p, 0.2, 0.6));
                // Plug flow by hand: what is in the lines over what flows through them.
                const double injectors = (0.6 + 0.2) / 0.3;
                NEAR(shown(x, 0), atInjector                   ? injectors
                                  : place == SensorPlace::feed ? 0.6 / 0.3
                                                               : injectors + 0.4 / (0.3 - 0.1));
                NEAR(in(x, "V_line"), 0.6);
                NEAR(in(x, "V_rail"), 0.2);
                NEAR(in(x, "Q"), 0.3);
                NEAR(in(x, "V_surge"), surge);
                NEAR(in(x, "Q_surge"), surgeFlow > 0 ? surgeFlow : 0.3);
                if (place == SensorPlace::returnLine) NEAR(in(x, "V_ret"), 0.4);
            }
}

void ExplainTest::tubesSensorsAndLambda() {
    for (const double contraction : {0.0, 0.03}) {
        TubeReading r{50, 100, 80, 0.5, contraction, 0.01};
        const Explanation x = explainTube(r);
        sound({}, x);
        QVERIFY(valueOf(x.substituted).has_value());
        NEAR(in(x, "W"), 50);
        NEAR(in(x, "T"), 100);
        NEAR(in(x, "S"), 80);
        NEAR(in(x, "k"), contraction);
        NEAR(in(x, "u"), 0.5);
        NEAR(x.uncertainty.values[0].value, tubeContent(r).content.sigma);
        NEAR(x.change.values[0].value, (80.0 - 50) / (100 - 50)); // without contraction
    }
    const Explanation s = explainSensor(92, 2.2);
    sound({}, s);
    NEAR(s.result.value, 0.42);
    NEAR(in(s, "f"), 92);
    NEAR(in(s, "p"), 2.2);
    for (const double lambda : {0.85, 1.1}) {
        const Explanation l = explainLambda(lambda, 9.8, "own");
        sound({}, l);
        QVERIFY(valueOf(l.substituted).has_value());
        NEAR(l.result.value, lambda);
        NEAR(shown(l, 0), lambda * 9.8); // as the gauge shows it
        NEAR(in(l, "AFR₀"), 9.8);
        NEAR(l.change.values[0].value, std::abs(lambda - 1));
    }
}

void ExplainTest::comparisonsAndEffects() {
    for (const Job &job : {demoJob(), moorhen()}) {
        for (const ComparedFuel &f : compareFuels(Study(job), "", nullptr))
            for (const FuelColumn &c : allFuelColumns()) {
                if (!c.of(f)) continue;
                const Explanation x = explainComparison(f, c, "E26");
                NEAR(x.result.value, *c.of(f));
                NEAR(shown(x, 0), f.content.ethanol.fraction());
                NEAR(shown(x, 1), f.content.methanol.fraction());
                NEAR(shown(x, 2), f.properties.densityKgM3);
                NEAR(shown(x, 3), f.properties.stoichiometricAfr);
                NEAR(in(x, "c"), f.alcohol);
                NEAR(in(x, "K"), f.multiplier);
                if (f.pricePerL) NEAR(in(x, "p"), *f.pricePerL);
                if (f.litresPer100Km) NEAR(in(x, "use"), *f.litresPer100Km);
            }
        for (const double litres : {5.0, 20.0}) {
            const PourEffect e = effectOfPour(Study(job), tankNow(job), litres,
                                              {VolumeFraction::fraction(0.8), VolumeFraction::fraction(0)});
            const Explanation x = explainEffect(e);
            sound(job, x);
            QVERIFY(valueOf(x.substituted).has_value());
            NEAR(x.result.value, e.lambda);
            NEAR(shown(x, 0), e.lambdaTarget);
            NEAR(in(x, "c_0"), alcoholOf(tankNow(job).content));
            NEAR(in(x, "c"), e.content);
            NEAR(in(x, "α"), e.sparkDeg);
            NEAR(in(x, "α*"), e.sparkOfContentDeg);
            NEAR(x.change.values[0].value, e.rpm);
            NEAR(x.change.values[1].value, e.loadKpa);
        }
    }
}

void ExplainTest::limits() {
    Job job = equipped();
    job.limits["boost.map_range.span"] = 0.9;
    for (const double content : {0.1, 0.5, 0.85})
        for (const FrontierLine &line : frontier(Study(job), 3).lines) {
            const Explanation x = explainLimit(Study(job), line.part, content);
            sound(job, x);
            NEAR(x.result.value, boostAllowed(Study(job), line.part, content));
            NEAR(in(x, "E"), content);
            const double kpa = x.result.value, ambient = job.conditions.ambientKpa;
            switch (line.part) {
            case LimitingPart::mapSensor:
                NEAR(shown(x, 1) + shown(x, 0) * (shown(x, 2) - shown(x, 1)), kpa);
                NEAR(shown(x, 1), job.engine.mapSensorMinKpa);
                NEAR(in(x, "p_max"), job.engine.mapSensorMaxKpa);
                break;
            case LimitingPart::springRatio:
                NEAR(shown(x, 0) + shown(x, 1) * shown(x, 2), kpa);
                NEAR(shown(x, 0), ambient);
                break;
            case LimitingPart::engine:
                NEAR(shown(x, 0), job.engine.boostLimitKpa.at(content));
                NEAR(shown(x, 1), content);
                NEAR(in(x, "p"), kpa);
                break;
            case LimitingPart::pump:
                NEAR(shown(x, 0), pumpFlowAt(job, {7000, kpa}));
                NEAR(shown(x, 1), kpa);
                NEAR(in(x, "n"), static_cast<double>(job.supply.pumps.size()));
                break;
            default:
                NEAR(shown(x, 0), limitOf(job, line.part == LimitingPart::dutyStop ? "flow.duty.stop"
                                                                                   : "flow.duty.caution"));
                NEAR(shown(x, 1), kpa);
                NEAR(in(x, "Q"), job.injectors.flowCcMin);
                NEAR(in(x, "lim"), shown(x, 0));
            }
        }
}

void ExplainTest::powerAndDuty() {
    for (Job job : {demoJob(), equipped()})
        for (const bool batch : {false, true}) {
            job.injectors.batch = batch;
            const Frontier f = frontier(Study(job), 11);
            for (std::size_t i = 0; i < f.contents.size(); i += 3) {
                const Explanation x = explainPower(job, f, i);
                NEAR(x.result.value, (f.powerKw[i].first + f.powerKw[i].second) / 2);
                NEAR(shown(x, 0), f.powerKw[i].first);
                NEAR(shown(x, 2), f.powerKw[i].second);
                // The same fuel at both ends of the band: P · BSFC in g/h.
                NEAR(shown(x, 0) * shown(x, 1), shown(x, 2) * shown(x, 3));
                NEAR(in(x, "ṁ") * 3600, shown(x, 0) * shown(x, 1));
                QVERIFY(shown(x, 1) > shown(x, 3)); // the thirsty end makes less
                NEAR(in(x, "E"), f.contents[i]);
                NEAR(in(x, "p"), f.targetKpa[i]);
            }
            for (const double load : {100.0, 180.0}) {
                const Explanation x = explainDuty(Study(job), {0.5, 5200, load});
                sound(job, x);
                const BlendedPoint p = blendedPoint(Study(job), {0.5, 5200, load});
                NEAR(in(x, "T"), p.fuel);
                NEAR(in(x, "λ"), p.lambda);
                NEAR(in(x, "Q"), shown(x, 1));
                NEAR(in(x, "Δp"), job.injectors.railPressureKpa +
                                      (job.injectors.boostReferenced ? 0 : job.conditions.ambientKpa - load));
                NEAR(shown(x, 3), 5200);
                const double openMs = shown(x, 0) * 60 / shown(x, 1); // 1 cc/min is 1/60 mm³/ms
                NEAR((openMs + (batch ? 2 : 1) * shown(x, 2)) * 5200 / 120000, x.result.value);
            }
        }
}

void ExplainTest::returnSagAndAssignment() {
    const Job job = equipped();
    const double cold = job.conditions.intakeColdestC;
    for (const double load : {60.0, 200.0}) {
        const BlendedPoint p = blendedPoint(Study(job), {0.5, 5000, load});
        const double engine =
            engineFlowLMin(job, InjectorDemand(job, 0.5, cold).mm3(p.fuel, {5000, load}, p.lambda), 5000);
        const double pump = pumpFlowAt(job, {5000, load});
        const Explanation x = explainReturn(job, {0.5, 5000, load}, pump - engine);
        sound(job, x);
        NEAR(shown(x, 0), pump);
        NEAR(shown(x, 1), engine);
        NEAR(shown(x, 0) - shown(x, 1), x.result.value);
        NEAR(shown(x, 2), 5000);
        NEAR(shown(x, 3), load);
        NEAR(in(x, "Q_p"), pump);
        NEAR(in(x, "E"), 0.5);
        NEAR(in(x, "least"), job.supply.sensorReturnLMin);
    }
    const Explanation sag = explainSag(Study(job), 0.4);
    sound(job, sag);
    QVERIFY(valueOf(sag.substituted).has_value());
    NEAR(sag.result.value, 1 - 276.0 / 310);
    NEAR(in(sag, "Δp"), 276);
    NEAR(in(sag, "Δp_0"), 310);
    std::vector<double> flows, needs;
    for (const MeasuredInjector &m : job.measuredInjectors)
        flows.push_back(m.flowCcMin);
    for (const CylinderNeed &n : job.cylinderNeeds)
        needs.push_back(n.need);
    const InjectorAssignment a = assignInjectors(flows, needs);
    double mean = 0, square = 0;
    for (std::size_t c = 0; c < needs.size(); ++c)
        mean += flows[a.injectorOf[c]] / needs[c] / static_cast<double>(needs.size());
    for (std::size_t c = 0; c < needs.size(); ++c) {
        const Explanation x = explainAssignment(job, a, c);
        NEAR(x.result.value, flows[a.injectorOf[c]]);
        NEAR(shown(x, 0), needs[c]);
        NEAR(shown(x, 1), flows[a.injectorOf[c]]);
        NEAR(in(x, "need"), needs[c]);
        NEAR(in(x, "Q"), flows[a.injectorOf[c]]);
        NEAR(in(x, "s"), a.spread);
        NEAR(in(x, "s_0"), a.randomSpread);
        QVERIFY(std::abs(shown(x, 2)) < 0.1); // how far off, not a ratio about 1
        square += shown(x, 2) * shown(x, 2) / static_cast<double>(needs.size());
    }
    NEAR(std::sqrt(square), a.spread);
}

void ExplainTest::boost() {
    const Job job = demoJob();
    int fits = 0, steps = 0;
    for (const BoostGroup &g : boostGroups(job)) {
        if (!g.fit) continue;
        ++fits;
        const Explanation x = explainBoostFit(job, g);
        sound(job, x);
        NEAR(x.result.value, g.fit->sigma());
        NEAR(shown(x, 0), g.fit->sigma());
        NEAR(shown(x, 1), static_cast<double>(g.points.size()));
        NEAR(in(x, "E"), g.content);
        NEAR(in(x, "s"), job.boost.springKpa);
        if (g.gear > 0) NEAR(in(x, "g"), g.gear);
        for (const BoostStep &s : planBoostSteps(Study(job), g, 0.85).steps) {
            ++steps;
            const Explanation y = explainBoostStep(job, g, s);
            sound(job, y);
            NEAR(y.result.value, s.boostKpa);
            NEAR(shown(y, 0), s.duty);
            NEAR(shown(y, 1), s.cutKpa);
            NEAR(in(y, "Δp"), limitOf(job, "boost.step"));
            NEAR(in(y, "Δd"), limitOf(job, "boost.step.duty"));
            NEAR(in(y, "cut"), limitOf(job, "boost.cut.room"));
            NEAR(in(y, "E"), g.content);
            if (!s.beyond) NEAR(y.uncertainty.values[0].value, s.sigmaKpa);
        }
    }
    QVERIFY(fits > 0 && steps > 0);
}

void ExplainTest::spray() {
    Job job = equipped();
    for (const double flow : {100.0, 600.0, 20000.0}) { // the last is more than the engine takes
        job.aux.spray.ratedFlowCcMin = flow;
        for (const SprayCell &c : sprayMap(Study(job), 0.5)) {
            const Explanation x = explainSprayCell(Study(job), 0.5, c);
            sound(job, x);
            NEAR(x.result.value, c.trim);
            NEAR(shown(x, 0), c.lambdaMeant);
            NEAR(shown(x, 1), c.sprayCcMin);
            if (c.trim > 0)
                NEAR(shown(x, 2), shown(x, 0) / x.result.value); // λ when it stops
            else
                NEAR(shown(x, 2), 99);
            NEAR(in(x, "Q"), sprayFlowCcMin(job.aux.spray));
            NEAR(in(x, "M"), job.aux.spray.methanol);
            NEAR(in(x, "α"), c.sparkDeg);
            NEAR(in(x, "c"), c.alcoholWith);
            NEAR(in(x, "Δα"), sparkOnSpray(Study(job), 0.5, c));
        }
    }
}

void ExplainTest::mechanical() {
    Job job = moorhen();
    job.mechanical.now.temperatureC = 31;
    job.mechanical.then.temperatureC = 12;
    for (const PillStep &s : pillsOfJob(job)) {
        const Explanation x = explainPill(job, s.diameterMm, s.areaMm2, s.point, s.leanerBy);
        sound(job, x);
        NEAR(x.result.value, s.point.lambda);
        NEAR(shown(x, 0), s.diameterMm);
        NEAR(shown(x, 1), s.point.network.pressureKpa);
        NEAR(shown(x, 2), s.point.network.engineLMin / s.point.network.pumpLMin); // the share that it is
        NEAR(shown(x, 3), s.point.network.pumpLMin);
        NEAR(shown(x, 4), s.leanerBy);
        NEAR(in(x, "A"), s.areaMm2);
        NEAR(in(x, "rpm"), s.point.rpm);
    }
    const WeatherAdvice a = adviseForWeather(job);
    const Explanation w = explainWeather(job, a);
    sound(job, w);
    NEAR(w.result.value, a.pillMm);
    NEAR(shown(w, 0), a.densityNow);
    NEAR(shown(w, 1), a.densityThen);
    NEAR(shown(w, 2), shown(w, 0) / shown(w, 1));
    QVERIFY(shown(w, 2) < 1); // warmer air is thinner
    NEAR(in(w, "t_0"), 12);
    NEAR(in(w, "t"), 31);
    NEAR(in(w, "d"), job.mechanical.injection.main.diameterMm);
    for (const PassFinding &f : readPasses(job)) {
        const Explanation x = explainPass(job, f);
        NEAR(x.result.value, job.mechanical.passes[f.pass].exhaustC);
        NEAR(in(x, "d"), job.mechanical.passes[f.pass].pillMm);
        NEAR(in(x, "P"), job.mechanical.passes[f.pass].power);
    }
}

void ExplainTest::budget() {
    for (const Job &job : jobs()) {
        const SparkBudget b = sparkBudget(Study(job), {0.5, 4000, 150});
        const Explanation x = explainBudget(Study(job), {0.5, 4000, 150});
        QVERIFY(x.result.value == b.usualDeg || x.result.value == b.bestDeg || x.result.value == b.worstDeg);
        double usual = b.askedDeg;
        for (const BudgetStep &s : b.steps) {
            if (&s != &b.steps.front() || s.usualTotal != s.usualDeg) usual = s.usualTotal;
        }
        NEAR(usual, b.usualDeg);
    }
}

void ExplainTest::everyCheck_data() {
    QTest::addColumn<int>("job");
    for (int i = 0; i < 11; ++i)
        QTest::addRow("job %d", i) << i;
}

// Every check of every job, at the first content, the worst and the last.
void ExplainTest::everyCheck() {
    QFETCH(int, job);
    std::vector<Job> all = jobs();
    all.push_back(moorhen());
    Job levels = convertSchool(demoJob(), {School::windowSet, {0.1, 0.5, 0.85}, 0.03}).job;
    levels.contentSensing.onFault = SensorFaultRule::fixedContent;
    all.push_back(levels);
    Job stack = convertSchool(equipped(), {School::stack, {0.1, 0.5, 0.85}, 0.03}).job;
    stack.tank.sensorPlace = SensorPlace::returnLine;
    all.push_back(stack);
    const Job &j = all[static_cast<std::size_t>(job)];
    const auto v = verify(j);
    int judged = 0;
    for (const Verdict::Row &row : v->rows)
        for (const WorstPlace *p :
             {&row.outcome.byContent.front(), &row.outcome.worst(), &row.outcome.byContent.back()}) {
            const Explanation x = row.check->explain(v->study->evaluation(), *p);
            sound(j, x, p);
            const bool isValue = near(x.result.value, p->value, 1e-9),
                       isMargin = near(x.result.value, p->margin, 1e-9);
            if (row.check->id == "flow.duty") { // mm³ at cc/min, as in powerAndDuty()
                const double openMs = shown(x, 0) * 60 / shown(x, 1), pulses = j.injectors.batch ? 2 : 1;
                NEAR((openMs + pulses * shown(x, 2)) * shown(x, 3) / 120000, shown(x, 4));
                NEAR(shown(x, 4), p->value);
                NEAR(in(x, "Q"), shown(x, 1));
                NEAR(in(x, "t_d"), shown(x, 2));
            }
            if (row.check->id == "flow.pump")
                NEAR(in(x, "p"),
                     j.injectors.railPressureKpa +
                         (j.injectors.boostReferenced ? p->loadKpa - j.conditions.ambientKpa : 0));
            const bool isUncapped = near(x.result.value, p->uncapped, 1e-9);
            QVERIFY2(isValue || isMargin || isUncapped, qPrintable(QStringLiteral("%1 shows %2, found %3")
                                                                       .arg(row.check->id.data())
                                                                       .arg(x.result.value)
                                                                       .arg(p->value)));
            ++judged;
        }
    QVERIFY(judged >= 3);
    if (job == 10)
        QVERIFY2(s_evaluated > 300, qPrintable(QString::number(s_evaluated))); // the loop has sums to do
}

CORE_TEST_MAIN(ExplainTest)
#include "explain_test.moc"
