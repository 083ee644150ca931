// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/commands.h"
#include "apps/cli/log_evidence.h"
#include "apps/cli/options.h"
#include "apps/cli/page_wording.h"
#include "apps/cli/report.h"
#include "apps/cli/table_target.h"
#include "core/base/error.h"
#include "core/job/job_schema.h"
#include "core/job/tank_history.h"
#include "core/ladder/ladder_forecast.h"
#include "core/ladder/ladder_status.h"
#include "core/ladder/preflight.h"
#include "core/report/forecast_reports.h"
#include "core/report/ladder_reports.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <array>
#include <memory>

namespace wheelwright {
namespace {

using Json = nlohmann::ordered_json;

struct LadderArguments {
    std::string job, on, rung, reason, gate, note;
    double volumeL = 0, content = 0;
    bool json = false;
};

Json orNull(const std::optional<double> &v) {
    return v ? Json(*v) : Json(nullptr);
}

Json describe(const Rung &r) {
    Json out{{"id", r.id},
             {"kind", rungKindKey(r.kind)},
             {"state", rungStateKey(r.state)},
             {"content", r.content},
             {"boost_kpa", orNull(r.boostKpa)},
             {"cut_kpa", r.cutKpa > 0 ? Json(r.cutKpa) : Json(nullptr)},
             {"solenoid_duty", orNull(r.solenoidDuty)},
             {"pulls", r.pulls}};
    if (!r.why.empty()) out["why"] = r.why;
    Json pours = Json::array();
    for (const RungPour &p : r.pours)
        pours.push_back({{"fuel", p.name},
                         {"count", p.count},
                         {"can_l", p.canL > 0 ? Json(p.canL) : Json(nullptr)},
                         {"litres", p.litres},
                         {"price", p.price}});
    if (r.state == RungState::next || r.state == RungState::later) {
        out["drain_l"] = r.drainL;
        out["drain_cans"] = r.drainCans;
        out["pours"] = std::move(pours);
        out["price"] = r.price;
        out["minutes"] = r.minutes;
        out["burn_l"] = r.burnL;
        if (r.volumeL > 0) {
            out["volume_l"] = r.volumeL;
            out["expected_content"] = r.expected.value;
            out["expected_content_sigma"] = r.expected.sigma;
            out["settle_min"] = r.settleMin;
            out["settle_injectors_min"] = r.settleInjectorsMin;
        }
    }
    if (hasPulls(r.kind)) {
        const RungDemand &d = r.demand;
        out["fuel_multiplier"] = r.multiplier;
        out["duty"] = d.duty;
        out["duty_rpm"] = d.rpm;
        out["duty_load_kpa"] = d.loadKpa;
        out["pump_share"] = orNull(d.pumpShare);
        out["spark_deg"] = d.sparkDeg;
        out["lambda"] = d.lambda;
        out["spark_rpm"] = d.sparkRpm;
        out["spark_load_kpa"] = d.sparkLoadKpa;
        out["peak_kpa"] = orNull(d.peakKpa);
    }
    if (r.pass) {
        out["pill_mm"] = r.pass->pillMm;
        out["lambda"] = r.pass->lambda;
        out["afr"] = r.pass->afr;
        out["leanest_lambda"] = r.pass->leanestLambda;
        out["leanest_rpm"] = r.pass->leanestRpm;
        out["leaner_by"] = r.pass->leanerBy;
        out["exhaust_c"] = r.pass->exhaustC.value;
        out["exhaust_sigma_c"] = r.pass->exhaustC.sigma;
    }
    out["remarks"] = r.remarks;
    return out;
}

Json describe(const Ladder &l) {
    Json rungs = Json::array(), shopping = Json::array();
    for (const Rung &r : l.rungs)
        rungs.push_back(describe(r));
    for (const ShoppingItem &i : l.shopping)
        shopping.push_back({{"fuel", i.name},
                            {"count", i.count},
                            {"can_l", i.canL > 0 ? Json(i.canL) : Json(nullptr)},
                            {"litres", i.litres},
                            {"price", i.price},
                            {"cautions", i.cautions}});
    const Rung *next = l.next();
    Json out{{"next", next ? Json(next->id) : Json(nullptr)}};
    if (!l.ends.empty()) out["ends"] = l.ends;
    out["remarks"] = l.remarks;
    out["rungs"] = std::move(rungs);
    out["shopping"] = std::move(shopping);
    out["poured_l"] = l.pouredL;
    out["drained_l"] = l.drainedL;
    out["burned_l"] = l.burnedL;
    out["price"] = l.price;
    out["spent"] = l.spent;
    out["minutes"] = l.minutes;
    out["every_way_tried"] = !l.thinned;
    return out;
}

int plan(const LadderArguments &a) {
    requireDate(a.on);
    const Study study(loadJob(a.job));
    const Ladder ladder = planLadder(study, a.on);
    if (a.json)
        print(describe(ladder), true);
    else
        writeText("-", plainText(ladderReport(ladder).report, pageWording()));
    return ladder.ends.empty() ? exitGood : exitFindings;
}

// status and pass

struct Asked {
    std::unique_ptr<const Study> study;
    Ladder ladder;
    LadderFacts facts;
};

Asked ask(const Job &job, const std::string &file, const std::string &on) {
    requireDate(on);
    Asked a;
    a.study = std::make_unique<const Study>(job);
    a.ladder = planLadder(*a.study, on);
    a.facts = ladderFacts(*a.study, reviewsOf(job, file, {}, LogsUnnamed::all));
    return a;
}

// The rung that is named, else the next one.
const Rung &rungOf(const Ladder &ladder, const std::string &id) {
    const Rung *rung = id.empty() ? ladder.next() : ladder.byId(id);
    if (rung) return *rung;
    std::string known;
    for (const Rung &r : ladder.rungs)
        known += (known.empty() ? "" : ", ") + r.id;
    throw InputError("rung", verbatim(id.empty() ? "a rung that is still to be passed" : "one of " + known),
                     id.empty() ? "none" : "'" + echoed(id, 40) + "'");
}

// As `job set` knows it, but for the boost tables.
std::string settingOf(const GateAnswer &answer) {
    const bool named = answer.link == boostTables || fieldByPath(answer.link);
    return (named ? "" : "limits.") + answer.link;
}

Json describe(const RungStatus &s) {
    constexpr std::array<std::string_view, 5> kinds{"log", "run", "tank", "look", "setting"};
    Json gates = Json::array();
    for (const GateResult &g : s.gates) {
        Json used = Json::array();
        for (const GateUse &u : g.answer.used) {
            Json one{{"kind", kinds[static_cast<std::size_t>(u.kind)]}, {"id", u.id}, {"name", u.name}};
            if (u.kind == GateUse::Kind::log) {
                one["from_s"] = u.fromS;
                one["to_s"] = u.toS;
            }
            used.push_back(std::move(one));
        }
        Json one{{"gate", g.gate->id},           {"title", g.gate->title},
                 {"question", g.gate->question}, {"verdict", gateVerdictKey(g.answer.verdict)},
                 {"said", g.answer.said},        {"remedy", gateRemedyKey(g.answer.remedy)}};
        if (!g.answer.toPass.empty()) one["to_pass"] = g.answer.toPass;
        if (!g.answer.link.empty()) {
            one["set_path"] = settingOf(g.answer);
            one["set_value"] = g.answer.toSet;
        }
        one["used"] = std::move(used);
        gates.push_back(std::move(one));
    }
    Json out{{"rung", s.rung}, {"light", rungLightKey(s.light())}, {"pulls", s.pulls}};
    if (const GateResult *first = s.first()) out["first"] = first->gate->id;
    out["gates"] = std::move(gates);
    return out;
}

int status(const LadderArguments &a) {
    const Job job = loadJob(a.job);
    const Asked asked = ask(job, a.job, a.on);
    const Rung &rung = rungOf(asked.ladder, a.rung);
    const RungStatus s = rungStatus(*asked.study, asked.ladder, rung, asked.facts);
    if (a.json) {
        Json out = describe(s);
        out["state"] = rungStateKey(rung.state);
        print(out, true);
    } else {
        writeText("-", plainText(gatesReport(rung, s), pageWording()));
    }
    return s.passes() ? exitGood : exitFindings;
}

// Where the next rungs end up

// Under its key and with its standard error.
void put(Json &out, const std::string &key, const std::string &unit, const std::optional<Uncertain> &u) {
    out[key + unit] = u ? Json(u->value) : Json(nullptr);
    out[key + "_sigma" + unit] = u ? Json(u->sigma) : Json(nullptr);
}

Json numberOrNull(double v) {
    return v == v ? Json(v) : Json(nullptr);
}

Json describe(const LadderForecast &f) {
    Json rungs = Json::array(), crossings = Json::array();
    for (const RungForecast &r : f.open) {
        Json one{{"rung", r.rung},
                 {"rpm", r.rpm},
                 {"load_kpa", r.loadKpa},
                 {"intake_c", r.intakeC},
                 {"tables_duty", r.tablesDuty}};
        put(one, "fuel_over", "", r.fuelOver);
        put(one, "duty", "", r.duty);
        put(one, "lambda_error", "", r.lambdaError);
        put(one, "held", "_kpa", r.heldKpa);
        put(one, "solenoid_duty", "", r.solenoidDuty);
        put(one, "power", "_kw", r.powerKw);
        one["spark_rpm"] = r.sparkRpm;
        one["spark_load_kpa"] = r.sparkLoadKpa;
        one["asked_spark_deg"] = r.askedSparkDeg;
        put(one, "stands_spark", "_deg", r.standsSparkDeg);
        rungs.push_back(std::move(one));
    }
    for (const DutyCrossing &c : f.crossings) {
        const std::string unit = c.overContent ? "_content" : "_boost_kpa";
        Json one{{"over", c.overContent ? "content" : "boost"}, {"duty", c.duty}};
        one["content"] = c.content;
        one["boost_kpa"] = c.boostKpa;
        one["at" + unit] = numberOrNull(c.at);
        one["earliest" + unit] = numberOrNull(c.earliest);
        one["latest" + unit] = numberOrNull(c.latest);
        put(one, "end_duty", "", c.atEnd);
        one["said"] = crossingWords(c).words;
        crossings.push_back(std::move(one));
    }
    return {{"evidence_rungs", f.rungs}, {"crossings", std::move(crossings)}, {"rungs", std::move(rungs)}};
}

// Good only where something was pulled and nothing comes to its end within its ±.
int forecast(const LadderArguments &a) {
    requireDate(a.on);
    const Job job = loadJob(a.job);
    const Study study(job);
    const Ladder ladder = planLadder(study, a.on);
    const auto reviews = reviewsOf(job, a.job, {}, LogsUnnamed::all);
    LearnedCeilings learned = learnCeilings(study, reviews);
    const LadderForecast f = forecastLadder(study, ladder, ladderFacts(study, reviews), &learned);
    if (a.json)
        print(describe(f), true);
    else
        writeText("-", plainText(forecastReport(ladder, f, limitOf(job, "flow.duty.caution")).report,
                                 pageWording()));
    const bool ends = std::ranges::any_of(f.crossings, [](const DutyCrossing &c) {
        return c.earliest <= (c.overContent ? c.content : c.boostKpa);
    });
    return ends || f.rungs == 0 ? exitFindings : exitGood;
}

Json describe(const RungPass &p) {
    return {{"rung", p.rung},
            {"at", p.at},
            {"by", p.by == PassedBy::hand ? "hand" : "evidence"},
            {"reason", p.reason},
            {"content", p.content},
            {"boost_kpa", p.boostKpa > 0 ? Json(p.boostKpa) : Json(nullptr)},
            {"power_kw", p.powerKw > 0 ? Json(p.powerKw) : Json(nullptr)},
            {"price", p.price},
            {"calibration", p.calibration}};
}

void pass(const LadderArguments &a) {
    JobEdit edit(a.job, true);
    const Asked asked = ask(edit.before(), a.job, a.on);
    const Rung &rung = rungOf(asked.ladder, a.rung);
    const RungPass p = passOf(*asked.study, asked.ladder, asked.facts, rung.id, timestamp(), a.reason);
    Job after = edit.before();
    after.ladderPassed.push_back(p);
    edit.commit(after, "Pass " + p.rung, CellOrigin::typed);
    Json out = describe(p);
    const Study study(after);
    const Ladder ladder = planLadder(study, a.on);
    out["next"] = ladder.next() ? Json(ladder.next()->id) : Json(nullptr);
    print(out, a.json);
}

// What only eyes can see.
void look(const LadderArguments &a) {
    JobEdit edit(a.job, true);
    const Study study(edit.before());
    const Ladder ladder = planLadder(study, {});
    const Rung &rung = rungOf(ladder, a.rung);
    std::string known;
    std::vector<std::string> ids;
    for (const Gate *g : allGates())
        if (g->byEyes && std::ranges::find(g->asked, rung.kind) != g->asked.end() && g->id != "looked_over")
            ids.emplace_back(g->id);
    if (rung.kind == RungKind::preflight)
        for (const PreflightItem &item : allPreflightItems())
            ids.emplace_back(item.id);
    for (const std::string &id : ids)
        known += (known.empty() ? "" : ", ") + id;
    if (std::ranges::find(ids, a.gate) == ids.end())
        throw InputError("what",
                         verbatim(known.empty() ? "nothing is looked at on " + rung.id : "one of " + known),
                         "'" + echoed(a.gate, 40) + "'");
    Job after = edit.before();
    after.ladderLooks.push_back({rung.id, a.gate, timestamp(), a.note});
    edit.commit(after, "Looked at " + a.gate, CellOrigin::typed);
    print({{"rung", rung.id}, {"looked_at", a.gate}, {"note", a.note}}, a.json);
}

// Boost target and cut of a rung.
void setRung(const LadderArguments &a) {
    JobEdit edit(a.job, true);
    const Study study(edit.before());
    const Ladder ladder = planLadder(study, {});
    const Rung &rung = rungOf(ladder, a.rung);
    if (!rung.boostKpa && !rung.pass)
        throw InputError("rung", verbatim("a rung with a boost or a pill of its own"), "'" + rung.id + "'");
    Job after = edit.before();
    setForRung(after, rung);
    if (rung.pass) {
        edit.commit(after, "Pill of " + rung.id, CellOrigin::typed);
        print({{"rung", rung.id}, {"pill_mm", rung.pass->pillMm}}, a.json);
        return;
    }
    edit.commit(after, "Boost and cut of " + rung.id, CellOrigin::typed);
    print({{"rung", rung.id}, {"boost_kpa", *rung.boostKpa}, {"cut_kpa", after.boost.cutKpa}}, a.json);
}

// What a gate of the next rung asks to be set.
void doAsked(const LadderArguments &a) {
    JobEdit edit(a.job, true);
    const Asked asked = ask(edit.before(), a.job, a.on);
    const Rung &rung = rungOf(asked.ladder, {});
    const RungStatus s = rungStatus(*asked.study, asked.ladder, rung, asked.facts);
    const auto gate =
        std::ranges::find_if(s.gates, [&](const GateResult &g) { return g.gate->id == a.gate; });
    if (gate == s.gates.end()) {
        std::string known;
        for (const GateResult &g : s.gates)
            known += (known.empty() ? "" : ", ") + std::string(g.gate->id);
        throw InputError("gate", verbatim("one of " + known), "'" + echoed(a.gate, 40) + "'");
    }
    const Job after = withAnswer(edit.before(), rung, gate->answer);
    edit.commit(after, "What " + a.gate + " asks for", CellOrigin::typed);
    print({{"rung", rung.id},
           {"gate", a.gate},
           {"set_path", settingOf(gate->answer)},
           {"set_value", gate->answer.toSet}},
          a.json);
}

// From where the tank really is.
void replan(const CLI::App &sub, const LadderArguments &a) {
    if (!given(sub, "--volume-l") && !given(sub, "--content"))
        throw InputError("ladder replan", verbatim("--volume-l, --content, or both"), "neither");
    JobEdit edit(a.job, true);
    const Ladder before = planLadder(Study(edit.before()), a.on);
    Job after = edit.before();
    const std::string now = timestamp();
    const std::string note = "Replanned";
    if (given(sub, "--volume-l")) {
        TankEvent e;
        e.at = now;
        e.kind = TankEventKind::level;
        e.litres = a.volumeL;
        e.note = note;
        after.tankEvents.push_back(e);
    }
    if (given(sub, "--content")) {
        TankEvent e;
        e.at = now;
        e.kind = TankEventKind::content;
        (after.alcohol == Alcohol::methanol ? e.methanol : e.ethanol) = a.content;
        e.note = note;
        after.tankEvents.push_back(e);
    }
    edit.commit(after, "Replan from where the tank is", CellOrigin::typed);
    const Ladder ladder = planLadder(Study(after), a.on);
    Json out = describe(ladder);
    out["before"] = {{"poured_l", before.pouredL}, {"drained_l", before.drainedL}, {"price", before.price}};
    if (a.json)
        print(out, true);
    else
        writeText("-", plainText(ladderReport(ladder).report, pageWording()));
}

CLI::App *addLadderPart(CLI::App *ladder, const std::shared_ptr<LadderArguments> &a, const char *name,
                        const char *help, bool today = true) {
    CLI::App *sub = ladder->add_subcommand(name, help);
    sub->add_option("job", a->job, "Job file")->required();
    if (today) sub->add_option("--today", a->on, "Date, ISO 8601: flags what was opened too long ago");
    sub->add_flag("--json", a->json, "Print JSON");
    return sub;
}

} // namespace

void addLadderCommand(CLI::App &app, int &exitCode) {
    CLI::App *ladder = app.add_subcommand("ladder", "The way up, rung by rung, and what passes them");
    ladder->require_subcommand(1);
    const auto part = [&](const char *name, const char *help, auto work, bool today = true) {
        auto a = std::make_shared<LadderArguments>();
        CLI::App *sub = addLadderPart(ladder, a, name, help, today);
        sub->callback([a, sub, work] { work(*sub, *a); });
        return std::pair(sub, a);
    };
    CLI::App *forPlan =
        part(
            "plan",
            "All rungs from the first start to the hand-over, with what to pour. Exit code 1 where something "
            "ends it before the goal",
            [&exitCode](const CLI::App &, const LadderArguments &a) { exitCode = plan(a); })
            .first;
    CLI::App *forForecast =
        part("forecast",
             "Where the rungs to come end up by the pulls so far, each number with its standard error. Exit "
             "code "
             "1 "
             "where the injectors may come to their caution, or where nobody has pulled yet",
             [&exitCode](const CLI::App &, const LadderArguments &a) { exitCode = forecast(a); })
            .first;
    const auto [forStatus, s] =
        part("status", "What every gate of a rung says. Exit code 1 while it does not pass",
             [&exitCode](const CLI::App &, const LadderArguments &a) { exitCode = status(a); });
    forStatus->add_option("rung", s->rung, "Its id; without one the next");
    const auto [forPass, p] =
        part("pass", "Passes the next rung: by evidence, or by hand with a reason, which is kept",
             [](const CLI::App &, const LadderArguments &a) { pass(a); });
    forPass->add_option("rung", p->rung, "Its id; without one the next");
    forPass->add_option("--by-hand", p->reason, "Why, where a gate has not passed");
    const auto [forLook, l] = part(
        "look",
        "Says that something was looked at and found in order: plugs, oil, what a first start asks for",
        [](const CLI::App &, const LadderArguments &a) { look(a); }, false);
    forLook->add_option("rung", l->rung, "Id of the rung that it was looked at for")->required();
    forLook->add_option("what", l->gate, "Id of the gate or item: plugs, leaks")->required();
    forLook->add_option("--note", l->note, "What was seen");
    const auto [forSet, r] = part(
        "set", "Sets boost target and overboost cut of the job, or its main pill, as a rung wants them",
        [](const CLI::App &, const LadderArguments &a) { setRung(a); }, false);
    forSet->add_option("rung", r->rung, "Its id; without one the next");
    const auto [forDo, d] =
        part("do", "Sets what a gate of the next rung asks to be set, such as the spring as it was measured",
             [](const CLI::App &, const LadderArguments &a) { doAsked(a); });
    forDo->add_option("gate", d->gate, "Its id, as status says it")->required();
    const auto [forReplan, q] =
        part("replan", "Plans again from where the tank really is, which is noted in its history",
             [](const CLI::App &sub, const LadderArguments &a) { replan(sub, a); });
    addNumber(forReplan, "--volume-l", q->volumeL, like("tank.capacity_l"), "In the tank now");
    addNumber(forReplan, "--content", q->content, fraction(), "Alcohol of it, volume fraction 0 to 1");
    for (CLI::App *page : {forPlan, forForecast, forStatus, forReplan})
        addLanguage(page);
}

} // namespace wheelwright
