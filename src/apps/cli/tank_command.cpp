#include "apps/cli/commands.h"
#include "apps/cli/report.h"
#include "core/error.h"
#include "core/fuel/content_opinions.h"
#include "core/fuel/pour_request.h"
#include "core/fuel/settling.h"
#include "core/fuel/tank.h"
#include "core/fuel/tank_history.h"

#include <nlohmann/json.hpp>

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
    a.capacity = sub->add_option("--capacity-l", a.capacityL, "Tank, brim full");
    a.volume = sub->add_option("--volume-l", a.volumeL, "In the tank now");
    sub->add_option("--ethanol", a.ethanol, "Ethanol in it, volume fraction 0 to 1")->capture_default_str();
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
        if (a.volume->count() > 0) throw InputError("tank", "a job, or --volume-l", "both");
        const Job job = loadJob(a.job);
        return {tankNow(job), uncertainTankNow(job), job.tank.capacityL};
    }
    if (a.volume->count() == 0)
        throw InputError("--volume-l", "what is in the tank now, or a job", "neither");
    if (needsCapacity && a.capacity->count() == 0)
        throw InputError("--capacity-l", "what the tank takes, or a job", "neither");
    const TankState state{a.volumeL,
                          {VolumeFraction::fraction(a.ethanol), VolumeFraction::fraction(a.methanol)}};
    validate(state.content);
    return {state, UncertainTank({a.volumeL, 0}, {alcoholOf(state.content), 0}), a.capacityL};
}

// pour

struct PourArguments : TankArguments {
    double addL = 0, addEthanol = 0, addMethanol = 0;
    double volumeSigmaL = 0, ethanolSigma = 0, addSigmaL = 0, addEthanolSigma = 0;
};

void pour(const PourArguments &a) {
    Tank tank = tankOf(a, false);
    if (tank.capacityL > 0 && tank.state.volumeL + a.addL > tank.capacityL + 1e-9)
        throw InputError("--add-l",
                         "at most the room of " + std::to_string(tank.capacityL - tank.state.volumeL) + " L",
                         std::to_string(a.addL));
    for (const double sigma : {a.volumeSigmaL, a.ethanolSigma, a.addSigmaL, a.addEthanolSigma})
        if (!(sigma >= 0)) throw InputError("uncertainty", "0 or more", std::to_string(sigma));
    const Blend added{VolumeFraction::fraction(a.addEthanol), VolumeFraction::fraction(a.addMethanol)};
    const TankState after = afterPour(tank.state, a.addL, added);
    if (after.volumeL <= 0) throw InputError("tank", "some fuel", "none");
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
    sub->add_option("--methanol", a->methanol, "Methanol in the tank")->capture_default_str();
    sub->add_option("--add-l", a->addL, "Poured in; refused when --capacity-l is too small for it")
        ->required();
    sub->add_option("--add-ethanol", a->addEthanol, "Ethanol in what is poured")->capture_default_str();
    sub->add_option("--add-methanol", a->addMethanol, "Methanol in what is poured")->capture_default_str();
    sub->add_option("--volume-sigma-l", a->volumeSigmaL, "Standard uncertainty of the volume in the tank")
        ->capture_default_str();
    sub->add_option("--ethanol-sigma", a->ethanolSigma, "… of its alcohol")->capture_default_str();
    sub->add_option("--add-sigma-l", a->addSigmaL, "… of the volume poured")->capture_default_str();
    sub->add_option("--add-ethanol-sigma", a->addEthanolSigma, "… of its alcohol")->capture_default_str();
    sub->callback([a] { pour(*a); });
}

// plan

struct PlanArguments : TankArguments {
    double target = 0, levelL = 0, reserveL = 0, volumeSigmaL = 0, ethanolSigma = 0, pourSigma = 0;
    CLI::Option *level = nullptr;
    std::vector<double> shelf, prices, available, cans, shelfSigma;
};

// Lists that go with the shelf: one number for each fuel, or none at all.
double listed(const std::vector<double> &list, std::size_t i, std::size_t count, const char *name,
              double otherwise) {
    if (list.empty()) return otherwise;
    if (list.size() != count)
        throw InputError(name, std::to_string(count) + " numbers, one for each fuel of the shelf",
                         std::to_string(list.size()));
    return list[i];
}

PourRequest requestOf(const PlanArguments &a) {
    if (!a.job.empty()) {
        if (!a.shelf.empty() || a.capacity->count() > 0 || a.volume->count() > 0)
            throw InputError("tank plan", "a job, or a tank and a shelf", "both");
        return pourRequestOf(loadJob(a.job), a.target,
                             a.level->count() > 0 ? std::optional(a.levelL) : std::nullopt);
    }
    if (a.shelf.empty())
        throw InputError("tank plan", "a job, or --capacity-l, --volume-l, --ethanol and --shelf", "neither");
    PourRequest r{a.capacityL, a.volumeL, a.ethanol, a.target, std::nullopt, {}};
    for (const double sigma : {a.volumeSigmaL, a.ethanolSigma, a.pourSigma})
        if (!(sigma >= 0)) throw InputError("uncertainty", "0 or more", std::to_string(sigma));
    r.reserveL = a.reserveL;
    r.known = UncertainTank({a.volumeL, a.volumeSigmaL}, {a.ethanol, a.ethanolSigma});
    if (a.level->count() > 0) r.levelL = a.levelL;
    for (std::size_t i = 0; i < a.shelf.size(); ++i) {
        ShelfFuel f;
        f.name = "E" + std::to_string(std::lround(a.shelf[i] * 100));
        f.content = a.shelf[i];
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
    Json out{{"strategy", strategyId(p.strategy)},
             {"exact", p.exact},
             {"drain_l", p.drainL},
             {"pour_l", p.pourL},
             {"volume_l", p.volumeL},
             {"ethanol", p.content},
             {"error", p.content - r.target},
             {"price", p.price},
             {"steps", steps}};
    if (!warning.text.empty()) out["warning"] = format(warning, UnitChoice{});
    return out;
}

int plan(const PlanArguments &a) {
    const PourRequest r = requestOf(a);
    const PourAnswer answer = planPour(r);
    Json plans = Json::array();
    for (const PourPlan &p : answer.plans)
        plans.push_back(describe(p, r));
    const bool reachable = answer.why.empty();
    Json out{{"reachable_without_drain", reachable}, {"plans", plans}};
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
    sub->add_option("--target-ethanol", a->target, "Wanted, volume fraction 0 to 1")->required();
    a->level = sub->add_option("--level-l", a->levelL, "Wanted volume in the tank; otherwise any");
    sub->add_option("--shelf", a->shelf, "Ethanol of each fuel on the shelf, such as 0.0,0.85")
        ->delimiter(',');
    sub->add_option("--price-per-l", a->prices, "Price of each")->delimiter(',');
    sub->add_option("--available-l", a->available, "What is left of each")->delimiter(',');
    sub->add_option("--can-l", a->cans, "Size of each one's sealed can; 0 where it comes by the litre")
        ->delimiter(',');
    sub->add_option("--volume-sigma-l", a->volumeSigmaL, "Standard uncertainty of the volume in the tank");
    sub->add_option("--ethanol-sigma", a->ethanolSigma, "… of its ethanol");
    sub->add_option("--shelf-sigma", a->shelfSigma, "… of each fuel's ethanol")->delimiter(',');
    sub->add_option("--pour-sigma", a->pourSigma, "… of what is poured, as a share of it");
    sub->add_option("--reserve-l", a->reserveL, "Level under which the pickup may run dry");
    sub->callback([a, &exitCode] { exitCode = plan(*a); });
}

// flush

struct FlushArguments : TankArguments {
    double fill = 0, target = 0, restL = 0, within = 0.01;
};

int flush(const FlushArguments &a) {
    const Tank tank = tankOf(a, true);
    const FlushPlan p = planFlush(tank.state.volumeL, alcoholOf(tank.state.content), a.fill, a.restL,
                                  tank.capacityL, a.target, a.within);
    print({{"possible", p.possible},
           {"fills", p.fills},
           {"fuel_l", p.fuelL},
           {"ethanol_after_each", p.contents}},
          a.json);
    return p.possible ? exitGood : exitFindings;
}

void addFlush(CLI::App *tank, int &exitCode) {
    CLI::App *sub = tank->add_subcommand(
        "flush", "How many fills bring the tank near a content. Exit code 1 when none do");
    auto a = std::make_shared<FlushArguments>();
    addTank(sub, *a);
    sub->add_option("--fill-ethanol", a->fill, "Ethanol of the fuel that fills it up")->required();
    sub->add_option("--target-ethanol", a->target, "Wanted")->required();
    sub->add_option("--rest-l", a->restL, "Run down to this before each fill")->required();
    sub->add_option("--within", a->within, "Near enough, as a fraction")->capture_default_str();
    sub->callback([a, &exitCode] { exitCode = flush(*a); });
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
    for (const double c : {a.before, a.after})
        if (!(c >= 0 && c <= 1))
            throw InputError("content", "a volume fraction from 0 to 1", std::to_string(c));
    if (a.job.empty() && a.flow->count() == 0)
        throw InputError("--line-flow-l-min", "the flow through the line, or a job", "neither");
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
    sub->add_option("--before", a->before, "Ethanol in line and surge tank")->required();
    sub->add_option("--after", a->after, "Ethanol in the tank now")->required();
    sub->add_option("--line-l", a->path.lineL, "Feed line; with the sensor in it, up to the sensor")
        ->capture_default_str();
    a->flow = sub->add_option("--line-flow-l-min", a->path.lineFlowLMin, "Flow through the line");
    sub->add_option("--surge-l", a->path.surgeL, "Surge tank; 0: none")->capture_default_str();
    sub->add_option("--surge-flow-l-min", a->path.surgeFlowLMin, "Flow of its lift pump; 0: the line's")
        ->capture_default_str();
    sub->add_option("--sensor-place", a->place, "Where the sensor sits")
        ->check(CLI::IsMember({"feed", "return"}))
        ->capture_default_str();
    sub->add_option("--rail-l", a->path.railL, "From the feed line's end to the last injector")
        ->capture_default_str();
    sub->add_option("--return-l", a->path.returnL, "Rail to a sensor in the return")->capture_default_str();
    sub->add_option("--use-l-min", a->path.useLMin, "Of the line's flow the engine burns")
        ->capture_default_str();
    sub->add_option("--within", a->within, "Settled when this near, as a fraction")->capture_default_str();
    sub->add_flag("--json", a->json, "Print JSON");
    sub->callback([a] { settle(*a); });
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
           {"verdict", format(o.verdict, UnitChoice{})},
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
    addFlush(tank, exitCode);
    addSettle(tank);
    addOpinions(tank, exitCode);
}

} // namespace wheelwright
