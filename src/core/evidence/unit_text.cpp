// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/evidence/unit_text.h"

#include "core/base/quantity.h"

#include <algorithm>
#include <array>
#include <string>

namespace wheelwright {
namespace {

using K = UnitKind;

struct Spelled {
    std::string_view text; ///< lower case, letters, digits, %, °, λ, /, · and - alone
    K kind;
    double scale = 1, offset = 0;
};

// Definitions: SI brochure (BIPM, 9th ed. 2019), NIST SP 811 appendix B.8 (inHg at 0 °C, mechanical
// horsepower), DIN 66036 (PS).
constexpr double kelvinAtZeroC = 273.15, kmPerMile = 1.609344, kmPerNauticalMile = 1.852;
constexpr double ccPerUsGallon = 3785.411784, ccPerImperialGallon = 4546.09;

constexpr std::array spellings{
    Spelled{"kpa", K::pressure},
    Spelled{"pa", K::pressure, 1e-3},
    Spelled{"hpa", K::pressure, 0.1},
    Spelled{"mbar", K::pressure, 0.1},
    Spelled{"mpa", K::pressure, 1000},
    Spelled{"bar", K::pressure, kilopascalsPerBar},
    Spelled{"psi", K::pressure, kilopascalsPerPsi},
    Spelled{"lb/in2", K::pressure, kilopascalsPerPsi},
    Spelled{"inhg", K::pressure, kilopascalsPerInchMercury},
    Spelled{"mmhg", K::pressure, 0.133322387415},
    Spelled{"torr", K::pressure, 0.133322368421},
    Spelled{"atm", K::pressure, 101.325},
    Spelled{"kg/cm2", K::pressure, 98.0665},
    Spelled{"c", K::temperature},
    Spelled{"°c", K::temperature},
    Spelled{"degc", K::temperature},
    Spelled{"celsius", K::temperature},
    Spelled{"f", K::temperature, 1 / 1.8, -32 / 1.8},
    Spelled{"°f", K::temperature, 1 / 1.8, -32 / 1.8},
    Spelled{"degf", K::temperature, 1 / 1.8, -32 / 1.8},
    Spelled{"fahrenheit", K::temperature, 1 / 1.8, -32 / 1.8},
    Spelled{"k", K::temperature, 1, -kelvinAtZeroC},
    Spelled{"kelvin", K::temperature, 1, -kelvinAtZeroC},
    Spelled{"%", K::percent, 0.01},
    Spelled{"%vol", K::percent, 0.01},
    Spelled{"pct", K::percent, 0.01},
    Spelled{"percent", K::percent, 0.01},
    Spelled{"fraction", K::fraction},
    Spelled{"ratio", K::fraction},
    Spelled{"0-1", K::fraction},
    Spelled{"lambda", K::lambda},
    Spelled{"λ", K::lambda},
    Spelled{"lam", K::lambda},
    Spelled{"afr", K::airFuelRatio},
    Spelled{"a/f", K::airFuelRatio},
    Spelled{"rpm", K::engineSpeed},
    Spelled{"1/min", K::engineSpeed},
    Spelled{"/min", K::engineSpeed},
    Spelled{"min-1", K::engineSpeed},
    Spelled{"u/min", K::engineSpeed},
    Spelled{"r/min", K::engineSpeed},
    Spelled{"rev/min", K::engineSpeed},
    Spelled{"krpm", K::engineSpeed, 1000},
    Spelled{"s", K::time},
    Spelled{"sec", K::time},
    Spelled{"secs", K::time},
    Spelled{"second", K::time},
    Spelled{"seconds", K::time},
    Spelled{"ms", K::time, 1e-3},
    Spelled{"msec", K::time, 1e-3},
    Spelled{"millisecond", K::time, 1e-3},
    Spelled{"milliseconds", K::time, 1e-3},
    Spelled{"us", K::time, 1e-6},
    Spelled{"µs", K::time, 1e-6},
    Spelled{"μs", K::time, 1e-6},
    Spelled{"usec", K::time, 1e-6},
    Spelled{"ns", K::time, 1e-9},
    Spelled{"min", K::time, 60},
    Spelled{"minutes", K::time, 60},
    Spelled{"h", K::time, 3600},
    Spelled{"deg", K::angle},
    Spelled{"°", K::angle},
    Spelled{"degree", K::angle},
    Spelled{"degrees", K::angle},
    Spelled{"degbtdc", K::angle},
    Spelled{"°btdc", K::angle},
    Spelled{"btdc", K::angle},
    Spelled{"°ca", K::angle},
    Spelled{"degca", K::angle},
    Spelled{"°crk", K::angle},
    Spelled{"v", K::voltage},
    Spelled{"volt", K::voltage},
    Spelled{"volts", K::voltage},
    Spelled{"mv", K::voltage, 1e-3},
    Spelled{"km/h", K::roadSpeed},
    Spelled{"kmh", K::roadSpeed},
    Spelled{"kph", K::roadSpeed},
    Spelled{"mph", K::roadSpeed, kmPerMile},
    Spelled{"mi/h", K::roadSpeed, kmPerMile},
    Spelled{"m/s", K::roadSpeed, 3.6},
    Spelled{"kn", K::roadSpeed, kmPerNauticalMile},
    Spelled{"knots", K::roadSpeed, kmPerNauticalMile},
    Spelled{"cc/min", K::volumeFlow},
    Spelled{"ccm", K::volumeFlow},
    Spelled{"ml/min", K::volumeFlow},
    Spelled{"cm3/min", K::volumeFlow},
    Spelled{"l/min", K::volumeFlow, 1000},
    Spelled{"l/h", K::volumeFlow, 1000.0 / 60},
    Spelled{"gal/min", K::volumeFlow, ccPerUsGallon},
    Spelled{"gpm", K::volumeFlow, ccPerUsGallon},
    Spelled{"usgal/min", K::volumeFlow, ccPerUsGallon},
    Spelled{"impgal/min", K::volumeFlow, ccPerImperialGallon},
    Spelled{"nm", K::torque},
    Spelled{"n·m", K::torque},
    Spelled{"n-m", K::torque},
    Spelled{"lbft", K::torque, newtonMetresPerPoundFoot},
    Spelled{"lb-ft", K::torque, newtonMetresPerPoundFoot},
    Spelled{"lb·ft", K::torque, newtonMetresPerPoundFoot},
    Spelled{"lbfft", K::torque, newtonMetresPerPoundFoot},
    Spelled{"ftlb", K::torque, newtonMetresPerPoundFoot},
    Spelled{"ft-lb", K::torque, newtonMetresPerPoundFoot},
    Spelled{"ftlbs", K::torque, newtonMetresPerPoundFoot},
    Spelled{"kgm", K::torque, 9.80665},
    Spelled{"kw", K::power},
    Spelled{"w", K::power, 1e-3},
    Spelled{"hp", K::power, kilowattsPerHorsepower},
    Spelled{"bhp", K::power, kilowattsPerHorsepower},
    Spelled{"whp", K::power, kilowattsPerHorsepower},
    Spelled{"ps", K::power, kilowattsPerPs},
    Spelled{"cv", K::power, kilowattsPerPs},
};

// Lower case, and without what people put around and between.
std::string squeezedUnit(std::string_view text) {
    std::string out;
    for (const char c : text) {
        if (c >= 'A' && c <= 'Z')
            out += static_cast<char>(c - 'A' + 'a');
        else if (std::string_view(" \t.()[]{}_\"'").find(c) == std::string_view::npos)
            out += c;
    }
    // "º" (ordinal) is what many keyboards give for "°"; "²" and "³" are digits.
    for (const auto &[from, to] : {std::pair<std::string_view, std::string_view>{"º", "°"},
                                   {"²", "2"},
                                   {"³", "3"},
                                   {"*", "·"},
                                   {"Λ", "λ"}})
        for (std::size_t at = 0; (at = out.find(from, at)) != std::string::npos; at += to.size())
            out.replace(at, from.size(), to);
    return out;
}

const Spelled *spelled(std::string_view text) {
    const auto at = std::ranges::find(spellings, text, &Spelled::text);
    return at == spellings.end() ? nullptr : &*at;
}

} // namespace

std::optional<UnitText> unitFromText(std::string_view text) {
    const std::string s = squeezedUnit(text);
    if (const Spelled *u = spelled(s)) return UnitText{u->kind, u->scale, u->offset};
    for (const auto &[end, reference] :
         {std::pair<std::string_view, PressureReference>{"absolute", PressureReference::absolute},
          {"abs", PressureReference::absolute},
          {"a", PressureReference::absolute},
          {"gauge", PressureReference::gauge},
          {"rel", PressureReference::gauge},
          {"g", PressureReference::gauge}}) {
        if (!s.ends_with(end)) continue;
        const Spelled *u = spelled(std::string_view(s).substr(0, s.size() - end.size()));
        if (u && u->kind == K::pressure) return UnitText{u->kind, u->scale, u->offset, reference};
    }
    return std::nullopt;
}

bool fits(UnitKind kind, Dimension dimension) {
    using D = Dimension;
    switch (dimension) {
    case D::pressure:
        return kind == K::pressure;
    case D::temperature:
        return kind == K::temperature;
    case D::content:
    case D::ratio:
        return kind == K::percent || kind == K::fraction;
    case D::mixture:
        return kind == K::lambda || kind == K::airFuelRatio;
    case D::engineSpeed:
        return kind == K::engineSpeed;
    case D::seconds:
    case D::duration:
        return kind == K::time;
    case D::sparkAngle:
        return kind == K::angle;
    case D::voltage:
        return kind == K::voltage;
    case D::roadSpeed:
        return kind == K::roadSpeed;
    case D::volumeFlow:
        return kind == K::volumeFlow;
    case D::torque:
        return kind == K::torque;
    case D::power:
        return kind == K::power;
    case D::count:
        return kind == K::number;
    case D::none:
        return true; // a cam state may be anything
    default:
        return false;
    }
}

} // namespace wheelwright
