// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/base/phrase.h"
#include "core/base/quantity.h"
#include "core/base/text.h"
#include "core/base/unit.h"
#include "support/phrases.h"
#include "support/test_main.h"

#include <QProcess>
#include <set>
#include <type_traits>

using namespace wheelwright;

// What must not compile: a number without its unit is no content.
static_assert(!std::is_convertible_v<double, VolumeFraction>);
static_assert(!std::is_constructible_v<VolumeFraction, double>);

/// Conversions against GNU units, beside round trips and the ways people type.
class UnitTest : public QObject {
    Q_OBJECT
  private slots:
    void conversionsAgreeWithGnuUnits_data();
    void conversionsAgreeWithGnuUnits();
    void everyUnitRoundTrips();
    void idsAreUnique();
    void gaugeIsCountedFromAmbient();
    void mixtureNamesItsScale();
    void readsWhatPeopleType_data();
    void readsWhatPeopleType();
    void contentsHaveALetter();
    void refusesWhatCannotBeRead_data();
    void refusesWhatCannotBeRead();
    void formatExactReadsBack();
    void anotherLanguageReadsBack();
    void numbersAsText();
    void phrasesPutTheirNumbersIn();
};

void UnitTest::conversionsAgreeWithGnuUnits_data() {
    QTest::addColumn<QString>("unit");
    QTest::addColumn<QString>("from");
    QTest::addColumn<QString>("to");
    QTest::addColumn<double>("relative");
    QTest::newRow("psi") << "psi_d"
                         << "psi"
                         << "kPa" << 1e-9;
    QTest::newRow("bar") << "bar_d"
                         << "bar"
                         << "kPa" << 1e-9;
    QTest::newRow("inHg") << "inhg"
                          << "inHg"
                          << "kPa" << 1e-6;
    QTest::newRow("US gal/min") << "us_gal_min"
                                << "gallon/min"
                                << "cc/min" << 1e-9;
    QTest::newRow("hp") << "hp"
                        << "horsepower"
                        << "kW" << 1e-9;
    QTest::newRow("PS") << "ps"
                        << "metrichorsepower"
                        << "kW" << 1e-9;
    QTest::newRow("lb·ft") << "lbft"
                           << "lbf ft"
                           << "N m" << 1e-9;
    // The trade's rounded 10.5 cc/min for 1 lb/h; the exact figure depends on the density taken, 0.72 kg/L
    // here.
    QTest::newRow("lb/h") << "lb_h"
                          << "lb/hour/(0.72 kg/l)"
                          << "cc/min" << 2e-3;
}

void UnitTest::conversionsAgreeWithGnuUnits() {
    QFETCH(QString, unit);
    QFETCH(QString, from);
    QFETCH(QString, to);
    QFETCH(double, relative);
    QProcess units;
    units.start(QStringLiteral("units"),
                {QStringLiteral("--terse"), QStringLiteral("--digits"), QStringLiteral("15"), from, to});
    QVERIFY2(units.waitForFinished(), "GNU units is needed as referee");
    const double expected = units.readAllStandardOutput().trimmed().toDouble();
    QVERIFY(expected > 0);
    COMPARE_NEAR(unitById(unit.toStdString()).scale, expected, expected * relative);
}

void UnitTest::everyUnitRoundTrips() {
    for (const char *pressure : {"kpa", "bar", "psi", "kpa_g", "bar_g", "psi_g"})
        for (const char *temperature : {"c", "f"})
            for (MixtureScale scale : {MixtureScale::lambda, MixtureScale::gasolineAfr, MixtureScale::trueAfr,
                                       MixtureScale::statedAfr})
                for (const Unit &u : allUnits()) {
                    UnitChoice choice{pressure, temperature, scale, 98.7, 9.8, 14.1, '.'};
                    COMPARE_NEAR(fromShown(toShown(123.456, u.dimension, choice), u.dimension, choice),
                                 123.456, 1e-10);
                }
    for (const char *power : {"kw", "hp", "ps"}) {
        UnitChoice choice;
        choice.powerUnit = power;
        for (const Dimension d : {Dimension::power, Dimension::torque}) {
            COMPARE_NEAR(fromShown(toShown(123.456, d, choice), d, choice), 123.456, 1e-10);
            COMPARE_NEAR(parse(format(200, d, choice), d, choice, "field"), 200, 1); // its own text
        }
        // At that speed one number says both: 60 000/2π rpm in kW and N·m, 33 000/2π in hp and lb·ft (each
        // kind of hp of its own torque alone).
        if (std::string(power) == "hp")
            COMPARE_NEAR(toShown(150, Dimension::power, choice),
                         toShown(150 * 9549.296586 / 5252.1131, Dimension::torque, choice), 1e-4);
        QCOMPARE(unitSymbol(Dimension::torque, choice), std::string(power) == "hp" ? "lb·ft" : "N·m");
    }
    COMPARE_NEAR(VolumeFraction::percent(85).fraction(), 0.85, 1e-15);
    COMPARE_NEAR(VolumeFraction::fraction(0.85).percent(), 85, 1e-12);
}

void UnitTest::idsAreUnique() {
    std::set<std::string_view> ids;
    for (const Unit &u : allUnits())
        QVERIFY2(ids.insert(u.id).second, u.id.data());
    EXPECT_INPUT_ERROR(unitById("furlong"), "unit", "furlong");
}

void UnitTest::gaugeIsCountedFromAmbient() {
    const UnitChoice psi{"psi_g", "c", MixtureScale::lambda, 101.325, 14.7, 14.7, '.'};
    // Handbook, chapter 3: a 3 bar sensor ends 28.8 psi over one standard atmosphere, a 2.5 bar one at 21.6.
    COMPARE_NEAR(toShown(300, Dimension::pressure, psi), 28.8, 0.05);
    COMPARE_NEAR(toShown(250, Dimension::pressure, psi), 21.6, 0.05);
}

void UnitTest::mixtureNamesItsScale() {
    UnitChoice choice;
    choice.mixtureScale = MixtureScale::gasolineAfr;
    // Handbook, chapter 2: 11.0 on the gasoline scale is λ 0.748; methanol 5.5 true is λ 0.850.
    COMPARE_NEAR(fromShown(11.0, Dimension::mixture, choice), 0.748, 0.0005);
    QVERIFY(unitSymbol(Dimension::mixture, choice).find("14.7") != std::string::npos);
    choice.mixtureScale = MixtureScale::trueAfr;
    choice.fuelStoichiometry = 6.47;
    COMPARE_NEAR(fromShown(5.5, Dimension::mixture, choice), 0.850, 0.0005);
    QVERIFY(unitSymbol(Dimension::mixture, choice).find("true") != std::string::npos);
}

void UnitTest::readsWhatPeopleType_data() {
    QTest::addColumn<QString>("typed");
    QTest::addColumn<Dimension>("dimension");
    QTest::addColumn<double>("expected");
    QTest::addColumn<double>("tolerance");
    QTest::newRow("plain") << "180" << Dimension::pressure << 180.0 << 0.0;
    QTest::newRow("comma") << "0,82" << Dimension::mixture << 0.82 << 0.0;
    QTest::newRow("psi, absolute field") << "14 psi" << Dimension::pressure << 96.5266 << 1e-4;
    QTest::newRow("psi, gauge field") << "43.5psi" << Dimension::pressureGauge << 299.922 << 1e-3;
    QTest::newRow("psi gauge in an absolute field") << "14 psig" << Dimension::pressure << 197.8516 << 1e-4;
    QTest::newRow("bar") << "1.8 bar" << Dimension::pressure << 180.0 << 1e-12;
    QTest::newRow("fahrenheit") << "104 °F" << Dimension::temperature << 40.0 << 1e-9;
    QTest::newRow("kelvin difference") << "12 K" << Dimension::temperatureDifference << 12.0 << 0.0;
    QTest::newRow("percent") << "85 %" << Dimension::content << 0.85 << 1e-15;
    QTest::newRow("bare percent") << "85" << Dimension::content << 0.85 << 1e-15;
    QTest::newRow("content as it is spoken of") << "E85" << Dimension::content << 0.85 << 1e-15;
    QTest::newRow("small letter, half a per cent") << "e 12,5 %" << Dimension::content << 0.125 << 1e-15;
    QTest::newRow("of methanol") << "M50" << Dimension::methanolContent << 0.5 << 1e-15;
    QTest::newRow("difference of contents") << "3 %" << Dimension::contentDifference << 0.03 << 1e-15;
    QTest::newRow("degrees") << "22.5°" << Dimension::sparkAngle << 22.5 << 0.0;
    QTest::newRow("afr is on the gasoline scale") << "11 AFR" << Dimension::mixture << 11 / 14.7 << 1e-12;
    QTest::newRow("lambda in front") << "λ 0.9" << Dimension::mixture << 0.9 << 0.0;
    QTest::newRow("plus") << "+5" << Dimension::sparkAngle << 5.0 << 0.0;
    QTest::newRow("hp") << "300 hp" << Dimension::power << 223.7099614746 << 1e-9;
    QTest::newRow("lb-ft") << "100 lb-ft" << Dimension::torque << 135.58179483314 << 1e-9;
    QTest::newRow("lb/h") << "100 lb/h" << Dimension::volumeFlow << 1050.0 << 1e-9;
}

void UnitTest::readsWhatPeopleType() {
    QFETCH(QString, typed);
    QFETCH(Dimension, dimension);
    QFETCH(double, expected);
    QFETCH(double, tolerance);
    COMPARE_NEAR(parse(typed.toStdString(), dimension, UnitChoice{}, "field"), expected, tolerance);
}

// A content has the letter of its alcohol, a difference of two is in per cent; what is shown reads back.
void UnitTest::contentsHaveALetter() {
    UnitChoice methanol;
    methanol.methanol = true;
    QCOMPARE(format(0.4, Dimension::content, {}), std::string("E40"));
    QCOMPARE(format(0.4, Dimension::content, methanol), std::string("M40"));
    QCOMPARE(format(0.4, Dimension::ethanolContent, methanol), std::string("E40"));
    QCOMPARE(format(0.4, Dimension::methanolContent, {}), std::string("M40"));
    QCOMPARE(format(0.4, Dimension::content, {}, false), std::string("40"));
    QCOMPARE(formatWith(0.615, Dimension::content, {}, 1), std::string("E61.5"));
    QCOMPARE(format(0.03, differenceOf(Dimension::content), methanol), std::string("3 %"));
    for (const Dimension d : {Dimension::content, Dimension::ethanolContent, Dimension::methanolContent,
                              Dimension::contentDifference})
        for (const UnitChoice &units : {UnitChoice{}, methanol})
            for (const double c : {0.0, 0.1, 0.615, 1.0})
                COMPARE_NEAR(parse(formatExact(c, d, units), d, units, "content"), c, 1e-12);
    EXPECT_INPUT_ERROR(parse("M40", Dimension::content, {}, "content"), "ethanol, as E40");
    EXPECT_INPUT_ERROR(parse("E40", Dimension::content, methanol, "content"), "methanol, as M40");
    EXPECT_INPUT_ERROR(parse("E40", Dimension::contentDifference, {}, "within"), "a number in %");
    EXPECT_INPUT_ERROR(parse("much", Dimension::content, {}, "content"), "a number in %");
}

void UnitTest::refusesWhatCannotBeRead_data() {
    QTest::addColumn<QString>("typed");
    QTest::addColumn<QString>("found");
    QTest::newRow("empty") << ""
                           << "nothing";
    QTest::newRow("word") << "lots"
                          << "lots";
    QTest::newRow("two points") << "1,234.5"
                                << "1,234.5";
    QTest::newRow("foreign unit") << "12 °C"
                                  << "°c";
    QTest::newRow("infinity") << "inf"
                              << "inf";
    QTest::newRow("nan") << "nan"
                         << "nan";
}

void UnitTest::refusesWhatCannotBeRead() {
    QFETCH(QString, typed);
    QFETCH(QString, found);
    EXPECT_INPUT_ERROR(parse(typed.toStdString(), Dimension::pressure, UnitChoice{}, "Boost"), "Boost", "kPa",
                       found.toUtf8().constData());
}

void UnitTest::formatExactReadsBack() {
    UnitChoice psi;
    psi.pressureUnit = "psi";
    for (double v : {101.325, 200.0, 0.125, 3.0}) {
        const std::string shown = formatExact(v, Dimension::pressure, UnitChoice{});
        COMPARE_NEAR(parse(shown, Dimension::pressure, UnitChoice{}, ""), v, 1e-9);
        COMPARE_NEAR(parse(formatExact(v, Dimension::pressure, psi), Dimension::pressure, psi, ""), v, 1e-5);
    }
    QCOMPARE(formatExact(5, Dimension::none, UnitChoice{}), std::string("5"));
    QCOMPARE(format(-0.0001, Dimension::sparkAngle, UnitChoice{}), std::string("0.0°"));
}

// Another decimal mark and other words for units: shown, and read back as they are shown.
void UnitTest::anotherLanguageReadsBack() {
    UnitChoice german;
    german.decimalPoint = ',';
    german.words = std::make_shared<UnitWords>(UnitWords{{"rpm", "1/min"},
                                                         {"kpa_g", "kPa rel."},
                                                         {"bar_g", "bar rel."},
                                                         {"psi_g", "psi rel."},
                                                         {"psi", "psi abs."},
                                                         {"afr_gasoline", "AFR (Benzinskala {0})"}});
    QCOMPARE(format(0.82, Dimension::mixture, german), std::string("λ 0,820"));
    QCOMPARE(format(3000, Dimension::engineSpeed, german), std::string("3000 1/min"));
    QCOMPARE(format(50, Dimension::pressureGauge, german), std::string("50 kPa rel."));
    QCOMPARE(format(-0.04, Dimension::sparkAngle, german), std::string("0,0°")); // no negative zero
    QCOMPARE(unitSymbol(Dimension::days, german), std::string("days")); // nobody has said it otherwise
    for (const char *pressure : {"kpa", "bar", "psi", "kpa_g", "bar_g", "psi_g"}) {
        UnitChoice units = german;
        units.pressureUnit = pressure;
        for (const Dimension d :
             {Dimension::pressure, Dimension::pressureGauge, Dimension::pressureDifference,
              Dimension::engineSpeed, Dimension::displacement}) {
            const double v = 123.4;
            COMPARE_NEAR(parse(formatExact(v, d, units), d, units, ""), v, 1e-4);
        }
    }
    UnitChoice afr = german;
    afr.mixtureScale = MixtureScale::gasolineAfr;
    QCOMPARE(format(1, Dimension::mixture, afr), std::string("14,70 AFR (Benzinskala 14,7)"));
    COMPARE_NEAR(parse("12,25 AFR (Benzinskala 14,7)", Dimension::mixture, afr, ""), 12.25 / 14.7, 1e-12);
    EXPECT_INPUT_ERROR(parse("72001/min", Dimension::engineSpeed, german, "Speed"), "Speed", "1/min", "/min");
    // What English has is understood in every language.
    COMPARE_NEAR(parse("50 kPa gauge", Dimension::pressureGauge, german, ""), 50, 1e-12);
    COMPARE_NEAR(parse("7200 rpm", Dimension::engineSpeed, german, ""), 7200, 1e-12);
}

void UnitTest::numbersAsText() {
    QCOMPARE(fixedNumber(-0.0004, 3), std::string("0.000"));
    QCOMPARE(fixedNumber(-0.0006, 3), std::string("-0.001"));
    QCOMPARE(fixedNumber(-1.5, 1, ','), std::string("-1,5"));
    QCOMPARE(fixedNumber(1e300, 1).size(), std::size_t{303});
    QCOMPARE(generalNumber(1.0 / 3), std::string("0.333333"));
    QCOMPARE(generalNumber(1.0 / 3, 10, ','), std::string("0,3333333333"));
    QCOMPARE(exactNumber(0.1), std::string("0.1"));
    QCOMPARE(exactNumber(0.1, ','), std::string("0,1"));
    // What an error says: no digit that nobody typed, in whichever language.
    const Phrase found = exactly(0.1 + 0.2), expected = fromTo(8, 12.5, "ms");
    QCOMPARE(format(found), std::string("0.3"));
    QCOMPARE(format(expected), std::string("8 to 12.5 ms"));
    UnitChoice comma;
    comma.decimalPoint = ',';
    QCOMPARE(format(found, comma), std::string("0,3"));
    QCOMPARE(format(expected, comma), std::string("8 to 12,5 ms"));
}

void UnitTest::phrasesPutTheirNumbersIn() {
    const Phrase p = testing::phrase("{1} before {0}, {1} again, {2} unknown",
                                     {{0.85, Dimension::content}, {200, Dimension::pressure}});
    QCOMPARE(format(p, UnitChoice{}), std::string("200 kPa before E85, 200 kPa again, {2} unknown"));
    QCOMPARE(contentName(0.85, false), std::string("E85"));
    QCOMPARE(contentName(0.5, true), std::string("M50"));
}

CORE_TEST_MAIN(UnitTest)
#include "unit_test.moc"
