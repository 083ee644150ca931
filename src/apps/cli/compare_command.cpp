// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/commands.h"
#include "apps/cli/options.h"
#include "apps/cli/report.h"
#include "core/base/error.h"
#include "core/job/job_schema.h"
#include "core/job/tank_history.h"
#include "core/report/pour_sheet.h"
#include "core/study/fuel_comparison.h"
#include "core/study/pour_effect.h"
#include "core/verify/verdict.h"

#include <nlohmann/json.hpp>

#include <cmath>

namespace wheelwright {
namespace {

using Json = nlohmann::ordered_json;

// compare

struct CompareArguments {
    std::string job, today;
    std::vector<double> ethanol, methanol, prices;
    double reference = 0.10, capacityL = 0, litresPer100Km = 0, litresPerHour = 0, useEthanol = 0.10;
    bool json = false;
};

double listed(const std::vector<double> &list, std::size_t i, std::size_t count, const char *name) {
    if (!list.empty() && list.size() != count)
        throw InputError(name, verbatim(std::to_string(count) + " numbers, one for each fuel"),
                         std::to_string(list.size()));
    return list.empty() ? 0.0 : list[i];
}

// A job whose shelf holds the listed fuels and whose tank is full of the reference fuel.
Job jobOf(const CompareArguments &a) {
    Job job = newJob("arguments");
    const std::size_t count = std::max(a.ethanol.size(), a.methanol.size());
    for (std::size_t i = 0; i < count; ++i) {
        ShelfEntry fuel;
        fuel.name = std::to_string(i + 1);
        fuel.ethanol = listed(a.ethanol, i, count, "--ethanol");
        fuel.methanol = listed(a.methanol, i, count, "--methanol");
        fuel.pricePerL = listed(a.prices, i, count, "--price-per-l");
        validate({VolumeFraction::fraction(fuel.ethanol), VolumeFraction::fraction(fuel.methanol)});
        job.shelf.push_back(fuel);
    }
    TankEvent level, content;
    level.kind = TankEventKind::level;
    level.litres = job.tank.capacityL;
    content.kind = TankEventKind::content;
    content.ethanol = a.reference;
    job.tankEvents = {level, content};
    if (a.capacityL > 0) job.tank.capacityL = a.capacityL;
    job.consumption = {a.litresPer100Km, a.litresPerHour, a.useEthanol};
    for (const char *path : {"tank.capacity_l", "use.l_per_100km", "use.l_per_hour", "use.content"})
        validate(*fieldByPath(path), fieldByPath(path)->read(job));
    return job;
}

Json describe(const ComparedFuel &f) {
    Json row;
    if (!f.name.empty()) row["name"] = f.name;
    row["mixture"] = f.mixture;
    row["ethanol"] = f.content.ethanol.fraction();
    row["methanol"] = f.content.methanol.fraction();
    row["leaded"] = f.leaded;
    for (const FuelColumn &c : allFuelColumns())
        if (const auto v = c.of(f)) row[c.id] = *v;
    if (f.pricePerL)
        row["price_per_reference_l"] = *f.pricePerL * f.multiplier; // of the same work at equal λ
    return row;
}

Json words(const std::vector<ShelfFlag> &flags) {
    Json out = Json::array();
    for (const ShelfFlag &f : flags)
        out.push_back({{"id", f.id}, {"words", format(f.words, written())}});
    return out;
}

void compare(const CompareArguments &a) {
    const bool plain = a.job.empty();
    if (plain && a.ethanol.empty() && a.methanol.empty())
        throw InputError("compare", verbatim("a job, or --ethanol or --methanol with a list"), "neither");
    if (!plain && !(a.ethanol.empty() && a.methanol.empty()))
        throw InputError("compare", verbatim("a job, or a list of fuels"), "both");
    const Job job = plain ? jobOf(a) : loadJob(a.job);
    const auto verdict = plain ? nullptr : verify(job);
    Json fuels = Json::array();
    for (const ComparedFuel &f : compareFuels(Study(job), a.today, injectorDutyOver(verdict))) {
        Json row = describe(f);
        if (!plain) {
            row["flags"] = words(f.flags);
            row["must_change"] = Json::array();
            for (const Phrase &p : f.mustChange)
                row["must_change"].push_back(format(p, written()));
        }
        fuels.push_back(row);
    }
    const double reference = plain ? a.reference : alcoholOf(tankNow(job).content);
    print({{"reference_ethanol", reference}, {"fuels", fuels}}, a.json);
}

void addCompare(CLI::App &app) {
    CLI::App *sub = app.add_subcommand("compare", "Fuels side by side");
    auto a = std::make_shared<CompareArguments>();
    sub->add_option("job", a->job, "Job file: its shelf and mixtures, against what is in its tank");
    sub->add_option("--today", a->today, "Date, ISO 8601: flags what was opened too long ago");
    addNumbers(sub, "--ethanol", a->ethanol, fraction(), "Ethanol of each, such as 0.1,0.85");
    addNumbers(sub, "--methanol", a->methanol, fraction(), "Methanol of each");
    addNumbers(sub, "--price-per-l", a->prices, like("fuel.shelf", "price_per_l"), "Price of each");
    addNumber(sub, "--reference-ethanol", a->reference, fraction(), "Fuel that multipliers compare with")
        ->capture_default_str();
    addNumber(sub, "--capacity-l", a->capacityL, like("tank.capacity_l"), "Tank, for the price of one");
    addNumber(sub, "--l-per-100km", a->litresPer100Km, like("use.l_per_100km"), "Use on the road");
    addNumber(sub, "--l-per-hour", a->litresPerHour, like("use.l_per_hour"), "Use in an event");
    addNumber(sub, "--use-ethanol", a->useEthanol, fraction(), "Fuel that the use was measured on")
        ->capture_default_str();
    sub->add_flag("--json", a->json, "Print JSON");
    sub->callback([a, sub] {
        if (!a->job.empty())
            refuseOptions(*sub,
                          {"--price-per-l", "--reference-ethanol", "--capacity-l", "--l-per-100km",
                           "--l-per-hour", "--use-ethanol"},
                          verbatim("a job, which says it, or it"));
        else
            refuseOptions(*sub, {"--today"}, verbatim("a job beside it"));
        requireDate(a->today);
        compare(*a);
    });
}

// shelf

int shelf(const std::string &path, const std::string &today, bool json) {
    requireDate(today);
    bool flagged = false;
    Json fuels = Json::array();
    for (const Fuel &f : shelfOf(loadJob(path), today)) {
        flagged |= !f.flags.empty();
        Json row{{"name", f.name},
                 {"ethanol", f.content.ethanol.fraction()},
                 {"methanol", f.content.methanol.fraction()},
                 {"alcohol_sigma", f.alcohol.sigma},
                 {"by_tube", f.byTube},
                 {"lots", f.lots},
                 {"leaded", f.leaded},
                 {"price_per_l", f.pricePerL}};
        if (f.leftL) row["left_l"] = *f.leftL;
        row["flags"] = words(f.flags);
        fuels.push_back(row);
    }
    print({{"fuels", fuels}}, json);
    return flagged ? exitFindings : exitGood;
}

void addShelf(CLI::App &app, int &exitCode) {
    CLI::App *sub =
        app.add_subcommand("shelf", "The fuels of a job with what lots and tubes say. Exit code 1 when "
                                    "one is flagged");
    auto job = std::make_shared<std::string>(), today = std::make_shared<std::string>();
    auto json = std::make_shared<bool>(false);
    addShelfEditCommands(sub);
    sub->add_option("job", *job, "Job file");
    sub->add_option("--today", *today, "Date, ISO 8601; otherwise nothing is judged by its age");
    sub->add_flag("--json", *json, "Print JSON");
    sub->callback([=, &exitCode] {
        if (!sub->get_subcommands().empty()) return;
        if (job->empty()) throw InputError("shelf", verbatim("a job, or add or edit and a job"), "neither");
        exitCode = shelf(*job, *today, *json);
    });
}

// what-if

struct WhatIfArguments {
    std::string job;
    double volumeL = 0, ethanol = 0, methanol = 0, addL = 0, addEthanol = 0, addMethanol = 0;
    CLI::Option *volume = nullptr;
    bool json = false;
};

int whatIf(const WhatIfArguments &a) {
    const auto fraction = [](double v) { return VolumeFraction::fraction(v); };
    if (a.job.empty() && a.volume->count() == 0)
        throw InputError("what-if", verbatim("a job, or --volume-l and --ethanol"), "neither");
    const Job job = a.job.empty() ? newJob("arguments") : loadJob(a.job);
    const TankState tank = a.volume->count() > 0
                               ? TankState{a.volumeL, {fraction(a.ethanol), fraction(a.methanol)}}
                               : tankNow(job);
    validate(tank.content);
    const PourEffect e =
        effectOfPour(Study(job), tank, a.addL, {fraction(a.addEthanol), fraction(a.addMethanol)});
    const bool methanolIn = e.after.content.methanol.fraction() > 0;
    Json out{{"volume_l", e.after.volumeL},
             {"ethanol", e.after.content.ethanol.fraction()},
             {"methanol", e.after.content.methanol.fraction()},
             {"lambda_factor", e.lambdaFactor},
             {"percent_lean", (e.lambdaFactor - 1) * 100}};
    const double over = e.sparkDeg - e.sparkOfContentDeg;
    if (!a.job.empty()) { // λ and spark are those of its tables
        out["lambda"] = e.lambda;
        out["lambda_target"] = e.lambdaTarget;
        out["spark_deg"] = e.sparkDeg;
        out["spark_of_content_deg"] = e.sparkOfContentDeg;
        out["rpm"] = e.rpm;
        out["load_kpa"] = e.loadKpa;
        if (e.ceilingDeg) out["ceiling_deg"] = *e.ceilingDeg;
        if (e.follows)
            out["settled"] = {{"reading", e.reading},
                              {"lambda", e.settledLambda},
                              {"lambda_target", e.settledLambdaTarget},
                              {"percent_lean", (e.settledFactor() - 1) * 100},
                              {"spark_deg", e.settledSparkDeg}};
        out["words"] = format(together(inWords(e, methanolIn)), written());
    }
    print(out, a.json);
    constexpr double tolerance = 0.03, littleSpark = 0.5;
    const bool finding = std::abs(e.lambdaFactor - 1) > tolerance || (!a.job.empty() && over > littleSpark) ||
                         (!a.job.empty() && e.follows && std::abs(e.settledFactor() - 1) > tolerance) ||
                         (e.ceilingDeg && e.sparkDeg > *e.ceilingDeg);
    return finding ? exitFindings : exitGood;
}

void addWhatIf(CLI::App &app, int &exitCode) {
    CLI::App *sub =
        app.add_subcommand("what-if", "A fuel is just poured in, the calibration unchanged. Exit code 1 "
                                      "when that is not harmless");
    auto a = std::make_shared<WhatIfArguments>();
    sub->add_option("job", a->job, "Job file: its tables, and its tank where --volume-l is not given");
    a->volume = addNumber(sub, "--volume-l", a->volumeL, between(0, 2000, Dimension::displacement),
                          "In the tank now");
    addNumber(sub, "--ethanol", a->ethanol, fraction(), "Ethanol in it: what the calibration is for")
        ->capture_default_str();
    addNumber(sub, "--methanol", a->methanol, fraction(), "Methanol in it")->capture_default_str();
    addNumber(sub, "--add-l", a->addL, between(0, 2000, Dimension::displacement), "Poured in")->required();
    addNumber(sub, "--add-ethanol", a->addEthanol, fraction(), "Ethanol in what is poured")
        ->capture_default_str();
    addNumber(sub, "--add-methanol", a->addMethanol, fraction(), "Methanol in what is poured")
        ->capture_default_str();
    sub->add_flag("--json", a->json, "Print JSON");
    sub->callback([a, sub, &exitCode] {
        if (a->volume->count() == 0)
            refuseOptions(*sub, {"--ethanol", "--methanol"}, verbatim("--volume-l beside it"));
        exitCode = whatIf(*a);
    });
}

} // namespace

void addCompareCommands(CLI::App &app, int &exitCode) {
    addCompare(app);
    addShelf(app, exitCode);
    addWhatIf(app, exitCode);
}

} // namespace wheelwright
