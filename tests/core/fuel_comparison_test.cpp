// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/job/job_schema.h"
#include "core/job/tank_history.h"
#include "core/study/fuel_comparison.h"
#include "core/verify/verdict.h"
#include "support/random_job.h"
#include "support/test_main.h"

#include <set>

using namespace wheelwright;

namespace {

Job comparisonJob() {
    Job job = newJob("x");
    job.tank.capacityL = 50;
    job.consumption = {10, 30, 0};
    TankEvent level;
    level.kind = TankEventKind::level;
    level.litres = 50;
    job.tankEvents = {level};
    const auto add = [&](const char *name, FuelKind kind, double ethanol, double methanol, double price) {
        ShelfEntry s;
        s.name = name;
        s.kind = kind;
        s.ethanol = ethanol;
        s.methanol = methanol;
        s.pricePerL = price;
        job.shelf.push_back(s);
    };
    add("E0", FuelKind::pump, 0, 0, 2);
    add("E85", FuelKind::highEthanol, 0.85, 0, 1.5);
    add("M100", FuelKind::methanol, 0, 1, 0);
    add("Booster", FuelKind::booster, 0, 0, 40);
    job.shelf[3].treatRate = 0.01;
    job.shelf[3].treatedRon = 99;
    job.mixtures = {{"boosted", "E0", "Booster", 0}, {"M25", "E0", "M100", 0.25}};
    validate(job);
    return job;
}

const ComparedFuel &row(const std::vector<ComparedFuel> &rows, const char *name) {
    return *std::ranges::find(rows, name, &ComparedFuel::name);
}

} // namespace

/// Fuels side by side, against the table of the product's handbook (chapter 2) and by hand.
class FuelComparisonTest : public QObject {
    Q_OBJECT
  private slots:
    void rowsOfTheHandbook();
    void pricesFollowTheVolume();
    void boosterAtItsTreatRate();
    void mixingIsTheSameBothWays();
    void mixCurveJoinsItsEnds();
    void saysWhatMustChange();
    void columnsAreWellFormed();
    void refusesNonsense();
};

void FuelComparisonTest::rowsOfTheHandbook() {
    const auto rows = compareFuels(Study(comparisonJob()), "", nullptr);
    QCOMPARE(rows.size(), std::size_t{5}); // three fuels and two mixtures; a booster runs no engine alone
    COMPARE_NEAR(row(rows, "E85").properties.stoichiometricAfr, 9.814, 0.0005);
    COMPARE_NEAR(row(rows, "E85").multiplier, 1.4262, 0.00005);
    COMPARE_NEAR(row(rows, "M25").properties.stoichiometricAfr, 12.547, 0.0005);
    COMPARE_NEAR(row(rows, "M25").multiplier, 1.1534, 0.00005);
    COMPARE_NEAR(row(rows, "M100").multiplier, 2.1372, 0.00005);
    COMPARE_NEAR(row(rows, "M100").properties.idealCoolingK, 180, 0.5);
    COMPARE_NEAR(row(rows, "E0").energyMjL, 43.4 * 0.745, 1e-9);
    COMPARE_NEAR(row(rows, "E85").energyMjPerKgAir,
                 (0.15 * 745 * 43.4 + 0.85 * 789 * 26.9) / (0.15 * 745 * 14.7 + 0.85 * 789 * 9.0), 1e-9);
}

void FuelComparisonTest::pricesFollowTheVolume() {
    const auto rows = compareFuels(Study(comparisonJob()), "", nullptr);
    const ComparedFuel &e0 = row(rows, "E0"), &e85 = row(rows, "E85");
    COMPARE_NEAR(*e0.perTank, 100, 1e-9);
    COMPARE_NEAR(*e0.per100Km, 20, 1e-9); // the fuel that the use was measured on
    COMPARE_NEAR(*e85.per100Km, 10 * 1.4262 * 1.5, 0.001);
    COMPARE_NEAR(*e85.perHour, 30 * 1.4262 * 1.5, 0.003);
    QVERIFY(!row(rows, "M100").pricePerL && !row(rows, "M100").perTank); // no price, no guess
    QVERIFY(!row(rows, "M25").pricePerL);
    Job unknown = comparisonJob();
    unknown.consumption = {};
    QVERIFY(!row(compareFuels(Study(unknown), "", nullptr), "E0").per100Km);
}

void FuelComparisonTest::boosterAtItsTreatRate() {
    const Job job = comparisonJob();
    const auto rows = compareFuels(Study(job), "", nullptr);
    const ComparedFuel &boosted = row(rows, "boosted");
    COMPARE_NEAR(boosted.properties.researchOctane, 99, 1e-9);
    COMPARE_NEAR(boosted.properties.motorOctane, 85 + 4, 1e-9);
    COMPARE_NEAR(*boosted.pricePerL, (2 + 0.01 * 40) / 1.01, 1e-9);
    const auto shelf = shelfOf(job, "");
    // Half the rate, half the gain; twice the rate, no more than the rate.
    const double full = 0.01 / 1.01;
    COMPARE_NEAR(mixed(job, shelf[0], shelf[3], full / 2).properties.researchOctane, 97, 1e-9);
    COMPARE_NEAR(mixed(job, shelf[0], shelf[3], 2 * full).properties.researchOctane, 99, 1e-9);
    COMPARE_NEAR(mixed(job, shelf[3], shelf[0], 1 - full).properties.researchOctane, 99, 1e-9);
    // It takes nothing away from a fuel that is better already.
    COMPARE_NEAR(mixed(job, shelf[1], shelf[3], full).properties.researchOctane,
                 propertiesOf(job, shelf[1]).researchOctane, 1e-9);
}

void FuelComparisonTest::mixingIsTheSameBothWays() {
    const Job job = testing::demoJob();
    const auto shelf = shelfOf(job, "");
    for (const Fuel &a : shelf)
        for (const Fuel &b : shelf)
            for (const double share : {0.0, 0.2, 0.5, 1.0}) {
                const ComparedFuel ab = mixed(job, a, b, share), ba = mixed(job, b, a, 1 - share);
                for (const FuelColumn &c : allFuelColumns()) {
                    QCOMPARE(c.of(ab).has_value(), c.of(ba).has_value());
                    if (c.of(ab)) COMPARE_NEAR(*c.of(ab), *c.of(ba), 1e-9);
                }
                QCOMPARE(ab.leaded, ba.leaded);
            }
}

void FuelComparisonTest::mixCurveJoinsItsEnds() {
    const Job job = comparisonJob();
    const auto shelf = shelfOf(job, "");
    const auto curve = mixCurve(job, shelf[0], shelf[1], 86);
    QCOMPARE(curve.size(), std::size_t{86});
    const BlendModel model;
    for (std::size_t i = 0; i < curve.size(); ++i) { // E0 to E85 in steps of 1 %: the model's own curve
        const Blend blend{VolumeFraction::fraction(0.01 * static_cast<double>(i))};
        COMPARE_NEAR(curve[i].properties.stoichiometricAfr, model.properties(blend).stoichiometricAfr, 1e-9);
        COMPARE_NEAR(curve[i].properties.researchOctane, model.properties(blend).researchOctane, 1e-9);
        COMPARE_NEAR(curve[i].multiplier, model.volumeMultiplier(blend, {}), 1e-9);
    }
}

void FuelComparisonTest::saysWhatMustChange() {
    const Job job = testing::demoJob();
    const auto verdict = verify(job);
    const auto rows = compareFuels(Study(job), "2026-11-23", injectorDutyOver(verdict));
    const auto all = [&](const char *name) {
        std::string text;
        for (const Phrase &p : row(rows, name).mustChange)
            text += format(p, UnitChoice{}) + "\n";
        return text;
    };
    const std::string up = all("Seasonal high-ethanol");
    for (const char *word :
         {"Fuel tables: 25.1 % more", "Injectors: up to", "Spark: the tables go", "Cold start", "higher"})
        QVERIFY2(up.find(word) != std::string::npos, up.c_str());
    const std::string down = all("Pump premium");
    QVERIFY(down.find("less by volume") != std::string::npos && down.find("Cold start") == std::string::npos);
    // What is in the tank already changes nothing.
    Job same = job;
    same.shelf.resize(1);
    same.lots.clear();
    same.tubes.clear();
    same.mixtures.clear();
    same.shelf[0].ethanol = alcoholOf(tankNow(job).content);
    QVERIFY(compareFuels(Study(same), "", nullptr)[0].mustChange.empty());
    COMPARE_NEAR(compareFuels(Study(same), "", nullptr)[0].multiplier, 1, 1e-12);
    QVERIFY(row(rows, "Race gasoline").leaded && !row(rows, "Race gasoline").flags.empty());
}

void FuelComparisonTest::columnsAreWellFormed() {
    std::set<std::string_view> ids;
    for (const FuelColumn &c : allFuelColumns())
        QVERIFY(ids.insert(c.id).second && !c.title.empty() && !c.help.empty() && !c.formula.empty() &&
                !c.source.empty());
}

void FuelComparisonTest::refusesNonsense() {
    const Job job = comparisonJob();
    const auto shelf = shelfOf(job, "");
    EXPECT_INPUT_ERROR(mixed(job, shelf[0], shelf[1], 1.1), "share");
    EXPECT_INPUT_ERROR(mixCurve(job, shelf[0], shelf[1], 1), "points");
    EXPECT_INPUT_ERROR(propertiesOf(std::vector<BlendPart>{}), "mixture", "none");
    const Component c = ethanol();
    EXPECT_INPUT_ERROR(propertiesOf(std::vector<BlendPart>{{&c, -1}}), "Ethanol volume");
}

CORE_TEST_MAIN(FuelComparisonTest)
#include "fuel_comparison_test.moc"
