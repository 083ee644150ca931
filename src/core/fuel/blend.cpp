// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fuel/blend.h"

#include "core/base/error.h"

#include <array>
#include <cmath>

namespace wheelwright {
namespace {

constexpr double airHeatCapacity = 1.005; // kJ/(kg K), dry air at 25 °C

void requireFraction(const char *where, double fraction) {
    if (!(fraction >= 0 && fraction <= 1))
        throw InputError(where,
                         MARKED("expected.a_volume_fraction_from_0_to_1", "a volume fraction from 0 to 1"),
                         std::to_string(fraction));
}

void requirePositive(const Component &c, const char *what, double v) {
    if (!(v > 0) || !std::isfinite(v))
        throw InputError(c.name + " " + what, MARKED("expected.a_number_above_0", "a number above 0"),
                         std::to_string(v));
}

void requireComponent(const Component &c) {
    requirePositive(c, "density", c.densityKgM3);
    requirePositive(c, "stoichiometric AFR", c.stoichiometricAfr);
    requirePositive(c, "molar mass", c.molarMassGMol);
}

double molesOf(const BlendPart &p) {
    return p.volume * p.component->densityKgM3 / p.component->molarMassGMol;
}

double molesOf(std::span<const BlendPart> parts) {
    double moles = 0;
    for (const BlendPart &p : parts)
        moles += molesOf(p);
    return moles;
}

// Of parts that are known to be sound.
BlendProperties mixed(std::span<const BlendPart> parts) {
    BlendProperties p;
    double volume = 0, mass = 0;
    for (const BlendPart &part : parts) {
        volume += part.volume;
        mass += part.volume * part.component->densityKgM3;
    }
    const double moles = molesOf(parts);
    p.densityKgM3 = mass / volume;
    for (const BlendPart &part : parts) {
        const Component &c = *part.component;
        const double byMass = part.volume * c.densityKgM3 / mass;
        const double byMoles = molesOf(part) / moles;
        // By mass, not by volume: air is needed per kilogram of each component.
        p.stoichiometricAfr += byMass * c.stoichiometricAfr;
        p.lowerHeatingValueMjKg += byMass * c.lowerHeatingValueMjKg;
        p.latentHeatKjKg += byMass * c.latentHeatKjKg;
        p.researchOctane += byMoles * c.researchOctane; // Anderson et al., SAE 2010-01-2137
        p.motorOctane += byMoles * c.motorOctane;
    }
    p.idealCoolingK = p.latentHeatKjKg / (p.stoichiometricAfr * airHeatCapacity);
    return p;
}

} // namespace

void validate(const Blend &blend) {
    requireFraction("ethanol", blend.ethanol.fraction());
    requireFraction("methanol", blend.methanol.fraction());
    const double alcohol = blend.ethanol.fraction() + blend.methanol.fraction();
    if (alcohol > 1 + 1e-12)
        throw InputError("ethanol and methanol", MARKED("expected.at_most_1_together", "at most 1 together"),
                         std::to_string(alcohol));
}

BlendProperties propertiesOf(std::span<const BlendPart> parts) {
    double volume = 0;
    for (const BlendPart &part : parts) {
        requireComponent(*part.component);
        if (!(part.volume >= 0) || !std::isfinite(part.volume))
            throw InputError(part.component->name + " volume", MARKED("expected.0_or_more", "0 or more"),
                             std::to_string(part.volume));
        volume += part.volume;
    }
    if (!(volume > 0))
        throw InputError("mixture", MARKED("expected.some_fuel", "some fuel"), MARKED("found.none", "none"));
    return mixed(parts);
}

double volumeMultiplier(const BlendProperties &b, const BlendProperties &r) {
    return r.stoichiometricAfr * r.densityKgM3 / (b.stoichiometricAfr * b.densityKgM3);
}

BlendModel::BlendModel(Component gasoline, Component ethanol, Component methanol)
    : m_gasoline(std::move(gasoline)), m_ethanol(std::move(ethanol)), m_methanol(std::move(methanol)) {
    for (const Component *c : {&m_gasoline, &m_ethanol, &m_methanol})
        requireComponent(*c);
}

BlendProperties BlendModel::properties(const Blend &blend) const {
    validate(blend);
    const std::array parts{BlendPart{&m_gasoline, blend.gasoline().fraction()},
                           BlendPart{&m_ethanol, blend.ethanol.fraction()},
                           BlendPart{&m_methanol, blend.methanol.fraction()}};
    BlendProperties p = mixed(parts);
    const double moles = molesOf(parts);
    p.ethanolMoleFraction = molesOf(parts[1]) / moles;
    p.methanolMoleFraction = molesOf(parts[2]) / moles;
    return p;
}

double BlendModel::volumeMultiplier(const Blend &blend, const Blend &reference) const {
    return wheelwright::volumeMultiplier(properties(blend), properties(reference));
}

namespace {

// Air that a litre takes at λ 1, up to a factor.
double airPerLitre(const Component &c) {
    return c.densityKgM3 * c.stoichiometricAfr;
}

} // namespace

double BlendModel::otherCountsFor(bool methanol) const {
    const double gasoline = airPerLitre(m_gasoline), e = gasoline - airPerLitre(m_ethanol),
                 m = gasoline - airPerLitre(m_methanol);
    return methanol ? e / m : m / e;
}

double BlendModel::asOneAlcohol(const Blend &blend, bool methanol) const {
    const double e = blend.ethanol.fraction(), m = blend.methanol.fraction();
    return methanol ? m + e * otherCountsFor(true) : e + m * otherCountsFor(false);
}

} // namespace wheelwright
