// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/commands.h"
#include "apps/cli/options.h"
#include "apps/cli/report.h"
#include "core/fuel/blend.h"

#include <nlohmann/json.hpp>

namespace wheelwright {
namespace {

struct FuelArguments {
    double ethanol = 0;
    double methanol = 0;
    double referenceEthanol = 0.10;
    bool json = false;
};

void run(const FuelArguments &a) {
    const BlendModel model;
    const Blend blend{VolumeFraction::fraction(a.ethanol), VolumeFraction::fraction(a.methanol)};
    const Blend reference{VolumeFraction::fraction(a.referenceEthanol)};
    const BlendProperties p = model.properties(blend);
    print({{"ethanol", a.ethanol},
           {"methanol", a.methanol},
           {"reference_ethanol", a.referenceEthanol},
           {"density_kg_m3", p.densityKgM3},
           {"stoich_afr", p.stoichiometricAfr},
           {"volume_multiplier", model.volumeMultiplier(blend, reference)},
           {"ron", p.researchOctane},
           {"mon", p.motorOctane},
           {"lhv_mj_kg", p.lowerHeatingValueMjKg},
           {"latent_heat_kj_kg", p.latentHeatKjKg},
           {"ideal_cooling_k", p.idealCoolingK},
           {"ethanol_mole_fraction", p.ethanolMoleFraction},
           {"methanol_mole_fraction", p.methanolMoleFraction}},
          a.json);
}

} // namespace

void addFuelCommand(CLI::App &app, int &) {
    CLI::App *sub = app.add_subcommand("fuel", "Properties of a blend of gasoline, ethanol and methanol");
    auto a = std::make_shared<FuelArguments>();
    addNumber(sub, "--ethanol", a->ethanol, fraction(), "Ethanol, volume fraction 0 to 1")
        ->capture_default_str();
    addNumber(sub, "--methanol", a->methanol, fraction(), "Methanol, volume fraction 0 to 1")
        ->capture_default_str();
    addNumber(sub, "--reference-ethanol", a->referenceEthanol, fraction(),
              "Fuel that volume_multiplier compares with")
        ->capture_default_str();
    sub->add_flag("--json", a->json, "Print JSON");
    sub->callback([a] { run(*a); });
}

} // namespace wheelwright
