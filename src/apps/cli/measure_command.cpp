// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/commands.h"
#include "apps/cli/options.h"
#include "apps/cli/report.h"
#include "core/base/error.h"
#include "core/fuel/content_measurement.h"
#include "core/job/tank_history.h"

#include <nlohmann/json.hpp>

#include <cmath>

namespace wheelwright {
namespace {

void addTube(CLI::App &app) {
    CLI::App *sub = app.add_subcommand("tube", "Content by test tube, with its uncertainty");
    auto a = std::make_shared<TubeReading>();
    auto json = std::make_shared<bool>(false);
    addNumber(sub, "--water", a->waterLine, like("fuel.tubes", "water"), "Line up to which water was filled")
        ->required();
    addNumber(sub, "--fuel", a->fuelLine, like("fuel.tubes", "fuel"), "Line up to which fuel was filled")
        ->required();
    addNumber(sub, "--layer", a->layerTop, like("fuel.tubes", "layer"),
              "Top of the water-alcohol layer after shaking")
        ->required();
    addNumber(sub, "--reading", a->reading, like("fuel.tubes", "reading"),
              "Standard uncertainty of each reading, same unit")
        ->capture_default_str();
    addNumber(sub, "--contraction", a->contraction, like("fuel.tubes", "contraction"),
              "Share of its volume that the layer loses; 0: not corrected")
        ->capture_default_str();
    addNumber(sub, "--contraction-sigma", a->contractionSigma, like("fuel.tubes", "contraction_sigma"),
              "Its standard uncertainty")
        ->capture_default_str();
    sub->add_flag("--json", *json, "Print JSON");
    sub->callback([a, json] {
        const TubeResult r = tubeContent(*a);
        print({{"alcohol", r.content.value},
               {"alcohol_sigma", r.content.sigma},
               {"raw", r.raw},
               {"note", "methanol counts as ethanol in a test tube"}},
              *json);
    });
}

void addSensor(CLI::App &app, int &exitCode) {
    CLI::App *sub =
        app.add_subcommand("sensor", "Content and temperature by frequency sensor. Exit code 1 on a fault");
    struct Arguments {
        double hertz = 0, pulseMs = 0;
        bool json = false;
    };
    auto a = std::make_shared<Arguments>();
    addNumber(sub, "--hz", a->hertz, between(0, 1000, Dimension::frequency), "Frequency")->required();
    addNumber(sub, "--pulse-ms", a->pulseMs, between(0, 100, Dimension::duration),
              "Low pulse width; 0: not measured")
        ->capture_default_str();
    sub->add_flag("--json", a->json, "Print JSON");
    sub->callback([a, &exitCode] {
        const SensorReading r = readContentSensor(a->hertz, a->pulseMs);
        nlohmann::ordered_json out{
            {"ethanol", r.content}, {"fault", faultId(r.fault)}, {"words", faultWords(r.fault)}};
        if (std::isfinite(r.temperatureC)) out["temperature_c"] = r.temperatureC;
        print(out, a->json);
        exitCode = r.fault == SensorFault::none ? exitGood : exitFindings;
    });
}

struct AfrArguments {
    std::string job;
    double afr = 0, lambda = 0, scale = 14.7, ethanol = 0, methanol = 0;
    CLI::Option *afrOption = nullptr, *lambdaOption = nullptr;
    bool trueScale = false, json = false;
};

// What is in the job's tank, or the arguments' blend of shipped components.
BlendProperties fuelOf(const AfrArguments &a) {
    if (a.job.empty())
        return BlendModel().properties(
            {VolumeFraction::fraction(a.ethanol), VolumeFraction::fraction(a.methanol)});
    if (a.ethanol > 0 || a.methanol > 0)
        throw InputError("afr", verbatim("a job, or --ethanol and --methanol"), "both");
    const Job job = loadJob(a.job);
    return propertiesOf(job, tankNow(job));
}

void convertAfr(const AfrArguments &a) {
    const bool fromAfr = a.afrOption->count() > 0;
    if (fromAfr == (a.lambdaOption->count() > 0))
        throw InputError("afr", verbatim("either --afr or --lambda"), fromAfr ? "both" : "neither");
    const BlendProperties fuel = fuelOf(a);
    const double scale = a.trueScale ? fuel.stoichiometricAfr : a.scale;
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
    sub->add_option("job", a->job, "Job file: the fuel is what is in its tank");
    a->afrOption = addNumber(sub, "--afr", a->afr, between(1, 100), "As the gauge shows it");
    a->lambdaOption = addNumber(sub, "--lambda", a->lambda, between(0.1, 10, Dimension::mixture), "λ");
    addNumber(sub, "--scale", a->scale, between(3, 25), "Stoichiometry that the gauge was told")
        ->capture_default_str();
    sub->add_flag("--true-scale", a->trueScale, "The gauge shows the true AFR of the fuel");
    addNumber(sub, "--ethanol", a->ethanol, fraction(), "Fuel: ethanol, volume fraction")
        ->capture_default_str();
    addNumber(sub, "--methanol", a->methanol, fraction(), "Fuel: methanol, volume fraction")
        ->capture_default_str();
    sub->add_flag("--json", a->json, "Print JSON");
    sub->callback([a, sub] {
        if (a->trueScale) refuseOptions(*sub, {"--scale"}, verbatim("--true-scale or it"));
        convertAfr(*a);
    });
}

} // namespace

void addMeasureCommands(CLI::App &app, int &exitCode) {
    addTube(app);
    addSensor(app, exitCode);
    addAfr(app);
}

} // namespace wheelwright
