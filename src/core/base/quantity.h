// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <compare>

namespace wheelwright {

/// A number with a unit in its type. Each derived quantity is made and read by the name of a unit, so that a
/// per cent cannot be passed where a fraction is meant. Copies are as cheap as a double. Pressures and
/// temperatures are doubles whose names end in their unit, and Dimension says the rest: see
/// docs/decisions/0022.
template <class Self>
class Quantity {
  public:
    constexpr auto operator<=>(const Quantity &) const = default;

  protected:
    constexpr explicit Quantity(double stored) : m_stored(stored) {}
    double m_stored;
};

inline constexpr double kilopascalsPerBar = 100.0;
inline constexpr double kilopascalsPerPsi =
    6.894757293168361; // exact: 1 lbf/in^2, 0.45359237*9.80665/0.0254^2/1000
inline constexpr double kilowattsPerHorsepower = 0.745699871582; // 550 ft·lbf/s: NIST SP 811, appendix B.8
inline constexpr double kilowattsPerPs = 0.73549875;             // 75 kgf·m/s: DIN 66036
inline constexpr double newtonMetresPerPoundFoot = 1.3558179483314; // exact: 0.3048 · 0.45359237 · 9.80665
inline constexpr double kilopascalsPerInchMercury = 3.386388640341; // conventional, 0 °C; GNU units 'inHg'

/// Share of a volume, 0 to 1: an alcohol content, or any component of a blend.
class VolumeFraction : public Quantity<VolumeFraction> {
  public:
    static constexpr VolumeFraction fraction(double v) { return VolumeFraction(v); }
    static constexpr VolumeFraction percent(double v) { return VolumeFraction(v / 100.0); }
    constexpr double fraction() const { return m_stored; }
    constexpr double percent() const { return m_stored * 100.0; }

  private:
    using Quantity::Quantity;
};

} // namespace wheelwright
