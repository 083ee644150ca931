// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <map>
#include <memory>
#include <span>
#include <string>
#include <string_view>

namespace wheelwright {

/// What a number measures. The number itself is always held in the dimension's internal unit, named behind
/// it.
enum class Dimension {
    none,                  ///< a plain number
    count,                 ///< how many: shown without a decimal
    pressure,              ///< kPa absolute
    pressureGauge,         ///< kPa above the surrounding air
    pressureDifference,    ///< kPa
    temperature,           ///< °C
    temperatureDifference, ///< K
    mixture,               ///< λ
    content,               ///< volume fraction 0–1 of the job's alcohol, shown as E40 or M40
    ethanolContent,        ///< of ethanol, whatever the job burns: E40
    methanolContent,       ///< of methanol: M40
    contentDifference,     ///< of two contents, or its ±, shown in %
    ratio,                 ///< 0–1, shown in %
    engineSpeed,           ///< rpm
    sparkAngle,            ///< degrees before top dead centre
    volumetricEfficiency,  ///< %
    volumeFlow,            ///< cc/min
    massFlow,              ///< g/s
    displacement,          ///< L
    flowLMin,              ///< L/min
    duration,              ///< ms
    density,               ///< kg/m³
    energyPerMass,         ///< MJ/kg
    latentHeat,            ///< kJ/kg
    molarMass,             ///< g/mol
    airFuelRatio,          ///< kg air per kg fuel, at stoichiometry: never converted
    octane,                ///< RON or MON
    energyPerVolume,       ///< MJ/L
    money,                 ///< the user's own
    minutes,               ///< min
    frequency,             ///< Hz
    days,                  ///< d
    length,                ///< mm
    voltage,               ///< V
    power,                 ///< kW
    cycleMass,             ///< mg per cylinder and cycle
    seconds,               ///< s
    torque,                ///< N·m
    roadSpeed,             ///< km/h
};

/// A volume fraction of an alcohol, shown with its letter.
bool isContent(Dimension dimension);
/// Held as a share from 0 to 1, typed and shown in per cent, with a letter or a sign.
bool shownInPercent(Dimension dimension);

/// Of the difference of two numbers: pressures without their zero, temperatures in K; else the same.
Dimension differenceOf(Dimension dimension);

/// A unit in which a dimension can be shown and typed: internal = shown * scale + offset.
/// Units of AFR are not in the list, since their scale depends on the choice of stoichiometry (UnitChoice).
struct Unit {
    std::string_view id;     ///< stable, ASCII: "kpa", "psi_g"
    std::string_view symbol; ///< as shown: "kPa", "psi gauge"
    Dimension dimension;
    double scale;
    double offset;
    int decimals; ///< digits after the point that make sense in this unit
};

std::span<const Unit> allUnits();

/// Symbols that are words, "kPa gauge", by the id of their unit; scales of AFR are among them. Each is also
/// the text of a phrase "unit.<id>", which translators find.
struct UnitWord {
    std::string_view id;
    std::string_view phraseId;
    std::string_view text;
};
std::span<const UnitWord> allUnitWords();
/// The same in another language, by id.
using UnitWords = std::map<std::string, std::string, std::less<>>;

/// The unit in which numbers of this dimension are held.
const Unit &internalUnit(Dimension dimension);

/// Throws InputError naming the known ids.
const Unit &unitById(std::string_view id);

/// On which stoichiometry an AFR is counted. λ is the quantity held; AFR = λ × scale.
enum class MixtureScale {
    lambda,
    gasolineAfr, ///< 14.7, the trade's convention, whatever the fuel
    trueAfr,     ///< the stoichiometry of the fuel looked at
    statedAfr,   ///< a number the user states
};

/// How numbers are shown: one value, passed wherever text is made. Everything that depends on the
/// surroundings (ambient pressure for gauge readings, stoichiometry for AFR) is in it, so that formatting is
/// a pure function.
struct UnitChoice {
    std::string pressureUnit = "kpa";  ///< kpa, bar, psi, kpa_g, bar_g, psi_g
    std::string temperatureUnit = "c"; ///< c, f
    MixtureScale mixtureScale = MixtureScale::lambda;
    double ambientKpa = 101.325;       ///< zero of the gauge units
    double fuelStoichiometry = 14.7;   ///< for trueAfr
    double statedStoichiometry = 14.7; ///< for statedAfr
    char decimalPoint = '.';
    std::string powerUnit = "kw";             ///< kw, hp, ps; torque goes with it: lb·ft with hp, else N·m
    bool methanol = false;                    ///< contents are of methanol: M40 rather than E40
    std::shared_ptr<const UnitWords> words{}; ///< none: as in allUnits(), which scripts and files have

    bool operator==(const UnitChoice &) const = default;
};

/// The unit that is used for the dimension under this choice. Mixture in AFR gets a symbol that names its
/// scale.
std::string unitSymbol(Dimension dimension, const UnitChoice &choice);

/// Internal → shown number, and back.
double toShown(double internal, Dimension dimension, const UnitChoice &choice);
double fromShown(double shown, Dimension dimension, const UnitChoice &choice);

/// Digits after the point for the dimension under this choice.
int shownDecimals(Dimension dimension, const UnitChoice &choice);

/// "212.5 kPa", "E85", "λ 0.82". Without the unit: only the number.
std::string format(double internal, Dimension dimension, const UnitChoice &choice, bool withUnit = true);
/// The same with another number of digits behind the point.
std::string formatWith(double internal, Dimension dimension, const UnitChoice &choice, int decimals);

/// The same with as many digits as it takes to read the same number back, at most six after the point;
/// contents to a hundredth of a per cent.
std::string formatExact(double internal, Dimension dimension, const UnitChoice &choice);

/// Reads a number with or without a unit, point or comma; without a unit the choice's own unit is meant.
/// Contents may be typed as they are shown, "E40", or in per cent.
/// "14 psi" is absolute where the dimension is absolute, "14 psig" is gauge. Throws InputError with `where`.
double parse(std::string_view text, Dimension dimension, const UnitChoice &choice, std::string_view where);

} // namespace wheelwright
