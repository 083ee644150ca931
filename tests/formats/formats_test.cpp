// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/practice/hidden_engine.h"
#include "formats/bundle.h"
#include "formats/can_map_json.h"
#include "formats/channel_map_json.h"
#include "formats/csv_reader.h"
#include "formats/job_json.h"
#include "formats/practice_json.h"
#include "formats/table_csv.h"
#include "support/phrases.h"
#include "support/random_job.h"
#include "support/test_main.h"

#include <QFile>
#include <nlohmann/json.hpp>

#include <functional>
#include <istream>
#include <random>
#include <streambuf>

using namespace wheelwright;
using testing::says;

namespace {

const TableField &sparkBase() {
    return *tableByPath("calibration.spark.base");
}

std::string replaced(std::string text, const std::string &from, const std::string &to) {
    const std::size_t at = text.find(from);
    return at == std::string::npos ? std::string() : text.replace(at, from.size(), to);
}

// One case that fails must not end all others: what is read here is meant to be good.
template <class Read>
auto good(Read read) -> decltype(read()) {
    try {
        return read();
    } catch (const std::exception &e) {
        QTest::qFail(e.what(), __FILE__, __LINE__);
        return {};
    }
}

Job document(const std::string &text) {
    return good([&] { return jobFromJson(text); });
}

Table2D read(const std::string &csv, const TableField &field) {
    return tableFromCsv(readCsv(csv), field).table;
}

} // namespace

/// Round trips are exact; bad input says where, what was expected and what was found.
class FormatsTest : public QObject {
    Q_OBJECT
  private slots:
    void jsonRoundTripIsExact();
    void jsonMayLeaveThingsOut();
    void jsonIsReadAsItIsWritten();
    void jsonRefuses_data();
    void jsonRefuses();
    void everyReaderOfJsonRefusesAlike();
    void jsonTruncatedAnywhereIsRefused();
    void csvRoundTripIsExact();
    void csvDialects_data();
    void csvDialects();
    void csvRefuses_data();
    void csvRefuses();
    void doubtfulTablesAreSaid();
    void csvIsReadAsItComes();
    void csvSurvivesNoise();
    void quotedFields();
    void blocksFromASpreadsheet();
    void documentationNamesEveryKey();
};

void FormatsTest::jsonRoundTripIsExact() {
    for (unsigned seed = 0; seed < 40; ++seed) {
        const Job job = testing::randomJob(seed);
        const std::string text = jobToJson(job);
        QVERIFY(document(text) == job);
        QCOMPARE(jobToJson(document(text)), text);
    }
}

void FormatsTest::jsonMayLeaveThingsOut() {
    const Job job = document(
        "\xEF\xBB\xBF{\"format\":\"wheelwright-job\",\"version\":1,\"engine\":{\"displacement_l\":3.2}}");
    QCOMPARE(job.engine.displacementL, 3.2);
    QVERIFY(job.calibration == newJob("").calibration);
    const std::string head = "{\"format\":\"wheelwright-job\",\"version\":1,";
    QCOMPARE(document(head + "\"fuel\":{\"shelf\":[{},{\"ethanol\":0.5}]}}").shelf[1].ethanol, 0.5);
    EXPECT_INPUT_ERROR(jobFromJson(head + "\"fuel\":{\"shelf\":3}}"), "fuel.shelf", "a list of records");
    EXPECT_INPUT_ERROR(jobFromJson(head + "\"fuel\":{\"shelf\":[3]}}"), "fuel.shelf 1", "an object");
}

// The document of a new job, in which somebody has typed one number into a table that it calls assumed: what
// is written of it is read as the same again.
void FormatsTest::jsonIsReadAsItIsWritten() {
    Job job = newJob("x");
    Table2D &boost = job.calibration.of(CalibratedQuantity::boost).base;
    boost.setCell({1, 0}, 120);
    boost.setOrigins(std::vector(boost.cells().size(), CellOrigin::assumed));
    auto document = nlohmann::json::parse(jobToJson(job));
    document.erase("stated");
    const Job read = jobFromJson(document.dump());
    QVERIFY(read.calibration.of(CalibratedQuantity::boost).base.origins().empty());
    QVERIFY(!read.calibration.of(CalibratedQuantity::boost).top.origins().empty());
    QVERIFY(jobFromJson(jobToJson(read)) == read);
    document.erase("calibration"); // without a word of where its tables come from
    document["calibration"]["boost"] = nlohmann::json::parse(jobToJson(newJob("x")))["calibration"]["boost"];
    QVERIFY(jobFromJson(document.dump()).calibration == newJob("x").calibration);
    QCOMPARE(jobToJson(jobFromJson(jobToJson(read))), jobToJson(read));
}

void FormatsTest::jsonRefuses_data() {
    QTest::addColumn<QString>("from");
    QTest::addColumn<QString>("to");
    QTest::addColumn<QString>("where");
    QTest::addColumn<QString>("expected");
    QTest::newRow("foreign format") << "\"wheelwright-job\""
                                    << "\"recipe\""
                                    << "format"
                                    << "wheelwright-job";
    QTest::newRow("newer version") << "\"version\": 1"
                                   << "\"version\": 2"
                                   << "version"
                                   << "1";
    QTest::newRow("misspelt key") << "\"displacement_l\""
                                  << "\"displacment_l\""
                                  << "engine"
                                  << "displacment_l";
    QTest::newRow("text for number") << "\"displacement_l\": 2.4"
                                     << "\"displacement_l\": \"big\""
                                     << "engine.displacement_l"
                                     << "a number";
    QTest::newRow("number for text") << "\"name\": \"Thistle\""
                                     << "\"name\": 5"
                                     << "name"
                                     << "text";
    QTest::newRow("null") << "\"displacement_l\": 2.4"
                          << "\"displacement_l\": null"
                          << "engine.displacement_l"
                          << "null";
    QTest::newRow("negative density") << "\"density_kg_m3\": 745.0"
                                      << "\"density_kg_m3\": -745.0"
                                      << "fuel.gasoline.density_kg_m3"
                                      << "600 to 1000";
    QTest::newRow("zero flow") << "\"flow_cc_min\": 725.0"
                               << "\"flow_cc_min\": 0"
                               << "injectors.flow_cc_min"
                               << "10 to 10000";
    QTest::newRow("content over one") << "\"top_content\": 0.85"
                                      << "\"top_content\": 85"
                                      << "calibration.top_content"
                                      << "0 to 1";
    QTest::newRow("unknown choice") << "\"hold\""
                                    << "\"guess\""
                                    << "calibration.outside"
                                    << "hold, extrapolate";
    QTest::newRow("unsorted axis") << "[700.0,1000.0"
                                   << "[1000.0,700.0"
                                   << "calibration.fuel.base.rpm breakpoint 2"
                                   << "more than";
    QTest::newRow("unknown limit") << "\"limits\": {}"
                                   << "\"limits\": {\"flow.purple\": 1}"
                                   << "limits"
                                   << "flow.purple";
    QTest::newRow("limit as text") << "\"limits\": {}"
                                   << "\"limits\": {\"flow.duty.stop\": \"x\"}"
                                   << "limits.flow.duty.stop"
                                   << "a number";
    QTest::newRow("record of text") << "\"events\": ["
                                    << "\"events\": [{\"litres\": \"many\"},"
                                    << "tank.events 1 litres"
                                    << "a number";
    QTest::newRow("number for a record's text") << "\"name\":\"Pump premium\""
                                                << "\"name\":7"
                                                << "fuel.shelf 1 name"
                                                << "text";
    QTest::newRow("unknown key of a record") << "\"name\":\"Pump premium\""
                                             << "\"colour\":3"
                                             << "fuel.shelf 1"
                                             << "colour";
    QTest::newRow("impossible history") << "\"events\": ["
                                        << "\"events\": [{\"kind\": \"burn\", \"litres\": 5},"
                                        << "tank.events 1"
                                        << "at most";
    QTest::newRow("list for object") << "\"engine\": {"
                                     << "\"engine\": [1], \"more\": {"
                                     << "engine"
                                     << "an object";
    QTest::newRow("not json") << "\"limits\": {}"
                              << "\"limits\": {"
                              << "line"
                              << "JSON";
    QTest::newRow("infinity") << "\"displacement_l\": 2.4"
                              << "\"displacement_l\": 1e999"
                              << "line"
                              << "1e999";
    QTest::newRow("a key twice") << "\"cylinders\":"
                                 << "\"displacement_l\": 3, \"cylinders\":"
                                 << "engine"
                                 << "'displacement_l' again";
    QTest::newRow("an object twice") << "\"tank\":"
                                     << "\"engine\": {}, \"tank\":"
                                     << "job"
                                     << "'engine' again";
    QTest::newRow("a key of a record twice") << "\"shelf\": ["
                                             << "\"shelf\": [{\"name\": \"a\", \"name\": \"b\"},"
                                             << "fuel.shelf"
                                             << "'name' again";
    QTest::newRow("lists without end")
        << "\"version\": 1"
        << "\"version\": " + QString(100000, u'[') + QString(100000, u']') << "version"
        << "deeper ones";
    QTest::newRow("not quite too deep")
        << "\"version\": 1"
        << "\"version\": " + QString(30, u'[') + QString(30, u']') << "version"
        << "a list";
    QTest::newRow("unknown key of a curve") << "\"boost_limit_kpa\": {"
                                            << "\"boost_limit_kpa\": {\"z\": 1, "
                                            << "boost_limit_kpa"
                                            << "'z'";
    QTest::newRow("a date of no calendar") << "\"events\": ["
                                           << "\"events\": [{\"at\": \"2001-02-29\"},"
                                           << "tank.events 1 at"
                                           << "'2001-02-29'";
    QTest::newRow("a state of nothing") << "\"revisions\": ["
                                        << "\"revisions\": [{\"name\": \"r\", \"state\": \"x\"}"
                                        << "revisions 1 state line 1"
                                        << "'x'";
    QTest::newRow("a key of a megabyte") << "\"displacement_l\""
                                         << "\"" + QString(1000000, u'k') + "\""
                                         << "engine"
                                         << "kkk…kkk";
}

void FormatsTest::jsonRefuses() {
    QFETCH(QString, from);
    QFETCH(QString, to);
    QFETCH(QString, where);
    QFETCH(QString, expected);
    const std::string text = replaced(jobToJson(testing::demoJob()), from.toStdString(), to.toStdString());
    QVERIFY2(!text.empty(), "the text to be broken was not found");
    EXPECT_INPUT_ERROR(jobFromJson(text), where.toUtf8().constData(), expected.toUtf8().constData());
}

// Whatever the document is of: the line, and what stands there.
void FormatsTest::everyReaderOfJsonRefusesAlike() {
    const std::vector<std::pair<const char *, std::function<void(const std::string &)>>> readers{
        {"line", [](const std::string &s) { jobFromJson(s); }},
        {"map, line", [](const std::string &s) { channelMapFromJson(s); }},
        {"CAN map, line", [](const std::string &s) { canMapFromJson(s); }},
        {"line", [](const std::string &s) { scriptFromJson(s); }},
        {"line", [](const std::string &s) { engineFromJson(s, {}); }},
        {"line", [](const std::string &s) { bundleHeadFromJson(s); }}};
    std::string deep(40, '[');
    for (const auto &[place, read] : readers) {
        EXPECT_INPUT_ERROR(read("{\n\"a\": 2e090084}"), place, "line 2", "numbers that a computer can hold",
                           "'2e090084'");
        EXPECT_INPUT_ERROR(read("{\n\n\"a\": nonsense}"), place, "line 3", "JSON", "something else");
        EXPECT_INPUT_ERROR(read("{\"a\": 1"), place, "line 1", "the end of the text");
        EXPECT_INPUT_ERROR(read("{\"a\": 1, \"b\": 2, \"a\": 3}"), "each key once", "'a' again");
        EXPECT_INPUT_ERROR(read("{\"a\": \"\xE4\"}"), place, "line 1", "text in UTF-8");
        EXPECT_INPUT_ERROR(read("{\"a\": " + deep), "at most 32 deep", "deeper ones");
        EXPECT_INPUT_ERROR(read(" \n"), "JSON", "nothing");
        EXPECT_INPUT_ERROR(read("\xFF\xFE{"), "text in UTF-16");
    }
}

void FormatsTest::jsonTruncatedAnywhereIsRefused() {
    const std::string whole = jobToJson(newJob("cut"));
    for (std::size_t length = 0; length + 2 < whole.size(); length += 97)
        EXPECT_INPUT_ERROR(jobFromJson(std::string_view(whole).substr(0, length)), "expected");
    for (const char *other : {"", "[]", "17", "\"text\"", "null", "\x01\x02\x03"})
        EXPECT_INPUT_ERROR(jobFromJson(other), "expected");
}

void FormatsTest::csvRoundTripIsExact() {
    for (unsigned seed = 0; seed < 40; ++seed) {
        const Job job = testing::randomJob(seed);
        for (const TableField &f : allTables())
            for (char delimiter : {',', ';', '\t'})
                QVERIFY(read(tableToCsv(f.of(job), f, delimiter), f) == f.of(job));
    }
}

void FormatsTest::csvDialects_data() {
    QTest::addColumn<QByteArray>("csv");
    QTest::newRow("comma") << QByteArray("load,1000,2000\n50,10.5,12\n100,8,9\n");
    QTest::newRow("semicolon, decimal comma") << QByteArray("load;1000;2000\n50;10,5;12\n100;8;9\n");
    QTest::newRow("tab, CRLF, BOM") << QByteArray(
        "\xEF\xBB\xBFload\t1000\t2000\r\n50\t10.5\t12\r\n100\t8\t9\r\n");
    QTest::newRow("comments, blank lines, quotes, no last line end")
        << QByteArray("# spark\n\n\"load, kPa\",\"1000\",2000\n 50 , 10.5 ,12\n\n100,8,9");
    QTest::newRow("old line ends") << QByteArray("load,1000,2000\r50,10.5,12\r100,8,9\r");
    QTest::newRow("plus signs and exponents") << QByteArray("load,1e3,2000\n50,+1.05e1,12\n100,8,9\n");
}

void FormatsTest::csvDialects() {
    QFETCH(QByteArray, csv);
    QVERIFY(good([&] { return read(csv.toStdString(), sparkBase()); }) ==
            Table2D(Axis({1000, 2000}), Axis({50, 100}), {10.5, 12, 8, 9}));
}

void FormatsTest::csvRefuses_data() {
    QTest::addColumn<QByteArray>("csv");
    QTest::addColumn<QString>("where");
    QTest::addColumn<QString>("found");
    QTest::newRow("empty") << QByteArray("") << "file"
                           << "nothing";
    QTest::newRow("only comments") << QByteArray("# a\n# b\n") << "file"
                                   << "nothing";
    QTest::newRow("binary") << QByteArray("load,1000\n50,\0\1\2", 17) << "byte"
                            << "binary";
    QTest::newRow("one row") << QByteArray("load,1000,2000\n") << "file"
                             << "1 rows";
    QTest::newRow("word in a cell") << QByteArray("load,1000,2000\n50,10,12\n100,8,lots\n")
                                    << "line 3, column 3"
                                    << "lots";
    QTest::newRow("empty cell") << QByteArray("load,1000,2000\n50,10,\n") << "line 2, column 3"
                                << "nothing";
    QTest::newRow("short row") << QByteArray("load,1000,2000\n50,10,12\n100,8\n") << "line 3"
                               << "2";
    QTest::newRow("long row") << QByteArray("load,1000,2000\n50,10,12,13\n") << "line 2"
                              << "4";
    QTest::newRow("unsorted rpm") << QByteArray("load,2000,1000\n50,10,12\n") << "rpm breakpoint 2"
                                  << "1000";
    QTest::newRow("unsorted load") << QByteArray("load,1000,2000\n100,10,12\n50,8,9\n")
                                   << "load_kpa breakpoint 2"
                                   << "50";
    QTest::newRow("out of range") << QByteArray("load,1000,2000\n50,10,99\n") << "line 2, column 3"
                                  << "99";
    QTest::newRow("not a number") << QByteArray("load,1000,2000\n50,nan,12\n") << "line 2, column 2"
                                  << "nan";
    QTest::newRow("infinity") << QByteArray("load,1000,2000\n50,inf,12\n") << "line 2, column 2"
                              << "inf";
    QTest::newRow("open quote") << QByteArray("load,1000\n50,\"12\n") << "line 2"
                                << "end of the text";
    QTest::newRow("too many columns")
        << QByteArray("load") + QByteArray(",1").repeated(70) + "\n5" + QByteArray(",1").repeated(70) + "\n"
        << "line 1"
        << "more";
    QTest::newRow("too many rows") << QByteArray("load,1000\n") + QByteArray("5,1\n").repeated(70)
                                   << "line 66"
                                   << "another";
    QTest::newRow("two signs") << QByteArray("load,1000,2000\n50,+-10,12\n") << "line 2, column 2"
                               << "+-10";
    QTest::newRow("thousands beside decimals")
        << QByteArray("load;1.000;2.000\n50;10,5;12\n") << "line 1, column 2"
        << "1.000";
    QTest::newRow("thousands beside decimals, tabs")
        << QByteArray("load\t1,000\t2,000\n50\t10.5\t12\n") << "line 1, column 2"
        << "1,000";
    QTest::newRow("thousands or decimals, nobody knows")
        << QByteArray("load;1.000;2.000\n50;10;12\n") << "line 1, column 2"
        << "1.000";
    QTest::newRow("both signs in a number")
        << QByteArray("load;1000;2000\n50;1.234,5;12\n") << "line 2, column 2"
        << "1.234,5";
    QTest::newRow("both decimal signs, and thousands or decimals")
        << QByteArray("load;1000;2000\n50;10.5;12,5\n100;9;1.125\n") << "line 3, column 3"
        << "1.125";
    QTest::newRow("UTF-16") << QByteArray("\xFF\xFEl\0o\0", 6) << "file"
                            << "UTF-16";
    QTest::newRow("text after a quote") << QByteArray("load,\"1000\"x,2000\n50,10,12\n") << "line 1"
                                        << "'x'";
    QTest::newRow("a field of megabytes") << QByteArray("load,1") + QByteArray(5000000, '0') << "line 1"
                                          << "longer";
    QTest::newRow("another quantity")
        << QByteArray("lambda / load_kpa / rpm,1000,2000\n50,1,1\n") << "line 1, column 1"
        << "'lambda'";
    QTest::newRow("another unit") << QByteArray("spark_rad / load_kpa / rpm,1000,2000\n50,1,1\n")
                                  << "line 1, column 1"
                                  << "spark_rad";
    QTest::newRow("another axis") << QByteArray("spark_deg / air_mass_mg / rpm,1000,2000\n50,10,12\n")
                                  << "line 1, column 1"
                                  << "air_mass_mg";
}

// Whether a table of a λ or a gauge pressure is noticed where nothing names it: common practice, see the
// header.
void FormatsTest::doubtfulTablesAreSaid() {
    const auto doubt = [](CalibratedQuantity q, const std::string &text) {
        return tableFromCsv(readCsv(text), tableOf(q, false)).doubt;
    };
    using Q = CalibratedQuantity;
    QVERIFY(says(doubt(Q::spark, "load,1000,2000\n50,0.88,0.9\n"), "λ"));
    QVERIFY(says(doubt(Q::spark, "load,1000,2000\n50,0.5,1.5\n"), "λ"));
    QVERIFY(doubt(Q::spark, "load,1000,2000\n50,0.88,1.6\n").empty());
    QVERIFY(doubt(Q::spark, "load,1000,2000\n50,0.4,1.5\n").empty());
    QVERIFY(says(doubt(Q::spark, "load,1000,2000\n50,36,58\n"), "35°"));
    QVERIFY(doubt(Q::spark, "load,1000,2000\n50,35,58\n").empty());
    QVERIFY(doubt(Q::spark, "spark_deg / load_kpa / rpm,1000,2000\n50,0.88,0.9\n").empty()); // it says so
    QVERIFY(says(doubt(Q::fuel, "load,1000,2000\n50,1.1,2.9\n"), "per cent"));
    QVERIFY(doubt(Q::fuel, "load,1000,2000\n50,1.1,3\n").empty());
    QVERIFY(says(doubt(Q::boost, "throttle,1000,2000\n50,20,79\n"), "gauge"));
    QVERIFY(doubt(Q::boost, "throttle,1000,2000\n50,20,80\n").empty());
    QVERIFY(doubt(Q::lambda, "load,1000,2000\n50,0.88,0.9\n").empty());
}

// Text comes as it comes: split anywhere, it is read the same, and what is refused is refused before it is
// read.
void FormatsTest::csvIsReadAsItComes() {
    struct Endless : std::streambuf {
        std::size_t given = 0;
        char block[4096];
        int_type underflow() override {
            std::fill(block, block + sizeof block, given == 0 ? 'x' : ',');
            given += sizeof block;
            setg(block, block, block + sizeof block);
            return traits_type::to_int_type(block[0]);
        }
    } endless;
    std::istream in(&endless);
    EXPECT_INPUT_ERROR(readCsv(in), "line 1");
    QVERIFY2(endless.given < 1000000, qPrintable(QString::number(endless.given)));
    // Longer than the buffer: remarks, then a table that begins in the middle of a block.
    for (const std::size_t remarks : {65530u, 65535u, 65536u, 65537u, 200001u}) {
        std::string text =
            "#" + std::string(remarks - 2, 'r') + "\nload;1000;2000\r\n50;10,5;12\r\n100;8;9\r\n";
        const CsvText csv = readCsv(text);
        QCOMPARE(csv.rows.size(), std::size_t{3});
        QCOMPARE(csv.rows[2].line, std::size_t{4});
        QVERIFY(tableFromCsv(csv, sparkBase()).table ==
                Table2D(Axis({1000, 2000}), Axis({50, 100}), {10.5, 12, 8, 9}));
    }
}

void FormatsTest::csvRefuses() {
    QFETCH(QByteArray, csv);
    QFETCH(QString, where);
    QFETCH(QString, found);
    EXPECT_INPUT_ERROR(read(csv.toStdString(), sparkBase()), where.toUtf8().constData(),
                       found.toUtf8().constData());
}

// Any bytes either make a table or a clear error; never anything else.
void FormatsTest::csvSurvivesNoise() {
    std::mt19937 r(42);
    const std::string good =
        tableToCsv(testing::demoJob().calibration.of(CalibratedQuantity::spark).base, sparkBase());
    int refused = 0;
    for (int round = 0; round < 3000; ++round) {
        std::string text = good.substr(0, std::uniform_int_distribution<std::size_t>(0, 600)(r));
        for (int i = 0; i < 4 && !text.empty(); ++i)
            text[r() % text.size()] = static_cast<char>(r() % 256);
        try {
            read(text, sparkBase());
        } catch (const InputError &) {
            ++refused;
        }
    }
    QVERIFY(refused > 1000);
}

void FormatsTest::quotedFields() {
    const CsvText csv = readCsv("a,\"b \"\"c\"\", d\",\"two\nlines\"\nx,y,z\n");
    QCOMPARE(csv.rows.size(), std::size_t{2});
    QCOMPARE(csv.rows[0].fields[1], std::string("b \"c\", d"));
    QCOMPARE(csv.rows[0].fields[2], std::string("two\nlines"));
    QCOMPARE(csv.rows[1].line, std::size_t{3});
}

void FormatsTest::blocksFromASpreadsheet() {
    const auto block = blockFromCsv("1\t2,5\n3\t4\n");
    QCOMPARE(block.rows.size(), std::size_t{2});
    QCOMPARE(block.rows[0][1], 2.5);
    QVERIFY(block.x.empty() && block.y.empty());
    // Axes stand where the corner is no number.
    for (const char *corner : {"", "load / rpm"}) {
        const CellBlock axes = blockFromCsv(std::string(corner) + "\t1000\t2000\n50\t1\t2\n60,5\t3\t4\n");
        QCOMPARE(axes.x, std::vector<double>({1000, 2000}));
        QCOMPARE(axes.y, std::vector<double>({50, 60.5}));
        QCOMPARE(axes.rows[1][0], 3.0);
    }
    EXPECT_INPUT_ERROR(blockFromCsv("\t1000\nx\t1\n"), "line 2, column 1", "a breakpoint");
    EXPECT_INPUT_ERROR(blockFromCsv("1\t2\n3\n"), "line 2", "2 columns");
}

// A stranger writes a job by hand from docs/job-file.md: every key must stand there.
void FormatsTest::documentationNamesEveryKey() {
    QFile file(QStringLiteral(SOURCE_DIR "/docs/job-file.md"));
    QVERIFY(file.open(QIODevice::ReadOnly));
    const QString text = QString::fromUtf8(file.readAll());
    for (const Field &f : allFields()) {
        QVERIFY2(text.contains(QString::fromStdString("`" + f.path + "`")), f.path.c_str());
        for (const std::string &choice : f.choices)
            QVERIFY2(text.contains(QString::fromStdString(choice)), choice.c_str());
    }
    for (const CurveField &c : allCurves())
        QVERIFY2(text.contains(QString::fromStdString("`" + c.path + "`")), c.path.c_str());
    for (const TableField &t : allTables())
        QVERIFY2(text.contains(QString::fromStdString("`" + t.path + "`")), t.path.c_str());
    for (const RecordList &l : allRecordLists()) {
        QVERIFY2(text.contains(QString::fromStdString("`" + l.path + "`")), l.path.c_str());
        for (const RecordField &f : l.fields)
            QVERIFY2(text.contains(QString::fromStdString("| `" + f.key + "`")), f.key.c_str());
    }
}

CORE_TEST_MAIN(FormatsTest)
#include "formats_test.moc"
