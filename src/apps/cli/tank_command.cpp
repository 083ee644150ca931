// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/commands.h"
#include "apps/cli/options.h"
#include "apps/cli/page_wording.h"
#include "apps/cli/report.h"
#include "core/base/error.h"
#include "core/fuel/settling.h"
#include "core/fuel/tank.h"
#include "core/job/tank_history.h"
#include "core/report/pour_sheet.h"
#include "core/study/content_opinions.h"
#include "core/study/pour_request.h"

#include <nlohmann/json.hpp>

#include <cmath>

namespace wheelwright {
namespace {

using Json = nlohmann::ordered_json;

struct TankArguments {
    std::string job;
    double capacityL = 0, volumeL = 0, ethanol = 0, methanol = 0;
    CLI::Option *capacity = nullptr, *volume = nullptr;
    bool json = false;
};

void addTank(CLI::App *sub, TankArguments &a) {
    sub->add_option("job", a.job, "Job file: its tank as its history says; otherwise the arguments say it");
    a.capacity = addNumber(sub, "--capacity-l", a.capacityL, like("tank.capacity_l"), "Tank, brim full");
    a.volume =
        addNumber(sub, "--volume-l", a.volumeL, between(0, 2000, Dimension::displacement), "In the tank now");
    addNumber(sub, "--ethanol", a.ethanol, fraction(), "Ethanol in it, volume fraction 0 to 1")
        ->capture_default_str();
    sub->add_flag("--json", a.json, "Print JSON");
}

// What is in the tank now, and what it takes (0: not said).
struct Tank {
    TankState state;
    UncertainTank known;
    double capacityL = 0;
};

Tank tankOf(const TankArguments &a, bool needsCapacity) {
    if (!a.job.empty()) {
        if (a.volume->count() > 0) throw InputError("tank", verbatim("a job, or --volume-l"), "both");
        const Job job = loadJob(a.job);
        return {tankNow(job), uncertainTankNow(job), job.tank.capacityL};
    }
    if (a.volume->count() == 0)
        throw InputError("--volume-l", verbatim("what is in the tank now, or a job"), "neither");
    if (needsCapacity && a.capacity->count() == 0)
        throw InputError("--capacity-l", verbatim("what the tank takes, or a job"), "neither");
    const TankState state{a.volumeL,
                          {VolumeFraction::fraction(a.ethanol), VolumeFraction::fraction(a.methanol)}};
    validate(state.content);
    return {state, UncertainTank({a.volumeL, 0}, {alcoholOf(state.content), 0}), a.capacityL};
}

// What a job says is not said again.
void ofJobOnly(const CLI::App &sub, const TankArguments &a, std::initializer_list<const char *> options) {
    if (!a.job.empty()) refuseOptions(sub, options, verbatim("a job, which says it, or it"));
}

// pour

struct PourArguments : TankArguments {
    double addL = 0, addEthanol = 0, addMethanol = 0;
    double volumeSigmaL = 0, ethanolSigma = 0, addSigmaL = 0, addEthanolSigma = 0;
};

void pour(const PourArguments &a) {
    Tank tank = tankOf(a, false);
    if (tank.capacityL > 0 && tank.state.volumeL + a.addL > tank.capacityL + 1e-9)
        throw InputError(
            "--add-l",
            verbatim("at most the room of " + std::to_string(tank.capacityL - tank.state.volumeL) + " L"),
            std::to_string(a.addL));
    const Blend added{VolumeFraction::fraction(a.addEthanol), VolumeFraction::fraction(a.addMethanol)};
    const TankState after = afterPour(tank.state, a.addL, added);
    if (after.volumeL <= 0) throw InputError("tank", verbatim("some fuel"), "none");
    if (a.job.empty())
        tank.known =
            UncertainTank({a.volumeL, a.volumeSigmaL}, {alcoholOf(tank.state.content), a.ethanolSigma});
    tank.known.pour({a.addL, a.addSigmaL}, {alcoholOf(added), a.addEthanolSigma});
    print({{"volume_l", after.volumeL},
           {"volume_sigma_l", tank.known.volumeL().sigma},
           {"ethanol", after.content.ethanol.fraction()},
           {"methanol", after.content.methanol.fraction()},
           {"ethanol_sigma", tank.known.content().sigma}},
          a.json);
}

void addPour(CLI::App *tank) {
    CLI::App *sub = tank->add_subcommand("pour", "What is in the tank after a pour");
    auto a = std::make_shared<PourArguments>();
    addTank(sub, *a);
    addNumber(sub, "--methanol", a->methanol, fraction(), "Methanol in the tank")->capture_default_str();
    addNumber(sub, "--add-l", a->addL, between(0, 2000, Dimension::displacement),
              "Poured in; refused when --capacity-l is too small for it")
        ->required();
    addNumber(sub, "--add-ethanol", a->addEthanol, fraction(), "Ethanol in what is poured")
        ->capture_default_str();
    addNumber(sub, "--add-methanol", a->addMethanol, fraction(), "Methanol in what is poured")
        ->capture_default_str();
    addNumber(sub, "--volume-sigma-l", a->volumeSigmaL, like("tank.events", "litres_sigma"),
              "Standard uncertainty of the volume in the tank")
        ->capture_default_str();
    addNumber(sub, "--ethanol-sigma", a->ethanolSigma, like("tank.events", "content_sigma"),
              "… of its alcohol")
        ->capture_default_str();
    addNumber(sub, "--add-sigma-l", a->addSigmaL, like("tank.events", "litres_sigma"),
              "… of the volume poured")
        ->capture_default_str();
    addNumber(sub, "--add-ethanol-sigma", a->addEthanolSigma, like("tank.events", "content_sigma"),
              "… of its alcohol")
        ->capture_default_str();
    sub->callback([a, sub] {
        ofJobOnly(*sub, *a,
                  {"--capacity-l", "--ethanol", "--methanol", "--volume-sigma-l", "--ethanol-sigma"});
        pour(*a);
    });
}

// plan

struct PlanArguments : TankArguments {
    double target = 0, levelL = 0, reserveL = 0, volumeSigmaL = 0, ethanolSigma = 0, pourSigma = 0;
    CLI::Option *level = nullptr;
    std::vector<double> shelf, shelfMethanol, prices, available, cans, shelfSigma;
};

// Lists that go with the shelf: one number for each fuel, or none at all.
double listed(const std::vector<double> &list, std::size_t i, std::size_t count, const char *name,
              double otherwise) {
    if (list.empty()) return otherwise;
    if (list.size() != count)
        throw InputError(name, verbatim(std::to_string(count) + " numbers, one for each fuel of the shelf"),
                         std::to_string(list.size()));
    return list[i];
}

PourRequest requestOf(const PlanArguments &a) {
    if (!a.job.empty()) {
        if (!a.shelf.empty() || a.capacity->count() > 0 || a.volume->count() > 0)
            throw InputError("tank plan", verbatim("a job, or a tank and a shelf"), "both");
        return pourRequestOf(loadJob(a.job), a.target,
                             a.level->count() > 0 ? std::optional(a.levelL) : std::nullopt);
    }
    if (a.shelf.empty())
        throw InputError("tank plan", verbatim("a job, or --capacity-l, --volume-l, --ethanol and --shelf"),
                         "neither");
    // With methanol about, contents are those of ethanol that need as much fuel.
    const bool both = a.methanol > 0 || std::ranges::any_of(a.shelfMethanol, [](double m) { return m > 0; });
    const BlendModel blends;
    const auto contentOf = [&](double ethanol, double methanol) {
        return blends.asOneAlcohol({VolumeFraction::fraction(ethanol), VolumeFraction::fraction(methanol)},
                                   false);
    };
    validate(Blend{VolumeFraction::fraction(a.ethanol), VolumeFraction::fraction(a.methanol)});
    PourRequest r{a.capacityL, a.volumeL, contentOf(a.ethanol, a.methanol), a.target, std::nullopt, {}};
    if (both) r.otherCountsFor = blends.otherCountsFor(false);
    r.reserveL = a.reserveL;
    r.known = UncertainTank({a.volumeL, a.volumeSigmaL}, {r.content, a.ethanolSigma});
    if (a.level->count() > 0) r.levelL = a.levelL;
    for (std::size_t i = 0; i < a.shelf.size(); ++i) {
        ShelfFuel f;
        f.name = "E" + std::to_string(std::lround(a.shelf[i] * 100));
        const double methanol = listed(a.shelfMethanol, i, a.shelf.size(), "--shelf-methanol", 0);
        validate(Blend{VolumeFraction::fraction(a.shelf[i]), VolumeFraction::fraction(methanol)});
        if (methanol > 0) f.name += " M" + std::to_string(std::lround(methanol * 100));
        f.content = contentOf(a.shelf[i], methanol);
        f.pricePerL = listed(a.prices, i, a.shelf.size(), "--price-per-l", 0);
        f.availableL = listed(a.available, i, a.shelf.size(), "--available-l", f.availableL);
        f.canL = listed(a.cans, i, a.shelf.size(), "--can-l", 0);
        f.contentSigma = listed(a.shelfSigma, i, a.shelf.size(), "--shelf-sigma", 0);
        f.meterSigma = a.pourSigma;
        r.shelf.push_back(f);
    }
    return r;
}

Json describe(const PourPlan &p, const PourRequest &r) {
    Json steps = Json::array();
    for (const PourStep &s : stepsOf(p, r)) {
        Json step{{"do", s.drain ? "drain" : "pour"}};
        if (!s.drain) {
            step["fuel"] = r.shelf[s.fuel].name;
            step["fuel_ethanol"] = r.shelf[s.fuel].content;
        }
        step["litres"] = s.litres;
        step["volume_l"] = s.volumeL;
        step["ethanol"] = s.content.value;
        step["ethanol_sigma"] = s.content.sigma;
        step["under_reserve"] = s.underReserve;
        if (!p.cans.empty()) step["cans"] = s.cans;
        steps.push_back(step);
    }
    const Phrase warning = pickupWarning(p, r);
    const double miss = p.content - r.target;
    constexpr double rounding = 1e-12; // no miss
    Json out{{"strategy", strategyId(p.strategy)},
             {"exact", p.exact},
             {"drain_l", p.drainL},
             {"pour_l", p.pourL},
             {"volume_l", p.volumeL},
             {"ethanol", p.content},
             {"error", std::abs(miss) < rounding ? 0.0 : miss},
             {"price", p.price},
             {"steps", steps}};
    if (!warning.text.empty()) out["warning"] = format(warning, written());
    return out;
}

int plan(const PlanArguments &a) {
    const PourRequest r = requestOf(a);
    const PourAnswer answer = planPour(r);
    Json plans = Json::array();
    for (const PourPlan &p : answer.plans)
        plans.push_back(describe(p, r));
    const bool reachable = answer.why.empty();
    Json out{{"reachable_without_drain", reachable},
             {"aims_at", r.otherCountsFor > 0 ? "fuel_need" : "alcohol"}};
    if (r.otherCountsFor > 0) {
        out["other_alcohol_counts_for"] = r.otherCountsFor;
        out["note"] = "both alcohols are in it: contents below are those of one alone that need as much fuel";
    }
    out["plans"] = plans;
    if (!reachable) out["why"] = answer.why;
    if (r.reserveL > 0) out["pickup_warning"] = r.volumeL < r.reserveL;
    print(out, a.json);
    return reachable ? exitGood : exitFindings;
}

void addPlan(CLI::App *tank, int &exitCode) {
    CLI::App *sub = tank->add_subcommand(
        "plan", "What to pour for a wanted content. Exit code 1 when pouring alone cannot reach it");
    auto a = std::make_shared<PlanArguments>();
    addTank(sub, *a);
    addNumber(sub, "--target-ethanol", a->target, fraction(), "Wanted, volume fraction 0 to 1")->required();
    a->level = addNumber(sub, "--level-l", a->levelL, between(0, 2000, Dimension::displacement),
                         "Wanted volume in the tank; otherwise any");
    addNumbers(sub, "--shelf", a->shelf, fraction(), "Ethanol of each fuel on the shelf, such as 0.0,0.85");
    addNumber(sub, "--methanol", a->methanol, fraction(), "Methanol in the tank, volume fraction 0 to 1")
        ->capture_default_str();
    addNumbers(sub, "--shelf-methanol", a->shelfMethanol, fraction(),
               "Methanol of each fuel on the shelf; with any, plans aim at the fuel that the target needs");
    addNumbers(sub, "--price-per-l", a->prices, like("fuel.shelf", "price_per_l"), "Price of each");
    addNumbers(sub, "--available-l", a->available, between(0, 1e6, Dimension::displacement),
               "What is left of each");
    addNumbers(sub, "--can-l", a->cans, like("fuel.shelf", "can_l"),
               "Size of each one's sealed can; 0 where it comes by the litre");
    addNumber(sub, "--volume-sigma-l", a->volumeSigmaL, like("tank.events", "litres_sigma"),
              "Standard uncertainty of the volume in the tank");
    addNumber(sub, "--ethanol-sigma", a->ethanolSigma, like("tank.events", "content_sigma"),
              "… of its ethanol");
    addNumbers(sub, "--shelf-sigma", a->shelfSigma, like("fuel.shelf", "content_sigma"),
               "… of each fuel's ethanol");
    addNumber(sub, "--pour-sigma", a->pourSigma, between(0, 1, Dimension::ratio),
              "… of what is poured, as a share of it");
    addNumber(sub, "--reserve-l", a->reserveL, like("tank.reserve_l"),
              "Level under which the pickup may run dry");
    sub->callback([a, sub, &exitCode] {
        ofJobOnly(*sub, *a,
                  {"--ethanol", "--methanol", "--shelf-methanol", "--price-per-l", "--available-l", "--can-l",
                   "--volume-sigma-l", "--ethanol-sigma", "--shelf-sigma", "--pour-sigma", "--reserve-l"});
        exitCode = plan(*a);
    });
}

// sheet

struct SheetArguments {
    std::string job, on;
    double target = 0, levelL = 0;
    CLI::Option *level = nullptr;
    bool html = false, json = false;
};

int sheet(const SheetArguments &a) {
    requireDate(a.on);
    const Job job = loadJob(a.job);
    const PourRequest r =
        pourRequestOf(job, a.target, a.level->count() > 0 ? std::optional(a.levelL) : std::nullopt, a.on);
    const PourAnswer answer = planPour(r);
    const Report report = pourSheet(job.name, job.alcohol == Alcohol::methanol, r, answer, a.on);
    const Wording wording = pageWording();
    const std::string text = a.html ? htmlPage(report, wording) : plainText(report, wording);
    if (a.json)
        print({{"title", wording.of(report.title)}, {a.html ? "html" : "text", text}}, true);
    else
        writeText("-", text);
    return answer.why.empty() ? exitGood : exitFindings;
}

void addSheet(CLI::App *tank, int &exitCode) {
    CLI::App *sub = tank->add_subcommand(
        "sheet",
        "The plans of a job as a sheet to take along. Exit code 1 when pouring alone cannot reach it");
    auto a = std::make_shared<SheetArguments>();
    sub->add_option("job", a->job, "Job file")->required();
    addNumber(sub, "--target-ethanol", a->target, fraction(), "Wanted, volume fraction 0 to 1")->required();
    a->level = addNumber(sub, "--level-l", a->levelL, between(0, 2000, Dimension::displacement),
                         "Wanted volume in the tank; otherwise any");
    sub->add_option("--today", a->on, "Date, ISO 8601: stands on it, and flags what was opened too long ago");
    sub->add_flag("--html", a->html, "As a page that stands alone");
    addLanguage(sub);
    sub->add_flag("--json", a->json, "Print JSON, the sheet as one text in it");
    sub->callback([a, &exitCode] { exitCode = sheet(*a); });
}

// flush

struct FlushArguments : TankArguments {
    double fill = 0, target = 0, restL = 0, within = 0.01;
};

int flush(const FlushArguments &a) {
    const Tank tank = tankOf(a, true);
    const FlushPlan p = planFlush(tank.state.volumeL, alcoholOf(tank.state.content), a.fill, a.restL,
                                  tank.capacityL, a.target, a.within);
    Json out{{"possible", p.possible},
             {"fills", p.fills},
             {"fuel_l", p.fuelL},
             {"ethanol_after_each", p.contents}};
    if (p.lastL > 0) out["last_fill_l"] = p.lastL;
    print(out, a.json);
    return p.possible ? exitGood : exitFindings;
}

void addFlush(CLI::App *tank, int &exitCode) {
    CLI::App *sub = tank->add_subcommand(
        "flush", "How many fills bring the tank near a content. Exit code 1 when none do");
    auto a = std::make_shared<FlushArguments>();
    addTank(sub, *a);
    addNumber(sub, "--fill-ethanol", a->fill, fraction(), "Ethanol of the fuel that fills it up")->required();
    addNumber(sub, "--target-ethanol", a->target, fraction(), "Wanted")->required();
    addNumber(sub, "--rest-l", a->restL, between(0, 2000, Dimension::displacement),
              "Run down to this before each fill")
        ->required();
    addNumber(sub, "--within", a->within, between(0.0001, 1, Dimension::ratio), "Near enough, as a fraction")
        ->capture_default_str();
    sub->callback([a, sub, &exitCode] {
        ofJobOnly(*sub, *a, {"--capacity-l", "--ethanol"});
        exitCode = flush(*a);
    });
}

// settle

struct SettleArguments {
    std::string job, place = "feed";
    FuelPath path;
    CLI::Option *flow = nullptr;
    double before = 0, after = 0, within = 0.01;
    bool cruise = false, json = false;
};

void settle(const SettleArguments &a) {
    if (a.job.empty() && a.flow->count() == 0)
        throw InputError("--line-flow-l-min", verbatim("the flow through the line, or a job"), "neither");
    FuelPath path = a.path;
    path.place = a.place == "return" ? SensorPlace::returnLine : SensorPlace::feed;
    if (!a.job.empty()) path = fuelPathOf(loadJob(a.job), a.cruise);
    Json curve = Json::array();
    for (const SettlingPoint &p : settlingCurve(path, a.before, a.after, 41))
        curve.push_back({{"minutes", p.minutes}, {"ethanol", p.content}, {"injector_ethanol", p.injector}});
    print({{"settled_minutes", settlingMinutes(path, a.before, a.after, a.within)},
           {"delay_minutes", sensorDelayMinutes(path)},
           {"injector_settled_minutes", injectorSettlingMinutes(path, a.before, a.after, a.within)},
           {"injector_delay_minutes", injectorDelayMinutes(path)},
           {"curve", curve}},
          a.json);
}

void addSettle(CLI::App *tank) {
    CLI::App *sub = tank->add_subcommand("settle", "When the sensor shows what was poured");
    auto a = std::make_shared<SettleArguments>();
    sub->add_option("job", a->job, "Job file: its lines and flows; otherwise the arguments say them");
    sub->add_flag("--cruise", a->cruise, "With a job: its flow at cruise, not at idle");
    addNumber(sub, "--before", a->before, fraction(), "Ethanol in line and surge tank")->required();
    addNumber(sub, "--after", a->after, fraction(), "Ethanol in the tank now")->required();
    addNumber(sub, "--line-l", a->path.lineL, like("tank.line_l"),
              "Feed line; with the sensor in it, up to the sensor")
        ->capture_default_str();
    a->flow = addNumber(sub, "--line-flow-l-min", a->path.lineFlowLMin, like("tank.idle_flow_l_min"),
                        "Flow through the line");
    addNumber(sub, "--surge-l", a->path.surgeL, like("tank.surge_l"), "Surge tank; 0: none")
        ->capture_default_str();
    addNumber(sub, "--surge-flow-l-min", a->path.surgeFlowLMin, like("tank.surge_flow_l_min"),
              "Flow of its lift pump; 0: the line's")
        ->capture_default_str();
    sub->add_option("--sensor-place", a->place, "Where the sensor sits")
        ->check(CLI::IsMember({"feed", "return"}))
        ->capture_default_str();
    addNumber(sub, "--rail-l", a->path.railL, like("tank.rail_l"),
              "From the feed line's end to the last injector")
        ->capture_default_str();
    addNumber(sub, "--return-l", a->path.returnL, like("tank.return_l"), "Rail to a sensor in the return")
        ->capture_default_str();
    addNumber(sub, "--use-l-min", a->path.useLMin, like("tank.idle_use_l_min"),
              "Of the line's flow the engine burns")
        ->capture_default_str();
    addNumber(sub, "--within", a->within, between(0.0001, 1, Dimension::ratio),
              "Settled when this near, as a fraction")
        ->capture_default_str();
    sub->add_flag("--json", a->json, "Print JSON");
    sub->callback([a, sub] {
        if (!a->job.empty())
            refuseOptions(*sub,
                          {"--line-l", "--line-flow-l-min", "--surge-l", "--surge-flow-l-min",
                           "--sensor-place", "--rail-l", "--return-l", "--use-l-min"},
                          verbatim("a job, which says it, or it"));
        else
            refuseOptions(*sub, {"--cruise"}, verbatim("a job beside it"));
        settle(*a);
    });
}

// opinions

int opinions(const std::string &path, bool json) {
    const ContentOpinions o = opinionsOf(loadJob(path));
    Json all = Json::array();
    for (const Opinion &x : o.all)
        all.push_back({{"source", opinionId(x.source)},
                       {"ethanol", x.content.value},
                       {"ethanol_sigma", x.content.sigma},
                       {"as_read", x.read.value},
                       {"pours_since", x.poursSince},
                       {"maybe_unsettled", x.maybeUnsettled}});
    print({{"agree", o.agree},
           {"apart", o.apart},
           {"verdict", format(o.verdict, written())},
           {"opinions", all}},
          json);
    return o.agree ? exitGood : exitFindings;
}

void addOpinions(CLI::App *tank, int &exitCode) {
    CLI::App *sub = tank->add_subcommand(
        "opinions", "What arithmetic, sensor and tube say of the tank. Exit code 1 when they disagree");
    auto job = std::make_shared<std::string>();
    auto json = std::make_shared<bool>(false);
    sub->add_option("job", *job, "Job file")->required();
    sub->add_flag("--json", *json, "Print JSON");
    sub->callback([job, json, &exitCode] { exitCode = opinions(*job, *json); });
}

} // namespace

void addTankCommand(CLI::App &app, int &exitCode) {
    CLI::App *tank = app.add_subcommand("tank", "Pouring, planning, flushing and settling");
    tank->require_subcommand(1);
    addPour(tank);
    addPlan(tank, exitCode);
    addSheet(tank, exitCode);
    addFlush(tank, exitCode);
    addSettle(tank);
    addOpinions(tank, exitCode);
    addTankEventCommand(tank);
}

} // namespace wheelwright
