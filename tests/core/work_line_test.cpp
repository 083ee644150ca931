// SPDX-License-Identifier: GPL-3.0-or-later
// Revisions as a line: where each stands, what it changed and what was made with it. The line of the first
// test was drawn by hand.
#include "core/base/error.h"
#include "core/intake/sheet.h"
#include "core/job/revision.h"
#include "core/job/said_content.h"
#include "core/job/work_line.h"
#include "core/ladder/ladder_plan.h"
#include "core/report/ladder_reports.h"
#include "core/report/work_line_reports.h"
#include "formats/job_json.h"
#include "support/phrases.h"
#include "support/random_job.h"
#include "support/test_main.h"

#include <QFile>

#include <map>

using namespace wheelwright;
using namespace wheelwright::testing;

namespace {

std::string nameOf(const Job &job, const WorkLine &line, std::size_t mark) {
    const auto place = line.marks.at(mark).revision;
    return place ? job.revisions.values()[*place].name : "now";
}

void keep(Job &job, const std::string &name) {
    keepRevision(job, name, "2001-02-03T04:05:06Z", "", false);
}

Job withRevLimit(Job job, double rpm) {
    job.engine.revLimitRpm = rpm;
    return job;
}

std::string printOf(const Job &job, std::size_t revision) {
    return calibrationPrint(job.revisions.values()[revision].state.text());
}

} // namespace

class WorkLineTest : public QObject {
    Q_OBJECT
  private slots:
    // What fuel a mechanical engine gets is its pills; a controller's tables are not told by them.
    void pillsAreACalibration() {
        Job job = demoJob();
        QVERIFY(stateOf(job).find("mechanical.") == std::string::npos);
        job.control = FuelControl::mechanical;
        job.mechanical.injection.main.diameterMm = 2.67;
        job.mechanical.injection.highSpeed.diameterMm = 1.4;
        keep(job, "Rich");
        job.mechanical.injection.main.diameterMm = 2.79;
        keep(job, "Leaner");
        const WorkLine line = workLineOf(job);
        QCOMPARE(line.marks.size(), std::size_t{2});
        const std::vector<Difference> changed = differencesBetween(job, std::size_t{0}, std::size_t{1});
        QCOMPARE(changed.size(), std::size_t{1});
        QCOMPARE(changed[0].path, std::string("mechanical.main_mm"));
        const Job back = takenBack(job, 0);
        QCOMPARE(back.mechanical.injection.main.diameterMm, 2.67);
        QCOMPARE(back.mechanical.injection.highSpeed.diameterMm, 1.4);
        QVERIFY(calibrationPrint(stateOf(back)) != calibrationPrint(stateOf(job)));
        // One kept before pills were held leaves those that are in.
        Job older = job;
        std::vector<Revision> kept(older.revisions.begin(), older.revisions.end());
        std::string text = kept[0].state.text();
        for (std::size_t at = text.find("mechanical."); at != std::string::npos;
             at = text.find("mechanical."))
            text.erase(at, text.find('\n', at) - at + 1);
        kept[0].state = DeferredText(text);
        older.revisions = kept;
        QCOMPARE(takenBack(older, 0).mechanical.injection.main.diameterMm, 2.79);
    }

    // A rung that was passed is named by its id as the plan named it.
    void passedRungsKeepTheirNames() {
        for (const char *name : {"thistle", "moorhen", "bramble"}) {
            QFile f(QStringLiteral(SOURCE_DIR "/data/demo/%1.json").arg(QLatin1String(name)));
            QVERIFY(f.open(QIODevice::ReadOnly));
            const Job job = jobFromJson(f.readAll().toStdString());
            const UnitChoice units;
            for (const Rung &r : planLadder(Study(job)).rungs) {
                if (r.kind == RungKind::baseBoost && !r.boostKpa) continue; // nothing that can be set
                QCOMPARE(QString::fromStdString(format(rungName(std::string_view(r.id)), units)),
                         QString::fromStdString(format(rungName(r), units)));
            }
        }
        for (const char *odd : {"elsewhere", "content.x", "pass.2,67"}) // of a later release, or by hand
            QCOMPARE(format(rungName(std::string_view(odd)), {}), std::string(odd));
        QCOMPARE(format(rungName(std::string_view("content")), {}),
                 format(rungKindTitle(RungKind::content), {}));
    }

    // A ── B ── C   (left for A)
    //  └────────── D ── now
    void branchesStandBesideTheWay() {
        Job job = demoJob();
        keep(job, "A");
        job = withRevLimit(job, 7100);
        keep(job, "B");
        job = withRevLimit(job, 7150);
        keep(job, "C");
        job = takenBack(job, 0);
        job = withRevLimit(job, 7050);
        keep(job, "D");
        WorkLine line = workLineOf(job);
        QCOMPARE(line.marks.size(), std::size_t{4}); // now is D
        QVERIFY(line.marks[3].now && !line.marks[0].now);
        const std::vector<std::size_t> lanes{0, 1, 1, 0};
        const std::vector<std::optional<std::size_t>> from{std::nullopt, 0, 1, 0};
        for (std::size_t i = 0; i < lanes.size(); ++i) {
            QCOMPARE(line.marks[i].lane, lanes[i]);
            QVERIFY(line.marks[i].from == from[i]);
        }
        QCOMPARE(line.lanes, std::size_t{2});

        job = withRevLimit(job, 7060);
        line = workLineOf(job);
        QCOMPARE(line.marks.size(), std::size_t{5});
        QVERIFY(line.marks[4].now && !line.marks[4].revision && line.marks[4].from == std::size_t{3});
        QVERIFY(!line.marks[3].now);
        QCOMPARE(line.marks[4].changed.size(), std::size_t{1});
        QCOMPARE(said(line.marks[4].changed[0].was), std::string("7050 rpm"));
        QCOMPARE(said(line.marks[4].changed[0].is), std::string("7060 rpm"));
        QCOMPARE(said(line.marks[4].changed[0].after), std::string("7060")); // as a file has it

        // Back to C: now the others are beside the way.
        job = takenBack(job, 2);
        line = workLineOf(job);
        for (std::size_t i = 0; i < 4; ++i)
            QCOMPARE(line.marks[i].lane, i == 3 ? std::size_t{1} : std::size_t{0});
        QVERIFY(line.marks[2].now);
    }

    // Two that were left while each was still gone on with need a lane each; one that ended gives its own.
    void lanesAreGivenBack() {
        Job job = demoJob();
        keep(job, "A");
        const auto branch = [&](std::size_t from, double rpm, const std::string &name) {
            job = withRevLimit(takenBack(job, from), rpm);
            keep(job, name);
        };
        branch(0, 7001, "B");
        branch(0, 7002, "C");
        branch(1, 7003, "B2"); // B goes on after C was begun
        branch(2, 7004, "C2");
        branch(0, 7005, "D");
        branch(0, 7006, "E");
        const WorkLine line = workLineOf(job);
        std::map<std::string, std::size_t> lanes;
        for (std::size_t i = 0; i < line.marks.size(); ++i)
            lanes[nameOf(job, line, i)] = line.marks[i].lane;
        QCOMPARE(lanes["A"], std::size_t{0});
        QCOMPARE(lanes["E"], std::size_t{0});
        QCOMPARE(lanes["B"], lanes["B2"]);
        QCOMPARE(lanes["C"], lanes["C2"]);
        QVERIFY(lanes["B"] != lanes["C"] && lanes["B"] > 0 && lanes["C"] > 0);
        QCOMPARE(lanes["D"], std::size_t{1}); // both have ended by then
        QCOMPARE(line.lanes, std::size_t{3});
    }

    void cellsAreAMapOfSteps() {
        Job job = demoJob();
        keep(job, "A");
        Table2D &spark = job.calibration.of(CalibratedQuantity::spark).base;
        const std::size_t columns = spark.x().size();
        spark.setCell({3, 4}, spark.cell(3, 4) + 2.5);
        spark.setCell({1, 2}, spark.cell(1, 2) - 1);
        keep(job, "B");
        const WorkLine line = workLineOf(job);
        QCOMPARE(line.marks[1].changed.size(), std::size_t{1});
        const Difference &d = line.marks[1].changed[0];
        QCOMPARE(d.columns, columns);
        QCOMPARE(d.steps.size(), columns * spark.y().size());
        double sum = 0;
        for (std::size_t i = 0; i < d.steps.size(); ++i) {
            const double expected = i == 4 * columns + 3 ? 2.5 : i == 2 * columns + 1 ? -1 : 0;
            COMPARE_NEAR(d.steps[i], expected, 1e-12);
            sum += d.steps[i];
        }
        COMPARE_NEAR(sum, 1.5, 1e-12);
        // The other way round: the same with the other sign.
        const auto back = differencesBetween(job, 1, 0), there = differencesBetween(job, 0, 1);
        for (std::size_t i = 0; i < d.steps.size(); ++i)
            COMPARE_NEAR(back[0].steps[i], -there[0].steps[i], 1e-12);
        QVERIFY(differencesBetween(job, 1, std::nullopt).empty());
    }

    void whatWasMadeHangsOnIt() {
        Job job = demoJob();
        job.logs = {};
        job.runs = {};
        job.ladderPassed = {};
        keep(job, "A");
        job = withRevLimit(job, 7100);
        keep(job, "B");
        const std::string a = printOf(job, 0), b = printOf(job, 1);
        job = withRevLimit(job, 7300);
        const std::string now = calibrationPrint(stateOf(job));
        const auto log = [&](const std::string &revision, const std::string &print) {
            LogInfo info;
            info.revision = revision;
            info.calibration = print;
            job.logs.push_back(info);
        };
        log("", a);
        log("B", a); // named: the name counts
        log("", now);
        log("", "gone");
        log("", "");
        Run run;
        run.calibration = b;
        job.runs.push_back(run);
        run.calibration = "gone";
        job.runs.push_back(run);
        RungPass pass;
        pass.calibration = a;
        job.ladderPassed.push_back(pass);
        pass.calibration = "";
        job.ladderPassed.push_back(pass);
        const WorkLine line = workLineOf(job);
        using Places = std::vector<std::size_t>;
        QCOMPARE(line.marks.size(), std::size_t{3});
        QCOMPARE(line.marks[0].logs, (Places{0}));
        QCOMPARE(line.marks[1].logs, (Places{1}));
        QCOMPARE(line.marks[2].logs, (Places{2}));
        QCOMPARE(line.strayLogs, (Places{3, 4}));
        QCOMPARE(line.marks[1].runs, (Places{0}));
        QCOMPARE(line.strayRuns, (Places{1}));
        QCOMPARE(line.marks[0].rungs, (Places{0}));
        QCOMPARE(line.strayRungs, (Places{1}));
    }

    void whoRanWithItFollowsItsName() {
        Job job = demoJob();
        keep(job, "A");
        job = withRevLimit(job, 7100);
        keep(job, "B");
        LogInfo log;
        log.revision = "A";
        job.logs.push_back(log);
        Run run;
        run.revision = "A";
        job.runs.push_back(run);
        const Job before = job;
        renameRevision(job, 0, "First");
        QCOMPARE(job.revisions.values()[1].parent, std::string("First"));
        QCOMPARE(job.logs.values().back().revision, std::string("First"));
        QCOMPARE(job.runs.values().back().revision, std::string("First"));
        QVERIFY_EXCEPTION_THROWN(renameRevision(job, 0, "B"), InputError);
        QVERIFY_EXCEPTION_THROWN(renameRevision(job, 0, ""), InputError);
        renameRevision(job, 0, "First"); // its own
        renameRevision(job, 0, "A");
        QVERIFY(job == before);
    }

    // Nobody says what an old revision was made from, and one that cannot be read says so.
    void whatIsNotKnownIsSaid() {
        Job job = demoJob();
        Revision old;
        old.name = "old";
        old.state = DeferredText(stateOf(job));
        job.revisions.push_back(old);
        old.name = "older";
        old.parent = "gone";
        job.revisions.push_back(old);
        WorkLine line = workLineOf(job);
        QCOMPARE(line.marks.size(), std::size_t{3});
        for (const WorkMark &m : line.marks)
            QVERIFY(!m.from && m.changed.empty());
        QVERIFY(line.marks[2].now && line.marks[0].lane == 1);

        // Two that name each other are no line: a file can say so, work cannot.
        Job circle = job;
        circle.revisions[0].parent = "older";
        circle.revisions[1].parent = "old";
        line = workLineOf(circle);
        QVERIFY(!line.marks[0].from && line.marks[1].from == std::size_t{0});
        circle.revisions[0].parent = "old"; // itself
        QVERIFY(!workLineOf(circle).marks[0].from);

        old.name = "broken";
        old.parent = "old";
        old.state = DeferredText("no state\n");
        job.revisions.push_back(old);
        line = workLineOf(job);
        QVERIFY(line.marks[2].from == std::size_t{0});
        QVERIFY(!line.marks[2].unread.empty() && line.marks[2].changed.empty());
        QVERIFY(says(line.marks[2].unread, "broken"));
        // What was made from it is not known either, for the same reason.
        old.name = "after it";
        old.parent = "broken";
        old.state = DeferredText(stateOf(job));
        job.revisions.push_back(old);
        line = workLineOf(job);
        QVERIFY(line.marks[3].from == std::size_t{2} && line.marks[3].changed.empty());
        QVERIFY(says(line.marks[3].unread, "broken"));
    }

    // The shipped demo: five revisions, one of them left for the one before, the last as the tables are.
    void theDemoTellsItsStory() {
        QFile file(QStringLiteral(DEMO_JOB));
        QVERIFY(file.open(QIODevice::ReadOnly));
        const Job job = jobFromJson(file.readAll().toStdString());
        const WorkLine line = workLineOf(job);
        QCOMPARE(line.marks.size(), std::size_t{5});
        QVERIFY(line.marks.back().now && line.marks.back().revision);
        const std::vector<std::size_t> lanes{0, 0, 1, 0, 0};
        std::string day;
        for (std::size_t i = 0; i < lanes.size(); ++i) {
            const WorkMark &mark = line.marks[i];
            QCOMPARE(mark.lane, lanes[i]);
            QVERIFY(mark.unread.empty());
            QCOMPARE(mark.changed.empty(), i == 0);
            const std::string &at = job.revisions.values()[i].at;
            QVERIFY(day < at);
            day = at;
        }
        // Of now alone: the same, without what the others changed.
        const WorkLine brief = workLineOf(job, ChangesOf::now);
        for (std::size_t i = 0; i < lanes.size(); ++i) {
            QCOMPARE(brief.marks[i].lane, lanes[i]);
            QCOMPARE(brief.marks[i].changed.size(), brief.marks[i].now ? line.marks[i].changed.size() : 0);
        }
    }

    // By hand: two revisions, a log on the first; and the intake as the sheet of parts counts it.
    void marksAreSaid() {
        Job job = demoJob();
        keep(job, "First");
        LogInfo log;
        log.id = "abc";
        log.name = "first.csv";
        log.revision = "First";
        log.content = 0.4;
        log.contentBasis = ContentBasis::stated;
        job.logs.push_back(log);
        job = withRevLimit(job, 7100);
        keep(job, "Second");
        job.revisions[1].sent = true;
        job.revisions[1].cameBack = "2001-02-05T00:00:00Z";
        job.revisions[1].released = "2001-02-06T00:00:00Z";
        const WorkLine line = workLineOf(job);
        const std::string first = plainText(workMarkReport(job, line, 0), {}),
                          second = plainText(workMarkReport(job, line, 1), {});
        for (const char *words : {"Kept on 2001-02-03.", "Nothing says what it was made from.",
                                  "Made with it", "Log first.csv, E40"})
            QVERIFY2(first.find(words) != std::string::npos, (first + words).c_str());
        for (const char *words :
             {"This is what the job holds now.", "Sent to the controller.",
              "Read back on 2001-02-05, and found the same.", "Released to be driven on 2001-02-06.",
              "Against First", "Rev limit: 7100 rpm, was 7200 rpm"})
            QVERIFY2(second.find(words) != std::string::npos, (second + words).c_str());
        QCOMPARE(said(stagesOf(job, line.marks[0])), std::string());
        QCOMPARE(said(stagesOf(job, line.marks[1])), std::string("sent; came back; released"));
        QVERIFY(strayWorkReport(job, line).blocks.empty());
        log.revision = "";
        log.id = "lost";
        job.logs.push_back(log);
        QCOMPARE(strayWorkReport(job, workLineOf(job)).blocks.size(), std::size_t{1});

        job.inspections = {};
        std::size_t all = 0;
        for (const PartState &part : intakeSheet(job))
            all += part.fitted ? part.inspections.size() : 0;
        COMPARE_NEAR(intakeWords(job).values[0].value, 0, 0);
        COMPARE_NEAR(intakeWords(job).values[1].value, static_cast<double>(all), 0);
        markInspected(job, "coolant", "2001-02-03", true, "weeps"); // found wrong is looked at
        COMPARE_NEAR(intakeWords(job).values[0].value, 1, 0);
    }

    void curvesAndChoicesAreSaid() {
        Job job = demoJob();
        Job after = job;
        const CurveField &curve = allCurves().front();
        Curve &c = curve.of(after);
        if (c.values().size() == 1) {
            std::vector<double> x{curve.leastX, curve.mostX}, y{curve.leastY, curve.leastY};
            c = Curve(x, y, curve.path);
            curve.of(job) = c;
        }
        std::vector<double> y = c.values();
        y.back() += (curve.mostY - curve.leastY) / 4;
        c = Curve(c.axis().points(), y, curve.path);
        bool found = false;
        for (const Difference &d : differencesOf(job, after)) {
            if (d.path != curve.path) continue;
            found = true;
            QVERIFY(d.was.empty());
            QVERIFY(says(d.is, "1 points, at most "));
            COMPARE_NEAR(d.is.values[1].value, (curve.mostY - curve.leastY) / 4, 1e-9);
        }
        QVERIFY(found);
        QCOMPARE(said(saidContent(*fieldByPath("spark.knock_control"), true)), std::string("yes"));
        QCOMPARE(said(saidContent(*fieldByPath("tank.capacity_l"), 2.4)), std::string("2.4 L"));
    }
};

CORE_TEST_MAIN(WorkLineTest)
#include "work_line_test.moc"
