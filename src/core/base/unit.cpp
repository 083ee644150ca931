// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/unit.h"

#include "core/base/error.h"
#include "core/base/phrase.h"
#include "core/base/quantity.h"
#include "core/base/text.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <optional>

namespace wheelwright {
namespace {

using enum Dimension;

constexpr double ccPerMinutePerLbPerHour =
    10.5; // common practice: pump gasoline at 0.72 kg/L, handbook of the trade
constexpr double ccPerUsGallon = 3785.411784; // exact: 231 in^3

// The first unit of a dimension is the one its numbers are held in. Gauge offsets use UnitChoice::ambientKpa.
constexpr std::array units{
    Unit{"number", "", none, 1, 0, 3},
    Unit{"count", "", count, 1, 0, 0},
    Unit{"kpa", "kPa", pressure, 1, 0, 0},
    Unit{"bar", "bar", pressure, kilopascalsPerBar, 0, 2},
    Unit{"psi", "psi abs", pressure, kilopascalsPerPsi, 0, 1},
    Unit{"inhg", "inHg", pressure, kilopascalsPerInchMercury, 0, 1},
    Unit{"kpa_g", "kPa gauge", pressureGauge, 1, 0, 0},
    Unit{"bar_g", "bar gauge", pressureGauge, kilopascalsPerBar, 0, 2},
    Unit{"psi_g", "psi gauge", pressureGauge, kilopascalsPerPsi, 0, 1},
    Unit{"kpa_d", "kPa", pressureDifference, 1, 0, 0},
    Unit{"bar_d", "bar", pressureDifference, kilopascalsPerBar, 0, 2},
    Unit{"psi_d", "psi", pressureDifference, kilopascalsPerPsi, 0, 1},
    Unit{"c", "°C", temperature, 1, 0, 0},
    Unit{"f", "°F", temperature, 1 / 1.8, -32 / 1.8, 0},
    Unit{"k_d", "K", temperatureDifference, 1, 0, 0},
    Unit{"f_d", "°F", temperatureDifference, 1 / 1.8, 0, 0},
    Unit{"lambda", "λ", mixture, 1, 0, 3},
    Unit{"percent", "E", content, 0.01, 0, 0},
    Unit{"percent_e", "E", ethanolContent, 0.01, 0, 0},
    Unit{"percent_m", "M", methanolContent, 0.01, 0, 0},
    Unit{"percent_d", "%", contentDifference, 0.01, 0, 0},
    Unit{"percent_of", "%", ratio, 0.01, 0, 1},
    Unit{"rpm", "rpm", engineSpeed, 1, 0, 0},
    Unit{"deg", "°", sparkAngle, 1, 0, 1},
    Unit{"ve", "% VE", volumetricEfficiency, 1, 0, 1},
    Unit{"cc_min", "cc/min", volumeFlow, 1, 0, 0},
    Unit{"lb_h", "lb/h", volumeFlow, ccPerMinutePerLbPerHour, 0, 1},
    Unit{"us_gal_min", "US gal/min", volumeFlow, ccPerUsGallon, 0, 3},
    Unit{"g_s", "g/s", massFlow, 1, 0, 1},
    Unit{"litre", "L", displacement, 1, 0, 2},
    Unit{"litre_min", "L/min", flowLMin, 1, 0, 2},
    Unit{"ms", "ms", duration, 1, 0, 2},
    Unit{"kg_m3", "kg/m³", density, 1, 0, 1},
    Unit{"mj_kg", "MJ/kg", energyPerMass, 1, 0, 2},
    Unit{"kj_kg", "kJ/kg", latentHeat, 1, 0, 0},
    Unit{"g_mol", "g/mol", molarMass, 1, 0, 2},
    Unit{"afr", ": 1", airFuelRatio, 1, 0, 2},
    Unit{"octane", "octane", octane, 1, 0, 1},
    Unit{"mj_l", "MJ/L", energyPerVolume, 1, 0, 2},
    Unit{"money", "", money, 1, 0, 2},
    Unit{"min", "min", minutes, 1, 0, 1},
    Unit{"hz", "Hz", frequency, 1, 0, 1},
    Unit{"day", "days", days, 1, 0, 0},
    Unit{"mm", "mm", length, 1, 0, 2},
    Unit{"mg", "mg", cycleMass, 1, 0, 1},
    Unit{"inch", "in", length, 25.4, 0, 4},
    Unit{"volt", "V", voltage, 1, 0, 1},
    Unit{"kw", "kW", power, 1, 0, 0},
    Unit{"hp", "hp", power, kilowattsPerHorsepower, 0, 0},
    Unit{"ps", "PS", power, kilowattsPerPs, 0, 0},
    Unit{"second", "s", seconds, 1, 0, 2},
    Unit{"nm", "N·m", torque, 1, 0, 0},
    Unit{"lbft", "lb·ft", torque, newtonMetresPerPoundFoot, 0, 0},
    Unit{"km_h", "km/h", roadSpeed, 1, 0, 0},
};

constexpr UnitWord word(std::string_view id, PhraseText text) {
    return {id, text.id, text.text};
}

// What is no symbol of a standard but a word of English.
constexpr std::array unitWords{
    word("psi", MARKED("unit.psi", "psi abs")),
    word("kpa_g", MARKED("unit.kpa_g", "kPa gauge")),
    word("bar_g", MARKED("unit.bar_g", "bar gauge")),
    word("psi_g", MARKED("unit.psi_g", "psi gauge")),
    word("rpm", MARKED("unit.rpm", "rpm")),
    word("octane", MARKED("unit.octane", "octane")),
    word("day", MARKED("unit.day", "days")),
    word("afr_gasoline", MARKED("unit.afr_gasoline", "AFR (gasoline scale {0})")),
    word("afr_true", MARKED("unit.afr_true", "AFR (true of the fuel)")),
    word("afr_stated", MARKED("unit.afr_stated", "AFR (scale {0})")),
};

// In the language of the choice; without one the word as it is written.
std::string wordOf(std::string_view id, const UnitChoice &choice, std::string_view asWritten) {
    if (!choice.words) return std::string(asWritten);
    const auto known = choice.words->find(id);
    return known == choice.words->end() ? std::string(asWritten) : known->second;
}

std::string scaleWord(std::string_view id, const UnitChoice &choice, std::string_view number) {
    const auto *written = std::ranges::find(unitWords, id, &UnitWord::id);
    std::string text = wordOf(id, choice, written->text);
    constexpr std::string_view mark = "{0}";
    if (const std::size_t at = text.find(mark); at != std::string::npos)
        text.replace(at, mark.size(), number);
    return text;
}

bool isPressure(Dimension d) {
    return d == pressure || d == pressureGauge;
}

// The unit of the user's choice that shows this dimension. Absolute pressures follow the choice, which may be
// a gauge unit; pressures that are gauge by nature (a rail) keep their kind and follow only the size.
const Unit &chosenUnit(Dimension d, const UnitChoice &choice) {
    const std::string stem = choice.pressureUnit.substr(0, choice.pressureUnit.find('_'));
    if (d == pressure) return unitById(choice.pressureUnit);
    if (d == pressureGauge) return unitById(stem + "_g");
    if (d == pressureDifference) return unitById(stem + "_d");
    if (d == temperature) return unitById(choice.temperatureUnit);
    if (d == temperatureDifference) return unitById(choice.temperatureUnit == "f" ? "f_d" : "k_d");
    if (d == power) return unitById(choice.powerUnit);
    if (d == torque) return unitById(choice.powerUnit == "hp" ? "lbft" : "nm");
    return internalUnit(d);
}

double stoichiometry(const UnitChoice &choice) {
    switch (choice.mixtureScale) {
    case MixtureScale::gasolineAfr:
        return 14.7; // trade convention
    case MixtureScale::trueAfr:
        return choice.fuelStoichiometry;
    case MixtureScale::statedAfr:
        return choice.statedStoichiometry;
    case MixtureScale::lambda:
        break;
    }
    return 1.0;
}

// kPa to add when a number in `unit` is read as the wanted kind of pressure.
double pressureShift(const Unit &unit, Dimension wanted, const UnitChoice &choice) {
    if (!isPressure(unit.dimension) || unit.dimension == wanted) return 0;
    return wanted == pressure ? choice.ambientKpa : -choice.ambientKpa;
}

std::string withSymbol(const std::string &digits, Dimension dimension, const UnitChoice &choice) {
    const std::string symbol = unitSymbol(dimension, choice);
    if (symbol.empty()) return digits;
    if (symbol == "λ") return "λ " + digits;
    if (isContent(dimension)) return symbol + digits;
    return digits + (symbol == "°" ? "" : " ") + symbol;
}

struct Spelling {
    std::string_view text; // lower case, without blanks
    std::string_view unit;
};

// How people type units. Bare psi, bar and kPa take the kind (absolute or gauge) of the field they stand in.
constexpr std::array spellings{
    Spelling{"kpaabs", "kpa"},
    Spelling{"kpaa", "kpa"},
    Spelling{"bara", "bar"},
    Spelling{"barabs", "bar"},
    Spelling{"psia", "psi"},
    Spelling{"psiabs", "psi"},
    Spelling{"kpag", "kpa_g"},
    Spelling{"kpagauge", "kpa_g"},
    Spelling{"barg", "bar_g"},
    Spelling{"bargauge", "bar_g"},
    Spelling{"psig", "psi_g"},
    Spelling{"psigauge", "psi_g"},
    Spelling{"inhg", "inhg"},
    Spelling{"°c", "c"},
    Spelling{"c", "c"},
    Spelling{"°f", "f"},
    Spelling{"f", "f"},
    Spelling{"k", "k_d"},
    Spelling{"λ", "lambda"},
    Spelling{"lambda", "lambda"},
    Spelling{"rpm", "rpm"},
    Spelling{"1/min", "rpm"},
    Spelling{"°", "deg"},
    Spelling{"deg", "deg"},
    Spelling{"ve", "ve"},
    Spelling{"%ve", "ve"},
    Spelling{"cc/min", "cc_min"},
    Spelling{"cc", "cc_min"},
    Spelling{"ccm", "cc_min"},
    Spelling{"lb/h", "lb_h"},
    Spelling{"lb/hr", "lb_h"},
    Spelling{"usgal/min", "us_gal_min"},
    Spelling{"g/s", "g_s"},
    Spelling{"l", "litre"},
    Spelling{"l/min", "litre_min"},
    Spelling{"ms", "ms"},
    Spelling{"kg/m3", "kg_m3"},
    Spelling{"kg/m³", "kg_m3"},
    Spelling{"mj/kg", "mj_kg"},
    Spelling{"kj/kg", "kj_kg"},
    Spelling{"g/mol", "g_mol"},
    Spelling{":1", "afr"},
    Spelling{"afr", "afr"},
    Spelling{"octane", "octane"},
    Spelling{"ron", "octane"},
    Spelling{"mon", "octane"},
    Spelling{"mj/l", "mj_l"},
    Spelling{"min", "min"},
    Spelling{"hz", "hz"},
    Spelling{"d", "day"},
    Spelling{"days", "day"},
    Spelling{"mm", "mm"},
    Spelling{"in", "inch"},
    Spelling{"v", "volt"},
    Spelling{"kw", "kw"},
    Spelling{"hp", "hp"},
    Spelling{"ps", "ps"},
    Spelling{"lb·ft", "lbft"},
    Spelling{"lb-ft", "lbft"},
    Spelling{"lbft", "lbft"},
    Spelling{"ft-lb", "lbft"},
    Spelling{"s", "second"},
    Spelling{"nm", "nm"},
    Spelling{"n·m", "nm"},
    Spelling{"km/h", "km_h"},
};

std::string squeezed(std::string_view text) {
    std::string out;
    for (char c : text)
        if (c != ' ' && c != '\t') out += (c >= 'A' && c <= 'Z') ? static_cast<char>(c - 'A' + 'a') : c;
    return out;
}

// A comma is a decimal point: "AFR (Skala 14,7)" as well as "14,7".
std::string asTyped(std::string_view text) {
    std::string s = squeezed(text);
    std::ranges::replace(s, ',', '.');
    return s;
}

std::string quoted(std::string_view text) {
    constexpr std::size_t longest = 40;
    return "'" + std::string(text.substr(0, longest)) + (text.size() > longest ? "…'" : "'");
}

// Internal value of a number typed with a unit, or throws.
double withUnit(double shown, const std::string &unitText, Dimension d, const UnitChoice &choice,
                std::string_view where) {
    const Phrase expected{
        MARKED("expected.number_in", "a number in {a}"), {}, {isContent(d) ? "%" : unitSymbol(d, choice)}};
    if (d == mixture && (unitText == "afr" || (choice.mixtureScale != MixtureScale::lambda &&
                                               unitText == asTyped(unitSymbol(d, choice)))))
        return shown / (choice.mixtureScale == MixtureScale::lambda ? 14.7 : stoichiometry(choice));
    if (unitText == "%" && (shownInPercent(d) || d == volumetricEfficiency))
        return d == volumetricEfficiency ? shown : shown / 100;
    for (std::string_view stem : {"kpa", "bar", "psi"})
        if (unitText == stem && (isPressure(d) || d == pressureDifference)) {
            const Unit &u = unitById(std::string(stem) + (d == pressure        ? ""
                                                          : d == pressureGauge ? "_g"
                                                                               : "_d"));
            return shown * u.scale;
        }
    const auto in = [&](const Unit &u) -> std::optional<double> {
        if (u.dimension != d && !(isPressure(u.dimension) && isPressure(d))) return {};
        return shown * u.scale + u.offset + pressureShift(u, d, choice);
    };
    for (const Spelling &s : spellings)
        if (s.text == unitText)
            if (const auto v = in(unitById(s.unit))) return *v;
    for (const Unit &u : units) // as it is shown in this language
        if (choice.words && asTyped(wordOf(u.id, choice, u.symbol)) == unitText)
            if (const auto v = in(u)) return *v;
    throw InputError(std::string(where), expected,
                     Phrase{MARKED("found.as_unit", "{a} as unit"), {}, {quoted(unitText)}});
}

} // namespace

bool isContent(Dimension dimension) {
    return dimension == content || dimension == ethanolContent || dimension == methanolContent;
}

bool shownInPercent(Dimension dimension) {
    return isContent(dimension) || dimension == contentDifference || dimension == ratio;
}

Dimension differenceOf(Dimension dimension) {
    switch (dimension) {
    case pressure:
    case pressureGauge:
        return pressureDifference;
    case temperature:
        return temperatureDifference;
    case content:
    case ethanolContent:
    case methanolContent:
        return contentDifference;
    default:
        return dimension;
    }
}

std::span<const Unit> allUnits() {
    return units;
}

std::span<const UnitWord> allUnitWords() {
    return unitWords;
}

const Unit &internalUnit(Dimension dimension) {
    for (const Unit &u : units)
        if (u.dimension == dimension) return u;
    return units.front();
}

const Unit &unitById(std::string_view id) {
    std::string known;
    for (const Unit &u : units) {
        if (u.id == id) return u;
        known += (known.empty() ? "" : ", ") + std::string(u.id);
    }
    throw InputError("unit", Phrase{MARKED("expected.one_of", "one of {a}"), {}, {known}}, quoted(id));
}

std::string unitSymbol(Dimension dimension, const UnitChoice &choice) {
    if (dimension == content && choice.methanol) return "M";
    if (dimension == mixture) {
        switch (choice.mixtureScale) {
        case MixtureScale::lambda:
            return "λ";
        case MixtureScale::gasolineAfr:
            return scaleWord("afr_gasoline", choice, fixedNumber(14.7, 1, choice.decimalPoint));
        case MixtureScale::trueAfr:
            return scaleWord("afr_true", choice, {});
        case MixtureScale::statedAfr:
            return scaleWord("afr_stated", choice,
                             fixedNumber(choice.statedStoichiometry, 2, choice.decimalPoint));
        }
    }
    const Unit &unit = chosenUnit(dimension, choice);
    return wordOf(unit.id, choice, unit.symbol);
}

double toShown(double internal, Dimension dimension, const UnitChoice &choice) {
    if (dimension == mixture) return internal * stoichiometry(choice);
    const Unit &u = chosenUnit(dimension, choice);
    return (internal - pressureShift(u, dimension, choice) - u.offset) / u.scale;
}

double fromShown(double shown, Dimension dimension, const UnitChoice &choice) {
    if (dimension == mixture) return shown / stoichiometry(choice);
    const Unit &u = chosenUnit(dimension, choice);
    return shown * u.scale + u.offset + pressureShift(u, dimension, choice);
}

int shownDecimals(Dimension dimension, const UnitChoice &choice) {
    if (dimension == mixture && choice.mixtureScale != MixtureScale::lambda) return 2;
    return chosenUnit(dimension, choice).decimals;
}

std::string format(double internal, Dimension dimension, const UnitChoice &choice, bool withUnit) {
    const std::string digits = fixedNumber(toShown(internal, dimension, choice),
                                           shownDecimals(dimension, choice), choice.decimalPoint);
    return withUnit ? withSymbol(digits, dimension, choice) : digits;
}

std::string formatWith(double internal, Dimension dimension, const UnitChoice &choice, int decimals) {
    return withSymbol(fixedNumber(toShown(internal, dimension, choice), decimals, choice.decimalPoint),
                      dimension, choice);
}

std::string formatExact(double internal, Dimension dimension, const UnitChoice &choice) {
    double v = toShown(internal, dimension, choice);
    constexpr int mostDecimals = 6;
    // Nobody knows a content better than to a hundredth of a per cent: a mean over samples has more digits.
    constexpr double hundredths = 100;
    if (isContent(dimension)) v = std::round(v * hundredths) / hundredths;
    int decimals = 0;
    for (double scale = 1; decimals < mostDecimals && std::abs(v - std::round(v * scale) / scale) > 1e-7;
         scale *= 10)
        ++decimals;
    return withSymbol(fixedNumber(v, decimals, choice.decimalPoint), dimension, choice);
}

double parse(std::string_view text, Dimension dimension, const UnitChoice &choice, std::string_view where) {
    // The one unit that begins with a digit stands apart from its number: "7200 1/min", or nobody could tell.
    constexpr std::string_view perMinute = " 1/min";
    std::string s = text.ends_with(perMinute)
                        ? asTyped(text.substr(0, text.size() - perMinute.size())) + "rpm"
                        : asTyped(text);
    if (s.starts_with("λ")) s = s.substr(std::string_view("λ").size()) + "λ";
    if (s.starts_with('+')) s.erase(0, 1);
    // "1,234.5" is refused below rather than guessed.
    const std::string in = isContent(dimension) ? "%" : unitSymbol(dimension, choice);
    if (isContent(dimension) && s.size() > 1 && (s[0] == 'e' || s[0] == 'm') && s[1] >= '0' && s[1] <= '9') {
        const bool methanol = unitSymbol(dimension, choice) == "M";
        if ((s[0] == 'm') != methanol)
            throw InputError(std::string(where),
                             methanol ? MARKED("expected.methanol_content", "a content of methanol, as M40")
                                      : MARKED("expected.ethanol_content", "a content of ethanol, as E40"),
                             quoted(text));
        s.erase(0, 1);
    }
    double shown = 0;
    const auto [end, problem] = std::from_chars(s.data(), s.data() + s.size(), shown);
    const std::string rest(end, static_cast<const char *>(s.data() + s.size()));
    if (problem != std::errc{} || !std::isfinite(shown) || rest.starts_with('.'))
        throw InputError(std::string(where),
                         Phrase{MARKED("expected.number_in", "a number in {a}"), {}, {in}},
                         text.empty() ? "nothing" : quoted(text));
    return rest.empty() ? fromShown(shown, dimension, choice)
                        : withUnit(shown, rest, dimension, choice, where);
}

} // namespace wheelwright
