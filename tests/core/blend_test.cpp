// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/fuel/blend.h"
#include "support/test_main.h"

#include <limits>

using namespace wheelwright;

namespace {

Blend ethanolBlend(double e) {
    return {VolumeFraction::fraction(e)};
}
Blend methanolBlend(double m) {
    return {VolumeFraction::fraction(0), VolumeFraction::fraction(m)};
}

} // namespace

/// The table of blend properties of the product's handbook (gasoline 14.7, 745 kg/m³), to all digits given
/// there, beside identities that hold whatever the numbers are.
class BlendTest : public QObject {
    Q_OBJECT
  private slots:
    void handbookTable_data();
    void handbookTable();
    void handbookMultiplierAgainstE10_data();
    void handbookMultiplierAgainstE10();
    void octaneByMoleFraction_data();
    void octaneByMoleFraction();
    void idealCooling();
    void pureComponentsAreThemselves();
    void multipliersChain();
    void energyAndMassAreConserved();
    void ethanolAndMethanolTogether();
    void refusesImpossibleBlends();
};

void BlendTest::handbookTable_data() {
    QTest::addColumn<double>("ethanol");
    QTest::addColumn<double>("methanol");
    QTest::addColumn<double>("afr");
    QTest::addColumn<double>("multiplier");
    const struct {
        const char *name;
        double e, m, afr, k;
    } rows[] = {
        {"E0", 0, 0, 14.700, 1},          {"E10", 0.10, 0, 14.100, 1.0364}, {"E15", 0.15, 0, 13.802, 1.0557},
        {"E25", 0.25, 0, 13.213, 1.0964}, {"E30", 0.30, 0, 12.921, 1.1179}, {"E50", 0.50, 0, 11.768, 1.2133},
        {"E60", 0.60, 0, 11.202, 1.2674}, {"E70", 0.70, 0, 10.642, 1.3265}, {"E75", 0.75, 0, 10.365, 1.3581},
        {"E85", 0.85, 0, 9.814, 1.4262},  {"E98", 0.98, 0, 9.108, 1.5257},  {"E100", 1, 0, 9.000, 1.5422},
        {"M25", 0, 0.25, 12.547, 1.1534}, {"M100", 0, 1, 6.470, 2.1372}};
    for (const auto &r : rows)
        QTest::newRow(r.name) << r.e << r.m << r.afr << r.k;
}

void BlendTest::handbookTable() {
    QFETCH(double, ethanol);
    QFETCH(double, methanol);
    QFETCH(double, afr);
    QFETCH(double, multiplier);
    const BlendModel model;
    const Blend blend{VolumeFraction::fraction(ethanol), VolumeFraction::fraction(methanol)};
    COMPARE_NEAR(model.properties(blend).stoichiometricAfr, afr, 0.0005); // the table's last digit
    COMPARE_NEAR(model.volumeMultiplier(blend, {}), multiplier, 0.00005);
}

void BlendTest::handbookMultiplierAgainstE10_data() {
    QTest::addColumn<double>("ethanol");
    QTest::addColumn<double>("multiplier");
    const struct {
        double e, k;
    } rows[] = {{0, 0.9648},    {0.10, 1},      {0.15, 1.0186}, {0.25, 1.0578},
                {0.30, 1.0786}, {0.50, 1.1706}, {0.60, 1.2228}, {0.70, 1.2798},
                {0.75, 1.3104}, {0.85, 1.3761}, {0.98, 1.4721}, {1, 1.4880}};
    for (const auto &r : rows)
        QTest::addRow("E%g", r.e * 100) << r.e << r.k;
}

void BlendTest::handbookMultiplierAgainstE10() {
    QFETCH(double, ethanol);
    QFETCH(double, multiplier);
    COMPARE_NEAR(BlendModel().volumeMultiplier(ethanolBlend(ethanol), ethanolBlend(0.10)), multiplier,
                 0.0001);
}

void BlendTest::octaneByMoleFraction_data() {
    QTest::addColumn<double>("ethanol");
    QTest::addColumn<double>("moles");
    QTest::addColumn<double>("ron");
    QTest::newRow("E10") << 0.10 << 0.212 << 97.9;
    QTest::newRow("E20") << 0.20 << 0.376 << 100.1;
    QTest::newRow("E30") << 0.30 << 0.509 << 101.9;
    QTest::newRow("E50") << 0.50 << 0.707 << 104.6;
    QTest::newRow("E85") << 0.85 << 0.932 << 107.7;
}

void BlendTest::octaneByMoleFraction() {
    QFETCH(double, ethanol);
    QFETCH(double, moles);
    QFETCH(double, ron);
    const BlendProperties p = BlendModel().properties(ethanolBlend(ethanol));
    // The handbook's E10 and E30 are rounded up from 0.2115 and 0.5085, hence one unit of its last digit.
    COMPARE_NEAR(p.ethanolMoleFraction, moles, 0.001);
    COMPARE_NEAR(p.researchOctane, ron, 0.05);
}

void BlendTest::idealCooling() {
    // Handbook: gasoline 24 K, ethanol 101 K, methanol 180 K, without decimals.
    COMPARE_NEAR(BlendModel().properties({}).idealCoolingK, 24, 0.5);
    COMPARE_NEAR(BlendModel().properties(ethanolBlend(1)).idealCoolingK, 101, 0.5);
    COMPARE_NEAR(BlendModel().properties(methanolBlend(1)).idealCoolingK, 180, 0.5);
}

void BlendTest::pureComponentsAreThemselves() {
    const Component alcohol = ethanol();
    const BlendProperties p = BlendModel().properties(ethanolBlend(1));
    QCOMPARE(p.densityKgM3, alcohol.densityKgM3);
    QCOMPARE(p.stoichiometricAfr, alcohol.stoichiometricAfr);
    QCOMPARE(p.latentHeatKjKg, alcohol.latentHeatKjKg);
    QCOMPARE(p.researchOctane, alcohol.researchOctane);
    QCOMPARE(p.ethanolMoleFraction, 1.0);
}

void BlendTest::multipliersChain() {
    const BlendModel model;
    for (double e = 0; e <= 1; e += 0.13) {
        COMPARE_NEAR(model.volumeMultiplier(ethanolBlend(e), ethanolBlend(e)), 1, 1e-15);
        const double there = model.volumeMultiplier(ethanolBlend(e), methanolBlend(0.4));
        COMPARE_NEAR(there * model.volumeMultiplier(methanolBlend(0.4), ethanolBlend(e)), 1, 1e-14);
    }
}

// Second method: one litre of each part on its own needs as much air, and gives as much heat, as the litre
// mixed.
void BlendTest::energyAndMassAreConserved() {
    const BlendModel model;
    const double e = 0.37, m = 0.21;
    const BlendProperties p = model.properties({VolumeFraction::fraction(e), VolumeFraction::fraction(m)});
    const auto sum = [&](auto property) {
        return (1 - e - m) * property(defaultGasoline()) + e * property(ethanol()) + m * property(methanol());
    };
    COMPARE_NEAR(p.densityKgM3, sum([](const Component &c) { return c.densityKgM3; }), 1e-10);
    COMPARE_NEAR(p.densityKgM3 * p.stoichiometricAfr,
                 sum([](const Component &c) { return c.densityKgM3 * c.stoichiometricAfr; }), 1e-8);
    COMPARE_NEAR(p.densityKgM3 * p.lowerHeatingValueMjKg,
                 sum([](const Component &c) { return c.densityKgM3 * c.lowerHeatingValueMjKg; }), 1e-8);
    COMPARE_NEAR(p.densityKgM3 * p.latentHeatKjKg,
                 sum([](const Component &c) { return c.densityKgM3 * c.latentHeatKjKg; }), 1e-8);
}

void BlendTest::ethanolAndMethanolTogether() {
    const BlendProperties p =
        BlendModel().properties({VolumeFraction::percent(40), VolumeFraction::percent(60)});
    COMPARE_NEAR(p.ethanolMoleFraction + p.methanolMoleFraction, 1, 1e-15);
    QVERIFY(p.stoichiometricAfr > 6.47 && p.stoichiometricAfr < 9.00);
}

void BlendTest::refusesImpossibleBlends() {
    const BlendModel model;
    EXPECT_INPUT_ERROR(model.properties(ethanolBlend(-0.01)), "ethanol", "0 to 1");
    EXPECT_INPUT_ERROR(model.properties(ethanolBlend(1.01)), "ethanol");
    EXPECT_INPUT_ERROR(model.properties(ethanolBlend(std::numeric_limits<double>::quiet_NaN())), "ethanol");
    EXPECT_INPUT_ERROR(model.properties({VolumeFraction::fraction(0.6), VolumeFraction::fraction(0.6)}),
                       "together");
    Component weightless = defaultGasoline();
    weightless.densityKgM3 = 0;
    EXPECT_INPUT_ERROR(BlendModel(weightless), "density", "above 0");
}

CORE_TEST_MAIN(BlendTest)
#include "blend_test.moc"
