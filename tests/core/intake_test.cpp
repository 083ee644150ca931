// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/intake/sheet.h"
#include "core/job/job_change.h"
#include "core/job/job_schema.h"
#include "core/job/revision.h"
#include "core/job/statements.h"
#include "core/report/sheet_reports.h"
#include "core/tables/curve_edit.h"
#include "core/verify/check.h"
#include "support/phrases.h"
#include "support/random_job.h"
#include "support/test_main.h"

#include <random>
#include <set>

using namespace wheelwright;
using namespace wheelwright::testing;

namespace {

const PartState &of(const std::vector<PartState> &sheet, std::string_view part) {
    const auto at = std::ranges::find_if(sheet, [&](const PartState &p) { return p.part->id == part; });
    if (at == sheet.end()) qFatal("no such part on the sheet");
    return *at;
}

bool onSheet(const Job &job, std::string_view part) {
    return std::ranges::any_of(intakeSheet(job), [&](const PartState &p) { return p.part->id == part; });
}

std::string numbers(const PartState &part) {
    std::string all;
    for (const FigureState &f : part.figures)
        all += (all.empty() ? "" : ", ") + said(f.said);
    return all;
}

} // namespace

class IntakeTest : public QObject {
    Q_OBJECT
  private slots:
    void theListOfPartsIsSound();
    void everyFieldOfTheHardwareBelongsToOnePart();
    void numbersAreShownAsFarAsTheyAreKnown();
    void whatTheEngineHasIsDrawn();
    void partsAreFittedAndTakenOff();
    void whatIsFittedIsAnEstimate();
    void theLastWordOnAnInspectionCounts();
    void checksOfAPartSpeakForIt();
    void theSheetSaysWhatIsNext();
    void confirmingStatesEverything();
    void pointsOfCurvesStayInTheirRange();
    void pointsComeAndGo();
    void revisionsAreALine();
};

void IntakeTest::theListOfPartsIsSound() {
    std::set<std::string_view> parts, items, paths;
    for (const Part &p : allParts()) {
        QVERIFY2(parts.insert(p.id).second, p.id.data());
        QVERIFY(!p.title.empty() && !p.help.empty());
        for (const std::string_view path : p.fields) {
            QVERIFY2(fieldByPath(path) || curveByPath(path), path.data());
            // How fuel is injected is said where it is: at injectors or nozzles, of which an engine has one.
            QVERIFY2(paths.insert(path).second || path == "engine.fuel_place", path.data());
            QVERIFY2(partOfPath(path), path.data());
        }
        for (const std::string_view path : p.lists)
            QVERIFY2(recordListByPath(path) && partOfPath(path) == &p, path.data());
        for (const PartFigure &f : p.figures)
            QVERIFY2(fieldByPath(f.path) || curveByPath(f.path) || recordListByPath(f.path), f.path.data());
        for (const std::string_view path : p.madeUp)
            QVERIFY2(fieldByPath(path) && std::ranges::find(p.fields, path) != p.fields.end(), path.data());
        for (const InspectionItem &i : p.inspections) {
            QVERIFY2(items.insert(i.id).second, i.id.data());
            QVERIFY(&partOfInspection(i.id) == &p && inspectionById(i.id).title == i.title);
            QVERIFY(i.alsoSays.empty() || fieldByPath(i.alsoSays));
        }
        for (const std::string_view id : p.checks)
            QVERIFY2(std::ranges::any_of(allChecks(), [&](const Check *c) { return c->id == id; }),
                     id.data());
    }
    QVERIFY(partOfPath("vehicle.mass_kg") == nullptr); // stands at its station
    // The place of injection belongs to injectors and to nozzles: to those that the engine has.
    Job metered = demoJob(), mechanical = demoJob();
    mechanical.control = FuelControl::mechanical;
    QCOMPARE(partOfPath("engine.fuel_place", metered)->id, std::string_view("injectors"));
    QCOMPARE(partOfPath("engine.fuel_place", mechanical)->id, std::string_view("nozzles"));
    QVERIFY(partOfPath("tank.capacity_l", metered) == partOfPath("tank.capacity_l"));
    QVERIFY(partOfPath("vehicle.mass_kg", metered) == nullptr);
    QVERIFY_THROWS_EXCEPTION(InputError, partById("gearbox"));
    QVERIFY_THROWS_EXCEPTION(InputError, inspectionById("luck"));
}

// What is no hardware stands at a station: the shelf, the car, the ladder's goal.
void IntakeTest::everyFieldOfTheHardwareBelongsToOnePart() {
    const auto atAStation = [](const std::string &path) {
        return path.starts_with("vehicle.") || path.starts_with("ladder.") || path.starts_with("handover.") ||
               path.starts_with("fuel.gasoline.") || path.starts_with("fuel.ethanol.") ||
               path.starts_with("fuel.methanol.");
    };
    for (const Field &f : allFields())
        QVERIFY2(partOfPath(f.path) || atAStation(f.path), f.path.c_str());
    for (const CurveField &c : allCurves())
        QVERIFY2(partOfPath(c.path), c.path.c_str());
    for (const char *list : {"injectors.dead_times", "injectors.measured", "engine.cylinder_needs",
                             "supply.pumps", "supply.pump_points", "boost.points", "mechanical.passes"})
        QVERIFY2(partOfPath(list), list);
}

// Numbers of the demo document (data/demo/thistle.json), read there by eye.
void IntakeTest::numbersAreShownAsFarAsTheyAreKnown() {
    Job job = demoJob();
    const auto sheet = intakeSheet(job);
    QCOMPARE(numbers(of(sheet, "tank")), std::string("holds 61 L, reserve 9 L"));
    QCOMPARE(numbers(of(sheet, "injectors")), std::string("725 cc/min each, dead 0.85 ms"));
    QCOMPARE(numbers(of(sheet, "cylinders")), std::string("2.4 L, 9 : 1, to 7200 rpm"));
    QCOMPARE(numbers(of(sheet, "manifold")), std::string("reads to 300 kPa, cut 252 kPa"));
    QCOMPARE(numbers(of(sheet, "line")), std::string("holds 0.6 L, rated E100"));
    QCOMPARE(numbers(of(sheet, "wastegate")), std::string("spring 72 kPa gauge, pulls: 17"));
    QCOMPARE(numbers(of(sheet, "throttle")), std::string("30 kPa to 100 kPa"));
    QCOMPARE(of(sheet, "tank").known, Knowledge::stated);
    // A new job knows nothing, and says so.
    const Job fresh = newJob("New");
    for (const PartState &p : intakeSheet(fresh))
        for (const FigureState &f : p.figures) {
            QVERIFY2(f.known == Knowledge::unknown, f.path.data());
            QVERIFY2(said(f.said).find('?') != std::string::npos, said(f.said).c_str());
        }
    // One number said: the part is as unknown as what is left.
    Job one = fresh;
    one.tank.capacityL = 55;
    state(one, "tank.capacity_l");
    QCOMPARE(numbers(of(intakeSheet(one), "tank")), std::string("holds 55 L, reserve ?"));
    QCOMPARE(of(intakeSheet(one), "tank").known, Knowledge::unknown);
    estimate(one, "tank.reserve_l");
    QCOMPARE(of(intakeSheet(one), "tank").known, Knowledge::estimated);
    state(one, "tank.reserve_l");
    QCOMPARE(of(intakeSheet(one), "tank").known, Knowledge::stated);
    // A 0 that says that nobody knows is unknown whoever has said it; one that says 'none' is an answer.
    job.boost.springKpa = 0;
    job.boost.cutKpa = 0;
    QCOMPARE(numbers(of(intakeSheet(job), "wastegate")), std::string("spring ?, pulls: 17"));
    QCOMPARE(numbers(of(intakeSheet(job), "manifold")), std::string("reads to 300 kPa, cut none"));
    // The tank of a methanol car speaks of M.
    job.alcohol = Alcohol::methanol;
    UnitChoice methanol;
    methanol.methanol = true;
    QCOMPARE(format(of(intakeSheet(job), "controller").figures[1].said, methanol), std::string("top M85"));
}

void IntakeTest::whatTheEngineHasIsDrawn() {
    Job job = demoJob();
    QVERIFY(onSheet(job, "injectors") && !onSheet(job, "nozzles") && !onSheet(job, "belt_pump"));
    QVERIFY(!of(intakeSheet(job), "spray").fitted && of(intakeSheet(job), "spray").canFit);
    QVERIFY(!of(intakeSheet(job), "injectors").canRemove);
    job.engine.charging = Charging::none;
    QVERIFY(!onSheet(job, "wastegate") && !onSheet(job, "cooler"));
    QVERIFY(!of(intakeSheet(job), "compressor").fitted);
    job.engine.charging = Charging::blower;
    QVERIFY(!onSheet(job, "wastegate") && onSheet(job, "cooler"));
    job.control = FuelControl::mechanical;
    QVERIFY(onSheet(job, "nozzles") && onSheet(job, "pills") && onSheet(job, "weather"));
    QVERIFY(!onSheet(job, "injectors") && !onSheet(job, "content_sensor") && !onSheet(job, "ignition"));
    QVERIFY(!of(intakeSheet(job), "controller").fitted);
}

void IntakeTest::partsAreFittedAndTakenOff() {
    for (const Part &part : allParts()) {
        Job job = demoJob();
        if (!belongsTo(part, job)) job.control = FuelControl::mechanical;
        if (!part.add) {
            QVERIFY_THROWS_EXCEPTION(InputError, fitPart(job, part, true));
            QVERIFY(!part.remove);
            continue;
        }
        fitPart(job, part, true);
        QVERIFY2(isFitted(part, job), part.id.data());
        const Job with = job;
        fitPart(job, part, true); // it is there already
        QVERIFY(job == with);
        fitPart(job, part, false);
        QVERIFY2(!isFitted(part, job), part.id.data());
        validate(job);
    }
}

void IntakeTest::whatIsFittedIsAnEstimate() {
    const Job before = [] {
        Job job = demoJob();
        job.tank.surgeL = 0;
        state(job, "tank.surge_l");
        return job;
    }();
    Job after = before;
    fitPart(after, partById("surge_tank"), true);
    stateChanged(before, after, difference(before, after));
    QCOMPARE(knowledgeOf(after, "tank.surge_l"), Knowledge::estimated);
    // The user's own number is stated, also where an estimate stood.
    Job typed = after;
    typed.tank.surgeL = 2;
    stateChanged(after, typed, difference(after, typed));
    QCOMPARE(knowledgeOf(typed, "tank.surge_l"), Knowledge::stated);
    // That there is none is somebody's word.
    Job without = typed;
    fitPart(without, partById("surge_tank"), false);
    stateChanged(typed, without, difference(typed, without));
    QCOMPARE(knowledgeOf(without, "tank.surge_l"), Knowledge::stated);
}

void IntakeTest::theLastWordOnAnInspectionCounts() {
    Job job = demoJob();
    job.inspections.clear();
    job.sparkDelivery.baseTimingChecked = false;
    const auto ignition = [&] { return of(intakeSheet(job), "ignition"); };
    QCOMPARE(ignition().inspected, LookedAt::notYet);
    markInspected(job, "base_timing", "2026-03-01T10:00:00Z", false, "12° with the timing locked");
    QCOMPARE(ignition().inspected, LookedAt::partly);
    QVERIFY(job.sparkDelivery.baseTimingChecked); // it says the same
    markInspected(job, "plugs_gap", "2026-03-01T10:05:00Z", false, "");
    QCOMPARE(ignition().inspected, LookedAt::good);
    markInspected(job, "base_timing", "2026-03-08", true, "");
    QCOMPARE(ignition().inspected, LookedAt::wrong);
    QVERIFY(!job.sparkDelivery.baseTimingChecked);
    QCOMPARE(said(inspectionWords(ignition().inspections[0])), std::string("found wrong on 2026-03-08"));
    QCOMPARE(said(inspectionWords(ignition().inspections[1])), std::string("found good on 2026-03-01"));
    markInspected(job, "base_timing", "2026-03-09", false, "put right");
    QCOMPARE(ignition().inspected, LookedAt::good);
    QCOMPARE(said(inspectionWords(ignition().inspections[0])),
             std::string("found good on 2026-03-09: put right"));
    QCOMPARE(job.inspections.size(), std::size_t(4)); // nothing is forgotten
    QCOMPARE(of(intakeSheet(job), "tank").inspected, LookedAt::notYet);
    QVERIFY_THROWS_EXCEPTION(InputError, markInspected(job, "luck", "", false, ""));
    validate(job);
}

void IntakeTest::checksOfAPartSpeakForIt() {
    const Job job = demoJob();
    const auto verdict = verify(job);
    const auto sheet = intakeSheet(job, verdict.get());
    const auto worst = [&](std::initializer_list<std::string_view> ids) {
        CheckState state = CheckState::proven;
        for (const std::string_view id : ids) {
            const Verdict::Row *row = findRow(*verdict, id);
            state = std::max(state, row ? row->state : CheckState::notJudged);
        }
        return state;
    };
    QVERIFY(of(sheet, "injectors").verdict == worst({"flow.duty", "flow.min_pulse"}));
    QVERIFY(of(sheet, "injectors").verdict == CheckState::failing); // too small for E85: the demo's story
    QVERIFY(of(sheet, "content_sensor").verdict == CheckState::notJudged);
    QVERIFY(!of(sheet, "tank").verdict && !of(sheet, "spray").verdict);
    QVERIFY(!of(intakeSheet(job), "injectors").verdict); // nobody has judged yet
}

void IntakeTest::theSheetSaysWhatIsNext() {
    Job job = demoJob();
    stateEverything(job);
    job.engine.chargeCooler = ChargeCooler::air;
    job.contentSensing.onFault = SensorFaultRule::holdLast;
    const auto next = [&] {
        const auto sheet = intakeSheet(job);
        const PartState *p = nextPart(sheet);
        return p ? std::string(p->part->id) : std::string();
    };
    QCOMPARE(next(), std::string());
    QVERIFY(sheetComplete(intakeSheet(job)) && nextOnSheet(intakeSheet(job)).empty());
    estimate(job, "tank.reserve_l");
    QCOMPARE(next(), std::string("tank"));
    QVERIFY(!sheetComplete(intakeSheet(job)));
    estimate(job, "engine.displacement_l"); // the first of those that are alike
    QCOMPARE(next(), std::string("tank"));
    state(job, "engine.displacement_l");
    job.boost.springKpa = 0; // unknown comes before an estimate, wherever it stands
    QCOMPARE(next(), std::string("wastegate"));
    markInspected(job, "oil", "2026-03-01", true, "");
    QCOMPARE(next(), std::string("cylinders"));
    QVERIFY(said(nextOnSheet(intakeSheet(job))).starts_with("Cylinders was found wrong"));
    state(job, "tank.reserve_l");
    job.boost.springKpa = 70;
    QVERIFY(!sheetComplete(intakeSheet(job))); // all is stated, and something is wrong
    markInspected(job, "oil", "2026-03-02", false, "");
    QVERIFY(sheetComplete(intakeSheet(job)));
}

void IntakeTest::confirmingStatesEverything() {
    Job job = newJob("New");
    const Part &cylinders = partById("cylinders");
    QCOMPARE(unstatedOf(job, cylinders), cylinders.fields.size());
    const Job before = job;
    confirmPart(job, cylinders);
    QCOMPARE(unstatedOf(job, cylinders), std::size_t(0));
    QVERIFY(job.engine == before.engine); // nothing but who has said it
    QCOMPARE(numbers(of(intakeSheet(job), "cylinders")), std::string("2 L, 9.5 : 1, to 7000 rpm"));
}

// Against the same rule written another way, over points that nobody chose.
void IntakeTest::pointsOfCurvesStayInTheirRange() {
    std::mt19937 random(7);
    std::uniform_real_distribution<double> any(-0.5, 1.5);
    const CurveRange range{0, 1, 0.2, 0.9, 0.01};
    for (int round = 0; round < 400; ++round) {
        const Curve curve({0.1, 0.4, 0.7}, {0.3, 0.5, 0.4});
        const std::size_t at = static_cast<std::size_t>(round) % 3;
        const double x = any(random), y = any(random);
        const Curve to = withPointAt(curve, at, x, y, range);
        const double low = at == 0 ? 0 : curve.axis()[at - 1] + 0.01;
        const double high = at == 2 ? 1 : curve.axis()[at + 1] - 0.01;
        COMPARE_NEAR(to.axis()[at], x < low ? low : x > high ? high : x, 1e-12);
        COMPARE_NEAR(to.values()[at], y < 0.2 ? 0.2 : y > 0.9 ? 0.9 : y, 1e-12);
        for (std::size_t i = 0; i < 3; ++i)
            if (i != at) QVERIFY(to.axis()[i] == curve.axis()[i] && to.values()[i] == curve.values()[i]);
        QVERIFY(withPointAt(to, at, curve.axis()[at], curve.values()[at], range) == curve); // and back
    }
    // A point between two that stand as near as can be stays where it is, and goes up and down.
    const Curve tight({0.50, 0.505, 0.51}, {0.3, 0.3, 0.3});
    QVERIFY(withPointAt(tight, 1, 0.9, 0.7, range) == Curve({0.50, 0.505, 0.51}, {0.3, 0.7, 0.3}));
    QVERIFY_THROWS_EXCEPTION(InputError, withPointAt(tight, 3, 0, 0, range));
}

void IntakeTest::pointsComeAndGo() {
    const CurveRange range{0, 1, 0, 1, 0.01};
    const Curve curve({0.2, 0.6}, {0.1, 0.5});
    const Curve more = withPointAdded(curve, 0.3, range);
    QCOMPARE(more.axis().points(), (std::vector<double>{0.2, 0.3, 0.6}));
    COMPARE_NEAR(more.values()[1], 0.2, 1e-12); // on the line: a quarter of the way
    for (double x = 0; x <= 1; x += 0.05)
        COMPARE_NEAR(more.at(x), curve.at(x), 1e-12);
    QVERIFY(withoutPoint(more, 1) == curve);
    QVERIFY(withPointAdded(curve, 0.605, range) == curve); // another stands there
    QVERIFY(withPointAdded(curve, 1.2, range) == curve);
    QVERIFY(withPointAdded(curve, 0.9, range) == Curve({0.2, 0.6, 0.9}, {0.1, 0.5, 0.5}));
    QVERIFY(withPointAdded(Curve::constant(0.4), 0.5, range) == Curve({0, 0.5}, {0.4, 0.4}));
    QVERIFY_THROWS_EXCEPTION(InputError, withoutPoint(Curve::constant(1), 0));
    QVERIFY_THROWS_EXCEPTION(InputError, withoutPoint(curve, 2));
}

void IntakeTest::revisionsAreALine() {
    Job job = demoJob();
    job.revisions.clear();
    const auto line = [&] {
        std::string out;
        for (const Revision &r : job.revisions)
            out += r.parent + ">" + r.name + (r.current ? "*" : "") + " ";
        return out;
    };
    keepRevision(job, "A", "2026-01-01", "", true);
    job.calibration.of(CalibratedQuantity::spark).base.setCell({0, 0}, 11);
    keepRevision(job, "B", "2026-01-02", "", false);
    keepRevision(job, "C", "2026-01-03", "", false);
    QCOMPARE(line(), std::string(">A A>B B>C* "));
    const double then =
        restored(job, job.revisions.values()[0]).calibration.of(CalibratedQuantity::spark).base.cell({0, 0});
    job = takenBack(job, 0); // back to the one before, and on from there
    QCOMPARE(job.calibration.of(CalibratedQuantity::spark).base.cell({0, 0}), then);
    QCOMPARE(line(), std::string(">A* A>B B>C "));
    keepRevision(job, "D", "2026-01-04", "", false);
    QCOMPARE(line(), std::string(">A A>B B>C A>D* "));
    removeRevision(job, 1);
    QCOMPARE(line(), std::string(">A A>C A>D* "));
    removeRevision(job, 2); // the current one: the one before it is
    QCOMPARE(line(), std::string(">A* A>C "));
    removeRevision(job, 0);
    QCOMPARE(line(), std::string(">C "));
    QVERIFY(!currentRevision(job));
    keepRevision(job, "E", "2026-01-05", "", false);
    QCOMPARE(line(), std::string(">C >E* "));
    validate(job);
    // Whoever is renamed is followed by those that come from it.
    keepRevision(job, "F", "2026-01-06", "", false);
    job.revisions[1].name = "Easter";
    renameReferences(job, "revisions", "E", "Easter");
    QCOMPARE(line(), std::string(">C >Easter Easter>F* "));
}

CORE_TEST_MAIN(IntakeTest)
#include "intake_test.moc"
