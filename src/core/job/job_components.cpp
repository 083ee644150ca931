#include "core/job/job_components.h"

namespace wheelwright {

void addComponent(std::vector<Field> &fields, const std::string &path, const std::string &title,
                  ComponentOf of) {
    const auto add = [&](const char *key, const char *words, Dimension dimension, double least, double most,
                         double Component::*member, const char *help) {
        Field f;
        f.path = path + key;
        f.title = title + ": " + words;
        f.help = help;
        f.dimension = dimension;
        f.least = least;
        f.most = most;
        f.read = [of, member](const Job &j) -> FieldContent { return of(const_cast<Job &>(j)).*member; };
        f.write = [of, member](Job &j, const FieldContent &c) { of(j).*member = std::get<double>(c); };
        fields.push_back(std::move(f));
    };
    const auto addText = [&](const char *key, const char *words, std::string Component::*member,
                             const char *help) {
        Field f;
        f.path = path + key;
        f.title = title + ": " + words;
        f.help = help;
        f.read = [of, member](const Job &j) -> FieldContent { return of(const_cast<Job &>(j)).*member; };
        f.write = [of, member](Job &j, const FieldContent &c) { of(j).*member = std::get<std::string>(c); };
        fields.push_back(std::move(f));
    };
    addText(".name", "name", &Component::name, "What it is called.");
    add(".density_kg_m3", "density", Dimension::density, 600, 1000, &Component::densityKgM3, "At 20 °C.");
    add(".stoich_afr", "stoichiometric AFR", Dimension::airFuelRatio, 5, 18, &Component::stoichiometricAfr,
        "Air per fuel, by mass.");
    add(".lhv_mj_kg", "lower heating value", Dimension::energyPerMass, 15, 50,
        &Component::lowerHeatingValueMjKg, "Energy without condensing the water.");
    add(".latent_heat_kj_kg", "latent heat", Dimension::latentHeat, 100, 1500, &Component::latentHeatKjKg,
        "Heat taken up in evaporating.");
    add(".ron", "RON", Dimension::octane, 50, 140, &Component::researchOctane, "Research octane number.");
    add(".mon", "MON", Dimension::octane, 50, 140, &Component::motorOctane, "Motor octane number.");
    add(".molar_mass_g_mol", "mean molar mass", Dimension::molarMass, 20, 200, &Component::molarMassGMol,
        "Of a gasoline 100 to 110 is usual.");
    addText(".origin", "origin of these numbers", &Component::origin,
            "Data sheet, measurement or common practice.");
}

} // namespace wheelwright
