// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/nice_step.h"
#include "core/base/text.h"
#include "core/job/tank_history.h"
#include "core/report/pour_sheet.h"
#include "support/phrases.h"
#include "support/random_job.h"
#include "support/test_main.h"

#include <limits>

using namespace wheelwright;
using testing::demoJob;
using testing::phrase;
using testing::said;

namespace {

Report everyKind() {
    Report r;
    r.title = phrase("Title & more");
    r.blocks.push_back(Heading{phrase("Überschrift"), 1});
    r.blocks.push_back(
        Sentence{phrase("⟨{0}⟩ of <b>{a}</b>", {{7.154, Dimension::displacement}}, {"{0} & \"co\""})});
    r.blocks.push_back(Steps{{{phrase("first")}, {phrase("second"), Tone::trouble}}});
    r.blocks.push_back(
        Grid{{phrase("a"), phrase("long head")}, {{phrase("äöü"), phrase("1")}, {phrase("b"), phrase("2")}}});
    r.blocks.push_back(ReportChart{phrase("Chart"),
                                   phrase("time"),
                                   phrase("flow"),
                                   Dimension::none,
                                   Dimension::displacement,
                                   {{phrase("idle"), {0, 1, 2}, {10, 30, 20}}, {phrase("none"), {}, {}}}});
    return r;
}

} // namespace

/// Phrases with what is put into them, and reports in every form.
class ReportTest : public QObject {
    Q_OBJECT
  private slots:
    void whatIsPutInIsNotLookedAtAgain();
    void phrasesStandInPhrases();
    void marksWithoutAValueStay();
    void plainTextSaysAll();
    void htmlIsEscaped();
    void linesOfAChartFillItsFrame();
    void gapsInALineAreGaps();
    void stepsOfAScaleAreRound();
    void scalesOfAChartAreRoundInTheUnitShown();
    void theSheetSaysWhatTheStepsSay();
    void plansThatAreOneAreSaidOnce();
    void everyStepHasItsCautions();
};

// A fuel may be called whatever its user likes.
void ReportTest::whatIsPutInIsNotLookedAtAgain() {
    const Phrase p = phrase("Pour {0} of {a}, {b}", {{2, Dimension::displacement}}, {"{b} ⟨{0}⟩", "x"});
    QCOMPARE(format(p, {}), std::string("Pour 2.00 L of {b} ⟨{0}⟩, x"));
}

void ReportTest::phrasesStandInPhrases() {
    Phrase outer = Phrase(MARKED("test.outer", "{A} · ⟨{B}⟩ {a}"), {}, {"end"});
    outer.phrases = {Phrase(MARKED("test.inner", "{0} long"), {{3, Dimension::displacement}}),
                     phrase("plain")};
    UnitChoice units;
    QCOMPARE(format(outer, units), std::string("3.00 L long · plain end"));
    // Each is translated by its own id; the order may change.
    const Wording other{units, [](std::string_view id, std::string_view text) {
                            return id == "test.outer"   ? std::string("{a}: {B}, {A}")
                                   : id == "test.inner" ? std::string("lang {0}")
                                                        : std::string(text);
                        }};
    QCOMPARE(other.of(outer), std::string("end: plain, lang 3.00 L"));
    const auto pieces = Wording{units}.piecesOf(outer);
    QCOMPARE(pieces.size(), std::size_t{3});
    QVERIFY(!pieces[0].matters && pieces[1].matters && !pieces[2].matters);
    QCOMPARE(pieces[1].text, std::string("plain"));
}

void ReportTest::marksWithoutAValueStay() {
    QCOMPARE(said(phrase("{0} {a} {A} {} { }x {99999999999999999999}")),
             std::string("{0} {a} {A} {} { }x {99999999999999999999}"));
    QCOMPARE(said(phrase("open { and close } and {")), std::string("open { and close } and {"));
}

void ReportTest::plainTextSaysAll() {
    QCOMPARE(plainText(everyKind(), {}), std::string("Title & more\n"
                                                     "============\n"
                                                     "\n"
                                                     "Überschrift\n"
                                                     "-----------\n"
                                                     "7.15 L of <b>{0} & \"co\"</b>\n"
                                                     "1. first\n"
                                                     "2. second\n"
                                                     "a    long head\n"
                                                     "äöü  1\n"
                                                     "b    2\n"
                                                     "Chart\n"
                                                     "idle: 0.000 10.00 L; 1.000 30.00 L; 2.000 20.00 L\n"
                                                     "none:\n"));
}

void ReportTest::htmlIsEscaped() {
    const std::string html = htmlPage(everyKind(), {});
    for (const char *piece :
         {"<title>Title &amp; more</title>", "<h2>Überschrift</h2>",
          "<p><b>7.15 L</b> of &lt;b&gt;{0} &amp; &quot;co&quot;&lt;/b&gt;</p>", "<li>first</li>",
          "<li class=\"trouble\">second</li>", "<th>long head</th>", "<td>äöü</td>", "<svg ", "Chart"})
        QVERIFY2(html.find(piece) != std::string::npos, piece);
    QVERIFY(html.find("<b>{0}") == std::string::npos);
    // Nothing is fetched from anywhere.
    QVERIFY(html.find("src=") == std::string::npos && html.find("href=") == std::string::npos);
}

// 0 to 2 across and 10 to 30 up: the corners of the frame, and half the height.
void ReportTest::linesOfAChartFillItsFrame() {
    const auto chart = std::get<ReportChart>(everyKind().blocks.back());
    const std::string svg = chartSvg(chart, {}, 400, 200);
    QVERIFY2(svg.find("points=\"70.0,160.0 180.0,14.0 290.0,87.0\"") != std::string::npos, svg.c_str());
    // Marked at round numbers, each where its number is: 10 to 30 L over 146 pixels of height.
    for (const auto &[words, y] :
         {std::pair{"10 L", 160.0}, {"15 L", 123.5}, {"20 L", 87.0}, {"30 L", 14.0}}) {
        const std::string place = fixedNumber(y, 1), under = fixedNumber(y + 4, 1);
        QVERIFY2(svg.find("M70.0 " + place + "L290.0 " + place) != std::string::npos, words);
        QVERIFY2(svg.find("y=\"" + under + "\" text-anchor=\"end\">" + words + "<") != std::string::npos,
                 words);
    }
    QVERIFY(chartSvg(ReportChart{}, {}, 400, 200).ends_with("</svg>"));
}

// A y that is no number parts the line in two, takes no room, and is a dash in words; a line of nothing else
// is none.
void ReportTest::gapsInALineAreGaps() {
    constexpr double none = std::numeric_limits<double>::quiet_NaN();
    ReportChart chart;
    chart.lines.push_back({phrase("in part"), {0, 1, 2, 3, 4}, {10, 30, none, 20, none}});
    chart.lines.push_back({phrase("not at all"), {0, 4}, {none, none}});
    const std::string svg = chartSvg(chart, {}, 400, 200);
    QVERIFY2(svg.find("points=\"70.0,160.0 125.0,14.0\"/>") != std::string::npos, svg.c_str());
    QVERIFY2(svg.find("points=\"235.0,87.0\"/>") != std::string::npos, svg.c_str());
    QVERIFY(svg.find("nan") == std::string::npos && svg.find("not at all") == std::string::npos);
    std::size_t lines = 0;
    for (std::size_t at = svg.find("<polyline"); at != std::string::npos; at = svg.find("<polyline", at + 1))
        ++lines;
    QCOMPARE(lines, std::size_t{2});
    QVERIFY(svg.find("x=\"239.0\" y=\"91.0\" text-anchor=\"start\">in part<") != std::string::npos);
    Report report;
    report.blocks.push_back(chart);
    const std::string words = plainText(report, {});
    QVERIFY2(words.find("2.000 –; 3.000 20.000; 4.000 –") != std::string::npos, words.c_str());
    chart.lines.erase(chart.lines.begin());
    QVERIFY(chartSvg(chart, {}, 400, 200).ends_with("\"12\"></svg>"));
}

// By hand; and a span that is three tenths but for its last bits has three steps of a tenth.
void ReportTest::stepsOfAScaleAreRound() {
    COMPARE_NEAR(niceStep(75, 5), 20, 1e-12);
    COMPARE_NEAR(niceStep(100, 5), 20, 1e-12);
    COMPARE_NEAR(niceStep(1.2, 3), 0.5, 1e-12);
    COMPARE_NEAR(niceStep(6, 10), 1, 1e-12);
    COMPARE_NEAR(niceStep(0.1 + 0.2, 3), 0.1, 1e-12);
    for (const double span : {0.03, 1.7, 48.0, 9999.0})
        for (const int most : {1, 4, 9})
            QVERIFY(span / niceStep(span, most) <= most * (1 + 1e-9));
}

// 100 to 200 kPa in psi: 20 psi are 137.895 kPa (NIST SP 811, 6.894757 kPa each), 37.895 % of the way up.
void ReportTest::scalesOfAChartAreRoundInTheUnitShown() {
    ReportChart chart;
    chart.x = Dimension::content;
    chart.y = Dimension::pressure;
    chart.lines.push_back({phrase("allowed"), {0.1, 0.85}, {100, 200}});
    Wording wording;
    wording.units.pressureUnit = "psi";
    const auto placesOf = [](const std::string &svg, const std::string &words) {
        const std::size_t end = svg.find(">" + words + "</text>");
        if (end == std::string::npos) return std::pair{-1.0, -1.0};
        const std::size_t at = svg.rfind("<text", end);
        return std::pair{std::stod(svg.substr(svg.find("x=\"", at) + 3)),
                         std::stod(svg.substr(svg.find("y=\"", at) + 3))};
    };
    const std::string svg = chartSvg(chart, wording, 640, 320);
    const double top = 14, bottom = 280, left = 70, right = 530;
    QVERIFY(std::abs(placesOf(svg, "20 psi abs").second - 4 - (bottom - 0.37895 * (bottom - top))) < 0.1);
    QCOMPARE(placesOf(svg, "14.5 psi abs").second, -1.0);
    for (const char *outside : {"10 psi abs", "30 psi abs", "E0"}) // no mark beyond the ends
        QCOMPARE(placesOf(svg, outside).second, -1.0);
    // 75 % of content in steps of 20: E20, 13.33 % of the way.
    QVERIFY(std::abs(placesOf(svg, "E20").first - (left + 0.1 / 0.75 * (right - left))) < 0.1);
    QCOMPARE(placesOf(svg, "E10").first, -1.0);
    // One value has one mark, in the middle; digits go as far as the steps.
    chart.lines = {{phrase("steady"), {0.4, 0.4}, {1.05, 1.062}}};
    chart.y = Dimension::mixture;
    const std::string narrow = chartSvg(chart, {}, 640, 320);
    QCOMPARE(placesOf(narrow, "E40").first, (left + right) / 2);
    QVERIFY2(placesOf(narrow, "λ 1.054").second > 0 || placesOf(narrow, "λ 1.055").second > 0,
             narrow.c_str());
    // The same in a language with a comma.
    wording.units.decimalPoint = ',';
    QVERIFY(chartSvg(chart, wording, 640, 320).find("λ 1,0") != std::string::npos);
}

// Second method: every number of every step of every plan stands in the sheet, in order.
void ReportTest::theSheetSaysWhatTheStepsSay() {
    const Job job = demoJob();
    for (const double target : {0.05, 0.4, 0.7}) {
        const PourRequest r = pourRequestOf(job, target);
        const PourAnswer answer = planPour(r);
        const std::string sheet = plainText(pourSheet("Thistle", false, r, answer, "2001-02-03"), {});
        for (const PourPlan &plan : answer.plans) {
            std::size_t at = 0; // plans that are one are said once
            for (const PourStep &s : stepsOf(plan, r)) {
                for (const double litres : {s.litres, s.volumeL}) {
                    at = sheet.find(format(litres, Dimension::displacement, {}), at);
                    QVERIFY2(at != std::string::npos, sheet.c_str());
                    ++at;
                }
                if (!s.drain) QVERIFY(sheet.find(r.shelf[s.fuel].name) != std::string::npos);
            }
        }
        QCOMPARE(sheet.find("Not by pouring alone") != std::string::npos, !answer.why.empty());
        for (const char *caution :
             {"no ignition source", "poisonous", "safety data sheet", "local fire code"})
            QVERIFY(sheet.find(caution) != std::string::npos);
    }
}

void ReportTest::plansThatAreOneAreSaidOnce() {
    const Job job = demoJob();
    const PourRequest r = pourRequestOf(job, 0.4);
    const PourAnswer answer = planPour(r);
    const Report plans = pourPlans(false, r, answer);
    const std::string text = plainText(plans, {});
    for (const PourPlan &plan : answer.plans) { // each title once, whether it stands alone or not
        const std::string title = format(strategyWords(plan.strategy), {});
        const std::size_t at = text.find(title);
        QVERIFY2(at != std::string::npos && text.find(title, at + 1) == std::string::npos, title.c_str());
    }
    QVERIFY(text.find("Least added · Nearest without draining") != std::string::npos);
    // The same pours after another drain are another plan.
    PourAnswer two;
    two.plans = {answer.plans.front(), answer.plans.front()};
    two.plans[1].strategy = PourStrategy::leastDrain;
    QVERIFY(plainText(pourPlans(false, r, two), {}).find("Least added · Least drain") != std::string::npos);
    two.plans[1].drainL += 3;
    QVERIFY(plainText(pourPlans(false, r, two), {}).find("Least added · Least drain") == std::string::npos);
    // Links lead to the plan whose steps they stand on.
    for (const Block &b : plans.blocks)
        if (const auto *steps = std::get_if<Steps>(&b)) {
            const auto index = static_cast<std::size_t>(std::stoi(steps->steps[0].link.substr(5)));
            const auto meant = stepsOf(answer.plans.at(index), r);
            QCOMPARE(steps->steps.size(), meant.size());
            QVERIFY(format(steps->steps[0].words, {})
                        .find(format(meant[0].litres, Dimension::displacement, {})) != std::string::npos);
        }
}

void ReportTest::everyStepHasItsCautions() {
    const Job job = demoJob();
    const PourRequest r = pourRequestOf(job, 0.4, std::nullopt, "2026-09-09"); // one was opened long ago
    bool any = false;
    for (const ShelfFuel &f : r.shelf)
        any = any || !f.cautions.empty();
    QVERIFY(any);
    const PourAnswer answer = planPour(r);
    const std::string text = plainText(pourPlans(false, r, answer), {});
    for (const PourPlan &plan : answer.plans)
        for (const PourStep &s : stepsOf(plan, r))
            if (!s.drain)
                for (const Phrase &caution : r.shelf[s.fuel].cautions)
                    QVERIFY(text.find(format(caution, {})) != std::string::npos);
}

CORE_TEST_MAIN(ReportTest)
#include "report_test.moc"
