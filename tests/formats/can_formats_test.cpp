// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "formats/can_map_json.h"
#include "formats/can_trace.h"
#include "formats/dbc_import.h"
#include "support/phrases.h"
#include "support/test_main.h"

#include <vector>

using namespace wheelwright;
using testing::says;

namespace {

constexpr const char *description = R"(VERSION ""
NS_ :
	CM_
	SG_MUL_VAL_
BU_: ECU DASH
BO_ 1536 Engine: 8 ECU
 SG_ Rpm : 0|16@1+ (0.25,0) [0|16383] "rpm" DASH
 SG_ Map : 23|16@0+ (1e-1,-5.5) [0|400] "kPa" DASH
	SG_ Spark:32|8@1-(0.5,0)[-64|63]"deg" DASH,ECU
BO_ 2147485184 Fuel: 64 ECU
 SG_ Page M : 0|8@1+ (1,0) [0|0] "" DASH
 SG_ Lambda m0 : 8|16@1+ (0.001,0) [0|2] "" DASH
 SG_ Inner m1M : 8|8@1+ (1,0) [0|0] "" DASH
 SG_ Ethanol m12 : 32|32@1+ (1,0) [0|100] "%" DASH
BO_ 3221225472 LOOSE_SIGNALS: 0 DASH
 SG_ Loose : 0|8@1+ (1,0) [0|0] "" DASH
CM_ SG_ 1536 Rpm "over
BO_ 99 of a comment";
SIG_VALTYPE_ 2147485184 Ethanol : 1;
VAL_ 1536 Spark 0 "none" 1 "BO_ 7" ;
)";

struct Trace {
    std::vector<CanFrame> frames;
    CanTraceRead read;
};
Trace traceOf(std::string_view text) {
    Trace t;
    t.read = readCanTrace(text, [&](const CanFrame &f) { t.frames.push_back(f); });
    return t;
}

std::vector<int> bytesOfFrame(const CanFrame &f) {
    return {f.data.begin(), f.data.begin() + f.size};
}

} // namespace

class CanFormatsTest : public QObject {
    Q_OBJECT
  private slots:
    void descriptionIsRead();
    void descriptionsThatMakeNoSense_data();
    void descriptionsThatMakeNoSense();
    void latin1UnitsAreRead();
    void mapRoundTrips();
    void mapsAreRefused_data();
    void mapsAreRefused();
    void candumpIsRead();
    void ascIsRead();
    void tracesAreRefused_data();
    void tracesAreRefused();
};

void CanFormatsTest::descriptionIsRead() {
    const DbcImport dbc = canMapFromDbc(description);
    const auto &messages = dbc.map.messages;
    QCOMPARE(messages.size(), std::size_t(2));
    QCOMPARE(messages[0].name, std::string("Engine"));
    QVERIFY(messages[0].id == 0x600 && !messages[0].extended && messages[0].size == 8);
    QVERIFY(messages[1].id == 0x600 && messages[1].extended && messages[1].size == 64);
    const auto &engine = messages[0].numbers;
    QCOMPARE(engine.size(), std::size_t(3));
    QVERIFY((engine[0] == CanSignal{"Rpm", 0, 16, CanOrder::little, CanNumber::plain, 0.25, 0, "rpm"}));
    QVERIFY((engine[1] == CanSignal{"Map", 23, 16, CanOrder::big, CanNumber::plain, 0.1, -5.5, "kPa"}));
    QVERIFY(
        (engine[2] == CanSignal{"Spark", 32, 8, CanOrder::little, CanNumber::twosComplement, 0.5, 0, "deg"}));
    const auto &fuel = messages[1].numbers;
    QCOMPARE(fuel.size(), std::size_t(3)); // without the multiplexer within another
    QVERIFY(fuel[0].multiplexer && !fuel[0].multiplexValue);
    QVERIFY(!fuel[1].multiplexer && fuel[1].multiplexValue == 0U);
    QVERIFY(fuel[2].multiplexValue == 12U && fuel[2].number == CanNumber::floating);
    QCOMPARE(dbc.warnings.size(), std::size_t(1));
    QVERIFY(says(dbc.warnings[0], "Line 13: Inner is a multiplexer within another"));
    // The same with the line ends of another system.
    std::string crlf;
    for (const char *c = description; *c; ++c)
        crlf += *c == '\n' ? std::string("\r\n") : std::string(1, *c);
    QVERIFY(canMapFromDbc(crlf).map == dbc.map);
}

void CanFormatsTest::descriptionsThatMakeNoSense_data() {
    QTest::addColumn<QString>("text");
    QTest::addColumn<QString>("where");
    QTest::newRow("nothing") << ""
                             << "file";
    QTest::newRow("something else") << "time,rpm\n1,2\n"
                                    << "file";
    QTest::newRow("no name") << "BO_ 5 : 8 E\n"
                             << "line 1";
    QTest::newRow("no size") << "BO_ 5 A: x E\n"
                             << "line 1";
    QTest::newRow("signal first") << "\nSG_ A : 0|8@1+ (1,0) [0|0] \"\" X\n"
                                  << "line 2";
    QTest::newRow("no sign") << "BO_ 5 A: 8 E\n SG_ A : 0|8@1 (1,0) [0|0] \"\" X\n"
                             << "line 2";
    QTest::newRow("cut") << "BO_ 5 A: 8 E\n SG_ A : 0|8@1+ (1,0"
                         << "line 2";
    QTest::newRow("unit open") << "BO_ 5 A: 8 E\n SG_ A : 0|8@1+ (1,0) [0|0] \"deg X\n"
                               << "line 2";
    QTest::newRow("mark") << "BO_ 5 A: 8 E\n SG_ A q : 0|8@1+ (1,0) [0|0] \"\" X\n"
                          << "line 2";
    QTest::newRow("bits") << "BO_ 5 A: 2 E\n SG_ A : 9|8@1+ (1,0) [0|0] \"\" X\n"
                          << "message A signal A";
    QTest::newRow("identifier") << "BO_ 2048 A: 2 E\n SG_ A : 0|8@1+ (1,0) [0|0] \"\" X\n"
                                << "message A";
    QTest::newRow("scale") << "BO_ 5 A: 2 E\n SG_ A : 0|8@1+ (0,0) [0|0] \"\" X\n"
                           << "message A signal A";
}

void CanFormatsTest::descriptionsThatMakeNoSense() {
    QFETCH(QString, text);
    QFETCH(QString, where);
    EXPECT_INPUT_ERROR(canMapFromDbc(text.toStdString()), where.toStdString().c_str());
}

void CanFormatsTest::latin1UnitsAreRead() {
    const DbcImport dbc = canMapFromDbc("BO_ 5 A: 2 E\n SG_ T : 0|8@1+ (1,-40) [0|0] \"\xB0"
                                        "C\" X\n");
    QCOMPARE(dbc.map.messages[0].numbers[0].unit, std::string("°C"));
    const DbcImport utf = canMapFromDbc("BO_ 5 A: 2 E\n SG_ T : 0|8@1+ (1,-40) [0|0] \"°C\" X\n");
    QVERIFY(utf.map == dbc.map);
}

void CanFormatsTest::mapRoundTrips() {
    const CanMap map = canMapFromDbc(description).map;
    const std::string text = canMapToJson(map);
    QVERIFY(canMapFromJson(text) == map);
    QCOMPARE(canMapToJson(canMapFromJson(text)), text);
    // An identifier may be written as people do.
    QCOMPARE(canMapFromJson(
                 R"({"format": "wheelwright-can-map", "version": 1, "messages": [{"id": "0x7aB", "bytes": 1,
        "signals": [{"name": "a", "start_bit": 0, "bits": 8, "order": "little"}]}]})")
                 .messages[0]
                 .id,
             0x7ABU);
}

void CanFormatsTest::mapsAreRefused_data() {
    QTest::addColumn<QString>("from");
    QTest::addColumn<QString>("to");
    QTest::addColumn<QString>("where");
    QTest::newRow("format") << "wheelwright-can-map"
                            << "map"
                            << "CAN map.format";
    QTest::newRow("version") << "\"version\": 1"
                             << "\"version\": 2"
                             << "CAN map.version";
    QTest::newRow("id") << "\"id\": 5"
                        << "\"id\": -5"
                        << "messages[0].id";
    QTest::newRow("id words") << "\"id\": 5"
                              << "\"id\": \"0xzz\""
                              << "messages[0].id";
    QTest::newRow("order") << "\"little\""
                           << "\"intel\""
                           << "messages[0].signals[0].order";
    QTest::newRow("no order") << ", \"order\": \"little\""
                              << ""
                              << "messages[0].signals[0].order";
    QTest::newRow("bits") << "\"bits\": 8"
                          << "\"bits\": 8.5"
                          << "messages[0].signals[0].bits";
    QTest::newRow("scale") << "\"scale\": 2"
                           << "\"scale\": \"2\""
                           << "messages[0].signals[0].scale";
    QTest::newRow("unknown key") << "\"scale\""
                                 << "\"factor\""
                                 << "messages[0].signals[0]";
    QTest::newRow("signals") << "\"signals\": ["
                             << "\"signals\": 5, \"x\": ["
                             << "messages[0].signals";
    QTest::newRow("too far") << "\"start_bit\": 0"
                             << "\"start_bit\": 9"
                             << "message A signal a";
    QTest::newRow("cut") << "]}]}"
                         << ""
                         << "CAN map";
}

void CanFormatsTest::mapsAreRefused() {
    QFETCH(QString, from);
    QFETCH(QString, to);
    QFETCH(QString, where);
    QString text = QStringLiteral(
        R"({"format": "wheelwright-can-map", "version": 1, "messages": [{"id": 5, "name": "A", "bytes": 2, "signals": [{"name": "a", "start_bit": 0, "bits": 8, "order": "little", "scale": 2}]}]})");
    canMapFromJson(text.toStdString());
    QVERIFY(text.contains(from));
    text.replace(text.indexOf(from), from.size(), to);
    EXPECT_INPUT_ERROR(canMapFromJson(text.toStdString()), where.toStdString().c_str());
}

void CanFormatsTest::candumpIsRead() {
    const Trace t = traceOf("(1436509052.249713) vcan0 044#2A366C2B\n"
                            "(1436509052.5) vcan0 1ABCDEF0#1122 R\r\n"
                            "\n"
                            "(1436509053.0) vcan0 7FF#\n"
                            "(1436509053.1) vcan0 100##0000102030405060708090A0B\n"
                            "(1436509053.2) vcan0 055#R2\n"
                            "(1436509053.3) vcan0 20000080#0000\n"
                            " (1436509053.4)  can0  00000044   [2]  0A FF\n"
                            "  can0  044   [3]  01 02 03   '...'\n"
                            "  can0  044   [2]  remote request\n");
    QCOMPARE(t.read.format, std::string_view("candump"));
    QCOMPARE(t.frames.size(), std::size_t(6));
    QCOMPARE(t.read.frames, std::size_t(6));
    QCOMPARE(t.read.leftOut, std::size_t(3));
    COMPARE_NEAR(t.frames[0].timeS, 1436509052.249713, 1e-6);
    QVERIFY(t.frames[0].id == 0x44 && !t.frames[0].extended);
    QCOMPARE(bytesOfFrame(t.frames[0]), (std::vector<int>{0x2A, 0x36, 0x6C, 0x2B}));
    QVERIFY(t.frames[1].id == 0x1ABCDEF0 && t.frames[1].extended && t.frames[1].size == 2);
    QCOMPARE(t.frames[2].size, std::uint8_t(0));
    QCOMPARE(t.frames[3].size, std::uint8_t(12));
    QCOMPARE(int(t.frames[3].data[11]), 0x0B);
    QVERIFY(t.frames[4].id == 0x44 && t.frames[4].extended); // eight digits are 29 bits
    QCOMPARE(bytesOfFrame(t.frames[5]), (std::vector<int>{1, 2, 3}));
    QVERIFY(!traceOf("(1.0) c 0044#00\n").frames[0].extended);
}

void CanFormatsTest::ascIsRead() {
    const char *text = "date Fri Nov 27 09:49:51.729 PM 2026\n"
                       "base hex  timestamps absolute\n"
                       "internal events logged\n"
                       "// a remark\n"
                       "Begin Triggerblock Thu Jan 01 12:00:00.5 AM 1970\n"
                       " 0.000000 Start of measurement\n"
                       " 0.010000 1  123             Rx   d 4 01 02 03 FF\n"
                       " 0.020000 1  1ABCDEF0x       Tx   d 2 10 11  Length = 0 BitCount = 64\n"
                       " 0.030000 CANFD   1 Rx        100                  0 0 9 12 00 01 02 03 04 05 06 07 "
                       "08 09 0A 0B 0 0\n"
                       " 0.040000 CANFD   1 Rx        101  Name            1 0 2 2 AA BB 0 0\n"
                       " 0.100000 1  55              Rx   r 2\n"
                       " 0.200000 1  ErrorFrame\n"
                       "End TriggerBlock\n";
    const Trace t = traceOf(text);
    QCOMPARE(t.read.format, std::string_view("asc"));
    QCOMPARE(t.frames.size(), std::size_t(4));
    QCOMPARE(t.read.leftOut, std::size_t(3)); // start, remote, error
    QCOMPARE(t.frames[0].timeS, 0.01);
    QCOMPARE(bytesOfFrame(t.frames[0]), (std::vector<int>{1, 2, 3, 0xFF}));
    QVERIFY(t.frames[1].id == 0x1ABCDEF0 && t.frames[1].extended && t.frames[1].size == 2);
    QVERIFY(t.frames[2].id == 0x100 && t.frames[2].size == 12);
    QCOMPARE(bytesOfFrame(t.frames[3]), (std::vector<int>{0xAA, 0xBB}));
    // Decimal, and times from line to line.
    const Trace d = traceOf("base dec  timestamps relative\n0.5 1 291 Rx d 2 10 255\n0.25 1 291 Rx d 1 7\n");
    QVERIFY(d.frames[0].id == 0x123);
    QCOMPARE(bytesOfFrame(d.frames[0]), (std::vector<int>{10, 255}));
    QCOMPARE(d.frames[1].timeS, 0.75);
}

void CanFormatsTest::tracesAreRefused_data() {
    QTest::addColumn<QString>("text");
    QTest::addColumn<QString>("where");
    QTest::newRow("nothing") << ""
                             << "file";
    QTest::newRow("a table") << "time,rpm\n1,2\n"
                             << "line 1";
    QTest::newRow("no frames") << "base hex timestamps absolute\n"
                               << "file";
    QTest::newRow("odd digits") << "(1.0) c 044#2A3\n"
                                << "line 1";
    QTest::newRow("no digits") << "(1.0) c 044#2AXX\n"
                               << "line 1";
    QTest::newRow("too long") << QStringLiteral("(1.0) c 044#") + QString(130, 'A') << "line 1";
    QTest::newRow("identifier") << "(1.0) c 800#00\n"
                                << "line 1";
    QTest::newRow("long identifier") << "(1.0) c 4FFFFFFF#00\n"
                                     << "line 1";
    QTest::newRow("time") << "(1.0) c 044#00\n(soon) c 044#00\n"
                          << "line 2";
    QTest::newRow("cut") << "(1.0) c 044 [4] 01 02\n"
                         << "line 1";
    QTest::newRow("asc cut") << "base hex timestamps absolute\n0.1 1 123 Rx d 4 01 02\n"
                             << "line 2";
    QTest::newRow("asc byte") << "base hex timestamps absolute\n0.1 1 123 Rx d 1 1FF\n"
                              << "line 2";
    QTest::newRow("asc too many") << "base hex timestamps absolute\n0.1 1 123 Rx d 9 1 2 3 4 5 6 7 8 9\n"
                                  << "line 2";
}

void CanFormatsTest::tracesAreRefused() {
    QFETCH(QString, text);
    QFETCH(QString, where);
    EXPECT_INPUT_ERROR(traceOf(text.toStdString()), where.toStdString().c_str());
}

CORE_TEST_MAIN(CanFormatsTest)
#include "can_formats_test.moc"
