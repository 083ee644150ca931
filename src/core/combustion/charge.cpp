// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/combustion/charge.h"

#include "core/base/portable_math.h"

#include <algorithm>
#include <array>
#include <numbers>

namespace wheelwright {
namespace {

constexpr double zeroCelsiusK = 273.15;

struct Loss {
    double lambda, share;
};
// Torque over λ, common practice, from memory.
constexpr std::array incomplete{Loss{0.6, 0.16}, Loss{0.7, 0.08}, Loss{0.8, 0.025}, Loss{0.88, 0.0},
                                Loss{1.0, 0.04}};

double incompleteShare(double lambda) {
    if (lambda >= incomplete.back().lambda) return incomplete.back().share;
    std::size_t i = 1;
    while (i + 1 < incomplete.size() && lambda > incomplete[i].lambda)
        ++i;
    const Loss &a = incomplete[i - 1], &b = incomplete[i];
    return std::min(1.0, a.share + (lambda - a.lambda) / (b.lambda - a.lambda) * (b.share - a.share));
}

// Against the place where a burn model's numbers are stated.
double burnFactor(const Breath &b) {
    constexpr double atRpm = 4000, byRpm = 0.22, atKpa = 180, byKpa = -0.12, atLambda = 0.9, byLambda = 2.5,
                     byAlcohol = -0.06;
    const double off = b.lambda - atLambda;
    return portable::pow(b.rpm / atRpm, byRpm) * portable::pow(b.manifoldKpa / atKpa, byKpa) *
           (1 + byLambda * off * off) *
           (1 + byAlcohol * (b.fuel.ethanolMoleFraction + b.fuel.methanolMoleFraction));
}

} // namespace

double coolingShareOf(InjectionPlace place) {
    return place == InjectionPlace::port ? 0.4 : 0.8;
}

double heatPerAirKjKg(const BlendProperties &fuel, double lambda) {
    constexpr double kjPerMj = 1000;
    return fuel.lowerHeatingValueMjKg * kjPerMj / fuel.stoichiometricAfr / std::max(1.0, lambda) *
           (1 - incompleteShare(lambda));
}

double sensitivityKAt(const ChargeModel &model, double manifoldKpa) {
    constexpr double noneKpa = 100, fullKpa = 250;
    return -model.sensitivityAtBoost * std::clamp((manifoldKpa - noneKpa) / (fullKpa - noneKpa), 0.0, 1.0);
}

double octaneIndex(const BlendProperties &fuel, double sensitivityK) {
    return fuel.researchOctane - sensitivityK * (fuel.researchOctane - fuel.motorOctane);
}

TrappedCharge trap(const CylinderShape &shape, const ChargeModel &model, const Breath &b) {
    TrappedCharge t;
    const double intakeK = b.intakeC + zeroCelsiusK;
    constexpr double mgPerG = 1000, atKpa = 100, mostResidual = 0.3;
    t.airMg = b.ve * b.manifoldKpa * shape.displacementL / (chargeGasConstant * intakeK) * mgPerG;
    t.fuelMg = t.airMg / (b.lambda * b.fuel.stoichiometricAfr);
    const double residual = std::min(mostResidual, model.residualShare * atKpa / b.manifoldKpa);
    t.residualMg = (t.airMg + t.fuelMg) * residual / (1 - residual);
    t.coolingK = model.coolingShare * b.fuel.idealCoolingK / b.lambda;
    t.sensitivityK = sensitivityKAt(model, b.manifoldKpa);
    const double mass = t.airMg + t.fuelMg + t.residualMg;
    Charge &c = t.charge;
    constexpr double coldestK = 200;
    c.temperatureK = std::max(coldestK, intakeK + model.heatingK - t.coolingK);
    c.pressureKpa =
        mass / mgPerG * chargeGasConstant * c.temperatureK / cylinderVolumeL(shape, shape.closedDeg);
    c.heatKjKg = heatPerAirKjKg(b.fuel, b.lambda) * t.airMg / mass;
    c.octane = octaneIndex(b.fuel, t.sensitivityK) + model.octaneShift;
    c.wallFactor = model.wallFactor;
    const double factor = burnFactor(b);
    t.burn = {model.delayDeg * factor, model.durationDeg * factor};
    return t;
}

double frictionKpa(double rpm) {
    const double n = rpm / 1000;
    return 97 + 15 * n + 5 * n * n;
}

double torqueNm(double meanKpa, double displacementL) {
    return meanKpa * displacementL / (4 * std::numbers::pi);
}

double brakeKpa(double workKpa, double rpm, double manifoldKpa, double exhaustKpa) {
    return workKpa - frictionKpa(rpm) - std::max(0.0, exhaustKpa - manifoldKpa);
}

} // namespace wheelwright
