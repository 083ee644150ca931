// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/forecast_reports.h"

#include "core/explain/explain_ladder.h"
#include "core/report/ladder_reports.h"
#include "core/report/numbers.h"

#include <algorithm>
#include <cmath>
#include <memory>

namespace wheelwright {
namespace {

using D = Dimension;

Measured halfOf(const Uncertain &u, Dimension of, int decimals = -1) {
    return {within95 * u.sigma, differenceOf(of), decimals};
}

Phrase withBand(const Uncertain &u, Dimension of, int decimals = -1) {
    return {MARKED("ladder.content_within", "{0} ± {1}"), {{u.value, of, decimals}, halfOf(u, of, decimals)}};
}

bool known(double v) {
    return v == v;
}

Phrase evidenceWords(std::size_t rungs) {
    if (rungs == 0)
        return MARKED("ladder.forecast.nothing", "Nobody has made a full pull yet: this is by the tables "
                                                 "alone, with the ± that tables usually have.");
    if (rungs == 1)
        return MARKED("ladder.forecast.one",
                      "By the full pulls of one rung, and the ± that tables usually have.");
    return {MARKED("ladder.forecast.rungs", "By the full pulls of {0} rungs."), {countOf(rungs)}};
}

ReportChart dutyChart(const Ladder &ladder, const LadderForecast &f, double caution) {
    ReportChart chart;
    chart.xTitle = MARKED("ladder.head.content", "content");
    chart.yTitle = MARKED("ladder.head.duty", "duty");
    chart.x = D::content;
    chart.y = D::ratio;
    ReportChart::Line forecast{
        MARKED("ladder.forecast.line", "forecast, 95 %"), {}, {}, {}, ReportChart::Line::Marks::joined},
        found{MARKED("ladder.forecast.found", "found"), {}, {}, {}, ReportChart::Line::Marks::alone};
    std::optional<double> boostKpa;
    for (const RungForecast &r : f.open) {
        const Rung *rung = ladder.byId(r.rung);
        if (!rung || rung->kind != RungKind::content) continue;
        boostKpa = rung->boostKpa;
        forecast.x.push_back(rung->content);
        forecast.y.push_back(r.duty.value);
        forecast.half.push_back(within95 * r.duty.sigma);
    }
    for (const PullTrends::Found &p : f.found)
        if (known(p.duty) && (!boostKpa || std::abs(p.boostKpa - *boostKpa) <= samePlaceKpa)) {
            found.x.push_back(p.content);
            found.y.push_back(p.duty);
        }
    chart.title =
        boostKpa ? Phrase{MARKED("ladder.forecast.chart_at", "Injectors over content at {0}, λ on target"),
                          {pressureOf(*boostKpa)}}
                 : Phrase(MARKED("ladder.forecast.chart", "Injectors over content, λ on target"));
    if (forecast.x.empty()) return chart;
    chart.lines.push_back(std::move(forecast));
    if (!found.x.empty()) chart.lines.push_back(std::move(found));
    chart.lines.push_back({MARKED("ladder.forecast.caution", "caution"), {0.0, 1.0}, {caution, caution}});
    return chart;
}

} // namespace

Sentence crossingWords(const DutyCrossing &c) {
    const Dimension of = c.overContent ? D::content : D::pressure;
    const double end = c.overContent ? c.content : c.boostKpa;
    const Measured duty = shareOf(c.duty), highest{end, of}, likely = shareOf(c.atEnd.value);
    const auto contentIs = [&](double v) {
        return Phrase{MARKED("ladder.crossing.a_content", "a content of {0}"), {{v, D::content}}};
    };
    const auto boostIs = [&](double v) { return number({v, D::pressure}); };
    const Phrase where = !c.overContent ? contentIs(c.content)
                         : c.boostKpa > 0
                             ? boostIs(c.boostKpa)
                             : Phrase(MARKED("ladder.crossing.tables", "the pressures of its tables"));
    const auto at = [&](double v) { return c.overContent ? contentIs(v) : boostIs(v); };
    if (known(c.at) && c.at <= end) {
        const double half = known(c.latest) ? (c.latest - c.earliest) / 2 : c.at - c.earliest;
        return {{MARKED("ladder.crossing.will",
                        "At {A} the injectors will reach {0} of their time at {B} ± {1}, in the "
                        "coldest air. The way is to end at {2}."),
                 {duty, {half, differenceOf(of)}, highest},
                 {},
                 {where, at(c.at)}},
                Tone::trouble};
    }
    if (known(c.earliest) && c.earliest <= end)
        return {{MARKED("ladder.crossing.may",
                        "At {A} the injectors may reach {0} of their time from {B} on, in the coldest "
                        "air; most likely they have {1} at {2}, where the way ends."),
                 {duty, likely, highest},
                 {},
                 {where, at(c.earliest)}},
                Tone::caution};
    return {{MARKED("ladder.crossing.not",
                    "At {A} the injectors stay under {0} of their time up to {B}: {1} ± {2} there, in "
                    "the coldest air."),
             {duty, likely, shareOf(within95 * c.atEnd.sigma)},
             {},
             {where, at(end)}},
            Tone::plain};
}

WorkedReport rungForecastReport(const RungForecast &f, std::size_t rungs) {
    WorkedReport out;
    out.report.title = MARKED("ladder.forecast.title", "Forecast");
    const auto say = [&](Phrase words, ForecastNumber which, Tone tone = Tone::plain) {
        out.say(std::move(words), tone, [f, which, rungs] { return explainForecast(f, which, rungs); });
    };
    say({MARKED("ladder.forecast.duty",
                "Injectors, λ on target: ⟨{A}⟩ at {0} and {1}, air {2}. The tables ask for {3} "
                "there; the engine needs {4} ± {5} more of it."),
         {speedOf(f.rpm),
          pressureOf(f.loadKpa),
          {f.intakeC, D::temperature},
          shareOf(f.tablesDuty),
          shareOf(f.fuelOver.value),
          shareOf(within95 * f.fuelOver.sigma)},
         {},
         {withBand(f.duty, D::ratio)}},
        ForecastNumber::duty);
    constexpr double sayFrom = 0.03; // λ
    const bool off = std::abs(f.lambdaError.value) > sayFrom;
    say({MARKED("ladder.forecast.lambda",
                "λ of the first pull, with the tables as they are: {0} from its target, ± {1}."),
         {{f.lambdaError.value, D::mixture, 3}, {within95 * f.lambdaError.sigma, D::mixture, 3}}},
        ForecastNumber::lambdaError, off ? Tone::caution : Tone::plain);
    if (f.heldKpa)
        say({MARKED("ladder.forecast.boost", "Boost: {A}."), {}, {}, {withBand(*f.heldKpa, D::pressure)}},
            ForecastNumber::boost);
    if (f.solenoidDuty)
        say({MARKED("ladder.forecast.solenoid", "Solenoid: {A}."),
             {},
             {},
             {withBand(*f.solenoidDuty, D::ratio)}},
            ForecastNumber::solenoid);
    if (f.standsSparkDeg)
        say({MARKED("ladder.forecast.spark",
                    "Spark at {0} and {1}: the engine stands {A}; the tables ask for {2}."),
             {speedOf(f.sparkRpm), pressureOf(f.sparkLoadKpa), {f.askedSparkDeg, D::sparkAngle}},
             {},
             {withBand(*f.standsSparkDeg, D::sparkAngle)}},
            ForecastNumber::standsSpark,
            f.askedSparkDeg > f.standsSparkDeg->value ? Tone::caution : Tone::plain);
    if (f.powerKw)
        say({MARKED("ladder.forecast.power", "Power: {A}."), {}, {}, {withBand(*f.powerKw, D::power)}},
            ForecastNumber::power);
    out.say(evidenceWords(rungs), Tone::quiet);
    return out;
}

WorkedReport forecastReport(const Ladder &ladder, const LadderForecast &f, double caution) {
    WorkedReport out;
    out.report.title = MARKED("ladder.forecast.title", "Forecast");
    if (f.open.empty()) {
        out.say(MARKED("ladder.forecast.none", "No rung with pulls is still to come."), Tone::quiet);
        return out;
    }
    // What ends it stands first.
    std::vector<Sentence> crossings;
    crossings.reserve(f.crossings.size());
    for (const DutyCrossing &c : f.crossings)
        crossings.push_back(crossingWords(c));
    std::stable_partition(crossings.begin(), crossings.end(),
                          [](const Sentence &s) { return s.tone == Tone::trouble; });
    for (Sentence &s : crossings)
        out.report.blocks.push_back(std::move(s));
    Grid grid{{MARKED("ladder.head.rung", "rung"), MARKED("ladder.forecast.head.duty", "duty, λ on target"),
               MARKED("ladder.forecast.head.lambda", "λ beside target at first"),
               MARKED("ladder.head.boost", "boost"), MARKED("ladder.forecast.head.solenoid", "solenoid"),
               MARKED("ladder.forecast.head.asked", "spark asked"),
               MARKED("ladder.forecast.head.stands", "spark it stands"),
               MARKED("ladder.head.power", "power")},
              {}};
    for (const RungForecast &r : f.open) {
        const Rung *rung = ladder.byId(r.rung);
        const auto shared = std::make_shared<const RungForecast>(r);
        const auto cell = [&](Phrase words, ForecastNumber which, Tone tone = Tone::plain) {
            return out.worked(std::move(words), tone, [shared, which, rungs = f.rungs] {
                return explainForecast(*shared, which, rungs);
            });
        };
        const auto perhaps = [&](const std::optional<Uncertain> &u, Dimension of, ForecastNumber which) {
            return u ? cell(withBand(*u, of), which)
                     : Sentence{MARKED("ladder.forecast.unknown", "not known"), Tone::quiet};
        };
        constexpr int thousandths = 3; // λ less its target is a plain number
        grid.rows.push_back(
            {rung ? rungName(*rung) : Phrase{}, cell(withBand(r.duty, D::ratio, 1), ForecastNumber::duty),
             cell(withBand(r.lambdaError, D::none, thousandths), ForecastNumber::lambdaError),
             perhaps(r.heldKpa, D::pressure, ForecastNumber::boost),
             perhaps(r.solenoidDuty, D::ratio, ForecastNumber::solenoid),
             cell(number({r.askedSparkDeg, D::sparkAngle}), ForecastNumber::askedSpark,
                  r.standsSparkDeg && r.askedSparkDeg > r.standsSparkDeg->value ? Tone::caution
                                                                                : Tone::plain),
             perhaps(r.standsSparkDeg, D::sparkAngle, ForecastNumber::standsSpark),
             perhaps(r.powerKw, D::power, ForecastNumber::power)});
    }
    out.report.blocks.push_back(std::move(grid));
    out.say(evidenceWords(f.rungs));
    out.say(
        {MARKED("ladder.forecast.air", "In the air of the last pulls, {0}; ± holds 95 of 100. What comes out "
                                       "otherwise has a cause: the gate 'As forecast' asks for it."),
         {{f.open.front().intakeC, D::temperature}}},
        Tone::quiet);
    if (ReportChart chart = dutyChart(ladder, f, caution); !chart.lines.empty())
        out.report.blocks.push_back(std::move(chart));
    return out;
}

} // namespace wheelwright
