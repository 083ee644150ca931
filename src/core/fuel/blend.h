// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/quantity.h"
#include "core/fuel/component.h"

#include <span>

namespace wheelwright {

/// Volume fractions of a fuel; the rest is gasoline. Mixing is by volume: contraction on mixing (under 0.5 %)
/// is ignored.
struct Blend {
    VolumeFraction ethanol = VolumeFraction::fraction(0);
    VolumeFraction methanol = VolumeFraction::fraction(0);

    VolumeFraction gasoline() const {
        return VolumeFraction::fraction(1 - ethanol.fraction() - methanol.fraction());
    }
};

/// What follows from a blend's composition.
struct BlendProperties {
    double densityKgM3 = 0;
    double stoichiometricAfr = 0;     ///< mass-weighted
    double lowerHeatingValueMjKg = 0; ///< mass-weighted
    double latentHeatKjKg = 0;        ///< mass-weighted
    double researchOctane = 0; ///< linear in mole fraction: Anderson et al., SAE 2010-01-2137. Advice only
    double motorOctane = 0;
    double idealCoolingK = 0; ///< charge cooling if all the fuel evaporated in air alone: a comparison figure
    double ethanolMoleFraction = 0;
    double methanolMoleFraction = 0;
};

/// So much of a volume is one component.
struct BlendPart {
    const Component *component = nullptr; ///< not owned
    double volume = 0;                    ///< any unit, 0 or more, over 0 in all
};

/// Properties of any mixture; mole fractions of the alcohols stay 0, since no part is known to be one.
/// Throws InputError for a component whose density, AFR or molar mass is not above zero and for an empty
/// mixture.
BlendProperties propertiesOf(std::span<const BlendPart> parts);

/// Fuel volume needed for the same air at the same λ, relative to the reference: K = AFR₀ρ₀/(AFR ρ).
double volumeMultiplier(const BlendProperties &fuel, const BlendProperties &reference);

/// Blends of one gasoline with ethanol and methanol. Throws InputError for a component whose density, AFR or
/// molar mass is not above zero and for fractions outside 0–1 or above 1 together.
class BlendModel {
  public:
    explicit BlendModel(Component gasoline = defaultGasoline(), Component ethanol = wheelwright::ethanol(),
                        Component methanol = wheelwright::methanol());

    BlendProperties properties(const Blend &blend) const;

    /// Fuel volume that `blend` needs for the same air at the same λ, relative to `reference`: K =
    /// AFR₀ρ₀/(AFR ρ).
    double volumeMultiplier(const Blend &blend, const Blend &reference) const;

    /// The fraction of one alcohol alone that needs as much fuel as the blend: a litre of methanol counts for
    /// about one and a half of ethanol. May be above 1. Exact, since ρ · AFR mixes by volume.
    double asOneAlcohol(const Blend &blend, bool methanol) const;
    /// What a litre of the other alcohol counts for.
    double otherCountsFor(bool methanol) const;

    const Component &gasoline() const { return m_gasoline; }
    const Component &ethanol() const { return m_ethanol; }
    const Component &methanol() const { return m_methanol; }

  private:
    Component m_gasoline;
    Component m_ethanol;
    Component m_methanol;
};

/// Throws InputError when the fractions are not a blend.
void validate(const Blend &blend);

} // namespace wheelwright
