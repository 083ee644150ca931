// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/flow_reports.h"

#include "core/study/rail_sag.h"

#include "core/base/limits.h"
#include "core/explain/explain_flow.h"
#include "core/flow/injector_set.h"
#include "core/report/numbers.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

using D = Dimension;

const Verdict::Row *rowOf(const FlowLook &look, std::string_view check) {
    if (!look.verdict) return nullptr;
    for (const Verdict::Row &r : look.verdict->rows)
        if (r.check->id == check) return &r;
    return nullptr;
}

WorstPlace placeNow(const FlowLook &look, const Verdict::Row &row) {
    return *std::ranges::min_element(row.outcome.byContent, {},
                                     [&](const WorstPlace &p) { return std::abs(p.content - look.content); });
}

WorkedReport::Explain workingOf(const FlowLook &look, const Verdict::Row &row) {
    return [verdict = look.verdict, check = row.check, place = placeNow(look, row)] {
        return check->explain(verdict->study->evaluation(), place);
    };
}

void sayHandling(WorkedReport &out) {
    out.say(MARKED("flow.methanol",
                   "Methanol is poisonous by swallowing, breath and skin, and its flame is hard "
                   "to see in daylight."),
            Tone::quiet);
}

} // namespace

WorkedReport frontierReport(const FlowLook &look, const std::shared_ptr<const Frontier> &f) {
    WorkedReport out;
    out.report.title = MARKED("flow.frontier", "What ends the boost first");
    if (look.study->job().control == FuelControl::mechanical) {
        out.say(
            MARKED("flow.frontier.mechanical",
                   "Fuel is metered mechanically: there is no table to hold against the hardware. Look at "
                   "⟨Pills⟩."));
        return out;
    }
    for (const Frontier::Sentence &s : f->sentences) {
        // Its working is of the content that it speaks of.
        const bool names = !s.words.values.empty() && s.words.values.front().dimension == D::content;
        const double content = names ? s.words.values.front().value : look.content;
        out.say(s.words, out.workings.empty() ? Tone::strong : Tone::plain,
                [study = look.study, part = s.part, content] { return explainLimit(*study, part, content); });
    }
    const std::size_t at = f->nearest(look.content);
    if (at < f->powerKw.size())
        out.say({MARKED("flow.frontier.power",
                        "Fuel for {0} to {1} at {2}, by the usual specific consumption (common practice)."),
                 {{f->powerKw[at].first, D::power},
                  {f->powerKw[at].second, D::power},
                  contentOf(f->contents[at])}},
                Tone::quiet, [study = look.study, f, at] { return explainPower(study->job(), *f, at); });
    return out;
}

std::optional<ReportChart> frontierChart(const Frontier &f) {
    if (f.contents.empty()) return std::nullopt;
    // What limits nothing near what is asked would press all others flat.
    double asked = 0;
    for (std::size_t i = 0; i < f.contents.size(); ++i)
        asked = std::max({asked, f.targetKpa[i], f.peakKpa[i]});
    constexpr double roomOver = 1.5;
    const double top = std::min(roomOver * asked, mostFrontierKpa);
    ReportChart out;
    out.title =
        MARKED("flow.frontier.chart", "Boost that each part allows; at the upper edge it allows more");
    out.xTitle = MARKED("flow.frontier.content", "Content");
    out.yTitle = MARKED("flow.frontier.boost", "manifold pressure");
    out.x = D::content;
    out.y = D::pressure;
    out.lines.push_back({MARKED("flow.frontier.target", "asked for"), f.contents, f.targetKpa});
    out.lines.push_back({MARKED("flow.frontier.peak", "how far it goes"), f.contents, f.peakKpa});
    for (const FrontierLine &line : f.lines) {
        if (std::ranges::all_of(line.kpa, [top](double kpa) { return kpa >= top; })) continue;
        std::vector<double> kpa;
        kpa.reserve(line.kpa.size());
        for (const double v : line.kpa)
            kpa.push_back(std::min(v, top));
        out.lines.push_back({limitingPartTitle(line.part), f.contents, std::move(kpa)});
    }
    return out;
}

namespace {

void sayAssignment(const FlowLook &look, WorkedReport &out) {
    const Job &job = look.study->job();
    if (job.measuredInjectors.empty() || job.measuredInjectors.size() != job.cylinderNeeds.size())
        return out.say(MARKED("flow.injectors.no_set",
                              "Give as many measured flows as cylinders, and the best "
                              "place for each is worked out."),
                       Tone::quiet);
    std::vector<double> flows, needs;
    for (std::size_t i = 0; i < job.measuredInjectors.size(); ++i) {
        flows.push_back(job.measuredInjectors[i].flowCcMin);
        needs.push_back(job.cylinderNeeds[i].need);
    }
    const InjectorAssignment a = assignInjectors(flows, needs);
    out.say({MARKED("flow.injectors.spread",
                    "⟨Which injector where⟩: λ spread {0}; as listed {1}, by chance {2}."),
             {shareOf(a.spread, 2), shareOf(a.asListedSpread, 2), shareOf(a.randomSpread, 2)}});
    Grid grid{{MARKED("flow.injectors.cylinder", "cylinder"), MARKED("flow.injectors.injector", "injector"),
               MARKED("flow.injectors.flow", "flow"), MARKED("flow.injectors.lambda", "λ against the mean")},
              {}};
    for (std::size_t c = 0; c < a.injectorOf.size(); ++c) {
        const auto cell = [&](Phrase words) {
            return out.worked(std::move(words), Tone::plain,
                              [study = look.study, a, c] { return explainAssignment(study->job(), a, c); });
        };
        grid.rows.push_back({verbatim(job.cylinderNeeds[c].label),
                             cell(strongName(job.measuredInjectors[a.injectorOf[c]].label)),
                             cell(number({flows[a.injectorOf[c]], D::volumeFlow})),
                             cell(number(shareOf(a.lambdaRatio[c] - 1)))});
    }
    out.report.blocks.push_back(std::move(grid));
}

} // namespace

WorkedReport injectorsReport(const FlowLook &look) {
    WorkedReport out;
    out.report.title = MARKED("flow.injectors", "Injectors");
    if (look.study->job().control == FuelControl::mechanical) {
        out.say(MARKED("flow.injectors.mechanical",
                       "Fuel is metered mechanically: there are no injectors to judge. Look at ⟨Pills⟩."));
        return out;
    }
    for (const char *check : {"flow.duty", "flow.min_pulse"}) {
        const Verdict::Row *r = rowOf(look, check);
        if (!r) continue;
        const WorstPlace worst = placeNow(look, *r);
        out.say({MARKED("flow.injectors.worst", "{A} ⟨{0}⟩ at worst, at {1}: {2}, {3}."),
                 {{worst.value, r->check->dimension},
                  contentOf(worst.content),
                  speedOf(worst.rpm),
                  pressureOf(worst.loadKpa)},
                 {},
                 {r->check->title}},
                Tone::strong, workingOf(look, *r));
    }
    sayAssignment(look, out);
    return out;
}

bool returnKnown(const Job &job) {
    return job.control == FuelControl::controller && !job.supply.pumps.empty();
}

WorkedReport pumpsReport(const FlowLook &look) {
    if (returnKnown(look.study->job()))
        return pumpsReport(look, returnFlow(*look.study, look.content), freezeLine(*look.study));
    WorkedReport out;
    out.report.title = MARKED("flow.pumps", "Pumps and return");
    if (look.study->job().control == FuelControl::mechanical)
        out.say(MARKED("flow.pumps.mechanical",
                       "Fuel is metered mechanically: what comes back is the pills' work. Look at ⟨Pills⟩."));
    else
        out.say(MARKED("flow.pumps.none",
                       "Enter the data of a pump (flow at some pressures and voltages), then "
                       "which pumps are fitted. The share that the engine takes and what "
                       "comes back past a sensor follow."));
    return out;
}

WorkedReport pumpsReport(const FlowLook &look, const EngineMap &map, const FreezeLine &freeze) {
    const Job &job = look.study->job();
    WorkedReport out;
    out.report.title = MARKED("flow.pumps", "Pumps and return");
    std::size_t least = map.value.size();
    for (std::size_t i = 0; i < map.value.size(); ++i)
        if (map.reached[i] && (least == map.value.size() || map.value[i] < map.value[least])) least = i;
    if (least < map.value.size()) {
        const OperatingPoint at{look.content, map.rpm[least / map.loadKpa.size()],
                                map.loadKpa[least % map.loadKpa.size()]};
        const double back = map.value[least];
        out.say({MARKED("flow.pumps.least", "At {0} at least ⟨{1}⟩ comes back, at {2}, {3}."),
                 {contentOf(look.content), {back, D::flowLMin}, speedOf(at.rpm), pressureOf(at.loadKpa)}},
                Tone::strong,
                [study = look.study, at, back] { return explainReturn(study->job(), at, back); });
    }
    if (const Verdict::Row *r = rowOf(look, "flow.pump"))
        out.say({MARKED("flow.pumps.share",
                        "The engine takes ⟨{0}⟩ of what the pumps give at worst, its margin counted in."),
                 {shareOf(placeNow(look, *r).value)}},
                Tone::strong, workingOf(look, *r));
    if (freeze.needed)
        out.say({MARKED("flow.pumps.freeze",
                        "A content sensor in the return: freeze its reading above ⟨{0}⟩ and ⟨{1}⟩."),
                 {pressureOf(freeze.loadKpa), speedOf(freeze.rpm)}});
    else
        out.say(MARKED("flow.pumps.no_freeze", "A content sensor in the return gets enough at every content: "
                                               "nothing has to be frozen."));
    const CommandedAcross commanded = commandedAcross(*look.study, look.content);
    if (commanded.kpa > 0 && job.supply.measuredKpa > 0) {
        const double sag = railSag(commanded.kpa, job.supply.measuredKpa);
        out.say({MARKED("flow.pumps.sag", "By the log the pressure across the injectors sags by ⟨{0}⟩."),
                 {shareOf(sag)}},
                Tone::strong,
                [study = look.study, content = look.content] { return explainSag(*study, content); });
        if (sag > limitOf(job, "flow.sag"))
            out.say(
                MARKED("flow.pumps.at_its_end", "The supply is at its end: do not add fuel in the table."),
                Tone::trouble);
    }
    out.say(
        {MARKED("flow.pumps.log", "A log whose Δp lies more than {0} under the commanded one is a supply at "
                                  "its end: fuel added to the table hides it."),
         {shareOf(limitOf(job, "flow.sag"), 0)}},
        Tone::quiet);
    return out;
}

namespace {

Phrase pullsIn(const BoostGroup &g) {
    if (g.gear > 0)
        return {MARKED("flow.boost.gear", "gear {0}, {1}"), {{g.gear, D::count}, contentOf(g.content)}};
    return number(contentOf(g.content));
}

void sayBoostSteps(const FlowLook &look, const BoostGroup &group, WorkedReport &out) {
    const BoostStepPlan plan = planBoostSteps(*look.study, group, look.content);
    out.say({MARKED("flow.boost.pulls", "By the pulls in {A}, which lie within ± ⟨{0}⟩ of a curve that never "
                                        "falls, from {1} to the target {2}:"),
             {{group.fit->sigma(), D::pressureDifference}, gaugeOf(plan.fromKpa), gaugeOf(plan.targetKpa)},
             {},
             {pullsIn(group)}},
            Tone::plain, [study = look.study, group] { return explainBoostFit(study->job(), group); });
    Grid grid{{MARKED("flow.boost.pull", "pull"), MARKED("flow.boost.duty", "duty"),
               MARKED("flow.boost.boost", "boost"), MARKED("flow.boost.sigma", "±"),
               MARKED("flow.boost.cut", "overboost cut"), Phrase{}},
              {}};
    for (std::size_t i = 0; i < plan.steps.size(); ++i) {
        const BoostStep &s = plan.steps[i];
        const auto cell = [&](Phrase words) {
            return out.worked(std::move(words), Tone::plain, [study = look.study, group, s] {
                return explainBoostStep(study->job(), group, s);
            });
        };
        grid.rows.push_back(
            {number(countOf(i + 1)), cell(number(shareOf(s.duty))), cell(strongNumber(gaugeOf(s.boostKpa))),
             cell(number({2 * s.sigmaKpa, D::pressureDifference})), cell(number(pressureOf(s.cutKpa))),
             s.beyond ? Phrase{MARKED("flow.boost.beyond", "past every pull")} : Phrase{}});
    }
    if (!plan.steps.empty()) out.report.blocks.push_back(std::move(grid));
    if (!plan.remark.empty()) out.say(plan.remark);
}

} // namespace

WorkedReport boostReport(const FlowLook &look) {
    const Job &job = look.study->job();
    WorkedReport out;
    out.report.title = MARKED("flow.boost", "Boost");
    if (job.boost.springKpa > 0) {
        Phrase words{MARKED("flow.boost.spring", "Spring ⟨{0}⟩: {1} is twice it, {2} three times."),
                     {gaugeOf(job.boost.springKpa), gaugeOf(2 * job.boost.springKpa),
                      gaugeOf(3 * job.boost.springKpa)}};
        if (const Verdict::Row *r = rowOf(look, "boost.spring"))
            out.say(std::move(words), Tone::strong, workingOf(look, *r));
        else
            out.say(std::move(words), Tone::strong);
    }
    const std::vector<BoostGroup> groups = boostGroups(job);
    const BoostGroup *group = boostGroupFor(groups, 0, look.content);
    if (!group)
        out.say(MARKED("flow.boost.no_pulls",
                       "Note duty and boost of a few pulls: the curve between them, and "
                       "the steps up to the target with their cuts, follow."),
                Tone::quiet);
    else if (job.control == FuelControl::controller)
        sayBoostSteps(look, *group, out);
    constexpr double psi = 6.894757; // common practice speaks of 1 to 2
    out.say({MARKED("flow.boost.slowly",
                    "One small step a pull, spark kept low where the engine has not been before, the cut "
                    "moved first. On the road it makes {0} to {1} more than on the dyno."),
             {{psi, Dimension::pressureDifference}, {2 * psi, Dimension::pressureDifference}}},
            Tone::quiet);
    return out;
}

bool sprays(const Job &job) {
    return job.aux.fitted && job.control == FuelControl::controller;
}

namespace {

void sayLoss(const FlowLook &look, const std::vector<SprayCell> &cells, WorkedReport &out) {
    const Verdict::Row *r = rowOf(look, "aux.loss");
    if (!r || cells.empty()) return;
    const WorstPlace p = placeNow(look, *r);
    out.say(
        {MARKED("flow.spray.stops", "When it stops, with the trimmed tables: ⟨{0}⟩ at worst, at {1}, {2}."),
         {{p.value, D::mixture}, speedOf(p.rpm), pressureOf(p.loadKpa)}},
        Tone::strong, workingOf(look, *r));
    const SprayCell cell = *std::ranges::min_element(cells, {}, [&](const SprayCell &c) {
        return std::abs(c.rpm - p.rpm) / 1000 + std::abs(c.loadKpa - p.loadKpa) / 20;
    });
    const double leaning = sparkOnSpray(*look.study, look.content, cell);
    const auto explain = [study = look.study, content = look.content, cell] {
        return explainSprayCell(*study, content, cell);
    };
    const Measured spark{cell.sparkDeg, D::sparkAngle}, alcohol = contentOf(cell.alcoholWith);
    constexpr double some = 0.05;
    if (leaning < some)
        out.say({MARKED("flow.spray.spark_unknown",
                        "The spark stays at ⟨{0}⟩ there. The spray makes it a fuel of {1} alcohol; the spark "
                        "tables hold nothing for that, and what the fuel alone stands is not known here."),
                 {spark, alcohol}},
                Tone::plain, explain);
    else
        out.say(
            {MARKED("flow.spray.spark",
                    "The spark stays at ⟨{0}⟩ there. The spray makes it a fuel of {1} alcohol; for that the "
                    "spark tables hold {2} more than for the fuel alone, which is the least to take back "
                    "when it stops."),
             {spark, alcohol, {leaning, D::sparkAngle}}},
            Tone::plain, explain);
    if (r->state == CheckState::failing)
        out.say(MARKED("flow.spray.fail_safe",
                       "Not without a fail-safe: boost cut or spark taken back by a flow switch."),
                Tone::trouble);
}

} // namespace

WorkedReport sprayReport(const FlowLook &look, const std::vector<SprayCell> &cells) {
    const Job &job = look.study->job();
    WorkedReport out;
    out.report.title = MARKED("flow.spray", "Water and methanol spray");
    if (!sprays(job)) {
        out.say(MARKED("flow.spray.none",
                       "No spray is fitted. Methanol in a spray is fuel: state it, and what "
                       "happens when it stops is judged."));
        return out;
    }
    out.say({MARKED("flow.spray.full", "Full spray ⟨{0}⟩, from {1}, all of it from {2}."),
             {{sprayFlowCcMin(job.aux.spray), D::volumeFlow},
              pressureOf(job.aux.spray.startKpa),
              pressureOf(job.aux.spray.fullKpa)}},
            Tone::strong);
    sayLoss(look, cells, out);
    if (job.aux.place == SprayPlace::beforeCompressor)
        out.say(MARKED("flow.spray.before_blower",
                       "Sprayed before a blower it evaporates there: a wetted sensor "
                       "reads cold while the charge stays hot."));
    sayHandling(out);
    return out;
}

namespace {

void sayWeather(const FlowLook &look, WorkedReport &out) {
    const WeatherAdvice a = adviseForWeather(look.study->job());
    const double ratio = a.densityNow / a.densityThen;
    constexpr double same = 0.0005;
    if (std::abs(ratio - 1) < same) return;
    const auto explain = [study = look.study, a] { return explainWeather(study->job(), a); };
    if (a.pillMm > 0)
        out.say({MARKED("flow.pills.weather",
                        "Today's air brings {0} of that day's oxygen: for the same λ a pill of ⟨{1}⟩."),
                 {shareOf(ratio), {a.pillMm, D::length}}},
                Tone::plain, explain);
    else
        out.say({MARKED("flow.pills.no_pill",
                        "Today's air brings {0} of that day's oxygen: no pill gives that much, the "
                        "pump is too small."),
                 {shareOf(ratio)}},
                Tone::plain, explain);
}

Phrase exhaustWords(const PillStep &s, bool in) {
    if (in) return MARKED("flow.pills.now_in", "now in");
    if (s.exhaustTrend > 0) return MARKED("flow.pills.hotter", "hotter");
    if (s.exhaustTrend < 0) return MARKED("flow.pills.cooler", "cooler");
    return MARKED("flow.pills.spring_holds", "a spring holds it");
}

Phrase area(double mm2, bool in) {
    const Measured v{mm2, D::none, 2};
    return in ? Phrase{MARKED("flow.pills.area_in", "⟨{0} mm²⟩"), {v}}
              : Phrase{MARKED("flow.pills.area_of", "{0} mm²"), {v}};
}

void addPills(const FlowLook &look, WorkedReport &out) {
    const Job &job = look.study->job();
    Grid grid{{MARKED("flow.pills.main", "main pill"), MARKED("flow.pills.bypass", "bypass area"),
               MARKED("flow.pills.pressure", "pressure"), MARKED("flow.pills.lambda", "λ"),
               MARKED("flow.pills.leaner", "leaner by"), MARKED("flow.pills.exhaust", "exhaust")},
              {}};
    for (const PillStep &s : pillsOfJob(job)) {
        const bool in = s.diameterMm == job.mechanical.injection.main.diameterMm;
        const Measured pill{s.diameterMm, D::length};
        const auto cell = [&](Phrase words) {
            return out.worked(std::move(words), Tone::plain, [study = look.study, s] {
                return explainPill(study->job(), s.diameterMm, s.areaMm2, s.point, s.leanerBy);
            });
        };
        grid.rows.push_back({cell(in ? strongNumber(pill) : number(pill)), cell(area(s.areaMm2, false)),
                             cell(number(gaugeOf(s.point.network.pressureKpa))),
                             cell(number({s.point.lambda, D::none})), cell(number(shareOf(s.leanerBy))),
                             exhaustWords(s, in)});
    }
    out.report.blocks.push_back(std::move(grid));
}

} // namespace

WorkedReport pillsReport(const FlowLook &look) {
    const Job &job = look.study->job();
    WorkedReport out;
    out.report.title = MARKED("flow.pills", "Mechanical injection");
    if (job.control != FuelControl::mechanical) {
        out.say(MARKED("flow.pills.controller", "Fuel is metered by a controller. Set that to mechanical "
                                                "injection to use this page."));
        return out;
    }
    const MixturePoint p = mixtureOfJob(job, job.mechanical.judgedRpm);
    Phrase now{MARKED("flow.pills.now",
                      "At {0}: ⟨{1}⟩, AFR {2}, {3} in the lines, {4} of the pump's flow reaches "
                      "the engine."),
               {speedOf(p.rpm),
                {p.lambda, D::mixture},
                {p.afr, D::none, 2},
                gaugeOf(p.network.pressureKpa),
                shareOf(p.network.share)}};
    const std::vector<PillStep> pills = pillsOfJob(job);
    const auto in = std::ranges::find(pills, 0.0, &PillStep::leanerBy);
    const double areaMm2 = in != pills.end() ? in->areaMm2 : 0;
    out.say(std::move(now), Tone::strong, [study = look.study, areaMm2, p] {
        const Job &own = study->job();
        return explainPill(own, own.mechanical.injection.main.diameterMm, areaMm2, p, 0);
    });
    sayWeather(look, out);
    for (const PassFinding &f : readPasses(job))
        out.say({MARKED("flow.pills.pass", "⟨Pass {0}:⟩ {A}"), {countOf(f.pass + 1)}, {}, {f.words}},
                Tone::plain, [study = look.study, f] { return explainPass(study->job(), f); });
    addPills(look, out);
    sayHandling(out);
    out.say(MARKED("flow.pills.oil", "Oil that took methanol is changed."), Tone::quiet);
    return out;
}

Report pillChartReport(const Job &job) {
    Report out;
    out.title = MARKED("flow.pill_chart", "Pill chart");
    out.blocks.push_back(Sentence{{MARKED("flow.pill_chart.by", "By the area of both pills, at {0}:"),
                                   {speedOf(job.mechanical.judgedRpm)}},
                                  Tone::quiet});
    Grid grid{{MARKED("flow.pill_chart.area", "area"), MARKED("flow.pill_chart.main", "main"),
               MARKED("flow.pill_chart.high_speed", "high-speed"), MARKED("flow.pills.lambda", "λ"),
               MARKED("flow.pill_chart.against", "against now"), MARKED("flow.pills.pressure", "pressure")},
              {}};
    for (const PillCombination &c : pillChartOfJob(job)) {
        const bool in = std::abs(c.leanerBy) < 1e-9;
        Phrase against = MARKED("flow.pills.now_in", "now in");
        if (!in)
            against = c.leanerBy > 0 ? Phrase{MARKED("flow.pill_chart.more", "+{0}"), {shareOf(c.leanerBy)}}
                                     : number(shareOf(c.leanerBy));
        grid.rows.push_back({area(c.areaMm2, in), number({c.mainMm, D::length}),
                             c.highSpeedMm > 0 ? number({c.highSpeedMm, D::length})
                                               : Phrase{MARKED("flow.pill_chart.blanked", "blanked off")},
                             number({c.point.lambda, D::none}), against,
                             number(gaugeOf(c.point.network.pressureKpa))});
    }
    out.blocks.push_back(std::move(grid));
    return out;
}

} // namespace wheelwright
