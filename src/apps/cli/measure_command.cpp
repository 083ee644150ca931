#include "apps/cli/commands.h"
#include "apps/cli/report.h"
#include "core/error.h"
#include "core/fuel/content_measurement.h"
#include "core/fuel/pour_effect.h"
#include "core/units/phrase.h"

#include <nlohmann/json.hpp>

#include <cmath>

namespace wheelwright {
namespace {

void addTube(CLI::App &app) {
    CLI::App *sub = app.add_subcommand("tube", "Content by test tube, with its uncertainty");
    auto a = std::make_shared<TubeReading>();
    auto json = std::make_shared<bool>(false);
    sub->add_option("--water", a->waterLine, "Line up to which water was filled")->required();
    sub->add_option("--fuel", a->fuelLine, "Line up to which fuel was filled")->required();
    sub->add_option("--layer", a->layerTop, "Top of the water-alcohol layer after shaking")->required();
    sub->add_option("--reading", a->reading, "Standard uncertainty of each reading, same unit")->capture_default_str();
    sub->add_option("--contraction", a->contraction, "Share of its volume that the layer loses; 0: not corrected")->capture_default_str();
    sub->add_option("--contraction-sigma", a->contractionSigma, "Its standard uncertainty")->capture_default_str();
    sub->add_flag("--json", *json, "Print JSON");
    sub->callback([a, json] {
        const TubeResult r = tubeContent(*a);
        print({{"alcohol", r.content.value}, {"alcohol_sigma", r.content.sigma}, {"raw", r.raw},
               {"note", "methanol counts as ethanol in a test tube"}},
              *json);
    });
}

void addSensor(CLI::App &app, int &exitCode) {
    CLI::App *sub = app.add_subcommand("sensor", "Content and temperature by frequency sensor. Exit code 1 on a fault");
    struct Arguments {
        double hertz = 0, pulseMs = 0;
        bool json = false;
    };
    auto a = std::make_shared<Arguments>();
    sub->add_option("--hz", a->hertz, "Frequency")->required();
    sub->add_option("--pulse-ms", a->pulseMs, "Low pulse width; 0: not measured")->capture_default_str();
    sub->add_flag("--json", a->json, "Print JSON");
    sub->callback([a, &exitCode] {
        const SensorReading r = readContentSensor(a->hertz, a->pulseMs);
        nlohmann::ordered_json out{{"ethanol", r.content}, {"fault", faultId(r.fault)}, {"words", faultWords(r.fault)}};
        if (std::isfinite(r.temperatureC))
            out["temperature_c"] = r.temperatureC;
        print(out, a->json);
        exitCode = r.fault == SensorFault::none ? exitGood : exitFindings;
    });
}

struct AfrArguments {
    double afr = 0, lambda = 0, scale = 14.7, ethanol = 0, methanol = 0;
    CLI::Option *afrOption = nullptr, *lambdaOption = nullptr;
    bool trueScale = false, json = false;
};

void convertAfr(const AfrArguments &a) {
    const bool fromAfr = a.afrOption->count() > 0;
    if (fromAfr == (a.lambdaOption->count() > 0))
        throw InputError("afr", "either --afr or --lambda", fromAfr ? "both" : "neither");
    const BlendProperties fuel =
        BlendModel().properties({VolumeFraction::fraction(a.ethanol), VolumeFraction::fraction(a.methanol)});
    const double scale = a.trueScale ? fuel.stoichiometricAfr : a.scale;
    const double given = fromAfr ? a.afr : a.lambda;
    if (!(scale > 0) || !std::isfinite(scale))
        throw InputError("--scale", "more than 0", std::to_string(scale));
    if (!(given > 0) || !std::isfinite(given))
        throw InputError(fromAfr ? "--afr" : "--lambda", "more than 0", std::to_string(given));
    const double lambda = fromAfr ? a.afr / scale : a.lambda;
    print({{"lambda", lambda},
           {"scale", scale},
           {"afr", lambda * scale},
           {"afr_gasoline_scale", lambda * 14.7},
           {"afr_true", lambda * fuel.stoichiometricAfr}},
          a.json);
}

void addAfr(CLI::App &app) {
    CLI::App *sub = app.add_subcommand("afr", "AFR to λ and back, with the scale named");
    auto a = std::make_shared<AfrArguments>();
    a->afrOption = sub->add_option("--afr", a->afr, "As the gauge shows it");
    a->lambdaOption = sub->add_option("--lambda", a->lambda, "λ");
    sub->add_option("--scale", a->scale, "Stoichiometry that the gauge was told")->capture_default_str();
    sub->add_flag("--true-scale", a->trueScale, "The gauge shows the true AFR of the fuel");
    sub->add_option("--ethanol", a->ethanol, "Fuel: ethanol, volume fraction")->capture_default_str();
    sub->add_option("--methanol", a->methanol, "Fuel: methanol, volume fraction")->capture_default_str();
    sub->add_flag("--json", a->json, "Print JSON");
    sub->callback([a] { convertAfr(*a); });
}

struct CompareArguments {
    std::vector<double> ethanol, methanol, prices;
    double reference = 0.10;
    bool json = false;
};

void compare(const CompareArguments &a) {
    const std::size_t count = std::max(a.ethanol.size(), a.methanol.size());
    const auto listed = [&](const std::vector<double> &list, std::size_t i, const char *name) {
        if (!list.empty() && list.size() != count)
            throw InputError(name, std::to_string(count) + " numbers, one for each fuel", std::to_string(list.size()));
        return list.empty() ? 0.0 : list[i];
    };
    const BlendModel model;
    nlohmann::ordered_json fuels = nlohmann::ordered_json::array();
    for (std::size_t i = 0; i < count; ++i) {
        const Blend blend{VolumeFraction::fraction(listed(a.ethanol, i, "--ethanol")),
                          VolumeFraction::fraction(listed(a.methanol, i, "--methanol"))};
        const BlendProperties p = model.properties(blend);
        const double k = model.volumeMultiplier(blend, {VolumeFraction::fraction(a.reference)});
        nlohmann::ordered_json row{{"ethanol", blend.ethanol.fraction()},
                                   {"methanol", blend.methanol.fraction()},
                                   {"stoich_afr", p.stoichiometricAfr},
                                   {"volume_multiplier", k},
                                   {"ron", p.researchOctane},
                                   {"mon", p.motorOctane},
                                   {"ideal_cooling_k", p.idealCoolingK},
                                   {"energy_mj_l", p.lowerHeatingValueMjKg * p.densityKgM3 / 1000},
                                   {"energy_mj_per_kg_air", p.lowerHeatingValueMjKg / p.stoichiometricAfr}};
        if (!a.prices.empty()) {
            row["price_per_l"] = listed(a.prices, i, "--price-per-l");
            row["price_per_reference_l"] = listed(a.prices, i, "--price-per-l") * k; // of the same work at equal λ
        }
        fuels.push_back(row);
    }
    print({{"reference_ethanol", a.reference}, {"fuels", fuels}}, a.json);
}

void addCompare(CLI::App &app) {
    CLI::App *sub = app.add_subcommand("compare", "Fuels side by side");
    auto a = std::make_shared<CompareArguments>();
    sub->add_option("--ethanol", a->ethanol, "Ethanol of each, such as 0.1,0.85")->delimiter(',');
    sub->add_option("--methanol", a->methanol, "Methanol of each")->delimiter(',');
    sub->add_option("--price-per-l", a->prices, "Price of each")->delimiter(',');
    sub->add_option("--reference-ethanol", a->reference, "Fuel that multipliers compare with")->capture_default_str();
    sub->add_flag("--json", a->json, "Print JSON");
    sub->callback([a] {
        if (a->ethanol.empty() && a->methanol.empty())
            throw InputError("compare", "--ethanol or --methanol with a list", "neither");
        compare(*a);
    });
}

struct WhatIfArguments {
    std::string job;
    double volumeL = 0, ethanol = 0, methanol = 0, addL = 0, addEthanol = 0, addMethanol = 0;
    bool json = false;
};

int whatIf(const WhatIfArguments &a) {
    const auto fraction = [](double v) { return VolumeFraction::fraction(v); };
    const TankState tank{a.volumeL, {fraction(a.ethanol), fraction(a.methanol)}};
    validate(tank.content);
    const PourEffect e = effectOfPour(loadJob(a.job), tank, a.addL, {fraction(a.addEthanol), fraction(a.addMethanol)});
    const bool methanolIn = e.after.content.methanol.fraction() > 0;
    print({{"volume_l", e.after.volumeL},
           {"ethanol", e.after.content.ethanol.fraction()},
           {"methanol", e.after.content.methanol.fraction()},
           {"lambda_factor", e.lambdaFactor},
           {"percent_lean", (e.lambdaFactor - 1) * 100},
           {"lambda", e.lambda},
           {"lambda_target", e.lambdaTarget},
           {"spark_deg", e.sparkDeg},
           {"spark_of_content_deg", e.sparkOfContentDeg},
           {"rpm", e.rpm},
           {"load_kpa", e.loadKpa},
           {"words", format(inWords(e, methanolIn), UnitChoice{})}},
          a.json);
    constexpr double tolerance = 0.03, littleSpark = 0.5;
    const bool finding = std::abs(e.lambdaFactor - 1) > tolerance || e.sparkDeg - e.sparkOfContentDeg > littleSpark;
    return finding ? exitFindings : exitGood;
}

void addWhatIf(CLI::App &app, int &exitCode) {
    CLI::App *sub = app.add_subcommand("what-if", "A fuel is just poured in, the calibration unchanged. Exit code 1 when that is not harmless");
    auto a = std::make_shared<WhatIfArguments>();
    sub->add_option("job", a->job, "Job file")->required();
    sub->add_option("--volume-l", a->volumeL, "In the tank now")->required();
    sub->add_option("--ethanol", a->ethanol, "Ethanol in it: what the calibration is for")->required();
    sub->add_option("--methanol", a->methanol, "Methanol in it")->capture_default_str();
    sub->add_option("--add-l", a->addL, "Poured in")->required();
    sub->add_option("--add-ethanol", a->addEthanol, "Ethanol in what is poured")->capture_default_str();
    sub->add_option("--add-methanol", a->addMethanol, "Methanol in what is poured")->capture_default_str();
    sub->add_flag("--json", a->json, "Print JSON");
    sub->callback([a, &exitCode] { exitCode = whatIf(*a); });
}

} // namespace

void addMeasureCommands(CLI::App &app, int &exitCode) {
    addTube(app);
    addSensor(app, exitCode);
    addAfr(app);
    addCompare(app);
    addWhatIf(app, exitCode);
}

} // namespace wheelwright
