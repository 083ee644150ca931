// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/fuel_comparison.h"

#include "core/base/error.h"
#include "core/base/limits.h"
#include "core/job/tank_history.h"
#include "core/study/pour_effect.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

using D = Dimension;
using F = ComparedFuel;

constexpr PhraseText byMass = MARKED(
    "fuel_column.by_mass", "Mass-weighted; components as in the job, Heywood (1988) eq. 3.6, table D.4");
constexpr PhraseText byMole =
    MARKED("fuel_column.by_mole", "Linear in mole fraction: Anderson et al., SAE 2010-01-2137. Advice only");
constexpr PhraseText money = MARKED("fuel_column.money", "Price as typed on the shelf or in its lots");

constexpr std::array fuelColumns{
    FuelColumn{"stoich_afr", MARKED("fuel_column.stoich_afr", "AFR"),
               MARKED("fuel_column.stoich_afr.help", "Air per fuel at λ 1, by mass"), D::airFuelRatio, 2,
               MARKED("fuel_column.stoich_afr.formula", "AFR = Σ mᵢ AFRᵢ, mᵢ = vᵢ ρᵢ / ρ"), byMass,
               [](const F &f) { return std::optional(f.properties.stoichiometricAfr); }},
    FuelColumn{"volume_multiplier", MARKED("fuel_column.volume_multiplier", "Volume"),
               MARKED("fuel_column.volume_multiplier.help",
                      "Fuel volume against what is in the tank, equal air and λ"),
               D::none, 3, MARKED("fuel_column.volume_multiplier.formula", "K = AFR₀ ρ₀ / (AFR ρ)"), byMass,
               [](const F &f) { return std::optional(f.multiplier); }},
    FuelColumn{"ron", MARKED("fuel_column.ron", "RON"), MARKED("fuel_column.ron.help", "Research octane"),
               D::octane, 1, MARKED("fuel_column.ron.formula", "RON = Σ xᵢ RONᵢ"), byMole,
               [](const F &f) { return std::optional(f.properties.researchOctane); }},
    FuelColumn{"mon", MARKED("fuel_column.mon", "MON"), MARKED("fuel_column.mon.help", "Motor octane"),
               D::octane, 1, MARKED("fuel_column.mon.formula", "MON = Σ xᵢ MONᵢ"), byMole,
               [](const F &f) { return std::optional(f.properties.motorOctane); }},
    FuelColumn{"aki", MARKED("fuel_column.aki", "AKI"),
               MARKED("fuel_column.aki.help", "Anti-knock index, (RON + MON)/2"), D::octane, 1,
               MARKED("fuel_column.aki.formula", "AKI = (RON + MON)/2"), byMole,
               [](const F &f) {
                   return std::optional((f.properties.researchOctane + f.properties.motorOctane) / 2);
               }},
    FuelColumn{"ideal_cooling_k", MARKED("fuel_column.ideal_cooling_k", "Cooling"),
               MARKED("fuel_column.ideal_cooling_k.help",
                      "If all of it evaporated in air alone: a comparison figure"),
               D::temperatureDifference, 0,
               MARKED("fuel_column.ideal_cooling_k.formula", "ΔT = h_fg / (AFR · 1.005)"),
               MARKED("fuel_column.ideal_cooling_k.source",
                      "Energy balance; latent heats: NIST enthalpies of vaporisation, from memory"),
               [](const F &f) { return std::optional(f.properties.idealCoolingK); }},
    FuelColumn{"energy_mj_l", MARKED("fuel_column.energy_mj_l", "MJ/L"),
               MARKED("fuel_column.energy_mj_l.help", "Lower heating value by volume"), D::energyPerVolume, 2,
               MARKED("fuel_column.energy_mj_l.formula", "LHV · ρ / 1000"), byMass,
               [](const F &f) { return std::optional(f.energyMjL); }},
    FuelColumn{
        "energy_mj_per_kg_air", MARKED("fuel_column.energy_mj_per_kg_air", "MJ/air"),
        MARKED("fuel_column.energy_mj_per_kg_air.help", "Energy that a kilogram of air can burn at λ 1"),
        D::energyPerMass, 2, MARKED("fuel_column.energy_mj_per_kg_air.formula", "LHV / AFR"), byMass,
        [](const F &f) { return std::optional(f.energyMjPerKgAir); }},
    FuelColumn{"price_per_l", MARKED("fuel_column.price_per_l", "Per L"),
               MARKED("fuel_column.price_per_l.help", "Price of a litre"), D::money, 2,
               MARKED("fuel_column.price_per_l.formula", "as typed; of a mixture Σ vᵢ pᵢ"), money,
               [](const F &f) { return f.pricePerL; }},
    FuelColumn{"price_per_tank", MARKED("fuel_column.price_per_tank", "Tank"),
               MARKED("fuel_column.price_per_tank.help", "A tank from empty to the brim"), D::money, 0,
               MARKED("fuel_column.price_per_tank.formula", "price · capacity"), money,
               [](const F &f) { return f.perTank; }},
    FuelColumn{"price_per_100km", MARKED("fuel_column.price_per_100km", "100 km"),
               MARKED("fuel_column.price_per_100km.help",
                      "At the job's consumption, which grows with the fuel volume needed"),
               D::money, 1, MARKED("fuel_column.price_per_100km.formula", "price · use · K / K_use"), money,
               [](const F &f) { return f.per100Km; }},
    FuelColumn{"price_per_hour", MARKED("fuel_column.price_per_hour", "Hour"),
               MARKED("fuel_column.price_per_hour.help", "Of an event, at the job's consumption"), D::money,
               1, MARKED("fuel_column.price_per_hour.formula", "price · use · K / K_use"), money,
               [](const F &f) { return f.perHour; }},
};

TankState tankFullOf(const Job &job, const ComparedFuel &f, const std::vector<TankState::Share> &others) {
    return {job.tank.capacityL, f.content, others};
}

// What the comparison is against: what is in the tank, or the base fuel of the tables when nothing is.
TankState present(const Job &job) {
    TankState tank = tankNow(job);
    if (tank.volumeL <= 0 || job.tankEvents.empty())
        tank = {job.tank.capacityL, blendAt(job, job.calibration.baseContent), {}};
    return tank;
}

void finish(const Job &job, ComparedFuel &f) {
    const BlendProperties &p = f.properties;
    f.alcohol = alcoholOf(f.content);
    f.multiplier = volumeMultiplier(p, propertiesOf(job, present(job)));
    f.energyMjL = p.lowerHeatingValueMjKg * p.densityKgM3 / 1000;
    f.energyMjPerKgAir = p.lowerHeatingValueMjKg / p.stoichiometricAfr;
    const BlendProperties measuredOn = blendModelOf(job).properties(blendAt(job, job.consumption.content));
    const double more = volumeMultiplier(p, measuredOn);
    if (job.consumption.litresPer100Km > 0) f.litresPer100Km = job.consumption.litresPer100Km * more;
    if (!f.pricePerL) return;
    f.perTank = *f.pricePerL * job.tank.capacityL;
    if (f.litresPer100Km) f.per100Km = *f.pricePerL * *f.litresPer100Km;
    if (job.consumption.litresPerHour > 0) f.perHour = *f.pricePerL * job.consumption.litresPerHour * more;
}

std::optional<double> priceOf(const Fuel &f) {
    return f.pricePerL > 0 ? std::optional(f.pricePerL) : std::nullopt;
}

// A booster's share in the mixture for its treat rate (volume per volume of fuel).
double shareOfTreat(const Fuel &booster) {
    return booster.treatRate / (1 + booster.treatRate);
}

void treat(const Fuel &booster, double share, const BlendProperties &untreated, BlendProperties &p) {
    const double full = shareOfTreat(booster);
    const double gain = booster.treatedRon - untreated.researchOctane;
    if (full <= 0 || booster.treatedRon <= 0) return;
    const double part = std::min(1.0, share / full);
    // The mixture's own octane counts for nothing here: the user knows what the treated fuel has.
    p.researchOctane = untreated.researchOctane + std::max(0.0, gain) * part;
    p.motorOctane = untreated.motorOctane + std::max(0.0, gain) * part;
}

void sayVolume(const Job &job, const DutyOverContent &dutyAt, ComparedFuel &f) {
    constexpr double noticed = 0.03; // common practice: the tolerance of a content window
    const double step = f.multiplier - 1;
    if (std::abs(step) > noticed)
        f.mustChange.push_back(
            {step > 0 ? MARKED("must_change.volume.more",
                               "Fuel tables: {0} more by volume, through injectors, pump and lines.")
                      : MARKED("must_change.volume.less",
                               "Fuel tables: {0} less by volume, through injectors, pump and lines."),
             {{std::abs(step), D::ratio}}});
    const auto duty = dutyAt ? dutyAt(f.alcohol) : std::nullopt;
    if (duty && *duty > limitOf(job, "flow.duty.caution"))
        f.mustChange.push_back({MARKED("must_change.duty", "Injectors: up to {0} duty at this content."),
                                {{std::min(*duty, 9.99), D::ratio}}});
}

void saySpark(const PourEffect &e, ComparedFuel &f) {
    const double step = e.sparkOfContentDeg - e.sparkDeg;
    constexpr double noticed = 0.5;
    if (std::abs(step) > noticed)
        f.mustChange.push_back(
            {MARKED("must_change.spark", "Spark: the tables go from {0} to {1} at {2}, {3}."),
             {{e.sparkDeg, D::sparkAngle},
              {e.sparkOfContentDeg, D::sparkAngle},
              {e.rpm, D::engineSpeed},
              {e.loadKpa, D::pressure}}});
}

void sayMustChange(const Study &study, const DutyOverContent &dutyAt,
                   const std::vector<TankState::Share> &others, ComparedFuel &f) {
    const Job &job = study.job();
    sayVolume(job, dutyAt, f);
    saySpark(effectBetween(study, present(job), tankFullOf(job, f, others)), f);
    const double content = f.alcohol;
    const double boost =
        job.engine.boostLimitKpa.at(content) - job.engine.boostLimitKpa.at(alcoholOf(present(job).content));
    if (std::abs(boost) > 1)
        f.mustChange.push_back({boost > 0 ? MARKED("must_change.boost.higher", "Boost limit: {0} higher.")
                                          : MARKED("must_change.boost.lower", "Boost limit: {0} lower."),
                                {{std::abs(boost), D::pressureDifference}}});
    constexpr double coldStart = 0.7; // common practice: from here on starting needs its own numbers
    if (content >= coldStart)
        f.mustChange.push_back(
            {MARKED("must_change.cold_start",
                    "Cold start: vaporises badly under about {0}; cranking and after-start fuel need "
                    "their own numbers."),
             {{10, D::temperature}}});
}

} // namespace

std::span<const FuelColumn> allFuelColumns() {
    return fuelColumns;
}

ComparedFuel mixed(const Job &job, const Fuel &a, const Fuel &b, double share) {
    if (!(share >= 0 && share <= 1))
        throw InputError("share", MARKED("expected.a_fraction_from_0_to_1", "a fraction from 0 to 1"),
                         std::to_string(share));
    const auto of = [&](VolumeFraction x, VolumeFraction y) {
        return VolumeFraction::fraction((1 - share) * x.fraction() + share * y.fraction());
    };
    ComparedFuel f;
    f.content = {of(a.content.ethanol, b.content.ethanol), of(a.content.methanol, b.content.methanol)};
    f.leaded = (a.leaded && share < 1) || (b.leaded && share > 0);
    const std::array parts{BlendPart{&job.ethanol, f.content.ethanol.fraction()},
                           BlendPart{&job.methanol, f.content.methanol.fraction()},
                           BlendPart{&hydrocarbonOf(job, a.hydrocarbon),
                                     std::max(0.0, (1 - share) * a.content.gasoline().fraction())},
                           BlendPart{&hydrocarbonOf(job, b.hydrocarbon),
                                     std::max(0.0, share * b.content.gasoline().fraction())}};
    f.properties = propertiesOf(parts);
    if (b.kind == FuelKind::booster && share < 1) treat(b, share, propertiesOf(job, a), f.properties);
    if (a.kind == FuelKind::booster && share > 0) treat(a, 1 - share, propertiesOf(job, b), f.properties);
    const auto pa = priceOf(a), pb = priceOf(b);
    if ((pa || share == 1) && (pb || share == 0))
        f.pricePerL = (1 - share) * pa.value_or(0) + share * pb.value_or(0);
    finish(job, f);
    return f;
}

std::vector<ComparedFuel> compareFuels(const Study &study, std::string_view today,
                                       const DutyOverContent &dutyAt) {
    const Job &job = study.job();
    const std::vector<Fuel> shelf = shelfOf(job, today);
    std::vector<ComparedFuel> rows;
    const auto others = [](const std::string &hydrocarbon, double fraction) {
        return hydrocarbon.empty() ? std::vector<TankState::Share>{}
                                   : std::vector<TankState::Share>{{hydrocarbon, fraction}};
    };
    for (const Fuel &fuel : shelf) {
        if (fuel.kind == FuelKind::booster) continue; // it runs no engine alone; its mixtures are rows
        ComparedFuel f = mixed(job, fuel, fuel, 0);
        f.name = fuel.name;
        f.flags = fuel.flags;
        sayMustChange(study, dutyAt, others(fuel.hydrocarbon, fuel.content.gasoline().fraction()), f);
        rows.push_back(std::move(f));
    }
    for (const MixtureEntry &m : job.mixtures) {
        const auto a = std::ranges::find(shelf, m.first, &Fuel::name);
        const auto b = std::ranges::find(shelf, m.second, &Fuel::name);
        if (a == shelf.end() || b == shelf.end()) continue; // not filled in yet
        const double share = m.share == 0 && b->kind == FuelKind::booster ? shareOfTreat(*b) : m.share;
        ComparedFuel f = mixed(job, *a, *b, share);
        f.name = m.name;
        f.mixture = true;
        f.flags = a->flags;
        for (const ShelfFlag &flag : b->flags)
            if (std::ranges::find(f.flags, flag.id, &ShelfFlag::id) == f.flags.end()) f.flags.push_back(flag);
        std::vector<TankState::Share> shares =
            others(a->hydrocarbon, (1 - share) * a->content.gasoline().fraction());
        for (const auto &s : others(b->hydrocarbon, share * b->content.gasoline().fraction()))
            shares.push_back(s);
        sayMustChange(study, dutyAt, shares, f);
        rows.push_back(std::move(f));
    }
    return rows;
}

std::vector<ComparedFuel> mixCurve(const Job &job, const Fuel &first, const Fuel &second,
                                   std::size_t points) {
    if (points < 2)
        throw InputError("points", MARKED("expected.2_or_more", "2 or more"), std::to_string(points));
    std::vector<ComparedFuel> curve;
    for (std::size_t i = 0; i < points; ++i)
        curve.push_back(mixed(job, first, second, static_cast<double>(i) / static_cast<double>(points - 1)));
    return curve;
}

} // namespace wheelwright
