// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/fuel_shelf.h"

#include "core/job/describe.h"

namespace wheelwright {
namespace {
using D = Dimension;
}

Chapter fuelShelfChapter() {
    const auto hydrocarbons = listOf<Hydrocarbon>([](auto &j) -> auto & { return j.hydrocarbons; });
    const auto shelf = listOf<ShelfEntry>([](auto &j) -> auto & { return j.shelf; });
    const auto lots = listOf<FuelLot>([](auto &j) -> auto & { return j.lots; });
    const auto tubes = listOf<TubeRecord>([](auto &j) -> auto & { return j.tubes; });
    const auto mixtures = listOf<MixtureEntry>([](auto &j) -> auto & { return j.mixtures; });
    Chapter c;
    c.fields = {
        choice(
            "fuel.alcohol", "Alcohol", {"ethanol", "methanol"}, {"Ethanol", "Methanol"},
            [](auto &j) -> auto & { return j.alcohol; }, "What the content is a content of."),
    };
    addComponent(
        c.fields, "fuel.gasoline", "Gasoline", [](auto &j) -> auto & { return j.gasoline; });
    addComponent(
        c.fields, "fuel.ethanol", "Ethanol", [](auto &j) -> auto & { return j.ethanol; });
    addComponent(
        c.fields, "fuel.methanol", "Methanol", [](auto &j) -> auto & { return j.methanol; });
    c.lists = {
        referred("the name of a hydrocarbon",
                 hydrocarbons.list(
                     "fuel.hydrocarbons", "Hydrocarbons", 8,
                     {hydrocarbons.field<std::string>("name", "Hydrocarbon", &Hydrocarbon::name,
                                                      "What it is called."),
                      hydrocarbons.number("density_kg_m3", "Density", D::density, 600, 1000,
                                          &Hydrocarbon::densityKgM3, "At 20 °C."),
                      hydrocarbons.number("stoich_afr", "Stoich. AFR", D::airFuelRatio, 10, 18,
                                          &Hydrocarbon::stoichiometricAfr, "Air per fuel, by mass."),
                      hydrocarbons.number("lhv_mj_kg", "LHV", D::energyPerMass, 30, 50,
                                          &Hydrocarbon::lowerHeatingValueMjKg,
                                          "Energy without condensing the water."),
                      hydrocarbons.number("latent_heat_kj_kg", "Latent heat", D::latentHeat, 100, 1500,
                                          &Hydrocarbon::latentHeatKjKg, "Heat taken up in evaporating."),
                      hydrocarbons.number("ron", "RON", D::octane, 50, 140, &Hydrocarbon::researchOctane,
                                          "Research octane number."),
                      hydrocarbons.number("mon", "MON", D::octane, 50, 140, &Hydrocarbon::motorOctane,
                                          "Motor octane number."),
                      hydrocarbons.number("molar_mass_g_mol", "Molar mass", D::molarMass, 60, 200,
                                          &Hydrocarbon::molarMassGMol, "100 to 110 is usual."),
                      hydrocarbons.number("oxygen", "Oxygen by mass", D::ratio, 0, 0.4, &Hydrocarbon::oxygen,
                                          "Oxygenates, as data sheets state them."),
                      hydrocarbons.field("leaded", "Leaded", &Hydrocarbon::leaded,
                                         "Ruins catalysts and oxygen sensors."),
                      hydrocarbons.field<std::string>("origin", "Origin", &Hydrocarbon::origin,
                                                      "Data sheet, measurement or common practice.")})),
        referred(
            "the name of a fuel on the shelf",
            shelf.list(
                "fuel.shelf", "Shelf", 8,
                {shelf.field("name", "Fuel", &ShelfEntry::name, "What it is called."),
                 shelf.choice("kind", "Kind",
                              {"pump", "high_ethanol", "methanol", "race_gasoline", "booster"},
                              {"Pump fuel", "High ethanol", "Methanol", "Race gasoline", "Octane booster"},
                              &ShelfEntry::kind, "Decides the cautions and the usual ±."),
                 shelf.number("ethanol", "Ethanol", D::content, 0, 1, &ShelfEntry::ethanol,
                              "By test tube rather than by label."),
                 shelf.unstated("methanol", "Methanol", D::content, 0, 1, &ShelfEntry::methanol,
                                "A content sensor cannot tell it from ethanol."),
                 shelf.unstated("content_sigma", "±", D::content, 0, 0.5, &ShelfEntry::contentSigma,
                                "Standard uncertainty of its alcohol. 0: what is usual for its kind."),
                 shelf.unstated("price_per_l", "Price per L", D::none, 0, 1e6, &ShelfEntry::pricePerL,
                                "In your money."),
                 shelf.unstated("left_l", "Left", D::displacement, 0, 1e5, &ShelfEntry::leftL,
                                "0: as much as is wanted."),
                 shelf.unstated("can_l", "Sealed can", D::displacement, 0, 1000, &ShelfEntry::canL,
                                "0: by the litre."),
                 shelf.field("in_plans", "Plan with", &ShelfEntry::inPlans, "Pour plans may use it."),
                 shelf.field("leaded", "Leaded", &ShelfEntry::leaded, "Ruins catalysts and oxygen sensors."),
                 shelf.reference(
                     "hydrocarbon", "Hydrocarbon", &ShelfEntry::hydrocarbon, "fuel.hydrocarbons",
                     "Name of the one in it, from the list of hydrocarbons; empty: the job's gasoline."),
                 shelf.unstated("treat_rate", "Treat rate", D::ratio, 0, 1, &ShelfEntry::treatRate,
                                "Of a booster: volume per volume of fuel."),
                 shelf.unstated("treated_ron", "Treated RON", D::octane, 0, 140, &ShelfEntry::treatedRon,
                                "Octane of fuel treated at that rate, as you know it."),
                 shelf.field("supplier", "From", &ShelfEntry::supplier, "Station or supplier."),
                 shelf.date("opened", "Opened", &ShelfEntry::opened,
                            "Date, ISO 8601. Alcohol takes up water once opened.")})),
        referred("the label of a lot",
                 lots.list(
                     "fuel.lots", "Lots", 64,
                     {lots.field("label", "Lot", &FuelLot::label, "Its name, once only."),
                      lots.reference("fuel", "Fuel", &FuelLot::fuel, "fuel.shelf",
                                     "Name of the fuel on the shelf."),
                      lots.field("supplier", "From", &FuelLot::supplier, "Station or supplier."),
                      lots.date("bought", "Bought", &FuelLot::bought, "Date, ISO 8601."),
                      lots.unstated("price_per_l", "Price per L", D::none, 0, 1e6, &FuelLot::pricePerL,
                                    "0: the shelf's."),
                      lots.number("left_l", "Left", D::displacement, 0, 1e5, &FuelLot::leftL, "Of this lot."),
                      lots.date("opened", "Opened", &FuelLot::opened, "Date, ISO 8601; empty: sealed."),
                      lots.field("note", "Note", &FuelLot::note, "Batch, receipt.")})),
        tubes.list(
            "fuel.tubes", "Tube results", 500,
            {tubes.date("at", "When", &TubeRecord::at, "ISO 8601."),
             tubes.reference("of", "Of", &TubeRecord::of, "fuel.lots",
                             "Label of a lot; empty: what is in the tank."),
             tubes.number("water", "Water line", D::none, 0.001, 1e4, &TubeRecord::waterLine,
                          "Height or volume, any unit."),
             tubes.number("fuel", "Fuel line", D::none, 0.001, 1e4, &TubeRecord::fuelLine, "The same unit."),
             tubes.number("layer", "Layer", D::none, 0, 1e4, &TubeRecord::layerTop,
                          "Top of the water-alcohol layer after shaking."),
             tubes.number("reading", "± reading", D::none, 0, 1e3, &TubeRecord::reading,
                          "Standard uncertainty of each reading."),
             tubes.unstated("contraction", "Contraction", D::ratio, 0, 0.19, &TubeRecord::contraction,
                            "Share of its volume that the layer loses; 0: not corrected."),
             tubes.number("contraction_sigma", "± contraction", D::ratio, 0, 0.19,
                          &TubeRecord::contractionSigma, "Its standard uncertainty."),
             tubes.field("station", "Station", &TubeRecord::station, "Where the fuel came from."),
             tubes.field("batch", "Batch", &TubeRecord::batch, "Of the fuel."),
             tubes.field("photo", "Photo", &TubeRecord::photo, "Path of a picture of the tube."),
             tubes.field("note", "Note", &TubeRecord::note, "Who read it, how often.")}),
        mixtures.list(
            "fuel.mixtures", "Mixtures", 8,
            {mixtures.field("name", "Mixture", &MixtureEntry::name, "What it is called."),
             mixtures.reference("first", "Of", &MixtureEntry::first, "fuel.shelf",
                                "Name of a fuel on the shelf."),
             mixtures.reference("second", "With", &MixtureEntry::second, "fuel.shelf", "Name of another."),
             mixtures.unstated("share", "Share of it", D::ratio, 0, 1, &MixtureEntry::share,
                               "By volume of the mixture. 0 with a booster: its treat rate.")}),
    };
    c.same = [](const Job &a, const Job &b) {
        return a.gasoline == b.gasoline && a.ethanol == b.ethanol && a.methanol == b.methanol &&
               a.alcohol == b.alcohol && a.hydrocarbons == b.hydrocarbons && a.shelf == b.shelf &&
               a.lots == b.lots && a.tubes == b.tubes && a.mixtures == b.mixtures;
    };
    return c;
}

} // namespace wheelwright
