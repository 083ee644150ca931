// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/evidence/channel_map.h"
#include "core/evidence/log_intake.h"
#include "support/test_main.h"

#include <QProcess>

#include <limits>
#include <set>

using namespace wheelwright;

namespace {

constexpr double none = std::numeric_limits<double>::quiet_NaN();

LogColumn column(const char *name, const char *unit = "", std::vector<double> preview = {}) {
    LogColumn c;
    c.name = name;
    c.unit = unit;
    c.preview = std::move(preview);
    return c;
}

MappedColumn suggested(const char *name, const char *unit = "", std::vector<double> preview = {}) {
    LogLayout layout;
    layout.columns = {column("time", "s"), column(name, unit, std::move(preview))};
    return suggestMap(layout).columns[1];
}

class Kept : public SampleSink {
  public:
    void put(std::size_t series, std::span<const double> samples) override {
        columns.resize(std::max(columns.size(), series + 1));
        columns[series].insert(columns[series].end(), samples.begin(), samples.end());
    }
    std::vector<std::vector<double>> columns;
};

} // namespace

class EvidenceTest : public QObject {
    Q_OBJECT
  private slots:
    void rolesAreAList();
    void unitsAgreeWithGnuUnits_data();
    void unitsAgreeWithGnuUnits();
    void unitsAsPeopleWriteThem();
    void namesSayWhatTheyMeasure_data();
    void namesSayWhatTheyMeasure();
    void numbersTellUnitAndReference();
    void whatOnlyTheUserKnowsIsAsked();
    void oneColumnForARole();
    void conversions();
    void clocksAreInOrder();
};

void EvidenceTest::rolesAreAList() {
    std::set<std::string_view> keys;
    std::size_t place = 0;
    for (const ChannelRoleDefinition &d : allChannelRoles()) {
        QVERIFY(keys.insert(d.key).second && !d.title.empty() && d.least < d.most);
        QCOMPARE(static_cast<std::size_t>(d.role), place++);
        QVERIFY(roleByKey(d.key) == &definitionOf(d.role));
        // Scripts are told the unit that numbers of the role are held in.
        if (d.dimension == Dimension::none || d.dimension == Dimension::count) continue;
        MappedColumn c;
        c.name = "x";
        c.role = d.role;
        const ChannelConversion same = conversionOf(c, {});
        QVERIFY2(same.scale == 1 && same.offset == 0, d.key.data());
        c.unit = d.unit;
        const ChannelConversion stated = conversionOf(c, {});
        QVERIFY2(wheelwright::testing::near(stated.scale, 1, 1e-12) && stated.offset == 0, d.key.data());
    }
    QVERIFY(!roleByKey("tempo"));
}

void EvidenceTest::unitsAgreeWithGnuUnits_data() {
    QTest::addColumn<QString>("written");
    QTest::addColumn<QString>("gnu");
    QTest::addColumn<QString>("internal");
    for (const auto &[written, gnu, internal] : {std::tuple{"psi", "psi", "kPa"},
                                                 {"bar", "bar", "kPa"},
                                                 {"mbar", "mbar", "kPa"},
                                                 {"hPa", "hPa", "kPa"},
                                                 {"inHg", "inHg", "kPa"},
                                                 {"mmHg", "mmHg", "kPa"},
                                                 {"torr", "torr", "kPa"},
                                                 {"atm", "atm", "kPa"},
                                                 {"MPa", "MPa", "kPa"},
                                                 {"kg/cm²", "kgf/cm^2", "kPa"},
                                                 {"ms", "ms", "s"},
                                                 {"µs", "us", "s"},
                                                 {"min", "min", "s"},
                                                 {"h", "hour", "s"},
                                                 {"mph", "mph", "km/hour"},
                                                 {"m/s", "m/s", "km/hour"},
                                                 {"kn", "knot", "km/hour"},
                                                 {"l/min", "l/min", "cm^3/min"},
                                                 {"L/h", "l/hour", "cm^3/min"},
                                                 {"gal/min", "usgallon/min", "cm^3/min"},
                                                 {"imp gal/min", "brgallon/min", "cm^3/min"},
                                                 {"lb-ft", "lbf ft", "N m"},
                                                 {"kgm", "kgf m", "N m"},
                                                 {"hp", "hp", "kW"},
                                                 {"PS", "metrichorsepower", "kW"},
                                                 {"W", "W", "kW"},
                                                 {"mV", "mV", "V"}})
        QTest::newRow(written) << QString::fromUtf8(written) << QString::fromUtf8(gnu)
                               << QString::fromUtf8(internal);
}

void EvidenceTest::unitsAgreeWithGnuUnits() {
    QFETCH(QString, written);
    QFETCH(QString, gnu);
    QFETCH(QString, internal);
    QProcess units;
    units.start(QStringLiteral("units"),
                {QStringLiteral("--terse"), QStringLiteral("--digits"), QStringLiteral("15"), gnu, internal});
    QVERIFY2(units.waitForFinished(), "GNU units is needed as referee");
    const double expected = units.readAllStandardOutput().trimmed().toDouble();
    QVERIFY(expected > 0);
    const auto unit = unitFromText(written.toStdString());
    QVERIFY(unit);
    COMPARE_NEAR(unit->scale, expected,
                 expected * 1e-6); // conventions of mercury differ in the seventh digit
}

void EvidenceTest::unitsAsPeopleWriteThem() {
    for (const char *text : {"kPa", "KPA", "[kPa]", "(kpa)", "k Pa"})
        QVERIFY2(unitFromText(text) && unitFromText(text)->reference == PressureReference::notSaid, text);
    for (const char *text : {"psig", "PSI (g)", "psi gauge", "bar_g", "kPa gauge", "bar rel"})
        QVERIFY2(unitFromText(text) && unitFromText(text)->reference == PressureReference::gauge, text);
    for (const char *text : {"psia", "kPa abs", "bar(a)", "inHg absolute", "kPa_a"})
        QVERIFY2(unitFromText(text) && unitFromText(text)->reference == PressureReference::absolute, text);
    for (const char *text : {"°C", "deg C", "degC", "C", "ºC"})
        QVERIFY2(unitFromText(text) && unitFromText(text)->scale == 1 &&
                     unitFromText(text)->kind == UnitKind::temperature,
                 text);
    const UnitText f = *unitFromText("°F"), k = *unitFromText("K");
    COMPARE_NEAR(212 * f.scale + f.offset, 100, 1e-12);
    COMPARE_NEAR(273.15 * k.scale + k.offset, 0, 1e-12);
    for (const char *text : {"", "furlong", "kPax", "%%", "g"})
        QVERIFY2(!unitFromText(text), text);
}

void EvidenceTest::namesSayWhatTheyMeasure_data() {
    QTest::addColumn<QString>("name");
    QTest::addColumn<QString>("unit");
    QTest::addColumn<QString>("role");
    const auto add = [](const char *name, const char *unit, const char *role) {
        QTest::newRow((std::string(name) + " in " + unit).c_str()) << QString::fromUtf8(name) << unit << role;
    };
    add("Time", "", "time");
    add("timestamp", "ms", "time");
    add("Engine Speed", "rpm", "rpm");
    add("EngineSpeed", "", "rpm");
    add("RPM", "", "rpm");
    add("RPM limit", "rpm", "none");
    add("MAP", "kPa", "map");
    add("Manifold Absolute Pressure", "psi", "map");
    add("Boost", "psi", "map");
    add("Boost Target", "kPa", "boost_target");
    add("Dyno boost", "kPa", "dyno_map");
    add("MAP dyno cell", "psi", "dyno_map");
    add("Dyno manifold temp", "°C", "intake_temp");
    add("Port injection share", "%", "port_share");
    add("Port injection", "ms", "none"); // a pulse of them says no share
    add("Barometric pressure", "kPa", "ambient_pressure");
    add("Baro", "inHg", "ambient_pressure");
    add("Ambient pressure", "mbar", "ambient_pressure");
    add("Ambient", "kPa", "ambient_pressure");
    add("Ambient temp", "°C", "ambient_temp");
    add("Cell temperature", "°F", "ambient_temp");
    add("ambient_c", "", "ambient_temp");
    add("Humidity", "%", "humidity");
    add("RH", "%", "humidity");
    add("Baro correction", "%", "none");
    add("Air temp", "°C", "intake_temp"); // of which air nobody says: the engine's
    add("Boost duty", "%", "solenoid_duty");
    add("Wastegate DC", "%", "solenoid_duty");
    add("TPS", "%", "throttle");
    add("Throttle position", "", "throttle");
    add("TPS voltage", "V", "none");
    add("Lambda 1", "", "lambda");
    add("λ", "", "lambda");
    add("AFR", "", "lambda");
    add("Wideband", "lambda", "lambda");
    add("Target AFR", "", "lambda_target");
    add("Lambda target", "", "lambda_target");
    add("Lambda trim", "%", "fuel_trim");
    add("STFT", "%", "fuel_trim");
    add("LTFT", "%", "none"); // what a controller has learned is in its tables already
    add("Ignition timing", "deg", "spark");
    add("Spark advance", "°BTDC", "spark");
    add("Knock retard", "deg", "knock_retard");
    add("Knock count", "", "none");
    add("Cam timing", "deg", "cam");
    add("Ethanol %", "", "ethanol");
    add("Flex fuel content", "%", "ethanol");
    add("Fuel composition", "%", "ethanol");
    add("Flex fuel temp", "°C", "fuel_temp");
    add("Fuel temperature", "F", "fuel_temp");
    add("Fuel pressure", "psi", "rail_pressure");
    add("IAT", "°C", "intake_temp");
    add("Intake air temperature", "°C", "intake_temp");
    add("Manifold air temp", "°F", "intake_temp");
    add("Coolant", "°C", "coolant_temp");
    add("ECT", "F", "coolant_temp");
    add("Water temp", "°C", "coolant_temp");
    add("EGT 1", "°C", "exhaust_temp");
    add("Oil pressure", "bar", "oil_pressure");
    add("Oil temperature", "°C", "none");
    add("Injector pulse width", "ms", "pulse_width");
    add("Injector duty cycle", "%", "duty");
    add("Injection timing", "deg", "none");
    add("Battery", "V", "battery");
    add("Vehicle speed", "km/h", "speed");
    add("Gear", "", "gear");
    add("Water injection flow", "cc/min", "spray_flow");
    add("Torque", "lb-ft", "torque");
    add("Wheel power", "hp", "power");
    add("Turbo speed", "rpm", "none");
    add("MAP", "°C", "none"); // a name that its unit contradicts
}

void EvidenceTest::namesSayWhatTheyMeasure() {
    QFETCH(QString, name);
    QFETCH(QString, unit);
    QFETCH(QString, role);
    LogLayout layout;
    layout.columns = {column(name.toUtf8(), unit.toUtf8())};
    if (role != "time") layout.columns.insert(layout.columns.begin(), column("elapsed", "s"));
    QCOMPARE(std::string(definitionOf(suggestMap(layout).columns.back().role).key), role.toStdString());
}

void EvidenceTest::numbersTellUnitAndReference() {
    QCOMPARE(suggested("throttle", "", {0, 50, 100}).unit, std::string("%"));
    QCOMPARE(suggested("throttle", "", {0, 0.5, 1}).unit, std::string("fraction"));
    QCOMPARE(suggested("lambda", "", {0.8, 1.1}).unit, std::string("lambda"));
    QCOMPARE(suggested("lambda", "", {11, 15}).unit, std::string("AFR"));
    QCOMPARE(suggested("map", "", {30, 220}).unit, std::string("kPa"));
    QCOMPARE(suggested("map", "", {-10, 20}).unit, std::string("psi"));
    QCOMPARE(suggested("map", "", {0.3, 2.2}).unit, std::string("bar"));
    QVERIFY(suggested("map", "psi", {-10, 20}).reference == PressureReference::gauge);
    QVERIFY(suggested("map", "kPa", {30, 220}).reference == PressureReference::absolute);
    QVERIFY(suggested("boost", "psi", {0, 20}).reference == PressureReference::gauge);
    QVERIFY(suggested("map", "psia", {0, 20}).reference == PressureReference::absolute);
    QVERIFY(suggested("fuel pressure", "psi", {40, 60}).reference == PressureReference::gauge);
    QVERIFY(suggested("knock retard", "deg", {-4, 0}).reversed &&
            !suggested("knock retard", "deg", {0, 4}).reversed);
    LogLayout layout;
    for (const auto &[step, unit] : {std::pair{0.01, "s"}, {10.0, "ms"}, {10000.0, "µs"}}) {
        layout.columns = {column("time", "", {0, step, 2 * step, 3 * step})};
        QCOMPARE(suggestMap(layout).columns[0].unit, std::string(unit));
    }
    layout.columns = {column("first", "", {0, 1, 2}), column("rpm")};
    QVERIFY(suggestMap(layout).columns[0].role == ChannelRole::time); // it only goes on
    layout.columns[0].preview = {0, 2, 1};
    QVERIFY(suggestMap(layout).columns[0].role == ChannelRole::none);
}

void EvidenceTest::whatOnlyTheUserKnowsIsAsked() {
    QVERIFY(suggested("AFR", "", {11, 15}).question.id == "map.ask.afr");
    QVERIFY(suggested("boost", "psi", {0, 20}).question.id == "map.ask.reference");
    QVERIFY(suggested("map", "kPa", {30, 220}).question.empty());
    QVERIFY(suggested("map", "psi", {-10, 20}).question.empty());
    QVERIFY(suggested("ethanol", "", {10, 60}).question.id == "map.ask.unit");
    QVERIFY(suggested("knock retard", "deg", {-4, 0}).question.id == "map.ask.retard");
    const MappedColumn odd = suggested("lambda", "lambda", {11, 15}); // an AFR that is called λ
    QVERIFY(odd.question.id == "map.ask.range" && odd.confidence < 0.5);
    COMPARE_NEAR(odd.question.values[1].value, 15, 1e-12);
    QVERIFY(suggested("rpm", "rpm", {900, 6000}).confidence > suggested("rpm", "", {900, 6000}).confidence);
    QVERIFY(suggested("mystery").confidence == 0);
}

void EvidenceTest::oneColumnForARole() {
    LogLayout layout;
    layout.columns = {column("time", "s"), column("lambda", ""), column("AFR", "AFR", {11, 15}),
                      column("lambda"), column("lambda", "lambda")};
    const ChannelMap map = suggestMap(layout);
    int lambdas = 0;
    for (const MappedColumn &c : map.columns)
        lambdas += c.role == ChannelRole::lambda;
    QCOMPARE(lambdas, 1);
    QVERIFY(map.columns[4].role == ChannelRole::lambda); // the likeliest
    ChannelMap twice = map;
    twice.columns[1].role = ChannelRole::lambda;
    EXPECT_INPUT_ERROR(fitted(twice, layout), "one column for 'λ'");
    ChannelMap second{
        {{.name = "lambda", .role = ChannelRole::none}, {.name = "lambda", .role = ChannelRole::lambda}},
        {},
        {}};
    const ChannelMap placed = fitted(second, layout); // names that stand several times, in their order
    QVERIFY(placed.columns[1].role == ChannelRole::none && placed.columns[3].role == ChannelRole::lambda);
    EXPECT_INPUT_ERROR(fitted({{{.name = "x"}}, {}, {}}, layout), "column 'x'");
}

void EvidenceTest::conversions() {
    const auto of = [](ChannelRole role, const char *unit,
                       PressureReference reference = PressureReference::notSaid,
                       std::optional<AfrBasis> scale = {}, bool reversed = false) {
        return conversionOf({.name = "x",
                             .role = role,
                             .unit = unit,
                             .scale = scale,
                             .reference = reference,
                             .reversed = reversed},
                            {90, 9.8});
    };
    const auto at = [](const ChannelConversion &c, double v) { return c.scale * v + c.offset; };
    COMPARE_NEAR(at(of(ChannelRole::map, "psi", PressureReference::gauge), 10), 90 + 68.94757, 1e-4);
    COMPARE_NEAR(at(of(ChannelRole::map, "psig"), 10), 90 + 68.94757, 1e-4);
    COMPARE_NEAR(at(of(ChannelRole::map, "psi"), 10), 68.94757, 1e-4);
    COMPARE_NEAR(at(of(ChannelRole::lambda, "AFR"), 14.7), 1, 1e-12);
    COMPARE_NEAR(at(of(ChannelRole::lambda, "AFR", {}, AfrScale::trueOfFuel), 9.8), 1, 1e-12);
    COMPARE_NEAR(at(of(ChannelRole::lambda, "AFR", {}, 12.25), 9.8), 0.8, 1e-12);
    COMPARE_NEAR(at(of(ChannelRole::pulseWidth, "s"), 0.012), 12, 1e-12);
    COMPARE_NEAR(at(of(ChannelRole::time, "ms"), 1500), 1.5, 1e-12);
    COMPARE_NEAR(at(of(ChannelRole::knockRetard, "deg", {}, {}, true), -3), 3, 1e-12);
    COMPARE_NEAR(at(of(ChannelRole::ethanol, "%"), 62), 0.62, 1e-12);
    EXPECT_INPUT_ERROR(of(ChannelRole::map, "°C"), "a unit of 'Manifold pressure'", "°C");
    EXPECT_INPUT_ERROR(of(ChannelRole::rpm, "furlong"), "a unit that is known");
}

void EvidenceTest::clocksAreInOrder() {
    LogLayout layout;
    layout.columns = {column("time", "s"), column("rpm", "rpm"), column("waste")};
    ChannelMap map = suggestMap(layout);
    map.columns[2].skipped = true;
    LogIntake intake(map, layout, {});
    QCOMPARE(intake.series(), std::size_t{2});
    Kept kept;
    intake.handTo(kept);
    const std::vector<double> time{1, 1.5, 1.4, none, 1.6, 2, 0, 0.5, 0.4, 30},
        rpm{900, none, 25000, 0, 1, 2, 3, 30000, 5, 6};
    for (std::size_t from : {0, 3, 6}) { // in pieces, as it comes
        const std::size_t count = from == 6 ? 4 : 3;
        intake.put(0, std::span(time).subspan(from, count));
        intake.put(1, std::span(rpm).subspan(from, count));
        intake.put(2, std::span(rpm).subspan(from, count));
    }
    // Held where it was; behind the first recording by its last step.
    const std::vector<double> expected{1, 1.5, 1.5, 1.5, 1.6, 2, 2.4, 2.9, 2.9, 32.4};
    for (std::size_t i = 0; i < expected.size(); ++i)
        COMPARE_NEAR(kept.columns[0][i], expected[i], 1e-12);
    QVERIFY(std::ranges::is_sorted(kept.columns[0]));
    LogRead read;
    read.rows = 10;
    read.kinds.resize(3, ChannelKind::number);
    read.texts.resize(3);
    const LogIntake::Summary s = intake.summary(read);
    std::string said;
    for (const Phrase &w : s.warnings)
        said += format(w) + "\n";
    for (const char *words :
         {"1 rows have no time, the first is row 4", "goes back in 2 rows, first in row 3 by 0.100 s",
          "begins again 1 times, first in row 7",
          "Engine speed: 2 samples outside 0 rpm to 20000 rpm, first in row 3: 25000 rpm"})
        QVERIFY2(said.find(words) != std::string::npos, said.c_str());
    const LogChannel &c = s.channels[1];
    QVERIFY(c.samples == 9 && c.missing == 1 && c.least == 0 && c.most == 30000 && c.series == 1 &&
            c.clock == 0);
    COMPARE_NEAR(c.mean, (900 + 25000 + 0 + 1 + 2 + 3 + 30000 + 5 + 6) / 9.0, 1e-9);
    QVERIFY(s.info.beginS == 1 && wheelwright::testing::near(s.info.endS, 32.4, 1e-12) && s.info.rows == 10);
    map.columns[0].role = ChannelRole::none;
    EXPECT_INPUT_ERROR(LogIntake(map, layout, {}), "a column that is the time");
}

CORE_TEST_MAIN(EvidenceTest)
#include "evidence_test.moc"
