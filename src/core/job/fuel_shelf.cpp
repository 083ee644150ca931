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
            MARKED("fuel.alcohol", "Alcohol"), {"ethanol", "methanol"},
            {MARKED("fuel.alcohol.ethanol", "Ethanol"), MARKED("fuel.alcohol.methanol", "Methanol")},
            [](auto &j) -> auto & { return j.alcohol; },
            MARKED("fuel.alcohol.help", "What the content is a content of.")),
    };
    addComponent(
        c.fields, "fuel.gasoline", MARKED("component.of.gasoline", "Gasoline"),
        [](auto &j) -> auto & { return j.gasoline; });
    addComponent(
        c.fields, "fuel.ethanol", MARKED("component.of.ethanol", "Ethanol"),
        [](auto &j) -> auto & { return j.ethanol; });
    addComponent(
        c.fields, "fuel.methanol", MARKED("component.of.methanol", "Methanol"),
        [](auto &j) -> auto & { return j.methanol; });
    c.lists = {
        referred(
            MARKED("referred.name_hydrocarbon", "the name of a hydrocarbon"),
            hydrocarbons.list(
                MARKED("fuel.hydrocarbons", "Hydrocarbons"), 8,
                {hydrocarbons.field<std::string>(MARKED("fuel.hydrocarbons.name", "Hydrocarbon"),
                                                 &Hydrocarbon::name,
                                                 MARKED("fuel.hydrocarbons.name.help", "What it is called.")),
                 hydrocarbons.number(MARKED("fuel.hydrocarbons.density_kg_m3", "Density"), D::density, 600,
                                     1000, &Hydrocarbon::densityKgM3,
                                     MARKED("fuel.hydrocarbons.density_kg_m3.help", "At 20 °C.")),
                 hydrocarbons.number(MARKED("fuel.hydrocarbons.stoich_afr", "Stoich. AFR"), D::airFuelRatio,
                                     10, 18, &Hydrocarbon::stoichiometricAfr,
                                     MARKED("fuel.hydrocarbons.stoich_afr.help", "Air per fuel, by mass.")),
                 hydrocarbons.number(
                     MARKED("fuel.hydrocarbons.lhv_mj_kg", "LHV"), D::energyPerMass, 30, 50,
                     &Hydrocarbon::lowerHeatingValueMjKg,
                     MARKED("fuel.hydrocarbons.lhv_mj_kg.help", "Energy without condensing the water.")),
                 hydrocarbons.number(
                     MARKED("fuel.hydrocarbons.latent_heat_kj_kg", "Latent heat"), D::latentHeat, 100, 1500,
                     &Hydrocarbon::latentHeatKjKg,
                     MARKED("fuel.hydrocarbons.latent_heat_kj_kg.help", "Heat taken up in evaporating.")),
                 hydrocarbons.number(MARKED("fuel.hydrocarbons.ron", "RON"), D::octane, 50, 140,
                                     &Hydrocarbon::researchOctane,
                                     MARKED("fuel.hydrocarbons.ron.help", "Research octane number.")),
                 hydrocarbons.number(MARKED("fuel.hydrocarbons.mon", "MON"), D::octane, 50, 140,
                                     &Hydrocarbon::motorOctane,
                                     MARKED("fuel.hydrocarbons.mon.help", "Motor octane number.")),
                 hydrocarbons.number(
                     MARKED("fuel.hydrocarbons.molar_mass_g_mol", "Molar mass"), D::molarMass, 60, 200,
                     &Hydrocarbon::molarMassGMol,
                     MARKED("fuel.hydrocarbons.molar_mass_g_mol.help", "100 to 110 is usual.")),
                 hydrocarbons.number(
                     MARKED("fuel.hydrocarbons.oxygen", "Oxygen by mass"), D::ratio, 0, 0.4,
                     &Hydrocarbon::oxygen,
                     MARKED("fuel.hydrocarbons.oxygen.help", "Oxygenates, as data sheets state them.")),
                 hydrocarbons.field(
                     MARKED("fuel.hydrocarbons.leaded", "Leaded"), &Hydrocarbon::leaded,
                     MARKED("fuel.hydrocarbons.leaded.help", "Ruins catalysts and oxygen sensors.")),
                 hydrocarbons.field<std::string>(MARKED("fuel.hydrocarbons.origin", "Origin"),
                                                 &Hydrocarbon::origin,
                                                 MARKED("fuel.hydrocarbons.origin.help",
                                                        "Data sheet, measurement or common practice."))})),
        referred(
            MARKED("referred.name_fuel_shelf", "the name of a fuel on the shelf"),
            shelf.list(
                MARKED("fuel.shelf", "Shelf"), 8,
                {shelf.field(MARKED("fuel.shelf.name", "Fuel"), &ShelfEntry::name,
                             MARKED("fuel.shelf.name.help", "What it is called.")),
                 shelf.choice(MARKED("fuel.shelf.kind", "Kind"),
                              {"pump", "high_ethanol", "methanol", "race_gasoline", "booster"},
                              {MARKED("fuel.shelf.kind.pump", "Pump fuel"),
                               MARKED("fuel.shelf.kind.high_ethanol", "High ethanol"),
                               MARKED("fuel.shelf.kind.methanol", "Methanol"),
                               MARKED("fuel.shelf.kind.race_gasoline", "Race gasoline"),
                               MARKED("fuel.shelf.kind.booster", "Octane booster")},
                              &ShelfEntry::kind,
                              MARKED("fuel.shelf.kind.help", "Decides the cautions and the usual ±.")),
                 shelf.number(MARKED("fuel.shelf.ethanol", "Ethanol"), D::ethanolContent, 0, 1,
                              &ShelfEntry::ethanol,
                              MARKED("fuel.shelf.ethanol.help", "By test tube rather than by label.")),
                 shelf.unstated(
                     MARKED("fuel.shelf.methanol", "Methanol"), D::methanolContent, 0, 1,
                     &ShelfEntry::methanol,
                     MARKED("fuel.shelf.methanol.help", "A content sensor cannot tell it from ethanol.")),
                 shelf.unstated(
                     MARKED("fuel.shelf.content_sigma", "±"), D::contentDifference, 0, 0.5,
                     &ShelfEntry::contentSigma,
                     MARKED("fuel.shelf.content_sigma.help",
                            "Standard uncertainty of its alcohol. 0: what is usual for its kind.")),
                 shelf.unstated(MARKED("fuel.shelf.price_per_l", "Price per L"), D::none, 0, 1e6,
                                &ShelfEntry::pricePerL,
                                MARKED("fuel.shelf.price_per_l.help", "In your money.")),
                 shelf.unstated(MARKED("fuel.shelf.left_l", "Left"), D::displacement, 0, 1e5,
                                &ShelfEntry::leftL,
                                MARKED("fuel.shelf.left_l.help", "0: as much as is wanted.")),
                 shelf.unstated(MARKED("fuel.shelf.can_l", "Sealed can"), D::displacement, 0, 1000,
                                &ShelfEntry::canL, MARKED("fuel.shelf.can_l.help", "0: by the litre.")),
                 shelf.field(MARKED("fuel.shelf.in_plans", "Plan with"), &ShelfEntry::inPlans,
                             MARKED("fuel.shelf.in_plans.help", "Pour plans may use it.")),
                 shelf.field(MARKED("fuel.shelf.leaded", "Leaded"), &ShelfEntry::leaded,
                             MARKED("fuel.shelf.leaded.help", "Ruins catalysts and oxygen sensors.")),
                 shelf.reference(
                     MARKED("fuel.shelf.hydrocarbon", "Hydrocarbon"), &ShelfEntry::hydrocarbon,
                     "fuel.hydrocarbons",
                     MARKED(
                         "fuel.shelf.hydrocarbon.help",
                         "Name of the one in it, from the list of hydrocarbons; empty: the job's gasoline.")),
                 shelf.unstated(
                     MARKED("fuel.shelf.treat_rate", "Treat rate"), D::ratio, 0, 1, &ShelfEntry::treatRate,
                     MARKED("fuel.shelf.treat_rate.help", "Of a booster: volume per volume of fuel.")),
                 shelf.unstated(MARKED("fuel.shelf.treated_ron", "Treated RON"), D::octane, 0, 140,
                                &ShelfEntry::treatedRon,
                                MARKED("fuel.shelf.treated_ron.help",
                                       "Octane of fuel treated at that rate, as you know it.")),
                 shelf.field(MARKED("fuel.shelf.supplier", "From"), &ShelfEntry::supplier,
                             MARKED("fuel.shelf.supplier.help", "Station or supplier.")),
                 shelf.date(MARKED("fuel.shelf.opened", "Opened"), &ShelfEntry::opened,
                            MARKED("fuel.shelf.opened.help",
                                   "Date, ISO 8601. Alcohol takes up water once opened."))})),
        referred(MARKED("referred.label_lot", "the label of a lot"),
                 lots.list(MARKED("fuel.lots", "Lots"), 64,
                           {lots.field(MARKED("fuel.lots.label", "Lot"), &FuelLot::label,
                                       MARKED("fuel.lots.label.help", "Its name, once only.")),
                            lots.reference(MARKED("fuel.lots.fuel", "Fuel"), &FuelLot::fuel, "fuel.shelf",
                                           MARKED("fuel.lots.fuel.help", "Name of the fuel on the shelf.")),
                            lots.field(MARKED("fuel.lots.supplier", "From"), &FuelLot::supplier,
                                       MARKED("fuel.lots.supplier.help", "Station or supplier.")),
                            lots.date(MARKED("fuel.lots.bought", "Bought"), &FuelLot::bought,
                                      MARKED("fuel.lots.bought.help", "Date, ISO 8601.")),
                            lots.unstated(MARKED("fuel.lots.price_per_l", "Price per L"), D::none, 0, 1e6,
                                          &FuelLot::pricePerL,
                                          MARKED("fuel.lots.price_per_l.help", "0: the shelf's.")),
                            lots.number(MARKED("fuel.lots.left_l", "Left"), D::displacement, 0, 1e5,
                                        &FuelLot::leftL, MARKED("fuel.lots.left_l.help", "Of this lot.")),
                            lots.date(MARKED("fuel.lots.opened", "Opened"), &FuelLot::opened,
                                      MARKED("fuel.lots.opened.help", "Date, ISO 8601; empty: sealed.")),
                            lots.field(MARKED("fuel.lots.note", "Note"), &FuelLot::note,
                                       MARKED("fuel.lots.note.help", "Batch, receipt."))})),
        tubes.list(
            MARKED("fuel.tubes", "Tube results"), 500,
            {tubes.date(MARKED("fuel.tubes.at", "When"), &TubeRecord::at,
                        MARKED("fuel.tubes.at.help", "ISO 8601.")),
             tubes.reference(MARKED("fuel.tubes.of", "Of"), &TubeRecord::of, "fuel.lots",
                             MARKED("fuel.tubes.of.help", "Label of a lot; empty: what is in the tank.")),
             tubes.number(MARKED("fuel.tubes.water", "Water line"), D::none, 0.001, 1e4,
                          &TubeRecord::waterLine,
                          MARKED("fuel.tubes.water.help", "Height or volume, any unit.")),
             tubes.number(MARKED("fuel.tubes.fuel", "Fuel line"), D::none, 0.001, 1e4, &TubeRecord::fuelLine,
                          MARKED("fuel.tubes.fuel.help", "The same unit.")),
             tubes.number(MARKED("fuel.tubes.layer", "Layer"), D::none, 0, 1e4, &TubeRecord::layerTop,
                          MARKED("fuel.tubes.layer.help", "Top of the water-alcohol layer after shaking.")),
             tubes.number(MARKED("fuel.tubes.reading", "± reading"), D::none, 0, 1e3, &TubeRecord::reading,
                          MARKED("fuel.tubes.reading.help", "Standard uncertainty of each reading.")),
             tubes.unstated(MARKED("fuel.tubes.contraction", "Contraction"), D::ratio, 0, 0.19,
                            &TubeRecord::contraction,
                            MARKED("fuel.tubes.contraction.help",
                                   "Share of its volume that the layer loses; 0: not corrected.")),
             tubes.number(MARKED("fuel.tubes.contraction_sigma", "± contraction"), D::ratio, 0, 0.19,
                          &TubeRecord::contractionSigma,
                          MARKED("fuel.tubes.contraction_sigma.help", "Its standard uncertainty.")),
             tubes.field(MARKED("fuel.tubes.station", "Station"), &TubeRecord::station,
                         MARKED("fuel.tubes.station.help", "Where the fuel came from.")),
             tubes.field(MARKED("fuel.tubes.batch", "Batch"), &TubeRecord::batch,
                         MARKED("fuel.tubes.batch.help", "Of the fuel.")),
             tubes.field(MARKED("fuel.tubes.photo", "Photo"), &TubeRecord::photo,
                         MARKED("fuel.tubes.photo.help", "Path of a picture of the tube.")),
             tubes.field(MARKED("fuel.tubes.note", "Note"), &TubeRecord::note,
                         MARKED("fuel.tubes.note.help", "Who read it, how often."))}),
        mixtures.list(
            MARKED("fuel.mixtures", "Mixtures"), 8,
            {mixtures.field(MARKED("fuel.mixtures.name", "Mixture"), &MixtureEntry::name,
                            MARKED("fuel.mixtures.name.help", "What it is called.")),
             mixtures.reference(MARKED("fuel.mixtures.first", "Of"), &MixtureEntry::first, "fuel.shelf",
                                MARKED("fuel.mixtures.first.help", "Name of a fuel on the shelf.")),
             mixtures.reference(MARKED("fuel.mixtures.second", "With"), &MixtureEntry::second, "fuel.shelf",
                                MARKED("fuel.mixtures.second.help", "Name of another.")),
             mixtures.unstated(MARKED("fuel.mixtures.share", "Share of it"), D::ratio, 0, 1,
                               &MixtureEntry::share,
                               MARKED("fuel.mixtures.share.help",
                                      "By volume of the mixture. 0 with a booster: its treat rate."))}),
    };
    c.same = [](const Job &a, const Job &b) {
        return a.gasoline == b.gasoline && a.ethanol == b.ethanol && a.methanol == b.methanol &&
               a.alcohol == b.alcohol && a.hydrocarbons == b.hydrocarbons && a.shelf == b.shelf &&
               a.lots == b.lots && a.tubes == b.tubes && a.mixtures == b.mixtures;
    };
    return c;
}

} // namespace wheelwright
