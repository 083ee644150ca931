// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/job/named_tables.h"
#include "core/report/bundle_reports.h"
#include "formats/bundle.h"
#include "formats/job_json.h"
#include "support/phrases.h"
#include "support/test_main.h"

#include <nlohmann/json.hpp>

#include <QFile>

#include <algorithm>
#include <set>

using namespace wheelwright;
using testing::said;
using testing::says;

namespace {

constexpr const char *when = "2001-02-03T04:05:06Z";

Job bundledJob() {
    QFile f(QStringLiteral(DEMO_JOB));
    if (!f.open(QIODevice::ReadOnly)) qFatal("no demo job");
    Job job = jobFromJson(f.readAll().toStdString());
    job.revisions = {};
    return job;
}

BundleHead headOf(const Job &job) {
    return {job.name, "Sent 1", calibrationPrint(stateOf(job)), when, "content.40", "mind the pump"};
}

/// What was sent, as somebody would read it back.
std::vector<BundleFile> backOf(const Job &job) {
    std::vector<BundleFile> out;
    for (const BundleFile &f : bundleFiles(job, headOf(job), "", "")) {
        if (f.name == bundleSettingsName) out.push_back(f);
        if (f.name.starts_with(bundleTablesFolder))
            out.push_back({f.name.substr(f.name.find('/') + 1), f.bytes});
    }
    return out;
}

BundleFile &fileIn(std::vector<BundleFile> &files, std::string_view name) {
    return *std::ranges::find(files, name, &BundleFile::name);
}

ReadBack readBack(const Job &sent, const std::vector<BundleFile> &files) {
    std::vector<std::string> compared;
    const Job back = withReadBack(sent, files, compared);
    return readBackOf(sent, back, compared);
}

RungStatus statusOf(GateVerdict verdict) {
    RungStatus s;
    s.rung = "content.40";
    GateAnswer a;
    a.verdict = verdict;
    a.toPass = MARKED("gate.lambda.to_pass", "Correct the fuel by these logs, then pull again.");
    s.gates = {{gateById("lambda"), a}};
    return s;
}

} // namespace

class BundleTest : public QObject {
    Q_OBJECT
  private slots:
    void holdsAllOfTheCalibration();
    void comesBackAsItWent();
    void changesAreFound_data();
    void changesAreFound();
    void whatDidNotComeBackIsNotJudged();
    void curvesComeBackToo();
    void refusesRubbish_data();
    void refusesRubbish();
    void headRoundTrips();
    void namesOfUsersMakeFiles();
    void keepsWhatWasSent();
    void tiesByFingerprint();
    void lightIsNeverKinder();
    void sheetsSayWhatToDo();
};

void BundleTest::holdsAllOfTheCalibration() {
    const Job job = bundledJob();
    const std::vector<BundleFile> files = bundleFiles(job, headOf(job), "read\n", "message\n");
    std::set<std::string> names;
    for (const BundleFile &f : files)
        QVERIFY2(names.insert(f.name).second, f.name.c_str());
    for (const char *name :
         {"bundle.json", "settings.json", "calibration.json", "read-me.txt", "message.txt"})
        QVERIFY2(names.contains(name), name);
    QCOMPARE(names.size(), 5 + namedTables(job).size());
    // The exact state stands in it: a job made of it has the same fingerprint.
    const auto at = std::ranges::find(files, std::string("calibration.json"), &BundleFile::name);
    const auto json = nlohmann::json::parse(at->bytes);
    QCOMPARE(calibrationPrint(json["state"].get<std::string>()), calibrationPrint(stateOf(job)));
    QCOMPARE(json["settings"]["boost.cut_kpa"].get<double>(), job.boost.cutKpa);
    const Table2D &spark = job.calibration.of(CalibratedQuantity::spark).base;
    QCOMPARE(json["tables"]["calibration.spark.base"]["rows"][2][3].get<double>(), spark.cell(3, 2));
}

void BundleTest::comesBackAsItWent() {
    const Job job = bundledJob();
    const ReadBack back = readBack(job, backOf(job));
    QVERIFY(back.changed.empty() && back.missing.empty() && !back.alarm());
    QCOMPARE(
        std::ranges::count_if(back.compared, [](const std::string &p) { return fieldByPath(p) != nullptr; }),
        std::ranges::count_if(allFields(), [&](const Field &f) { return f.isHeldOf(job); }));
    const auto settings = std::ranges::count_if(allFields(), [&](const Field &f) { return f.isHeldOf(job); });
    const auto curves = std::ranges::count_if(allCurves(), &CurveField::inRevision);
    QCOMPARE(back.compared.size(), namedTables(job).size() + static_cast<std::size_t>(settings + curves));
}

// What somebody changes on the way is found, with its place; a guarded one rings.
void BundleTest::changesAreFound_data() {
    QTest::addColumn<QString>("file");
    QTest::addColumn<QString>("from");
    QTest::addColumn<QString>("to");
    QTest::addColumn<QString>("path");
    QTest::addColumn<bool>("guarded");
    QTest::newRow("cut") << "settings.json"
                         << "\"boost.cut_kpa\": "
                         << "\"boost.cut_kpa\": 1"
                         << "boost.cut_kpa" << true;
    QTest::newRow("regulator") << "settings.json"
                               << "\"injectors.boost_referenced\": true"
                               << "\"injectors.boost_referenced\": false"
                               << "injectors.boost_referenced" << true;
    QTest::newRow("fault") << "settings.json"
                           << "\"content_sensor.on_fault\": \"not_stated\""
                           << "\"content_sensor.on_fault\": \"hold\""
                           << "content_sensor.on_fault" << true;
    QTest::newRow("other") << "settings.json"
                           << "\"spark.coolant_cold_c\": 70"
                           << "\"spark.coolant_cold_c\": 71"
                           << "spark.coolant_cold_c" << false;
    QTest::newRow("cell") << "calibration.spark.top.csv"
                          << ""
                          << ""
                          << "calibration.spark.top" << false;
}

void BundleTest::changesAreFound() {
    QFETCH(QString, file);
    QFETCH(QString, from);
    QFETCH(QString, to);
    QFETCH(QString, path);
    QFETCH(bool, guarded);
    Job job = bundledJob();
    job.boost.cutKpa = 93;
    std::vector<BundleFile> files = backOf(job);
    BundleFile &changed = fileIn(files, file.toStdString());
    if (from.isEmpty()) {
        Job other = job;
        Table2D &spark = other.calibration.of(CalibratedQuantity::spark).top;
        spark.setCell({4, 6}, spark.cell(4, 6) + 3);
        std::vector<BundleFile> theirs = backOf(other);
        changed.bytes = fileIn(theirs, file.toStdString()).bytes;
    } else {
        const std::size_t at = changed.bytes.find(from.toStdString());
        QVERIFY2(at != std::string::npos, changed.bytes.c_str());
        changed.bytes.replace(at, static_cast<std::size_t>(from.size()), to.toStdString());
    }
    const ReadBack back = readBack(job, files);
    QCOMPARE(back.changed.size(), std::size_t(1));
    QCOMPARE(back.changed[0].path, path.toStdString());
    QCOMPARE(back.alarm(), guarded);
    if (from.isEmpty()) {
        const Table2D &spark = job.calibration.of(CalibratedQuantity::spark).top;
        QCOMPARE(back.changed[0].cells, std::size_t(1));
        COMPARE_NEAR(back.changed[0].worst, 3, 1e-12);
        QCOMPARE(back.changed[0].rpm, spark.x()[4]);
        QCOMPARE(back.changed[0].y, spark.y()[6]);
    }
    const RungStatus passed = statusOf(GateVerdict::passed);
    QVERIFY(lightOf(back, &passed) == RungLight::red);
}

void BundleTest::whatDidNotComeBackIsNotJudged() {
    const Job job = bundledJob();
    std::vector<BundleFile> files = backOf(job);
    BundleFile &settings = fileIn(files, "settings.json");
    auto json = nlohmann::ordered_json::parse(settings.bytes);
    json["boost.cut_kpa"] = nullptr;    // not known
    json.erase("engine.rev_limit_rpm"); // nor this
    json.erase("spark.coolant_cold_c"); // which nobody guards
    settings.bytes = json.dump();
    const ReadBack back = readBack(job, files);
    QCOMPARE(back.missing.size(), std::size_t(2));
    QVERIFY(back.changed.empty());
    const RungStatus passed = statusOf(GateVerdict::passed);
    QVERIFY(lightOf(back, &passed) == RungLight::amber);
    QVERIFY(lightOf(readBack(job, {}), &passed) == RungLight::amber); // nothing at all
    // All settings, and a table that nobody has seen again.
    std::vector<BundleFile> lacking = backOf(job);
    std::erase_if(lacking, [](const BundleFile &f) { return f.name == "calibration.spark.top.csv"; });
    const ReadBack without = readBack(job, lacking);
    QCOMPARE(without.missing.size(), std::size_t(1));
    QVERIFY(lightOf(without, &passed) == RungLight::amber);
}

// Curves of the calibration go out and come back with its settings.
void BundleTest::curvesComeBackToo() {
    const Job job = bundledJob();
    const auto curve = std::ranges::find_if(allCurves(), &CurveField::inRevision);
    QVERIFY(curve != allCurves().end());
    std::vector<BundleFile> files = backOf(job);
    BundleFile &settings = fileIn(files, "settings.json");
    auto json = nlohmann::ordered_json::parse(settings.bytes);
    QCOMPARE(json[curve->path].size(), curve->in(job).axis().size());
    QVERIFY(readBack(job, files).changed.empty());
    const double before = json[curve->path][0][1].get<double>();
    const double changed = before + (curve->mostY - before > 0.01 ? 0.01 : -0.01);
    json[curve->path][0][1] = changed;
    settings.bytes = json.dump();
    const ReadBack other = readBack(job, files);
    QCOMPARE(other.changed.size(), std::size_t(1));
    QVERIFY(other.missing.empty());
    const RungStatus passed = statusOf(GateVerdict::passed);
    QVERIFY(lightOf(other, &passed) == RungLight::red);
    json.erase(curve->path);
    settings.bytes = json.dump();
    const ReadBack lacking = readBack(job, files);
    QCOMPARE(lacking.missing.size(), std::size_t(1));
    QVERIFY(lightOf(lacking, &passed) == RungLight::amber);
    for (const char *bad : {"[[1]]", "[1, 2]", "[[1, \"a\"]]", "[]", "[[2, 1], [1, 1]]", "\"x\"", "3"}) {
        json[curve->path] = nlohmann::ordered_json::parse(bad);
        settings.bytes = json.dump();
        EXPECT_INPUT_ERROR(readBack(job, files), curve->path);
    }
}

void BundleTest::refusesRubbish_data() {
    QTest::addColumn<QString>("name");
    QTest::addColumn<QString>("text");
    QTest::addColumn<QString>("where");
    QTest::newRow("no json") << "settings.json"
                             << "boost: 3"
                             << "settings.json";
    QTest::newRow("a list") << "settings.json"
                            << "[1, 2]"
                            << "settings.json";
    QTest::newRow("unknown") << "settings.json"
                             << "{\"boost.cat_kpa\": 3}"
                             << "settings.json boost.cat_kpa";
    QTest::newRow("no setting") << "settings.json"
                                << "{\"tank.capacity_l\": 30}"
                                << "settings.json tank.capacity_l";
    QTest::newRow("words") << "settings.json"
                           << "{\"boost.cut_kpa\": \"high\"}"
                           << "boost.cut_kpa";
    QTest::newRow("range") << "settings.json"
                           << "{\"engine.rev_limit_rpm\": -3}"
                           << "engine.rev_limit_rpm";
    QTest::newRow("object") << "settings.json"
                            << "{\"boost.cut_kpa\": {}}"
                            << "settings.json boost.cut_kpa";
    QTest::newRow("name") << "spark.csv"
                          << "a,1\n2,3\n"
                          << "spark.csv";
    QTest::newRow("cells") << "calibration.spark.top.csv"
                           << "spark_deg / load_kpa / rpm,1000,2000\n50,10,ten\n"
                           << "calibration.spark.top.csv";
    QTest::newRow("other quantity") << "calibration.spark.top.csv"
                                    << "lambda / load_kpa / rpm,1000,2000\n50,1,1\n60,1,1\n"
                                    << "calibration.spark.top.csv";
}

void BundleTest::refusesRubbish() {
    QFETCH(QString, name);
    QFETCH(QString, text);
    QFETCH(QString, where);
    std::vector<std::string> compared;
    EXPECT_INPUT_ERROR(withReadBack(bundledJob(), {{name.toStdString(), text.toStdString()}}, compared),
                       where.toStdString().c_str());
}

void BundleTest::headRoundTrips() {
    const Job job = bundledJob();
    const BundleHead head = headOf(job);
    const std::vector<BundleFile> files = bundleFiles(job, head, "", "");
    const std::string text = std::ranges::find(files, bundleHeadName, &BundleFile::name)->bytes;
    QVERIFY(bundleHeadFromJson(text) == head);
    EXPECT_INPUT_ERROR(bundleHeadFromJson("{}"), "bundle.json");
    EXPECT_INPUT_ERROR(bundleHeadFromJson("nothing"), "bundle.json");
    EXPECT_INPUT_ERROR(bundleHeadFromJson("[]"), "bundle.json");
    auto json = nlohmann::json::parse(text);
    json["version"] = 2;
    EXPECT_INPUT_ERROR(bundleHeadFromJson(json.dump()), "bundle.json version");
    json["version"] = 1;
    json["calibration"] = 5;
    EXPECT_INPUT_ERROR(bundleHeadFromJson(json.dump()), "bundle.json calibration");
    json.erase("calibration");
    EXPECT_INPUT_ERROR(bundleHeadFromJson(json.dump()), "bundle.json calibration");
}

void BundleTest::namesOfUsersMakeFiles() {
    Job job = bundledJob();
    QVERIFY(job.extras.size() >= 2);
    job.extras[0].name = "../Winter / 85 %";
    job.extras[1].name = "..:Winter : 85 %"; // the same once it is made safe
    const std::vector<BundleFile> files = bundleFiles(job, headOf(job), "", "");
    std::set<std::string> names;
    for (const BundleFile &f : files) {
        QVERIFY2(names.insert(f.name).second, f.name.c_str());
        QCOMPARE(std::ranges::count(f.name, '/'), f.name.starts_with("tables/") ? 1 : 0);
    }
    QVERIFY(readBack(job, backOf(job)).changed.empty());
}

void BundleTest::keepsWhatWasSent() {
    Job job = bundledJob();
    const std::size_t before = job.revisions.size();
    const std::string first = keepSent(job, "", when, "mind the pump");
    QCOMPARE(job.revisions.size(), before + 1);
    QVERIFY(job.revisions.back().sent);
    QCOMPARE(job.revisions.back().note, std::string("mind the pump"));
    QCOMPARE(keepSent(job, "", when, ""), first); // the same calibration goes out under the same name
    QCOMPARE(job.revisions.size(), before + 1);
    QCOMPARE(keepSent(job, "Second", when, ""), std::string("Second"));
    EXPECT_INPUT_ERROR(keepSent(job, "Second", when, ""), "revision");
    job.boost.cutKpa = 123;
    QVERIFY(keepSent(job, "", when, "") != first);
    // One that was kept and never went out has gone out now.
    Job kept = bundledJob();
    keepRevision(kept, "Kept", when, "", false);
    QCOMPARE(keepSent(kept, "", when, ""), std::string("Kept"));
    QVERIFY(kept.revisions.back().sent);
}

void BundleTest::tiesByFingerprint() {
    Job job = bundledJob();
    const std::string print = calibrationPrint(stateOf(job));
    QVERIFY(!revisionOf(job, print) || !job.revisions.empty());
    const std::string name = keepSent(job, "Mine", when, "");
    QCOMPARE(revisionOf(job, print)->name, name);
    QVERIFY(!revisionOf(job, "0123456789abcdef"));
    QVERIFY(calibrationPrint(revisionNamedIn(job, "pull-" + print + ".csv")->state.text()) == print);
    QVERIFY(!revisionNamedIn(job, "pull-" + print.substr(1) + ".csv"));
    // By head, by names, by word, and never by two that differ.
    const BundleHead head = headOf(job);
    const Job before = job;
    job.boost.cutKpa = 123;
    const std::string other = keepSent(job, "Other", when, "");
    const std::string otherPrint = calibrationPrint(stateOf(job));
    QCOMPARE(sentRevisions(job),
             before.revisions.size() > 1 ? sentRevisions(before) + ", Other" : name + ", Other");
    QCOMPARE(tieOf(job, head, {"a.csv"}, "").revision, name);
    QVERIFY(!tieOf(job, head, {}, name).asked);
    QCOMPARE(tieOf(job, {}, {"a.csv", otherPrint + ".csv"}, "").revision, other);
    QVERIFY(tieOf(job, {}, {"a.csv"}, "").revision.empty());
    const BundleTie asked = tieOf(job, {}, {"a.csv"}, other);
    QVERIFY(asked.asked && asked.revision == other);
    const std::string log = otherPrint + ".csv";
    EXPECT_INPUT_ERROR(tieOf(job, head, {log}, ""), log.c_str());
    EXPECT_INPUT_ERROR(tieOf(job, head, {}, other), "revision");
    EXPECT_INPUT_ERROR(tieOf(job, {}, {print + "-" + "a.csv", log}, ""), log.c_str());
    EXPECT_INPUT_ERROR(tieOf(job, {}, {}, "Nobody"), "revision");
    BundleHead foreign = head;
    foreign.calibration = "0123456789abcdef";
    EXPECT_INPUT_ERROR(tieOf(job, foreign, {}, ""), "bundle.json");
}

// Every pair of what came back and what gates say.
void BundleTest::lightIsNeverKinder() {
    const Job job = bundledJob();
    ReadBack good = readBack(job, backOf(job)), lacking = good, changed = good;
    lacking.missing.push_back(MARKED("gate.lambda", "λ on target"));
    Difference d;
    d.path = "spark.coolant_cold_c";
    changed.changed.push_back(d);
    const RungStatus passed = statusOf(GateVerdict::passed), failed = statusOf(GateVerdict::failed),
                     open = statusOf(GateVerdict::notJudged);
    using enum RungLight;
    QVERIFY(lightOf(good, &passed) == green);
    QVERIFY(lightOf(good, &open) == amber);
    QVERIFY(lightOf(good, &failed) == red);
    QVERIFY(lightOf(good, nullptr) == amber); // nobody was asked
    QVERIFY(lightOf(lacking, &passed) == amber);
    QVERIFY(lightOf(lacking, &failed) == red);
    for (const RungStatus *s : {&passed, &open, &failed})
        QVERIFY(lightOf(changed, s) == red);
}

void BundleTest::sheetsSayWhatToDo() {
    const Job job = bundledJob();
    Rung rung;
    rung.id = "content.40";
    rung.kind = RungKind::content;
    rung.content = 0.4;
    rung.boostKpa = 176;
    rung.cutKpa = 193;
    rung.pulls = 3;
    const BundleHead head = headOf(job);
    const std::string sheet = plainText(bundleReport(job, head, &rung), {});
    for (const char *word :
         {"mind the pump", "boost to 176 kPa", "cut to 193 kPa", "Knock retard", "Overboost cut", "dyno"})
        QVERIFY2(sheet.find(word) != std::string::npos, word);
    QVERIFY(sheet.find(head.calibration) != std::string::npos);
    const Phrase message = bundleMessage(head, &rung);
    QVERIFY2(says(message, "Boost 176 kPa, cut 193 kPa") && says(message, head.calibration.c_str()),
             said(message).c_str());
    QVERIFY(said(message).size() < 400); // it goes into a short message

    CameBack came;
    came.job = job.name;
    came.revision = "Sent 1";
    came.back = readBack(job, backOf(job));
    came.rung = &rung;
    const RungStatus failed = statusOf(GateVerdict::failed);
    came.status = &failed;
    QVERIFY2(says(cameBackMessage(came), "RED: Content E40. λ on target: Correct the fuel"),
             said(cameBackMessage(came)).c_str());
    const RungStatus passed = statusOf(GateVerdict::passed);
    came.status = &passed;
    QVERIFY2(says(cameBackMessage(came), "GREEN: Content E40. The rung may be passed."),
             said(cameBackMessage(came)).c_str());
    came.back.missing.push_back(MARKED("gate.lambda", "λ on target"));
    QVERIFY2(says(cameBackMessage(came), "AMBER") && says(cameBackMessage(came), "1 guarded settings"),
             said(cameBackMessage(came)).c_str());
    Difference d;
    d.title = MARKED("gate.boost", "Boost as asked for");
    d.guarded = true;
    came.back.changed.push_back(d);
    QVERIFY2(says(cameBackMessage(came), "load revision Sent 1 again"), said(cameBackMessage(came)).c_str());
    const std::string all = plainText(cameBackReport(came), {});
    for (const char *word : {"Tied to revision Sent 1 by its fingerprint", "No log came with it",
                             "Boost as asked for", "guarded"})
        QVERIFY2(all.find(word) != std::string::npos, word);
}

CORE_TEST_MAIN(BundleTest)
#include "bundle_test.moc"
