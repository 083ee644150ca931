// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <span>
#include <vector>

namespace wheelwright {

/// Slider and crank, and when the valves leave the charge alone. Angles in degrees of crank, 0 at the top
/// dead centre of the burn, negative before it.
struct CylinderShape {
    double compressionRatio = 9.5;
    double rodRatio = 3.2;      ///< length of the rod over radius of the crank
    double displacementL = 0.5; ///< of the one cylinder
    double closedDeg = -130;    ///< intake valve closes
    double openDeg = 130;       ///< exhaust valve opens

    bool operator==(const CylinderShape &) const = default;
};

/// Litres above the piston: V = V_c [1 + ½ (r − 1)(R + 1 − cos θ − √(R² − sin² θ))]. Heywood (1988) eq. 2.6.
double cylinderVolumeL(const CylinderShape &shape, double deg);

/// Share burned: x = 1 − exp(−5 ((θ − θ₀)/Δθ)³), θ₀ = −spark + delay. Wiebe function with a = 5, m = 2:
/// Heywood (1988) eq. 9.8 and text.
struct Burn {
    double delayDeg = 12;
    double durationDeg = 55;

    bool operator==(const Burn &) const = default;
};
/// Angle at which so much has burned; share over 0 and under 1.
double burnedAtDeg(const Burn &burn, double sparkDeg, double share);

/// Spark with which half has burned at 10° after top dead centre: best torque. Heywood (1988) section 9.1.
double bestSparkDeg(const Burn &burn);

/// What is in the cylinder when the intake valve has closed.
struct Charge {
    double pressureKpa = 100; ///< absolute
    double temperatureK = 340;
    double heatKjKg = 2500; ///< per kg of everything in it
    double octane = 95;     ///< octane index (charge.h), or a plain octane number
    double wallFactor = 0;  ///< of what the walls take by Woschni's law; 0: nothing

    bool operator==(const Charge &) const = default;
};

/// Of the charge, kPa·L/(g K): that of dry air, which it mostly is.
inline constexpr double chargeGasConstant = 0.28705;

/// One cycle from closed to open.
struct CycleResult {
    double peakKpa = 0;
    double peakDeg = 0;
    double workKpa = 0; ///< ∫p dV over the displacement
    double halfBurnedDeg = 0;
    double knockIntegral = 0;      ///< ∫dt/τ until 90 % has burned; knock from 1 on
    double unburnedAtKnock = 0;    ///< share that is left when it reaches 1; 0: it does not
    double openKpa = 0, openK = 0; ///< when the exhaust valve opens
    double chargeMg = 0;
    double heatJ = 0, wallJ = 0, workJ = 0; ///< of one cylinder; what is neither wall nor work leaves hot
};

/// γ of the gas: unburned until the burn begins, burned from 90 % on, a straight line in the burned share
/// between. Heywood (1988) section 9.2.2, values as common practice.
struct GasLaw {
    double unburnedGamma = 1.34;
    double burnedGamma = 1.27;
};

/// The spark from which on a charge knocks.
struct KnockLimit {
    enum class Kind { at, never, always }; ///< within the sparks that were tried
    Kind kind = Kind::never;
    double deg = 0; ///< of always: the latest that was tried
    bool operator==(const KnockLimit &) const = default;
};
inline constexpr double latestSparkTried = -20, earliestSparkTried = 60;

/// A cylinder made ready for many cycles: first law for one zone,
/// dp/dθ = −γ (p/V) dV/dθ + ((γ − 1)/V) dQ/dθ (Heywood 1988, section 9.2.2), by the classic fourth-order
/// Runge–Kutta rule. Walls at 450 K take h A (T − T_w), h = 3.26 B^−0.2 p^0.8 T^−0.55 w^0.8 W/(m² K): Woschni
/// (1967), Heywood eq. 12.18 and 12.19, with bore and stroke alike and the film of each step's beginning. End
/// gas: T = T_ivc (p/p_ivc)^((γ−1)/γ). Knock: τ = 17.68 (ON/100)^3.402 p^−1.7 exp(3800/T) ms, p in atm
/// (Douaud and Eyzat, SAE 780080, 1978), ∫dt/τ (Livengood and Wu, 1955).
class Cylinder {
  public:
    /// stepDeg: 0.1 where the numbers are compared; with 1 spark moves by 0.02° and pressure by 0.1 % at
    /// most. The steps are made even, and a little shorter than asked where they must. Throws InputError for
    /// a compression ratio or a rod ratio not over 1, a displacement not over 0, or valves in another order.
    explicit Cylinder(const CylinderShape &shape, double stepDeg = 0.1, GasLaw gas = {});

    const CylinderShape &shape() const { return m_shape; }
    CycleResult cycle(const Charge &charge, const Burn &burn, double rpm, double sparkDeg) const;
    /// The same for several at once, which costs a good deal less than one after the other.
    void cycles(std::span<const Charge> charges, std::span<const Burn> burns, std::span<const double> rpm,
                std::span<const double> sparkDeg, std::span<CycleResult> out) const;

    /// The least spark between latestSparkTried and earliestSparkTried at which ∫dt/τ reaches 1.
    KnockLimit knockLimit(const Charge &charge, const Burn &burn, double rpm) const;
    /// The same of many, to 0.05°, at a quarter of the cost.
    void knockLimits(std::span<const Charge> charges, std::span<const Burn> burns,
                     std::span<const double> rpm, std::span<KnockLimit> out) const;

  private:
    void limitsOfSome(std::span<const Charge> charges, std::span<const Burn> burns,
                      std::span<const double> rpm, std::span<KnockLimit> out) const;

    CylinderShape m_shape;
    GasLaw m_gas;
    double m_stepDeg;
    std::vector<double> m_volumeL, m_slope, m_areaM2, m_volumeLog, m_motored; ///< at every half step
};

} // namespace wheelwright
