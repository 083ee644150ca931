// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <compare>

namespace wheelwright {

/// A number with a unit in its type. Each derived quantity is made and read by the name of a unit, so that an
/// absolute pressure cannot be passed where a gauge pressure is meant. Copies are as cheap as a double.
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
inline constexpr double kilopascalsPerInchMercury = 3.386388640341; // conventional, 0 °C; GNU units 'inHg'

/// A difference between two pressures.
class PressureDifference : public Quantity<PressureDifference> {
  public:
    static constexpr PressureDifference kilopascals(double v) { return PressureDifference(v); }
    static constexpr PressureDifference psi(double v) { return PressureDifference(v * kilopascalsPerPsi); }
    constexpr double kilopascals() const { return m_stored; }

  private:
    using Quantity::Quantity;
};

/// Pressure above vacuum.
class AbsolutePressure : public Quantity<AbsolutePressure> {
  public:
    static constexpr AbsolutePressure kilopascals(double v) { return AbsolutePressure(v); }
    static constexpr AbsolutePressure bar(double v) { return AbsolutePressure(v * kilopascalsPerBar); }
    static constexpr AbsolutePressure psi(double v) { return AbsolutePressure(v * kilopascalsPerPsi); }
    constexpr double kilopascals() const { return m_stored; }
    constexpr double bar() const { return m_stored / kilopascalsPerBar; }
    constexpr double psi() const { return m_stored / kilopascalsPerPsi; }

  private:
    using Quantity::Quantity;
};

/// Pressure above the surrounding air.
class GaugePressure : public Quantity<GaugePressure> {
  public:
    static constexpr GaugePressure kilopascals(double v) { return GaugePressure(v); }
    static constexpr GaugePressure bar(double v) { return GaugePressure(v * kilopascalsPerBar); }
    static constexpr GaugePressure psi(double v) { return GaugePressure(v * kilopascalsPerPsi); }
    constexpr double kilopascals() const { return m_stored; }
    constexpr double psi() const { return m_stored / kilopascalsPerPsi; }

    /// The same pressure counted from vacuum, given the air it was measured in.
    constexpr AbsolutePressure above(AbsolutePressure ambient) const {
        return AbsolutePressure::kilopascals(m_stored + ambient.kilopascals());
    }

  private:
    using Quantity::Quantity;
};

constexpr PressureDifference operator-(AbsolutePressure a, AbsolutePressure b) {
    return PressureDifference::kilopascals(a.kilopascals() - b.kilopascals());
}
constexpr AbsolutePressure operator+(AbsolutePressure a, PressureDifference d) {
    return AbsolutePressure::kilopascals(a.kilopascals() + d.kilopascals());
}
constexpr GaugePressure gauge(AbsolutePressure p, AbsolutePressure ambient) {
    return GaugePressure::kilopascals(p.kilopascals() - ambient.kilopascals());
}

/// A difference between two temperatures.
class TemperatureDifference : public Quantity<TemperatureDifference> {
  public:
    static constexpr TemperatureDifference kelvins(double v) { return TemperatureDifference(v); }
    static constexpr TemperatureDifference fahrenheitDegrees(double v) {
        return TemperatureDifference(v / 1.8);
    }
    constexpr double kelvins() const { return m_stored; }

  private:
    using Quantity::Quantity;
};

/// A temperature on the thermometer.
class Temperature : public Quantity<Temperature> {
  public:
    static constexpr Temperature celsius(double v) { return Temperature(v); }
    static constexpr Temperature fahrenheit(double v) { return Temperature((v - 32.0) / 1.8); }
    static constexpr Temperature kelvins(double v) { return Temperature(v - 273.15); }
    constexpr double celsius() const { return m_stored; }
    constexpr double fahrenheit() const { return m_stored * 1.8 + 32.0; }
    constexpr double kelvins() const { return m_stored + 273.15; }

  private:
    using Quantity::Quantity;
};

constexpr TemperatureDifference operator-(Temperature a, Temperature b) {
    return TemperatureDifference::kelvins(a.celsius() - b.celsius());
}
constexpr Temperature operator+(Temperature t, TemperatureDifference d) {
    return Temperature::celsius(t.celsius() + d.kelvins());
}

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
