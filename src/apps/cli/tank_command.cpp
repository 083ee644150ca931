#include "apps/cli/commands.h"
#include "apps/cli/report.h"
#include "core/error.h"
#include "core/fuel/pour_request.h"
#include "core/fuel/settling.h"
#include "core/fuel/tank.h"

#include <nlohmann/json.hpp>

namespace wheelwright {
namespace {

using Json = nlohmann::ordered_json;

struct TankArguments {
    double capacityL = 0, volumeL = 0, ethanol = 0, methanol = 0;
    bool json = false;
};

void addTank(CLI::App *sub, TankArguments &a, bool capacity) {
    if (capacity) sub->add_option("--capacity-l", a.capacityL, "Tank, brim full")->required();
    sub->add_option("--volume-l", a.volumeL, "In the tank now")->required();
    sub->add_option("--ethanol", a.ethanol, "Ethanol in it, volume fraction 0 to 1")->capture_default_str();
    sub->add_flag("--json", a.json, "Print JSON");
}

// pour

struct PourArguments : TankArguments {
    double addL = 0, addEthanol = 0, addMethanol = 0;
    double volumeSigmaL = 0, ethanolSigma = 0, addSigmaL = 0, addEthanolSigma = 0;
};

void pour(const PourArguments &a) {
    const auto fraction = [](double v) { return VolumeFraction::fraction(v); };
    const TankState before{a.volumeL, {fraction(a.ethanol), fraction(a.methanol)}};
    validate(before.content);
    if (a.capacityL > 0 && a.volumeL + a.addL > a.capacityL + 1e-9)
        throw InputError("--add-l", "at most the room of " + std::to_string(a.capacityL - a.volumeL) + " L",
                         std::to_string(a.addL));
    for (const double sigma : {a.volumeSigmaL, a.ethanolSigma, a.addSigmaL, a.addEthanolSigma})
        if (!(sigma >= 0)) throw InputError("uncertainty", "0 or more", std::to_string(sigma));
    const TankState after = afterPour(before, a.addL, {fraction(a.addEthanol), fraction(a.addMethanol)});
    if (after.volumeL <= 0) throw InputError("tank", "some fuel", "none");
    const Uncertain ethanol = contentAfter({a.volumeL, a.volumeSigmaL}, {a.ethanol, a.ethanolSigma},
                                           {{{a.addL, a.addSigmaL}, {a.addEthanol, a.addEthanolSigma}}});
    print({{"volume_l", after.volumeL},
           {"ethanol", after.content.ethanol.fraction()},
           {"methanol", after.content.methanol.fraction()},
           {"ethanol_sigma", ethanol.sigma}},
          a.json);
}

void addPour(CLI::App *tank) {
    CLI::App *sub = tank->add_subcommand("pour", "What is in the tank after a pour");
    auto a = std::make_shared<PourArguments>();
    addTank(sub, *a, false);
    sub->add_option("--capacity-l", a->capacityL, "Tank, brim full; refuses a pour that does not fit");
    sub->add_option("--methanol", a->methanol, "Methanol in the tank")->capture_default_str();
    sub->add_option("--add-l", a->addL, "Poured in")->required();
    sub->add_option("--add-ethanol", a->addEthanol, "Ethanol in what is poured")->capture_default_str();
    sub->add_option("--add-methanol", a->addMethanol, "Methanol in what is poured")->capture_default_str();
    sub->add_option("--volume-sigma-l", a->volumeSigmaL, "Standard uncertainty of the volume in the tank")
        ->capture_default_str();
    sub->add_option("--ethanol-sigma", a->ethanolSigma, "… of its ethanol")->capture_default_str();
    sub->add_option("--add-sigma-l", a->addSigmaL, "… of the volume poured")->capture_default_str();
    sub->add_option("--add-ethanol-sigma", a->addEthanolSigma, "… of its ethanol")->capture_default_str();
    sub->callback([a] { pour(*a); });
}

// plan

struct PlanArguments : TankArguments {
    std::string job;
    double target = 0, levelL = 0, reserveL = 0;
    CLI::Option *level = nullptr;
    std::vector<double> shelf, prices, available, cans;
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
        if (!a.shelf.empty() || a.capacityL > 0)
            throw InputError("tank plan", "a job, or a tank and a shelf", "both");
        return pourRequestOf(loadJob(a.job), a.target,
                             a.level->count() > 0 ? std::optional(a.levelL) : std::nullopt);
    }
    if (a.shelf.empty())
        throw InputError("tank plan", "a job, or --capacity-l, --volume-l, --ethanol and --shelf", "neither");
    PourRequest r{a.capacityL, a.volumeL, a.ethanol, a.target, std::nullopt, {}};
    if (a.level->count() > 0) r.levelL = a.levelL;
    for (std::size_t i = 0; i < a.shelf.size(); ++i) {
        ShelfFuel f;
        f.name = "E" + std::to_string(std::lround(a.shelf[i] * 100));
        f.content = a.shelf[i];
        f.pricePerL = listed(a.prices, i, a.shelf.size(), "--price-per-l", 0);
        f.availableL = listed(a.available, i, a.shelf.size(), "--available-l", f.availableL);
        f.canL = listed(a.cans, i, a.shelf.size(), "--can-l", 0);
        r.shelf.push_back(f);
    }
    return r;
}

Json describe(const PourPlan &p, const PourRequest &r) {
    Json steps = Json::array();
    double volume = r.volumeL - p.drainL, alcohol = volume * r.content;
    if (p.drainL > 1e-9)
        steps.push_back(
            {{"do", "drain"}, {"litres", p.drainL}, {"volume_l", volume}, {"ethanol", r.content}});
    for (std::size_t i = 0; i < p.pourL.size(); ++i) {
        if (p.pourL[i] <= 1e-9) continue;
        volume += p.pourL[i];
        alcohol += p.pourL[i] * r.shelf[i].content;
        Json step{{"do", "pour"},
                  {"fuel_ethanol", r.shelf[i].content},
                  {"litres", p.pourL[i]},
                  {"volume_l", volume},
                  {"ethanol", alcohol / volume}};
        if (!p.cans.empty()) step["cans"] = p.cans[i];
        steps.push_back(step);
    }
    return {{"strategy", strategyId(p.strategy)},
            {"exact", p.exact},
            {"drain_l", p.drainL},
            {"pour_l", p.pourL},
            {"volume_l", p.volumeL},
            {"ethanol", p.content},
            {"error", p.content - r.target},
            {"price", p.price},
            {"steps", steps}};
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
    if (a.reserveL > 0) out["pickup_warning"] = a.volumeL < a.reserveL;
    print(out, a.json);
    return reachable ? exitGood : exitFindings;
}

void addPlan(CLI::App *tank, int &exitCode) {
    CLI::App *sub = tank->add_subcommand(
        "plan", "What to pour for a wanted content. Exit code 1 when pouring alone cannot reach it");
    auto a = std::make_shared<PlanArguments>();
    sub->add_option("job", a->job, "Job file: its tank and its shelf; otherwise the arguments say them");
    sub->add_option("--capacity-l", a->capacityL, "Tank, brim full");
    sub->add_option("--volume-l", a->volumeL, "In the tank now");
    sub->add_option("--ethanol", a->ethanol, "Ethanol in it, volume fraction 0 to 1");
    sub->add_flag("--json", a->json, "Print JSON");
    sub->add_option("--target-ethanol", a->target, "Wanted, volume fraction 0 to 1")->required();
    a->level = sub->add_option("--level-l", a->levelL, "Wanted volume in the tank; otherwise any");
    sub->add_option("--shelf", a->shelf, "Ethanol of each fuel on the shelf, such as 0.0,0.85")
        ->delimiter(',');
    sub->add_option("--price-per-l", a->prices, "Price of each")->delimiter(',');
    sub->add_option("--available-l", a->available, "What is left of each")->delimiter(',');
    sub->add_option("--can-l", a->cans, "Size of each one's sealed can; 0 where it comes by the litre")
        ->delimiter(',');
    sub->add_option("--reserve-l", a->reserveL, "Level under which the pickup may run dry");
    sub->callback([a, &exitCode] { exitCode = plan(*a); });
}

// flush

struct FlushArguments : TankArguments {
    double fill = 0, target = 0, restL = 0, within = 0.01;
};

int flush(const FlushArguments &a) {
    const FlushPlan p = planFlush(a.volumeL, a.ethanol, a.fill, a.restL, a.capacityL, a.target, a.within);
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
    addTank(sub, *a, true);
    sub->add_option("--fill-ethanol", a->fill, "Ethanol of the fuel that fills it up")->required();
    sub->add_option("--target-ethanol", a->target, "Wanted")->required();
    sub->add_option("--rest-l", a->restL, "Run down to this before each fill")->required();
    sub->add_option("--within", a->within, "Near enough, as a fraction")->capture_default_str();
    sub->callback([a, &exitCode] { exitCode = flush(*a); });
}

// settle

struct SettleArguments {
    FuelPath path;
    double before = 0, after = 0, within = 0.01;
    bool json = false;
};

void settle(const SettleArguments &a) {
    for (const double c : {a.before, a.after})
        if (!(c >= 0 && c <= 1))
            throw InputError("content", "a volume fraction from 0 to 1", std::to_string(c));
    Json curve = Json::array();
    for (const SettlingPoint &p : settlingCurve(a.path, a.before, a.after, 41))
        curve.push_back({{"minutes", p.minutes}, {"ethanol", p.content}});
    print({{"settled_minutes", settlingMinutes(a.path, a.before, a.after, a.within)},
           {"delay_minutes", a.path.lineL / a.path.lineFlowLMin},
           {"curve", curve}},
          a.json);
}

void addSettle(CLI::App *tank) {
    CLI::App *sub = tank->add_subcommand("settle", "When the sensor shows what was poured");
    auto a = std::make_shared<SettleArguments>();
    sub->add_option("--before", a->before, "Ethanol in line and surge tank")->required();
    sub->add_option("--after", a->after, "Ethanol in the tank now")->required();
    sub->add_option("--line-l", a->path.lineL, "Line and rail up to the sensor")->capture_default_str();
    sub->add_option("--line-flow-l-min", a->path.lineFlowLMin, "Flow through the line")->required();
    sub->add_option("--surge-l", a->path.surgeL, "Surge tank; 0: none")->capture_default_str();
    sub->add_option("--surge-flow-l-min", a->path.surgeFlowLMin, "Flow of its lift pump; 0: the line's")
        ->capture_default_str();
    sub->add_option("--within", a->within, "Settled when this near, as a fraction")->capture_default_str();
    sub->add_flag("--json", a->json, "Print JSON");
    sub->callback([a] { settle(*a); });
}

} // namespace

void addTankCommand(CLI::App &app, int &exitCode) {
    CLI::App *tank = app.add_subcommand("tank", "Pouring, planning, flushing and settling");
    tank->require_subcommand(1);
    addPour(tank);
    addPlan(tank, exitCode);
    addFlush(tank, exitCode);
    addSettle(tank);
}

} // namespace wheelwright
