// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/ladder_reports.h"

#include "core/explain/explain_ladder.h"
#include "core/ladder/ladder_forecast.h"
#include "core/report/numbers.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <memory>

namespace wheelwright {
namespace {

using D = Dimension;

Measured minutesOf(double minutes) {
    return {minutes, D::minutes};
}
// "45 min", "4 h 18 min".
Phrase timeOf(double minutes) {
    constexpr double hour = 60, inHoursFrom = 90;
    if (minutes < inHoursFrom) return number(Measured{minutes, D::minutes, 0});
    const double whole = std::floor(std::round(minutes) / hour);
    return {MARKED("ladder.hours", "{0} h {1}"),
            {{whole, D::none, 0}, {std::round(minutes) - whole * hour, D::minutes, 0}}};
}
Measured moneyOf(double money) {
    return {money, D::money};
}

// "2 cans of 5.0 L Strong", "12 L Pump premium".
Phrase pourWords(const std::string &name, int count, double litres, double canL) {
    if (canL > 0 && count == 1)
        return {MARKED("ladder.pour.can", "one can of {0} {a}"), {litresOf(canL)}, {name}};
    if (canL > 0)
        return {MARKED("ladder.pour.cans", "{0} cans of {1} {a}"),
                {{static_cast<double>(count), D::count}, litresOf(canL)},
                {name}};
    return {MARKED("ladder.pour.litres", "{0} {a}"), {litresOf(litres, 0)}, {name}};
}

Phrase join(std::vector<Phrase> parts) {
    Phrase all = parts.front();
    for (std::size_t i = 1; i < parts.size(); ++i)
        all = {MARKED("ladder.and", "{A}, {B}"), {}, {}, {all, parts[i]}};
    return all;
}

Phrase tankWords(const Rung &r) {
    std::vector<Phrase> parts;
    if (r.drainL > 0) parts.push_back({MARKED("ladder.drain", "drain {0}"), {litresOf(r.drainL, 0)}});
    for (const RungPour &p : r.pours)
        parts.push_back(pourWords(p.name, p.count, p.litres, p.canL));
    return parts.empty() ? Phrase(MARKED("ladder.nothing", "nothing")) : join(std::move(parts));
}

Measured plusMinus(const Rung &r) {
    return {within95 * r.expected.sigma, D::contentDifference, 1};
}

// The files and runs that a gate went by, each once.
Phrase usedWords(const std::vector<GateUse> &used) {
    std::vector<std::string> names;
    for (const GateUse &u : used)
        if (!u.name.empty() && std::ranges::find(names, u.name) == names.end()) names.push_back(u.name);
    if (names.empty()) return {};
    Phrase all = {MARKED("gate.fuels.one", "{a}"), {}, {names.front()}};
    constexpr std::size_t most = 3;
    for (std::size_t i = 1; i < std::min(most, names.size()); ++i)
        all = {MARKED("ladder.and", "{A}, {B}"),
               {},
               {},
               {all, Phrase{MARKED("gate.fuels.one", "{a}"), {}, {names[i]}}}};
    if (names.size() > most)
        all = {MARKED("ladder.used.more", "{A} and {0} more"), {countOf(names.size() - most)}, {}, {all}};
    return all;
}

void sayExpected(const Rung &r, WorkedReport &out) {
    const auto say = [&](Phrase words, RungNumber which) {
        out.say(std::move(words), Tone::plain, [r, which] { return explainRung(r, which); });
    };
    const RungDemand &d = r.demand;
    constexpr double same = 1e-6;
    if (std::abs(r.multiplier - 1) > same)
        say({MARKED("ladder.expect.fuel", "Fuel: {0} times the volume of the base fuel."),
             {{r.multiplier, D::none, 3}}},
            RungNumber::fuel);
    if (d.sparkRpm > 0)
        say({MARKED("ladder.expect.spark", "Spark: the tables ask for {0} at {1} and {2}, {3}."),
             {{d.sparkDeg, D::sparkAngle},
              speedOf(d.sparkRpm),
              pressureOf(d.sparkLoadKpa),
              {d.lambda, D::mixture}}},
            RungNumber::spark);
    if (d.peakKpa)
        say({MARKED("ladder.expect.peak", "Boost: {0} at most, with its overshoot."),
             {pressureOf(*d.peakKpa)}},
            RungNumber::peak);
    say({MARKED("ladder.expect.duty", "Injectors: {0} of their time at worst, in the coldest air."),
         {shareOf(d.duty)}},
        RungNumber::duty);
    if (d.pumpShare)
        say({MARKED("ladder.expect.pump", "Pumps: {0} of what they deliver."), {shareOf(*d.pumpShare)}},
            RungNumber::pump);
}

void sayPass(const PassPlan &p, WorkedReport &out) {
    const auto say = [&](Phrase words, Explanation (*explain)(const PassPlan &)) {
        out.say(std::move(words), Tone::plain, [p, explain] { return explain(p); });
    };
    say({MARKED("ladder.pass.lambda",
                "{0}, AFR {1}, where pills are judged, in the air of today; leanest at {2}: {3}."),
         {{p.lambda, D::mixture}, {p.afr, D::none, 2}, speedOf(p.leanestRpm), {p.leanestLambda, D::mixture}}},
        explainPassLambda);
    if (p.leanerBy != 0)
        say({MARKED("ladder.pass.leaner", "{0} leaner than with the pill before."), {shareOf(p.leanerBy)}},
            explainPassLambda);
    say({MARKED("ladder.pass.exhaust", "Exhaust {0} ± {1} (95 %), by the passes so far and what is usual."),
         {{p.exhaustC.value, D::temperature}, {within95 * p.exhaustC.sigma, D::temperatureDifference}}},
        explainPassExhaust);
}

// Of passes, by pill.
Grid passGrid(const Ladder &l, WorkedReport &out) {
    Grid grid{{MARKED("ladder.head.rung", "rung"), MARKED("ladder.head.state", "state"),
               MARKED("ladder.head.lambda", "λ"), MARKED("ladder.head.afr", "AFR"),
               MARKED("ladder.head.leanest", "leanest λ"), MARKED("ladder.head.at", "at"),
               MARKED("ladder.head.leaner", "leaner by"), MARKED("ladder.head.exhaust", "exhaust")},
              {}};
    for (const Rung &r : l.rungs) {
        if (!r.pass) {
            grid.rows.push_back({rungName(r), rungStateWord(r.state), Phrase{}, Phrase{}, Phrase{}, Phrase{},
                                 Phrase{}, Phrase{}});
            continue;
        }
        const PassPlan &p = *r.pass;
        const Measured lambda{p.lambda, D::mixture}, afr{p.afr, D::none, 2},
            leanest{p.leanestLambda, D::mixture}, exhaust{p.exhaustC.value, D::temperature},
            band{within95 * p.exhaustC.sigma, D::temperatureDifference};
        const auto cell = [&](Phrase words, Explanation (*explain)(const PassPlan &) = explainPassLambda) {
            return out.worked(std::move(words), Tone::plain, [p, explain] { return explain(p); });
        };
        grid.rows.push_back(
            {rungName(r), rungStateWord(r.state), cell(number(lambda)), cell(number(afr)),
             cell(number(leanest)), cell(number(speedOf(p.leanestRpm))), cell(number(shareOf(p.leanerBy))),
             cell({MARKED("ladder.content_within", "{0} ± {1}"), {exhaust, band}}, explainPassExhaust)});
    }
    return grid;
}

} // namespace

Phrase rungName(const Rung &r) {
    switch (r.kind) {
    case RungKind::baseBoost:
        if (!r.boostKpa) return MARKED("rung.name.base", "Base fuel");
        return {MARKED("rung.name.base_boost", "{0}, base fuel"), {pressureOf(*r.boostKpa)}};
    case RungKind::content:
        return {MARKED("rung.name.content", "Content {0}"), {contentOf(r.content)}};
    case RungKind::pass:
        return {MARKED("rung.name.pass", "{0} pill"), {{r.pass->pillMm, D::length}}};
    case RungKind::topBoost:
        return {MARKED("rung.name.top_boost", "{0}, top"), {pressureOf(r.boostKpa.value_or(0))}};
    default:
        return rungKindTitle(r.kind);
    }
}

Phrase rungName(std::string_view id) {
    constexpr std::array kinds{RungKind::preflight, RungKind::pass,     RungKind::baseBoost,
                               RungKind::content,   RungKind::topBoost, RungKind::wayDown,
                               RungKind::road,      RungKind::handOver};
    const std::size_t point = id.find('.');
    const auto kind = std::ranges::find(kinds, id.substr(0, point), rungKindKey);
    if (kind == kinds.end()) return verbatim(std::string(id));
    Rung r;
    r.kind = *kind;
    double number = 0;
    if (point != std::string_view::npos) {
        const std::string_view digits = id.substr(point + 1);
        const auto [end, error] = std::from_chars(digits.data(), digits.data() + digits.size(), number);
        if (error != std::errc{} || end != digits.data() + digits.size()) return verbatim(std::string(id));
        constexpr double hundredths = 100; // of a millimetre, of a content
        r.content = number / hundredths;
        r.boostKpa = number;
        r.pass = PassPlan();
        r.pass->pillMm = number / hundredths;
    } else if (r.kind == RungKind::pass || r.kind == RungKind::content)
        return rungKindTitle(r.kind);
    return rungName(r);
}

Steps rungSteps(const Rung &r) {
    Steps out;
    const auto step = [&](Phrase words) { out.steps.emplace_back(std::move(words)); };
    if (r.drainL > 0)
        step({MARKED("ladder.step.drain", "Drain {0}, into cans of {1}."),
              {litresOf(r.drainL, 0), litresOf(r.drainCanL, 0)}});
    for (const RungPour &p : r.pours)
        step({MARKED("ladder.step.pour", "Pour {A}."),
              {},
              {},
              {pourWords(p.name, p.count, p.litres, p.canL)}});
    if (r.moves()) {
        step({MARKED("ladder.step.tank", "Then the tank holds {0} of {1}, ± {2} by the arithmetic."),
              {litresOf(r.volumeL, 0), contentOf(r.expected.value), plusMinus(r)}});
        step(
            {MARKED("ladder.step.wait",
                    "Drive gently until the reading stands still: about {0} for the sensor, {1} for the last "
                    "injector. No pull before."),
             {minutesOf(r.settleMin), minutesOf(r.settleInjectorsMin)}});
        step(MARKED("ladder.step.confirm", "Confirm the content with a test tube."));
    }
    if (r.boostKpa && r.solenoidDuty)
        step({MARKED("ladder.step.set_solenoid",
                     "Set boost to {0} (solenoid about {1}) and the overboost cut to {2}."),
              {pressureOf(*r.boostKpa), shareOf(*r.solenoidDuty), pressureOf(r.cutKpa)}});
    else if (r.boostKpa)
        step({MARKED("ladder.step.set", "Set boost to {0} and the overboost cut to {1}."),
              {pressureOf(*r.boostKpa), pressureOf(r.cutKpa)}});
    if (r.pulls == 1)
        step(MARKED("ladder.step.pull", "One clean pull, logged."));
    else if (r.pulls > 1)
        step({MARKED("ladder.step.pulls", "{0} clean pulls, logged."), {{r.pulls, D::count}}});
    if (r.pass) {
        step({MARKED("ladder.step.pill", "Fit the {0} main pill."), {{r.pass->pillMm, D::length}}});
        step(MARKED("ladder.step.pass",
                    "One pass, oil pressure in sight; shut off clean. Record exhaust, power, how it "
                    "started, plugs and oil (Flow › Pills)."));
    }
    if (r.kind == RungKind::preflight)
        step(MARKED("ladder.step.preflight", "Look it over cold, item by item."));
    if (r.kind == RungKind::road)
        step(MARKED("ladder.step.road", "On a closed road, logged: it loads the engine differently from a "
                                        "dyno, and boost is often a little higher."));
    if (r.kind == RungKind::handOver)
        step(MARKED("ladder.step.hand_over",
                    "Curves before and after, the fuels that it may run, limits, what "
                    "to check, the file, and a way back."));
    else
        step(MARKED("ladder.step.judge", "Judge by the gates, then go on."));
    return out;
}

Phrase rungInBrief(const Rung &r) {
    std::vector<Phrase> parts;
    if (r.moves()) {
        parts.push_back({MARKED("ladder.brief.tank", "{A}: {0} of {1}."),
                         {litresOf(r.volumeL, 0), contentOf(r.expected.value)},
                         {},
                         {tankWords(r)}});
        parts.push_back({MARKED("ladder.brief.wait", "Wait {0}, then a tube."),
                         {minutesOf(std::max(r.settleMin, r.settleInjectorsMin))}});
    } else if (hasPulls(r.kind)) {
        parts.push_back(MARKED("ladder.brief.stays", "Nothing to pour."));
    }
    if (r.boostKpa)
        parts.push_back({MARKED("ladder.brief.set", "Boost {0}, cut {1}."),
                         {pressureOf(*r.boostKpa), pressureOf(r.cutKpa)}});
    if (r.pulls > 0)
        parts.push_back(
            {MARKED("ladder.brief.pulls", "Light load, a short pull, then {0} full ones. Injectors {1}."),
             {{r.pulls, D::count}, shareOf(r.demand.duty, 0)}});
    if (r.pass)
        parts.push_back({MARKED("ladder.brief.pass",
                                "{0}, AFR {1}; leanest {2} at {3}. Exhaust {4} ± {5}. Then plugs and oil."),
                         {{r.pass->lambda, D::mixture},
                          {r.pass->afr, D::none, 2},
                          {r.pass->leanestLambda, D::mixture},
                          speedOf(r.pass->leanestRpm),
                          {r.pass->exhaustC.value, D::temperature},
                          {within95 * r.pass->exhaustC.sigma, D::temperatureDifference}}});
    if (r.kind == RungKind::preflight)
        parts.push_back(MARKED("ladder.step.preflight", "Look it over cold, item by item."));
    if (r.kind == RungKind::road) parts.push_back(MARKED("ladder.brief.road", "On a closed road, logged."));
    if (r.kind == RungKind::handOver)
        parts.push_back(MARKED("ladder.brief.hand_over", "Curves, fuels, limits, the file, a way back."));
    return together(parts);
}

Phrase rungInLine(const Rung &r) {
    std::vector<Phrase> parts;
    if (r.moves()) parts.push_back(tankWords(r));
    if (r.boostKpa) parts.push_back(number(pressureOf(*r.boostKpa)));
    if (hasPulls(r.kind))
        parts.push_back({MARKED("ladder.line.duty", "injectors {0}"), {shareOf(r.demand.duty, 0)}});
    if (r.pass)
        parts.push_back({MARKED("ladder.line.pass", "{0}, {1} leaner"),
                         {{r.pass->lambda, D::mixture}, shareOf(r.pass->leanerBy)}});
    return parts.empty() ? Phrase{} : join(std::move(parts));
}

WorkedReport rungReport(const Rung &r) {
    WorkedReport out;
    out.report.title = rungName(r);
    if (!r.why.empty()) out.say(r.why, r.state == RungState::outOfReach ? Tone::trouble : Tone::strong);
    if (r.state == RungState::next || r.state == RungState::later) out.report.blocks.push_back(rungSteps(r));
    if (hasPulls(r.kind)) {
        out.report.blocks.push_back(Heading{MARKED("ladder.expected", "Expected, by the model"), 2});
        sayExpected(r, out);
    }
    if (r.pass) {
        out.report.blocks.push_back(Heading{MARKED("ladder.expected", "Expected, by the model"), 2});
        sayPass(*r.pass, out);
    }
    for (const Phrase &remark : r.remarks)
        out.say(remark, Tone::quiet);
    return out;
}

Report lightReport(const Rung &rung, const RungStatus &status, std::size_t laidAside, bool withNext) {
    Report out;
    out.title = rungName(rung);
    const Tone tone = status.light() == RungLight::green ? Tone::strong
                      : status.light() == RungLight::red ? Tone::trouble
                                                         : Tone::caution;
    out.blocks.push_back(Sentence{
        {MARKED("ladder.light", "{A}: {B}."), {}, {}, {rungName(rung), rungLightWord(status.light())}},
        tone});
    if (const GateResult *first = status.first(); first && withNext)
        out.blocks.push_back(Sentence{
            {MARKED("ladder.do_first", "Next, {A}: {B}"), {}, {}, {first->gate->title, first->answer.toPass}},
            Tone::strong});
    if (laidAside > 0)
        out.blocks.push_back(
            Sentence{{MARKED("ladder.laid_aside",
                             "The samples of {0} long logs are not at hand: they say nothing here."),
                      {countOf(laidAside)}},
                     Tone::caution});
    return out;
}

Report passReport(const Job &job, const Rung &rung) {
    Report out;
    out.title = rungName(rung);
    for (const RungPass &p : job.ladderPassed)
        if (p.rung == rung.id) {
            out.blocks.push_back(
                Sentence{p.by == PassedBy::hand
                             ? Phrase{MARKED("ladder.passed_by_hand", "Passed by hand, {a}: {b}"),
                                      {},
                                      {p.at, p.reason}}
                             : Phrase{MARKED("ladder.passed_by_evidence", "Passed by evidence, {a}, at {0}."),
                                      {contentOf(p.content)},
                                      {p.at}},
                         p.by == PassedBy::hand ? Tone::caution : Tone::strong});
        }
    return out;
}

Report passedReport(const Job &job) {
    Report out;
    out.title = MARKED("ladder.passed", "Rungs passed");
    if (job.ladderPassed.empty()) {
        out.blocks.push_back(Sentence{MARKED("ladder.passed.none", "None yet."), Tone::quiet});
        return out;
    }
    Grid grid{{MARKED("ladder.head.rung", "rung"), MARKED("ladder.head.when", "when"),
               MARKED("ladder.head.by", "by"), MARKED("ladder.head.content", "content"),
               MARKED("ladder.head.boost", "boost"), MARKED("ladder.head.power", "power"),
               MARKED("ladder.head.cost", "cost"), MARKED("ladder.head.reason", "reason")},
              {}};
    const auto name = [](const std::string &s) {
        return s.empty() ? Phrase{} : Phrase{MARKED("gate.fuels.one", "{a}"), {}, {s}};
    };
    const auto known = [](double v, Dimension d) { return v > 0 ? number({v, d}) : Phrase{}; };
    for (const RungPass &p : job.ladderPassed)
        grid.rows.push_back({name(p.rung), name(p.at),
                             p.by == PassedBy::hand
                                 ? Sentence{MARKED("ladder.by.hand", "hand"), Tone::caution}
                                 : Sentence{MARKED("ladder.by.evidence", "evidence")},
                             number(contentOf(p.content)), known(p.boostKpa, D::pressure),
                             known(p.powerKw, D::power), known(p.price, D::money), name(p.reason)});
    out.blocks.push_back(std::move(grid));
    return out;
}

Report gateReport(const GateResult &g) {
    Report out;
    out.title = g.gate->title;
    const GateVerdict v = g.answer.verdict;
    out.blocks.push_back(
        Sentence{{MARKED("ladder.gate.answer", "{A} {B}"), {}, {}, {g.gate->question, g.answer.said}},
                 v == GateVerdict::passed   ? Tone::plain
                 : v == GateVerdict::failed ? Tone::trouble
                                            : Tone::caution});
    if (!g.answer.toPass.empty()) out.blocks.push_back(Sentence{g.answer.toPass});
    if (Phrase used = usedWords(g.answer.used); !used.empty())
        out.blocks.push_back(Sentence{{MARKED("ladder.gate.used", "By {A}."), {}, {}, {used}}, Tone::quiet});
    return out;
}

Report gatesReport(const Rung &rung, const RungStatus &status) {
    Report out = lightReport(rung, status);
    Grid grid{{MARKED("ladder.gate.gate", "gate"), MARKED("ladder.gate.verdict", "verdict"),
               MARKED("ladder.gate.found", "found"), MARKED("ladder.gate.by", "by"),
               MARKED("ladder.gate.to_pass", "what would pass it")},
              {}};
    for (const GateResult &g : status.gates) {
        const GateVerdict v = g.answer.verdict;
        const Tone how = v == GateVerdict::passed   ? Tone::plain
                         : v == GateVerdict::failed ? Tone::trouble
                                                    : Tone::caution;
        grid.rows.push_back({Sentence{g.gate->title}, Sentence{Phrase(gateVerdictWord(v)), how},
                             g.answer.said, usedWords(g.answer.used), g.answer.toPass});
    }
    out.blocks.push_back(std::move(grid));
    return out;
}

Report shoppingReport(const Ladder &l) {
    Report out;
    out.title = MARKED("ladder.shopping", "To have at hand");
    if (l.shopping.empty()) {
        out.blocks.push_back(Sentence{MARKED("ladder.shopping.none", "No fuel.")});
        return out;
    }
    Grid grid{{MARKED("ladder.shopping.what", "what"), MARKED("ladder.shopping.litres", "litres"),
               MARKED("ladder.shopping.cost", "cost")},
              {}};
    for (const ShoppingItem &item : l.shopping)
        grid.rows.push_back({pourWords(item.name, item.count, item.litres, item.canL),
                             number(litresOf(item.litres)), number(moneyOf(item.price))});
    out.blocks.push_back(std::move(grid));
    for (const ShoppingItem &item : l.shopping)
        for (const Phrase &caution : item.cautions)
            out.blocks.push_back(Sentence{caution, Tone::caution});
    return out;
}

WorkedReport ladderReport(const Ladder &l) {
    WorkedReport out;
    out.report.title = MARKED("ladder.title", "Ladder");
    if (!l.ends.empty()) out.say(l.ends, Tone::trouble);
    for (const Phrase &remark : l.remarks)
        out.say(remark, Tone::caution);
    if (l.rungs.empty()) return out;
    if (l.passes) {
        out.report.blocks.push_back(passGrid(l, out));
        out.say({MARKED("ladder.totals.passes", "Still to come: {A}."), {}, {}, {timeOf(l.minutes)}});
        return out;
    }
    Grid grid{{MARKED("ladder.head.rung", "rung"), MARKED("ladder.head.state", "state"),
               MARKED("ladder.head.tank", "drain and pour"), MARKED("ladder.head.content", "content"),
               MARKED("ladder.head.settle", "settles"), MARKED("ladder.head.fuel", "fuel"),
               MARKED("ladder.head.spark", "spark"), MARKED("ladder.head.boost", "boost"),
               MARKED("ladder.head.cut", "cut"), MARKED("ladder.head.duty", "duty"),
               MARKED("ladder.head.pulls", "pulls"), MARKED("ladder.head.cost", "cost")},
              {}};
    for (const Rung &r : l.rungs) {
        const bool open = r.state == RungState::next || r.state == RungState::later;
        const bool pulls = hasPulls(r.kind);
        const auto shared = std::make_shared<const Rung>(r);
        const auto when = [](bool there, Phrase words) { return there ? words : Phrase{}; };
        const auto cell = [&](bool there, Phrase words, RungNumber which) {
            return there ? out.worked(std::move(words), Tone::plain,
                                      [shared, which] { return explainRung(*shared, which); })
                         : Sentence{Phrase{}};
        };
        grid.rows.push_back(
            {rungName(r), rungStateWord(r.state), when(open && r.moves(), tankWords(r)),
             cell(open && r.volumeL > 0 && pulls,
                  {MARKED("ladder.content_within", "{0} ± {1}"), {contentOf(r.expected.value), plusMinus(r)}},
                  RungNumber::content),
             cell(r.settleMin > 0, number(minutesOf(std::max(r.settleMin, r.settleInjectorsMin))),
                  RungNumber::settles),
             cell(pulls, {MARKED("ladder.times", "× {0}"), {{r.multiplier, D::none, 3}}}, RungNumber::fuel),
             cell(pulls && r.demand.sparkRpm > 0, number({r.demand.sparkDeg, D::sparkAngle}),
                  RungNumber::spark),
             when(r.boostKpa.has_value(), number(pressureOf(r.boostKpa.value_or(0)))),
             cell(r.cutKpa > 0, number(pressureOf(r.cutKpa)), RungNumber::cut),
             cell(pulls, number(shareOf(r.demand.duty)), RungNumber::duty),
             when(r.pulls > 0, number({r.pulls, D::count})),
             cell(r.price > 0, number(moneyOf(r.price)), RungNumber::cost)});
    }
    out.report.blocks.push_back(std::move(grid));
    out.say({MARKED("ladder.totals", "Still to come: {0} of fuel for {1}, {2} drained, {A}."),
             {litresOf(l.pouredL, 0), moneyOf(l.price), litresOf(l.drainedL, 0)},
             {},
             {timeOf(l.minutes)}});
    const Report shopping = shoppingReport(l);
    out.report.blocks.push_back(Heading{shopping.title, 2});
    out.report.blocks.insert(out.report.blocks.end(), shopping.blocks.begin(), shopping.blocks.end());
    return out;
}

} // namespace wheelwright
