// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/spark_reports.h"

#include "core/report/numbers.h"
#include "core/study/fuel_worth.h"

#include <algorithm>

namespace wheelwright {
namespace {

Measured degreesOf(double deg) {
    return {deg, Dimension::sparkAngle, 1};
}

std::string nameOf(const Job &job, double content) {
    return contentName(content, job.alcohol == Alcohol::methanol);
}

// Where the engine goes and the fuel holds it back most.
struct Hardest {
    double rpm = 0, loadKpa = 0, knockDeg = 0, bestDeg = 0;
    bool found = false, knocks = false;
};

Hardest hardestOf(const Study &study, const EstimateTable &t) {
    Hardest h;
    const std::vector<ReachAtSpeed> reach = study.reach(t.content, t.rpm.points());
    double most = 0;
    constexpr double slowest = 0.25; // of the rev limit: nobody pulls from lower
    for (std::size_t y = 0; y < t.loadKpa.size(); ++y)
        for (std::size_t x = 0; x < t.rpm.size(); ++x) {
            const std::size_t i = y * t.rpm.size() + x;
            const double held = t.bestDeg[i] - t.knockDeg[i];
            const bool pulled = t.rpm[x] >= slowest * study.job().engine.revLimitRpm;
            if (!pulled || !reach[x].reaches(t.loadKpa[y]) || (h.found && held <= most)) continue;
            most = held;
            h = {t.rpm[x], t.loadKpa[y], t.knockDeg[i], t.bestDeg[i], true, static_cast<bool>(t.knocks[i])};
        }
    return h;
}

} // namespace

Report sparkEstimateReport(const Study &given, std::span<const EstimateTable> tables) {
    const Study &study = given.inPressure();
    Report r;
    r.title = MARKED("spark_estimate.report", "Spark that each fuel stands, estimated");
    Grid grid;
    grid.heads = {MARKED("spark_estimate.head.content", "Content"),
                  MARKED("spark_estimate.head.hardest", "Held back most at"),
                  MARKED("spark_estimate.head.stands", "Stands"), MARKED("spark_estimate.head.best", "Best"),
                  MARKED("spark_estimate.head.plus_minus", "±")};
    for (const EstimateTable &t : tables) {
        const Hardest h = hardestOf(study, t);
        grid.rows.push_back(
            {Phrase{MARKED("spark_estimate.content", "{a}"), {}, {nameOf(study.job(), t.content)}},
             h.found
                 ? Phrase{MARKED("spark_estimate.place", "{0}, {1}"), {speedOf(h.rpm), pressureOf(h.loadKpa)}}
                 : Phrase{MARKED("spark_estimate.nowhere", "nowhere")},
             h.knocks ? strongNumber(degreesOf(h.knockDeg))
                      : Phrase{MARKED("spark_estimate.all", "all of it")},
             number(degreesOf(h.bestDeg)), number(degreesOf(t.sigmaDeg))});
    }
    r.blocks.push_back(std::move(grid));
    r.blocks.push_back(
        Sentence{MARKED("spark_estimate.report.clears_nothing",
                        "They become a ceiling and a best-spark table for each content, every cell an "
                        "estimate: they show "
                        "where to look, clear no question, and step back where anybody has said a ceiling."),
                 Tone::caution});
    r.blocks.push_back(Sentence{
        MARKED(
            "spark_estimate.report.sigma",
            "± 4° is what the model may be off before any evidence; what the job has not stated adds to it: "
            "compression, octane, intake air, place of injection, the air of estimated fuel tables."),
        Tone::quiet});
    return r;
}

Report knockShapeReport(const Study &study, const KnockShares &s) {
    Report r;
    r.title = MARKED("knock_shape.report", "Spark over content by the estimated knock limit");
    r.blocks.push_back(Sentence{
        Phrase{
            MARKED(
                "knock_shape.middle",
                "At {a} the knock limit brings ⟨{0}⟩ of the step between the tables, the mole fraction {1}."),
            {shareOf(s.middle, 0), shareOf(s.moleFraction, 0)},
            {nameOf(study.job(), s.middleContent)}},
        Tone::answer});
    r.blocks.push_back(Sentence{
        Phrase{MARKED("knock_shape.parts",
                      "Without charge cooling, which goes nearly by volume, it would be {0}; without octane "
                      "sensitivity {1}."),
               {shareOf(s.withoutCooling, 0), shareOf(s.withoutSensitivity, 0)}}});
    ReportChart chart;
    chart.title = MARKED("knock_shape.chart", "Share of the top table");
    chart.xTitle = MARKED("knock_shape.x", "content");
    chart.yTitle = MARKED("knock_shape.y", "share");
    chart.x = Dimension::content;
    chart.y = Dimension::ratio;
    ReportChart::Line knock{MARKED("knock_shape.line.knock", "knock limit"), s.contents, s.shares},
        moles{MARKED("knock_shape.line.moles", "mole fraction"), s.contents, {}};
    const auto molesAt = [&](double content) {
        const BlendProperties f = study.fuelAt(content);
        return f.ethanolMoleFraction + f.methanolMoleFraction;
    };
    const double base = molesAt(s.contents.front()), top = molesAt(s.contents.back());
    for (const double c : s.contents)
        moles.y.push_back((molesAt(c) - base) / (top - base));
    chart.lines = {std::move(knock), std::move(moles)};
    r.blocks.push_back(std::move(chart));
    r.blocks.push_back(Sentence{
        MARKED("knock_shape.lines", "Unbroken: the knock limit. Broken: the mole fraction."), Tone::quiet});
    r.blocks.push_back(Sentence{
        Phrase{MARKED("knock_shape.at",
                      "Worked out at {0} and {1}, where the base fuel is held back most at its own boost; no "
                      "further than best spark on the top fuel."),
               {speedOf(s.at.rpm), pressureOf(s.at.loadKpa)}},
        Tone::quiet});
    r.blocks.push_back(Sentence{
        MARKED("knock_shape.own", "It becomes points of your own, to be dragged. An estimate: what pulls at "
                                  "contents between say overrules it."),
        Tone::caution});
    return r;
}

WorkedReport fuelWorthReport(std::shared_ptr<const Study> study, const OperatingPoint &point) {
    WorkedReport out;
    out.report.title = MARKED("fuel_worth.report", "What is this fuel worth here?");
    const auto w = std::make_shared<const FuelWorth>(fuelWorth(*study, point));
    const double base = study->job().calibration.baseContent;
    const auto knockWorking = [study, point] { return explainKnockLimit(*study, point); };
    const auto bestWorking = [study, point] { return explainBestSpark(*study, point); };
    out.say({MARKED("fuel_worth.place",
                    "{a} at {0} and {1}, against the base fuel {b}; each at its own λ target."),
             {speedOf(point.rpm), pressureOf(point.loadKpa)},
             {nameOf(study->job(), point.content), nameOf(study->job(), base)}},
            Tone::quiet);
    if (w->lines.empty()) {
        out.say(
            {MARKED(
                 "fuel_worth.best_counts",
                 "⟨Nothing by knock⟩: up to {0} one of the two never knocks here. Best spark is what counts, "
                 "{1}; more octane than that is worth nothing."),
             {degreesOf(earliestSparkTried), degreesOf(w->here.bestDeg)}},
            Tone::answer, bestWorking);
        return out;
    }
    const WorthLine &fuel = w->lines.front();
    out.say({MARKED("fuel_worth.answer", "{0}, or {1} of boost"),
             {degreesOf(fuel.degrees), {fuel.kpa, Dimension::pressureDifference, 0}}},
            Tone::answer, [working = fuel.working] { return working; });
    Grid grid;
    grid.heads = {MARKED("fuel_worth.head.what", "What"), MARKED("fuel_worth.head.spark", "Spark"),
                  MARKED("fuel_worth.head.boost", "Boost")};
    for (const WorthLine &line : w->lines)
        grid.rows.push_back({line.working.title,
                             out.worked(number(degreesOf(line.degrees)), Tone::plain,
                                        [working = line.working] { return working; }),
                             number({line.kpa, Dimension::pressureDifference, 0})});
    out.report.blocks.push_back(std::move(grid));
    out.say({MARKED("fuel_worth.limits", "It stands {0} here, the base fuel {1}; best spark is {2}."),
             {degreesOf(w->here.knock.deg), degreesOf(w->base.knock.deg), degreesOf(w->here.bestDeg)}},
            Tone::plain, knockWorking);
    const double useful =
        std::min(w->here.knock.deg, w->here.bestDeg) - std::min(w->base.knock.deg, w->base.bestDeg);
    if (w->here.knock.deg > w->here.bestDeg)
        out.say({MARKED("fuel_worth.useful", "Past best spark it is worth nothing: {0} of it can be used."),
                 {degreesOf(useful)}},
                Tone::strong, bestWorking);
    out.say(
        {MARKED("fuel_worth.sigma",
                "An estimate, ± {0} for each limit; the difference is better known than that. What pulls say "
                "overrules it."),
         {degreesOf(w->sigmaDeg)}},
        Tone::caution);
    return out;
}

} // namespace wheelwright
