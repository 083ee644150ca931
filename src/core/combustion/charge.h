// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/combustion/cylinder.h"
#include "core/fuel/blend.h"

namespace wheelwright {

/// Where the fuel meets the air, and so how much of its heat of vaporisation the charge pays.
enum class InjectionPlace { port, direct };
/// Share of the ideal cooling: 0.4 into the port (0.3–0.5), 0.8 into the cylinder (0.7–0.9). Common practice,
/// from memory.
double coolingShareOf(InjectionPlace place);

/// What goes from air and fuel to a charge, beside the fuel's own properties. The shipped numbers are common
/// practice, from memory; a hidden engine has its own.
struct ChargeModel {
    double coolingShare = 0.4;   ///< of the ideal cooling of the fuel, at λ 1
    double heatingK = 40;        ///< that walls and residual gas add before the valve closes
    double residualShare = 0.05; ///< of the charge, at 100 kPa; in inverse proportion to the pressure
    double wallFactor = 2;       ///< of what walls take by Woschni's law: puts the most torque where half has
                                 ///< burned at about 10°, as engines have it
    double delayDeg = 12;        ///< at 4000 rpm, 180 kPa and λ 0.9
    double durationDeg = 55;     ///< likewise
    double octaneShift = 0;      ///< what an engine stands better or worse than its fuel promises
    double sensitivityAtBoost = 0.5; ///< −K of the octane index at 250 kPa; 0 at 100 kPa

    bool operator==(const ChargeModel &) const = default;
};

/// What a cylinder breathes.
struct Breath {
    BlendProperties fuel;
    double lambda = 1;
    double rpm = 4000;
    double manifoldKpa = 100; ///< absolute
    double intakeC = 40;      ///< in the manifold
    double ve = 0.9;          ///< share, against manifold conditions
};

/// Mixture and its burn when the valve has closed.
struct TrappedCharge {
    Charge charge;
    Burn burn;
    double airMg = 0, fuelMg = 0, residualMg = 0; ///< of one cylinder and cycle
    double coolingK = 0;                          ///< that the fuel took
    double sensitivityK = 0;                      ///< K of the octane index, 0 or less
};

/// Air by VE (Heywood 1988, eq. 2.27), fuel by λ, residual gas beside them; the pressure is what that mass
/// has in the closed cylinder. Temperature: intake + heating − share · ideal cooling / λ. Octane index
/// RON − K (RON − MON), K falling with pressure: Kalghatgi, SAE 2001-01-3584 (from memory). Heat: rich of λ 1
/// by the air, lean by the fuel. Delay and duration grow with rpm to the power of 0.22, fall with pressure
/// to the power of 0.12, are shortest at λ 0.9 and 6 % shorter on pure alcohol: common practice, from memory.
TrappedCharge trap(const CylinderShape &shape, const ChargeModel &model, const Breath &breath);

/// Heat per kg of air, kJ: LHV over stoichiometric AFR, less what incomplete combustion leaves: nothing at
/// λ 0.88, 4 % from λ 1 on, 2.5 % at 0.8, 8 % at 0.7, straight lines between and beyond (never under 0); lean
/// of λ 1 divided by λ. Common practice, from memory: torque over λ.
double heatPerAirKjKg(const BlendProperties &fuel, double lambda);

/// Octane index at a pressure in the manifold.
double octaneIndex(const BlendProperties &fuel, double sensitivityK);
double sensitivityKAt(const ChargeModel &model, double manifoldKpa);

/// Mean pressure that friction takes, kPa: 97 + 15 N + 5 N², N in thousands of rpm. Heywood (1988) eq. 13.6.
double frictionKpa(double rpm);
/// Torque of a four-stroke engine, N·m, of a mean effective pressure, kPa: T = p V / 4π.
double torqueNm(double meanKpa, double displacementL);
/// At the crank: work of the closed part, less friction, less what a throttle costs in pumping.
double brakeKpa(double workKpa, double rpm, double manifoldKpa, double exhaustKpa);

} // namespace wheelwright
