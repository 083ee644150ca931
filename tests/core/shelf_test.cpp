// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/fuel/content_measurement.h"
#include "core/job/job_schema.h"
#include "core/job/tank_history.h"
#include "core/study/shelf.h"
#include "support/test_main.h"

#include <QDate>

#include <algorithm>

using namespace wheelwright;

namespace {

Job shelfJob() {
    Job job = newJob("x");
    job.fuelSystem.ratedEthanol = 1;
    ShelfEntry can;
    can.name = "Can";
    can.kind = FuelKind::highEthanol;
    can.ethanol = 0.98;
    can.pricePerL = 3;
    can.leftL = 10;
    job.shelf = {can};
    return job;
}

FuelLot lot(const char *label, double leftL, double price = 0, const char *opened = "") {
    FuelLot l;
    l.label = label;
    l.fuel = "Can";
    l.leftL = leftL;
    l.pricePerL = price;
    l.opened = opened;
    return l;
}

bool flagged(const Fuel &f, const char *id) {
    return std::ranges::find(f.flags, id, &ShelfFlag::id) != f.flags.end();
}

} // namespace

/// Lots, tubes and flags of the shelf. Dates against Qt's calendar, blends against the model of three
/// components.
class ShelfTest : public QObject {
    Q_OBJECT
  private slots:
    void daysAgreeWithAnotherCalendar();
    void refusesDatesThatAreNone();
    void lotsSpeakForTheFuel();
    void tubesSpeakForTheLot();
    void flags();
    void openedTooLong();
    void hydrocarbonsMixByTheirOwnNumbers();
    void leadStaysInTheTank();
    void namesMustBeKnown();
};

void ShelfTest::daysAgreeWithAnotherCalendar() {
    const QDate first(1999, 12, 25);
    for (int i = 0; i < 3000; i += 7) {
        const QDate day = first.addDays(i);
        const auto days = daysBetween("1999-12-25", day.toString(Qt::ISODate).toStdString());
        QVERIFY(days.has_value());
        QCOMPARE(*days, i);
        QCOMPARE(*daysBetween(day.toString(Qt::ISODate).toStdString(), "1999-12-25"), -i);
    }
    QCOMPARE(*daysBetween("2001-02-03T23:59:00Z", "2001-02-04"), 1); // a time of day is ignored
}

void ShelfTest::refusesDatesThatAreNone() {
    for (const char *text :
         {"", "yesterday", "2001-02-29", "2001-13-01", "2001-00-10", "2001/02/03", "2001-2-3"})
        QVERIFY2(!daysBetween(text, "2001-02-03"), text);
    QVERIFY(daysBetween("2000-02-29", "2000-03-01")); // a leap year by the rule of 400
}

void ShelfTest::lotsSpeakForTheFuel() {
    Job job = shelfJob();
    Fuel f = shelfOf(job, "")[0];
    QCOMPARE(*f.leftL, 10.0);
    job.lots = {lot("a", 30, 3.6), lot("b", 10)};
    validate(job);
    f = shelfOf(job, "")[0];
    QCOMPARE(f.lots, 2);
    QCOMPARE(*f.leftL, 40.0);
    COMPARE_NEAR(f.pricePerL, (30 * 3.6 + 10 * 3) / 40, 1e-12);
    QVERIFY(!f.byTube);
    job.lots = {lot("a", 0)};
    QCOMPARE(*shelfOf(job, "")[0].leftL, 0.0); // used up, not endless
}

void ShelfTest::tubesSpeakForTheLot() {
    Job job = shelfJob();
    job.lots = {lot("a", 30), lot("b", 10)};
    TubeRecord old, latest, other;
    old.of = latest.of = "a";
    old.at = "2001-02-03";
    old.layerTop = 60;
    latest.at = "2001-03-03";
    latest.layerTop = 95;
    other.layerTop = 70; // of the tank: says nothing about a lot
    job.tubes = {latest, old, other};
    validate(job);
    const Fuel f = shelfOf(job, "")[0];
    QVERIFY(f.byTube);
    COMPARE_NEAR(f.alcohol.value, (30 * 0.90 + 10 * 0.98) / 40, 1e-12);
    COMPARE_NEAR(f.content.ethanol.fraction(), f.alcohol.value, 1e-12);
    const double tube = tubeContent({50, 100, 95}).content.sigma, label = 0.05;
    COMPARE_NEAR(f.alcohol.sigma, std::hypot(30 * tube, 10 * label) / 40, 1e-12);
    job.tubes[0].fuelLine = 40; // lines out of order: such a record says nothing
    QVERIFY(!contentBy(job.tubes[0]));
    COMPARE_NEAR(shelfOf(job, "")[0].alcohol.value, (30 * 0.20 + 10 * 0.98) / 40, 1e-12);
}

void ShelfTest::flags() {
    Job job = shelfJob();
    QVERIFY(shelfOf(job, "2020-01-01")[0].flags.empty());
    job.fuelSystem.ratedEthanol = 0.85;
    QVERIFY(flagged(shelfOf(job, "")[0], "not_rated"));
    job.shelf[0].ethanol = 0.85;
    QVERIFY(!flagged(shelfOf(job, "")[0], "not_rated"));
    job.shelf[0].leaded = true;
    QVERIFY(shelfOf(job, "")[0].flags.empty()); // nothing that it would ruin
    job.fuelSystem.catalyst = true;
    QVERIFY(flagged(shelfOf(job, "")[0], "leaded_with_catalyst"));
    job.shelf[0].leaded = false;
    Hydrocarbon race;
    race.name = "race";
    race.leaded = true;
    job.hydrocarbons = {race};
    job.shelf[0].hydrocarbon = "race";
    QVERIFY(flagged(shelfOf(job, "")[0], "leaded_with_catalyst")); // by what is in it
    job.shelf[0].methanol = 0.05;
    QVERIFY(flagged(shelfOf(job, "")[0], "methanol_with_sensor") &&
            flagged(shelfOf(job, "")[0], "not_rated"));
    job.fuelSystem.contentSensor = false;
    job.fuelSystem.ratedMethanol = 0.05;
    QVERIFY(!flagged(shelfOf(job, "")[0], "methanol_with_sensor") &&
            !flagged(shelfOf(job, "")[0], "not_rated"));
}

// Handbook chapter 2: an opened methanol or E98 container is flagged after 14 days, the user's choice.
void ShelfTest::openedTooLong() {
    Job job = shelfJob();
    job.shelf[0].opened = "2001-02-01";
    QVERIFY(!flagged(shelfOf(job, "2001-02-15")[0], "opened_too_long"));
    QVERIFY(flagged(shelfOf(job, "2001-02-16")[0], "opened_too_long"));
    QVERIFY(!flagged(shelfOf(job, "")[0], "opened_too_long"));
    job.limits["storage.opened_days"] = 30;
    QVERIFY(!flagged(shelfOf(job, "2001-02-16")[0], "opened_too_long"));
    job.limits.clear();
    job.lots = {lot("sealed", 20), lot("empty", 0, 0, "2000-01-01")}; // the shelf's own date no longer counts
    QVERIFY(!flagged(shelfOf(job, "2001-02-16")[0], "opened_too_long"));
    job.lots.push_back(lot("open", 5, 0, "2001-01-01"));
    const Fuel f = shelfOf(job, "2001-02-16")[0];
    QVERIFY2(format(f.flags[0].words, UnitChoice{}).find("The lot 'open' has been open for 46 days") == 0,
             format(f.flags[0].words, UnitChoice{}).c_str());
    job.shelf[0].ethanol = 0.5; // takes up little
    QVERIFY(!flagged(shelfOf(job, "2001-02-16")[0], "opened_too_long"));
}

void ShelfTest::hydrocarbonsMixByTheirOwnNumbers() {
    Job job = shelfJob();
    Hydrocarbon race;
    race.name = "race";
    race.densityKgM3 = 700;
    race.stoichiometricAfr = 15;
    race.researchOctane = 110;
    race.molarMassGMol = 100;
    job.hydrocarbons = {race};
    job.shelf[0].hydrocarbon = "race";
    job.shelf[0].ethanol = 0.30;
    // The same through the model of three components with that hydrocarbon as its gasoline.
    const BlendProperties by = BlendModel(race).properties({VolumeFraction::fraction(0.30)});
    const BlendProperties p = propertiesOf(job, shelfOf(job, "")[0]);
    COMPARE_NEAR(p.stoichiometricAfr, by.stoichiometricAfr, 1e-12);
    COMPARE_NEAR(p.researchOctane, by.researchOctane, 1e-12);
    COMPARE_NEAR(p.densityKgM3, by.densityKgM3, 1e-9);
    // Half a tank of it on half a tank of pump gasoline, by hand.
    TankState tank = afterPour({20, {}}, 20, {}, "race");
    QCOMPARE(tank.others.size(), std::size_t{1});
    const double expected = (745 * 14.7 + 700 * 15) / (745 + 700.0);
    COMPARE_NEAR(propertiesOf(job, tank).stoichiometricAfr, expected, 1e-12);
    // Pouring the same again in parts is pouring it at once; draining changes nothing.
    tank = afterPour(afterPour(tank, 5, {}, "race"), 5, {}, "race");
    COMPARE_NEAR(tank.others[0].fraction, 30.0 / 50, 1e-12);
    COMPARE_NEAR(afterDrain(tank, 10).others[0].fraction, 0.6, 1e-12);
    COMPARE_NEAR(afterPour(tank, 50, {VolumeFraction::fraction(1)}).others[0].fraction, 0.3, 1e-12);
    COMPARE_NEAR(job.gasoline.stoichiometricAfr, propertiesOf(job, TankState{10, {}}).stoichiometricAfr,
                 1e-12);
}

void ShelfTest::leadStaysInTheTank() {
    Job job = shelfJob();
    job.hydrocarbons.resize(1);
    job.hydrocarbons[0].name = "race";
    TankEvent level, pour, content;
    level.kind = TankEventKind::level;
    level.litres = 20;
    pour.litres = 20;
    pour.hydrocarbon = "race";
    content.kind = TankEventKind::content;
    content.ethanol = 0.5;
    job.tankEvents = {level, pour, content};
    validate(job);
    COMPARE_NEAR(tankNow(job).others[0].fraction, 0.25, 1e-12); // half of what is not alcohol
}

void ShelfTest::namesMustBeKnown() {
    Job job = shelfJob();
    job.shelf[0].hydrocarbon = "nothing";
    EXPECT_INPUT_ERROR(validate(job), "fuel.shelf 1 hydrocarbon", "there is none", "'nothing'");
    job = shelfJob();
    job.lots = {lot("a", 1), lot("a", 2)};
    EXPECT_INPUT_ERROR(validate(job), "fuel.lots 2", "'a' again");
    job.lots = {lot("a", 1)};
    job.lots[0].fuel = "Cans";
    EXPECT_INPUT_ERROR(validate(job), "fuel.lots 1 fuel", "(Can)", "'Cans'");
    job.lots[0].fuel = ""; // a new record may wait for its name
    job.tubes.resize(1);
    job.tubes[0].of = "b";
    EXPECT_INPUT_ERROR(validate(job), "fuel.tubes 1 of", "(a)");
    job.tubes.clear();
    job.mixtures = {{"mix", "Can", "Pump", 0.5}};
    EXPECT_INPUT_ERROR(validate(job), "fuel.mixtures 1 second", "'Pump'");
}

CORE_TEST_MAIN(ShelfTest)
#include "shelf_test.moc"
