#include "core/fuel/blend.h"

#include "core/error.h"

#include <array>
#include <cmath>

namespace wheelwright {
namespace {

constexpr double airHeatCapacity = 1.005; // kJ/(kg K), dry air at 25 °C

void requireFraction(const char *where, double fraction) {
    if (!(fraction >= 0 && fraction <= 1))
        throw InputError(where, "a volume fraction from 0 to 1", std::to_string(fraction));
}

void requirePositive(const Component &c, const char *what, double v) {
    if (!(v > 0) || !std::isfinite(v))
        throw InputError(c.name + " " + what, "a number above 0", std::to_string(v));
}

} // namespace

void validate(const Blend &blend) {
    requireFraction("ethanol", blend.ethanol.fraction());
    requireFraction("methanol", blend.methanol.fraction());
    const double alcohol = blend.ethanol.fraction() + blend.methanol.fraction();
    if (alcohol > 1 + 1e-12)
        throw InputError("ethanol and methanol", "at most 1 together", std::to_string(alcohol));
}

BlendModel::BlendModel(Component gasoline) : m_gasoline(std::move(gasoline)) {
    requirePositive(m_gasoline, "density", m_gasoline.densityKgM3);
    requirePositive(m_gasoline, "stoichiometric AFR", m_gasoline.stoichiometricAfr);
    requirePositive(m_gasoline, "molar mass", m_gasoline.molarMassGMol);
}

BlendProperties BlendModel::properties(const Blend &blend) const {
    validate(blend);
    struct Part {
        const Component *component;
        double volume;
    };
    const std::array<Part, 3> parts{Part{&m_gasoline, blend.gasoline().fraction()},
                                    Part{&m_ethanol, blend.ethanol.fraction()},
                                    Part{&m_methanol, blend.methanol.fraction()}};
    BlendProperties p;
    double moles = 0;
    for (const Part &part : parts) {
        p.densityKgM3 += part.volume * part.component->densityKgM3;
        moles += part.volume * part.component->densityKgM3 / part.component->molarMassGMol;
    }
    std::array<double, 3> moleFraction{};
    for (std::size_t i = 0; i < parts.size(); ++i) {
        const Component &c = *parts[i].component;
        const double mass = parts[i].volume * c.densityKgM3 / p.densityKgM3;
        moleFraction[i] = parts[i].volume * c.densityKgM3 / c.molarMassGMol / moles;
        // By mass, not by volume: air is needed per kilogram of each component.
        p.stoichiometricAfr += mass * c.stoichiometricAfr;
        p.lowerHeatingValueMjKg += mass * c.lowerHeatingValueMjKg;
        p.latentHeatKjKg += mass * c.latentHeatKjKg;
        p.researchOctane += moleFraction[i] * c.researchOctane; // Anderson et al., SAE 2010-01-2137
        p.motorOctane += moleFraction[i] * c.motorOctane;
    }
    p.ethanolMoleFraction = moleFraction[1];
    p.methanolMoleFraction = moleFraction[2];
    p.idealCoolingK = p.latentHeatKjKg / (p.stoichiometricAfr * airHeatCapacity);
    return p;
}

double BlendModel::volumeMultiplier(const Blend &blend, const Blend &reference) const {
    const BlendProperties b = properties(blend);
    const BlendProperties r = properties(reference);
    return r.stoichiometricAfr * r.densityKgM3 / (b.stoichiometricAfr * b.densityKgM3);
}

} // namespace wheelwright
