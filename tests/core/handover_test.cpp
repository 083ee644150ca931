// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/job/job_photos.h"
#include "core/job/revision.h"
#include "core/job/tank_history.h"
#include "core/report/handover_reports.h"
#include "core/report/owners_page.h"
#include "core/report/pour_tables.h"
#include "core/runs/run_intake.h"
#include "core/study/shelf.h"
#include "formats/job_json.h"
#include "support/phrases.h"
#include "support/random_job.h"
#include "support/test_main.h"

#include <QFile>

#include <algorithm>
#include <cmath>

using namespace wheelwright;
using namespace wheelwright::testing;

namespace {

const char *const today = "2026-11-28";

Job demo(const char *name) {
    QFile file(QStringLiteral(SOURCE_DIR "/data/demo/%1.json").arg(QLatin1String(name)));
    if (!file.open(QIODevice::ReadOnly)) qFatal("no such demo");
    return jobFromJson(file.readAll().toStdString());
}

FlowLook lookAt(const Job &job) {
    FlowLook look{std::make_shared<const Study>(job), nullptr, 0.4};
    look.verdict = verify(look.study);
    return look;
}

std::string textOf(const Report &report) {
    return plainText(report, {});
}

bool holds(const std::string &text, std::string_view part) {
    return text.find(part) != std::string::npos;
}

std::vector<const Grid *> gridsOf(const Report &report) {
    std::vector<const Grid *> out;
    for (const Block &b : report.blocks)
        if (const auto *g = std::get_if<Grid>(&b)) out.push_back(g);
    return out;
}

// A pull of that much power at its end.
std::vector<FoundPull> pulls(double kw) {
    RunSamples s;
    s.columns = {{ChannelRole::rpm, "rpm", "rpm", 1, 0, {}}, {ChannelRole::power, "kW", "kW", 1, 0, {}}};
    for (double rpm = 2500; rpm <= 6500; rpm += 50) {
        s.columns[0].numbers.push_back(rpm);
        s.columns[1].numbers.push_back(kw * rpm / 6500);
    }
    return {{s}};
}

} // namespace

/// What is handed over: its numbers, and that it is never kinder than the verdict.
class HandoverTest : public QObject {
    Q_OBJECT
  private slots:
    void aPourTableIsTheBalanceOfVolumes();
    void aPourTableFitsTheTank();
    void theCardSaysWhatFails();
    void fuelsAreJudgedAsTheVerdictHasThem();
    void drivenContentsStandAsStretches();
    void theOwnersPageIsNeverKinderThanTheVerdict();
    void eachWaitHasItsOwnWorking();
    void whatWasTypedStandsOnIt();
    void pagesHoldWhatTheJobHolds();
    void mechanicalEnginesHavePillsForTables();
    void whatIsOpenSaysWhereAndWhy();
    void theFrontierIsDrawn();
    void photosAreChosen();
    void shadesGoFromTheLeastToTheMost();
    void aPageForABrowserNeedsNothingBesideIt();
};

// Worked example of the handbook of fuels: 20 L of E10 and 20 L of E85 are 40 L with 19 L of ethanol, E47.5.
void HandoverTest::aPourTableIsTheBalanceOfVolumes() {
    Job job = newJob("Card");
    job.tank.capacityL = 60;
    ShelfEntry strong;
    strong.name = "Strong";
    strong.ethanol = 0.85;
    job.shelf.push_back(strong);
    const PourTable t = pourTable(job, "Strong", 20, today);
    const auto row = static_cast<std::size_t>(std::ranges::find(t.contents, 0.1) - t.contents.begin());
    const auto column = static_cast<std::size_t>(std::ranges::find(t.litres, 20.0) - t.litres.begin());
    COMPARE_NEAR(t.after.at(row).at(column), 0.475, 1e-12);
    // A second way: the tank that is poured into, fuel by fuel.
    for (std::size_t r = 0; r < t.contents.size(); ++r)
        for (std::size_t c = 0; c < t.litres.size(); ++c) {
            const TankState before{t.levelL, blendAt(job, t.contents[r])};
            const TankState after = afterPour(before, t.litres[c], blendAt(job, 0.85));
            COMPARE_NEAR(t.after[r][c], alcoholOf(after.content), 1e-12);
        }
}

void HandoverTest::aPourTableFitsTheTank() {
    const Job job = demo("thistle");
    for (const std::string &fuel : pumpFuels(job, today))
        for (const double share : {0.0, 0.1, 0.25, 0.5, 0.9, 1.0}) {
            const double level = share * job.tank.capacityL;
            const PourTable t = pourTable(job, fuel, level, today);
            QVERIFY(t.litres.size() <= 7);
            for (const double litres : t.litres)
                QVERIFY(litres > 0 && level + litres <= job.tank.capacityL + 1e-6);
            // Room for another step would have been a column.
            const double step = t.litres.empty() ? 0 : t.litres.front();
            if (!t.litres.empty()) QVERIFY(level + t.litres.back() + step > job.tank.capacityL + 1e-9);
        }
    // An additive is no fuel, weak as it is.
    QCOMPARE(pumpFuels(job, today), (std::vector<std::string>{"Pump premium", "Sealed ethanol"}));
    EXPECT_INPUT_ERROR(pourTable(job, "Nobody's", 10, today), "a fuel of the shelf");
    EXPECT_INPUT_ERROR(pourTable(job, pumpFuels(job, today)[0], job.tank.capacityL + 1, today), "level");
    QVERIFY(pumpFuels(newJob("Bare"), today).empty());
}

void HandoverTest::theCardSaysWhatFails() {
    const Job job = demo("thistle");
    const FlowLook look = lookAt(job);
    const Verdict &v = *look.verdict;
    const Report card = pocketCard(v, today).report;
    std::size_t failing = 0, tables = 0;
    for (const std::string &fuel : pumpFuels(job, today))
        for (const double share : {0.25, 0.5}) {
            const PourTable t = pourTable(job, fuel, share * job.tank.capacityL, today);
            const Grid &grid = *gridsOf(card).at(tables++);
            QCOMPARE(grid.rows.size(), t.contents.size());
            for (std::size_t r = 0; r < t.contents.size(); ++r)
                for (std::size_t c = 0; c < t.litres.size(); ++c) {
                    const std::string cell = said(grid.rows[r].at(c + 1).words);
                    const CheckState state = v.overall[sliceNearest(v, t.after[r][c])];
                    QVERIFY(holds(cell, contentName(t.after[r][c], false)));
                    QCOMPARE(holds(cell, "×"), state == CheckState::failing);
                    QCOMPARE(holds(cell, "?"), state == CheckState::notJudged);
                    failing += state == CheckState::failing ? 1 : 0;
                }
        }
    QCOMPARE(gridsOf(card).size(), tables);
    QVERIFY(failing > 0); // or this looks at nothing
}

void HandoverTest::fuelsAreJudgedAsTheVerdictHasThem() {
    const FlowLook look = lookAt(demo("thistle"));
    const Verdict &v = *look.verdict;
    const std::vector<OwnersFuel> fuels = ownersFuels(v, today);
    QVERIFY(fuels.size() >= 2);
    for (const OwnersFuel &f : fuels) {
        CheckState worst = CheckState::proven;
        for (std::size_t i = 0; i < v.contents.size(); ++i)
            if (std::abs(v.contents[i] - f.content.value) <= 2 * f.content.sigma)
                worst = std::max(worst, v.overall[i]);
        worst = std::max(worst, v.overall[sliceNearest(v, f.content.value)]);
        QVERIFY2(f.state >= worst, f.name.c_str());
    }
    // The doubt in the content counts: a fuel that may be where the calibration fails is no good one.
    const auto good = std::ranges::find_if(v.overall, [](CheckState s) { return s != CheckState::failing; });
    QVERIFY(good != v.overall.end());
    Job doubtful = demo("thistle");
    doubtful.lots.clear();
    doubtful.tubes.clear();
    doubtful.shelf.clear();
    ShelfEntry fuel;
    fuel.name = "Doubtful";
    fuel.ethanol = v.contents[static_cast<std::size_t>(good - v.overall.begin())];
    fuel.contentSigma = 0.4;
    doubtful.shelf.push_back(fuel);
    const FlowLook again = lookAt(doubtful);
    QCOMPARE(ownersFuels(*again.verdict, today).at(0).state, CheckState::failing);
}

// Contents beside each other that logs have been at stand as one stretch, and no other is told of.
void HandoverTest::drivenContentsStandAsStretches() {
    const FlowLook look = lookAt(demo("thistle"));
    Verdict v = *look.verdict;
    v.contents = {0, 0.1, 0.2, 0.3, 0.5, 0.85};
    v.pulls.assign(v.contents.size(), BeenThere::never);
    FlowLook driven = look;
    const auto words = [&](std::initializer_list<std::size_t> where) {
        Verdict of = v;
        of.overall.resize(of.contents.size());
        for (const std::size_t i : where)
            of.pulls[i] = BeenThere::proven;
        driven.verdict = std::make_shared<const Verdict>(of);
        const std::string text = textOf(ownersPage(driven, today).report);
        const std::size_t at = text.find("Driven there");
        return at == std::string::npos ? std::string() : text.substr(at, text.find('.', at) - at);
    };
    QCOMPARE(words({}), std::string());
    QCOMPARE(words({1, 2, 3, 5}), std::string("Driven there, clean, on this calibration: E10 to E30; E85"));
    QCOMPARE(words({0, 4, 5}), std::string("Driven there, clean, on this calibration: E0; E50 to E85"));
}

void HandoverTest::theOwnersPageIsNeverKinderThanTheVerdict() {
    // Of a job that nobody has stated anything of, nothing is good.
    Job bare = newJob("Bare");
    ShelfEntry fuel;
    fuel.name = "Pump";
    fuel.ethanol = 0.1;
    bare.shelf.push_back(fuel);
    const FlowLook look = lookAt(bare);
    const Report page = ownersPage(look, today).report;
    const std::string text = textOf(page);
    QVERIFY(!holds(text, "may be run"));
    QVERIFY(holds(text, "Not every question has been answered"));
    QVERIFY(holds(text, "No log proves any of it"));
    for (const char *name : {"thistle", "moorhen", "bramble"}) {
        const FlowLook of = lookAt(demo(name));
        const std::string words = textOf(ownersPage(of, today).report);
        QCOMPARE(holds(words, "Not every question has been answered"), !answered(*of.verdict));
        QVERIFY(holds(words, format(of.verdict->sentences.front())));
        // The cautions of whoever hands over.
        QVERIFY(holds(words, "destroy engines and can hurt people") && holds(words, "licensed people"));
        for (const Phrase &p : handlingCautions(shelfOf(of.study->job(), today)))
            QVERIFY2(holds(words, format(p)), format(p).c_str());
    }
}

// How long to idle and how long to drive: each number leads to a working that comes to it.
void HandoverTest::eachWaitHasItsOwnWorking() {
    Job job = demo("thistle");
    job.tank.idleFlowLMin = 0.5;
    job.tank.cruiseFlowLMin = 1.5;
    const WorkedReport page = ownersPage(lookAt(job), today);
    std::vector<double> minutes;
    for (const Block &b : page.report.blocks) {
        const auto *steps = std::get_if<Steps>(&b);
        if (!steps) continue;
        for (const Sentence &s : steps->steps) {
            if (s.words.id != "handover.change.idle" && s.words.id != "handover.change.drive") continue;
            QVERIFY(s.link.starts_with("working:"));
            const Explanation e = page.workings[std::stoul(s.link.substr(s.link.find(':') + 1))]();
            QVERIFY(std::abs(e.result.value - s.words.values[0].value) < 1e-9);
            minutes.push_back(e.result.value);
        }
    }
    QCOMPARE(minutes.size(), std::size_t(2));
    QVERIFY(minutes[0] > minutes[1]);                // more flows when it is driven
    job.tank.cruiseFlowLMin = job.tank.idleFlowLMin; // a pump that always gives the same
    job.tank.cruiseUseLMin = job.tank.idleUseLMin;
    QVERIFY(holds(textOf(ownersPage(lookAt(job), today).report), "Let it idle"));
    QVERIFY(!holds(textOf(ownersPage(lookAt(job), today).report), "Or drive gently"));
}

void HandoverTest::whatWasTypedStandsOnIt() {
    Job job = demo("thistle");
    QVERIFY(holds(textOf(ownersPage(lookAt(job), today).report), "Nobody is named to call."));
    job.handover.call = "The workshop, 555 0100";
    job.handover.note = "Idles rough below 10 °C: let it warm up.";
    const std::string text = textOf(ownersPage(lookAt(job), today).report);
    QVERIFY(holds(text, "Call The workshop, 555 0100") && holds(text, job.handover.note));
    QVERIFY(holds(text, calibrationPrint(stateOf(job))) && holds(text, today));
    // Words of the page are no part of the calibration.
    QCOMPARE(calibrationPrint(stateOf(job)), calibrationPrint(stateOf(demo("thistle"))));
}

void HandoverTest::pagesHoldWhatTheJobHolds() {
    const Job job = demo("thistle");
    const FlowLook look = lookAt(job);
    const Verdict &v = *look.verdict;
    const Report all = handover(look, {nullptr, firstGain(job)}, today).report;
    const std::string text = textOf(all);
    for (const Verdict::Row &row : v.rows)
        QVERIFY2(holds(text, std::string(row.check->title.text)), std::string(row.check->id).c_str());
    for (const LimitDefinition &l : allLimits())
        QVERIFY2(holds(text, std::string(l.title.text)), std::string(l.id).c_str());
    // Each with all of its digits: half a per cent is not none.
    std::size_t limits = 0;
    for (const Grid *grid : gridsOf(all))
        for (const auto &row : grid->rows)
            for (const LimitDefinition &l : allLimits()) {
                if (row.size() != 3 || row[0].words.id != l.title.id) continue;
                const double back = parse(format(row[1].words), l.dimension, {}, l.id);
                QVERIFY2(std::abs(back - limitOf(job, l.id)) < 1e-6 * std::max(1.0, std::abs(back)),
                         l.id.data());
                ++limits;
            }
    QCOMPARE(limits, allLimits().size());
    for (const Revision &r : job.revisions.values())
        QVERIFY2(holds(text, r.name), r.name.c_str());
    // Every table, cell by cell.
    std::size_t tables = 0, breaks = 0;
    for (const Block &b : all.blocks) {
        breaks += std::holds_alternative<PageBreak>(b) ? 1 : 0;
        const auto *t = std::get_if<ShadedTable>(&b);
        if (!t) continue;
        const CalibratedQuantity q = allQuantities[tables / 2];
        const Table2D &of = tables % 2 == 0 ? job.calibration.of(q).base : job.calibration.of(q).top;
        QVERIFY(t->cells == of.cells() && t->x.points == of.x().points() && t->y.points == of.y().points());
        ++tables;
    }
    QCOMPARE(tables, 2 * allQuantities.size());
    QVERIFY(breaks >= 10);
    // The same document whatever content is looked at.
    FlowLook elsewhere = look;
    elsewhere.content = 0.85;
    QVERIFY(textOf(handover(elsewhere, {nullptr, firstGain(job)}, today).report) == text);
    // What is not judged is named, check by check.
    const auto pages = tunersPages(look, {}, today);
    const std::string silent = textOf(pages.at(0).report);
    for (const Verdict::Row &row : v.rows)
        if (row.state == CheckState::notJudged)
            QVERIFY2(holds(silent, std::string(row.check->title.text)), std::string(row.check->id).c_str());
    for (const Check *c : v.notJudged)
        QVERIFY2(holds(silent, std::string(c->title.text)), std::string(c->id).c_str());
    // Each margin as the check has it.
    const Grid &margins = *gridsOf(pages.at(1).report).at(0);
    QCOMPARE(margins.rows.size(), v.rows.size());
    for (std::size_t i = 0; i < v.rows.size(); ++i) {
        QCOMPARE(margins.rows[i][2].words.values.at(0).value, v.rows[i].outcome.worst().value);
        QCOMPARE(margins.rows[i][3].words.values.at(0).value, v.rows[i].outcome.worst().limit);
    }
    // Their lines are drawn where they were judged and nowhere else; of a job that says nothing there are
    // none.
    const auto linesOf = [](const Report &page) {
        std::vector<ReportChart::Line> out;
        for (const Block &b : page.blocks)
            if (const auto *chart = std::get_if<ReportChart>(&b))
                std::ranges::copy_if(chart->lines, std::back_inserter(out), [](const ReportChart::Line &l) {
                    return l.name.id != "handover.margins.line";
                });
        return out;
    };
    std::size_t drawn = 0, gaps = 0;
    for (const ReportChart::Line &line : linesOf(pages.at(1).report)) {
        const auto row =
            std::ranges::find(v.rows, line.name.id, [](const Verdict::Row &r) { return r.check->title.id; });
        QVERIFY(row != v.rows.end() && line.x == v.contents);
        for (std::size_t i = 0; i < line.x.size(); ++i) {
            const bool judged = row->byContent[i] != CheckState::notJudged;
            QCOMPARE(std::isnan(line.y[i]), !judged);
            if (judged) COMPARE_NEAR(line.y[i], std::max(row->outcome.byContent[i].margin, -1.0), 1e-12);
            (judged ? drawn : gaps) += 1;
        }
    }
    QVERIFY(drawn > 0 && gaps > 0);
    const Job bare = newJob("Bare");
    const FlowLook nothing = lookAt(bare);
    const auto judgedRows = std::ranges::count_if(nothing.verdict->rows, [](const Verdict::Row &r) {
        return std::ranges::any_of(r.byContent, [](CheckState s) { return s != CheckState::notJudged; });
    });
    QVERIFY(judgedRows < 3 && judgedRows < std::ssize(nothing.verdict->rows));
    QCOMPARE(std::ssize(linesOf(tunersPages(nothing, {}, today).at(1).report)), judgedRows);
    // Without runs there is nothing to compare; with some it is said as on the runs' own sheet.
    QVERIFY(!firstGain(newJob("Bare")));
    Job run = job;
    addRuns(run, pulls(100), {});
    addRuns(run, pulls(112), {});
    const auto gain = firstGain(run);
    QVERIFY(gain);
    QVERIFY(holds(textOf(handover(lookAt(run), {nullptr, gain}, today).report), format(gain->answer())));
}

void HandoverTest::mechanicalEnginesHavePillsForTables() {
    const FlowLook look = lookAt(demo("moorhen"));
    const Report all = handover(look, {}, today).report;
    QVERIFY(std::ranges::none_of(all.blocks,
                                 [](const Block &b) { return std::holds_alternative<ShadedTable>(b); }));
    const std::string text = textOf(all);
    QVERIFY(holds(text, "Pills are for one fuel") && holds(text, "Methanol gets into the oil"));
    QVERIFY(!holds(textOf(ownersPage(look, today).report), "content sensor"));
}

// Content by content as the verdict has it, and each reason is one that is missing there.
void HandoverTest::whatIsOpenSaysWhereAndWhy() {
    std::size_t partly = 0;
    for (const char *name : {"thistle", "moorhen", "bramble"}) {
        const FlowLook look = lookAt(demo(name));
        const Verdict &v = *look.verdict;
        const std::vector<OpenStretch> open = openStretches(v);
        for (const Verdict::Row &row : v.rows)
            for (std::size_t i = 0; i < v.contents.size(); ++i) {
                const auto holding = std::ranges::count_if(open, [&](const OpenStretch &s) {
                    return s.check == row.check && s.from <= v.contents[i] && v.contents[i] <= s.to;
                });
                QCOMPARE(holding, row.byContent[i] == CheckState::notJudged ? 1 : 0);
            }
        const Standing standing(v.study->evaluation(), v.proof);
        const std::string text = textOf(tunersPages(look, {}, today).at(0).report);
        for (const OpenStretch &s : open) {
            QVERIFY2(!s.missing.empty(), std::string(s.check->id).c_str());
            for (std::size_t i = sliceNearest(v, s.from); i <= sliceNearest(v, s.to); ++i)
                for (const std::string_view id : s.check->needs) {
                    const Need &n = needById(id);
                    QCOMPARE(std::ranges::find(s.missing, &n) != s.missing.end(), !standing.met(n)[i]);
                }
            for (const Need *n : s.missing)
                QVERIFY2(holds(text, std::string(n->missing.text)), std::string(n->id).c_str());
            const bool whole = s.from == v.contents.front() && s.to == v.contents.back();
            partly += whole ? 0 : 1;
            const bool methanol = v.study->job().alcohol == Alcohol::methanol;
            if (!whole) QVERIFY(holds(text, contentName(s.from, methanol)));
        }
    }
    QVERIFY(partly > 0);
}

void HandoverTest::theFrontierIsDrawn() {
    const FlowLook look = lookAt(demo("thistle"));
    const Frontier f = frontier(*look.study);
    const auto chart = frontierChart(f);
    QVERIFY(chart && chart->lines.size() > 2);
    QCOMPARE(chart->lines[0].y, f.targetKpa);
    QCOMPARE(chart->lines[1].y, f.peakKpa);
    double top = 0;
    for (const ReportChart::Line &line : chart->lines)
        top = std::max(top, *std::ranges::max_element(line.y));
    for (const FrontierLine &line : f.lines) {
        const auto drawn = std::ranges::find_if(chart->lines, [&](const ReportChart::Line &l) {
            return l.name.id == limitingPartTitle(line.part).id;
        });
        if (drawn == chart->lines.end()) { // only what limits nothing near is left out
            QVERIFY(std::ranges::all_of(line.kpa, [&](double kpa) { return kpa >= top; }));
            continue;
        }
        for (std::size_t i = 0; i < line.kpa.size(); ++i)
            QVERIFY(drawn->y[i] == line.kpa[i] || (drawn->y[i] == top && line.kpa[i] > top));
    }
    QVERIFY(!frontierChart(Frontier{}));
    const auto pages = tunersPages(look, {}, today);
    QVERIFY(std::ranges::any_of(pages, [&](const WorkedReport &p) {
        return std::ranges::any_of(p.report.blocks, [&](const Block &b) {
            const auto *c = std::get_if<ReportChart>(&b);
            return c && c->title.id == chart->title.id;
        });
    }));
    // Names of lines that end at the same place stand apart: no two within a line of text.
    const std::string svg = chartSvg(*chart, {}, 640, 320);
    std::vector<double> at;
    for (std::size_t p = svg.find("<text x=\"534.0\""); p != std::string::npos;
         p = svg.find("<text x=\"534.0\"", p + 1))
        at.push_back(std::stod(svg.substr(svg.find("y=\"", p) + 3)));
    QCOMPARE(at.size(), chart->lines.size());
    std::ranges::sort(at);
    for (std::size_t i = 1; i < at.size(); ++i)
        QVERIFY(at[i] - at[i - 1] >= 12.9);
}

void HandoverTest::photosAreChosen() {
    Job job = newJob("Photos");
    Run run;
    run.id = "1";
    run.photos = " a.png \r\n\nb.png\n";
    job.runs.push_back(run);
    TubeRecord tube;
    tube.at = "2026-11-02T10:00:00Z";
    tube.of = "Lot 7";
    tube.photo = "b.png";
    job.tubes.push_back(tube);
    tube.photo = "c.png";
    job.tubes.push_back(tube);
    const auto paths = [](const Job &of, bool chosenOnly) {
        std::string out;
        for (const JobPhoto &p : photosOf(of))
            if (p.chosen || !chosenOnly) out += p.path + " ";
        return out;
    };
    QCOMPARE(paths(job, false), std::string("a.png b.png c.png "));
    QCOMPARE(format(photosOf(job)[2].of), std::string("Tube of Lot 7, 2026-11-02"));
    QCOMPARE(paths(job, true), std::string());
    choosePhoto(job, "c.png", true);
    choosePhoto(job, "a.png", true);
    QCOMPARE(job.handover.photos, std::string("c.png\na.png"));
    choosePhoto(job, "a.png", true);
    QCOMPARE(job.handover.photos, std::string("c.png\na.png"));
    choosePhoto(job, "c.png", false);
    choosePhoto(job, "c.png", false);
    QCOMPARE(paths(job, true), std::string("a.png "));
    job.handover.photos = "x/else.jpg\na.png";
    QCOMPARE(paths(job, false), std::string("a.png b.png c.png x/else.jpg "));
    QCOMPARE(withPhotos(" b.png\n", {"a.png", "b.png", "a.png"}), std::string("b.png\na.png"));
    QCOMPARE(withPhotos({}, {}), std::string());
    // What cannot be shown is named, and what can is on a page.
    const FlowLook look = lookAt(demo("thistle"));
    const HandoverSources sources{
        nullptr, {}, {{"a.png", verbatim("Run 1"), "QUJD"}, {"gone.png", verbatim("Run 2"), ""}}};
    const std::string text = textOf(handover(look, sources, today).report);
    QVERIFY(holds(text, "[Run 1]") && holds(text, "Run 2: not there, or no picture (gone.png)"));
    QVERIFY(!holds(textOf(handover(look, {}, today).report), "Photos"));
}

void HandoverTest::shadesGoFromTheLeastToTheMost() {
    ShadedTable t;
    t.cells = {3, 1, 2, 5};
    QCOMPARE(t.shade(1), 0.0);
    QCOMPARE(t.shade(3), 1.0);
    COMPARE_NEAR(t.shade(0), 0.5, 1e-12);
    t.cells = {4, 4};
    QCOMPARE(t.shade(0), 0.0);
}

// Nothing is fetched, and every mark that is opened is closed.
void HandoverTest::aPageForABrowserNeedsNothingBesideIt() {
    Job job = demo("thistle");
    job.handover.note = "<b>&\"quoted\"</b>";
    const FlowLook look = lookAt(job);
    const Report all = handover(look, {nullptr, firstGain(job)}, today).report;
    const std::string html = htmlPage(all, {}, "a \"remark\"");
    // Each page begins where it should, also one that begins with a table.
    int page = 1;
    for (std::size_t i = 0; i + 1 < all.blocks.size(); ++i) {
        if (!std::holds_alternative<PageBreak>(all.blocks[i])) continue;
        const bool table = std::holds_alternative<ShadedTable>(all.blocks[i + 1]);
        QVERIFY(holds(html, (table ? "<table id=\"page-" : "<h2 id=\"page-") + std::to_string(++page) +
                                (table ? "\" class=\"map page\">" : "\" class=\"page\">")));
    }
    for (const char *fetches : {"src=", "href=", "url(", "@import", "<script", "<link", "<iframe"})
        QVERIFY2(!holds(html, fetches), fetches);
    QVERIFY(holds(html, "<td class=\"trouble\">× E"));
    QVERIFY(holds(html, "&lt;b&gt;&amp;&quot;quoted&quot;&lt;/b&gt;"));
    QVERIFY(holds(html, "content=\"a &quot;remark&quot;\""));
    for (const char *tag : {"table", "tr", "td", "p", "h2", "ol", "li", "svg", "figure"}) {
        const auto count = [&html](const std::string &what) {
            std::size_t n = 0;
            for (std::size_t at = html.find(what); at != std::string::npos; at = html.find(what, at + 1))
                ++n;
            return n;
        };
        const std::string name = tag;
        QCOMPARE(count("<" + name + ">") + count("<" + name + " "), count("</" + name + ">"));
    }
}

CORE_TEST_MAIN(HandoverTest)
#include "handover_test.moc"
