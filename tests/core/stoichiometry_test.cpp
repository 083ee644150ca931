// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/fuel/component.h"
#include "core/fuel/stoichiometry.h"
#include "support/test_main.h"

#include <QFile>
#include <QXmlStreamReader>

using namespace wheelwright;

/// Against atomic masses that are not ours (Debian's bodr) and the AFR table of Heywood (1988), D.4.
class StoichiometryTest : public QObject {
    Q_OBJECT
  private slots:
    void pureSubstancesFollowFromBodrMasses_data();
    void pureSubstancesFollowFromBodrMasses();
    void heywoodTable_data();
    void heywoodTable();
    void scalingAFormulaChangesNothing();
    void aMixtureOfFormulasIsMassWeighted();
    void refusesWhatDoesNotBurn();

  private:
    static double bodrMass(const QString &element);
};

double StoichiometryTest::bodrMass(const QString &element) {
    QFile file(QStringLiteral("/usr/share/bodr/elements.xml"));
    if (!file.open(QIODevice::ReadOnly)) return qQNaN();
    QXmlStreamReader xml(&file);
    bool inside = false;
    while (!xml.atEnd()) {
        xml.readNext();
        if (xml.isStartElement() && xml.name() == QLatin1String("atom"))
            inside = xml.attributes().value(QStringLiteral("id")) == element;
        if (inside && xml.isStartElement() &&
            xml.attributes().value(QStringLiteral("dictRef")) == QLatin1String("bo:mass"))
            return xml.readElementText().toDouble();
    }
    return qQNaN();
}

void StoichiometryTest::pureSubstancesFollowFromBodrMasses_data() {
    QTest::addColumn<double>("c");
    QTest::addColumn<double>("h");
    QTest::addColumn<double>("o");
    QTest::newRow("ethanol") << 2.0 << 6.0 << 1.0;
    QTest::newRow("methanol") << 1.0 << 4.0 << 1.0;
    QTest::newRow("iso-octane") << 8.0 << 18.0 << 0.0;
    QTest::newRow("toluene") << 7.0 << 8.0 << 0.0;
    QTest::newRow("gasoline") << 1.0 << 1.85 << 0.0;
}

// A mole balance written out: C + O2 → CO2, 4 H + O2 → 2 H2O; air is 4.773 mol for each mol of oxygen, 28.966
// g/mol.
void StoichiometryTest::pureSubstancesFollowFromBodrMasses() {
    QFETCH(double, c);
    QFETCH(double, h);
    QFETCH(double, o);
    const double mass = c * bodrMass(QStringLiteral("C")) + h * bodrMass(QStringLiteral("H")) +
                        o * bodrMass(QStringLiteral("O"));
    const double water = h / 2, carbonDioxide = c;
    const double oxygen = carbonDioxide + water / 2 - o / 2;
    COMPARE_NEAR(molarMassGPerMol({c, h, o}), mass, 0.005); // bodr rounds hydrogen and oxygen to four digits
    COMPARE_NEAR(stoichiometricAfr({c, h, o}), oxygen * 4.773 * 28.966 / mass, 1e-3);
}

void StoichiometryTest::heywoodTable_data() {
    QTest::addColumn<double>("c");
    QTest::addColumn<double>("h");
    QTest::addColumn<double>("o");
    QTest::addColumn<double>("afr");
    // Heywood (1988), table D.4, rounded to two decimals there.
    QTest::newRow("methanol") << 1.0 << 4.0 << 1.0 << 6.47;
    QTest::newRow("ethanol") << 2.0 << 6.0 << 1.0 << 9.00;
    QTest::newRow("iso-octane") << 8.0 << 18.0 << 0.0 << 15.13;
    QTest::newRow("toluene") << 7.0 << 8.0 << 0.0 << 13.50;
}

void StoichiometryTest::heywoodTable() {
    QFETCH(double, c);
    QFETCH(double, h);
    QFETCH(double, o);
    QFETCH(double, afr);
    COMPARE_NEAR(stoichiometricAfr({c, h, o}), afr, 0.006);
}

void StoichiometryTest::scalingAFormulaChangesNothing() {
    for (double scale : {0.1, 2.0, 7.5})
        COMPARE_NEAR(stoichiometricAfr({2 * scale, 6 * scale, scale}), stoichiometricAfr({2, 6, 1}), 1e-12);
    QCOMPARE(ethanol().stoichiometricAfr, 9.00);
    QCOMPARE(methanol().stoichiometricAfr, 6.47);
}

void StoichiometryTest::aMixtureOfFormulasIsMassWeighted() {
    // One molecule of iso-octane beside one of ethanol, as a single formula.
    const double octane = molarMassGPerMol({8, 18, 0}), alcohol = molarMassGPerMol({2, 6, 1});
    const double weighted =
        (octane * stoichiometricAfr({8, 18, 0}) + alcohol * stoichiometricAfr({2, 6, 1})) /
        (octane + alcohol);
    COMPARE_NEAR(stoichiometricAfr({10, 24, 1}), weighted, 1e-12);
}

void StoichiometryTest::refusesWhatDoesNotBurn() {
    EXPECT_INPUT_ERROR(stoichiometricAfr({0, 2, 1}), "burns"); // water
    EXPECT_INPUT_ERROR(stoichiometricAfr({0, 0, 0}), "formula");
    EXPECT_INPUT_ERROR(stoichiometricAfr({-1, 8, 0}), "negative");
}

CORE_TEST_MAIN(StoichiometryTest)
#include "stoichiometry_test.moc"
