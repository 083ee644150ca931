// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/runs/air_correction.h"

#include "core/base/error.h"
#include "core/base/quantity.h"
#include "core/job/job.h"

#include <array>
#include <cmath>

namespace wheelwright {
namespace {

using S = CorrectionStandard;

constexpr double zeroK = 273; // as the standards have it

const std::array<CorrectionDefinition, correctionStandardCount - 1> &definitions() {
    // STD: 29.92 inHg dry and 60 °F. What a reference says of humidity is in its dry pressure.
    static const std::array<CorrectionDefinition, correctionStandardCount - 1> all{{
        {S::none,
         "none",
         MARKED("correction.none", "As measured"),
         MARKED("correction.none.formula", "1"),
         {}},
        {S::j1349,
         "j1349",
         MARKED("correction.j1349", "J1349"),
         MARKED("correction.j1349.formula", "1.18 · (990 hPa / dry pressure) · √((t + 273) / 298) − 0.18"),
         {99, 25, 0}},
        {S::iso1585,
         "iso1585",
         MARKED("correction.iso1585", "ISO 1585"),
         MARKED("correction.iso1585.formula", "(990 hPa / dry pressure)^1.2 · ((t + 273) / 298)^0.6"),
         {99, 25, 0}},
        {S::std,
         "std",
         MARKED("correction.std", "STD"),
         MARKED("correction.std.formula", "(29.92 inHg / dry pressure) · √((t in °F + 460) / 520)"),
         {29.92 * kilopascalsPerInchMercury, 60 / 1.8 - 32 / 1.8, 0}},
        {S::din,
         "din",
         MARKED("correction.din", "DIN"),
         MARKED("correction.din.formula", "(1013 hPa / pressure) · √((t + 273) / 293)"),
         {101.3, 20, 0}},
    }};
    return all;
}

double fahrenheit(double celsius) {
    return celsius * 1.8 + 32;
}

} // namespace

double saturationKpa(double temperatureC) {
    return 0.61094 * std::exp(17.625 * temperatureC / (temperatureC + 243.04));
}

double vapourKpa(const Weather &air) {
    return air.humidity * saturationKpa(air.temperatureC);
}

double dryKpa(const Weather &air) {
    return air.pressureKpa - vapourKpa(air);
}

std::span<const CorrectionDefinition> allCorrections() {
    return definitions();
}

std::string_view keyOf(CorrectionStandard standard) {
    for (const CorrectionDefinition &d : definitions())
        if (d.standard == standard) return d.key;
    return "not_said";
}

CorrectionStandard standardByKey(std::string_view key) {
    std::string known;
    for (const CorrectionDefinition &d : definitions()) {
        if (d.key == key) return d.standard;
        known += (known.empty() ? "" : ", ") + std::string(d.key);
    }
    throw InputError("standard", Phrase{MARKED("expected.one_of", "one of {a}"), {}, {known}},
                     "'" + echoed(key, 30) + "'");
}

double correctionFactor(CorrectionStandard standard, const Weather &air) {
    constexpr double hPa = 10;
    const double kelvin = air.temperatureC + zeroK;
    switch (standard) {
    case S::j1349: // SAE J1349, spark ignition; 1.18 and 0.18: mechanical efficiency 85 %
        return 1.18 * (990 / (dryKpa(air) * hPa)) * std::sqrt(kelvin / 298) - 0.18;
    case S::iso1585: // spark ignition
        return std::pow(990 / (dryKpa(air) * hPa), 1.2) * std::pow(kelvin / 298, 0.6);
    case S::std: // SAE J607
        return 29.92 / (dryKpa(air) / kilopascalsPerInchMercury) *
               std::sqrt((fahrenheit(air.temperatureC) + 460) / 520);
    case S::din: // DIN 70020
        return 1013 / (air.pressureKpa * hPa) * std::sqrt(kelvin / 293);
    default:
        return 1;
    }
}

Explanation explainCorrection(CorrectionStandard standard, const Weather &air) {
    Explanation e;
    for (const CorrectionDefinition &d : definitions())
        if (d.standard == standard) {
            e.title = Phrase{MARKED("correction.title", "Correction to {A}"), {}, {}, {d.title}};
            e.formula = d.formula;
        }
    constexpr int digits = 4;
    e.result = {correctionFactor(standard, air), Dimension::none, digits};
    e.substituted =
        Phrase{MARKED("correction.substituted",
                      "Dry pressure {0}: {1} less {2} of water vapour, {3} of {4} at saturation."),
               {{dryKpa(air), Dimension::pressure, 2},
                {air.pressureKpa, Dimension::pressure, 2},
                {vapourKpa(air), Dimension::pressureDifference, 2},
                {air.humidity, Dimension::ratio},
                {saturationKpa(air.temperatureC), Dimension::pressureDifference, 2}}};
    e.inputs = {
        {"p", MARKED("correction.p", "pressure of the air"), {air.pressureKpa, Dimension::pressure, 2}, {}},
        {"t",
         MARKED("correction.t", "temperature of the air"),
         {air.temperatureC, Dimension::temperature, 1},
         {}},
        {"RH", MARKED("correction.rh", "relative humidity"), {air.humidity, Dimension::ratio}, {}}};
    e.source = MARKED("correction.source",
                      "From memory of the standard; vapour pressure: Alduchov and Eskridge (1996).");
    e.uncertainty =
        MARKED("correction.uncertainty",
               "Made for engines that breathe by themselves: with boost that a controller holds it says "
               "too much. Outside of 0.93 to 1.07 the standards do not allow it.");
    e.change = MARKED("correction.change",
                      "Pressure at the place itself, not what a weather report reduces to the sea.");
    return e;
}

double correctionBetween(CorrectionStandard stated, CorrectionStandard asked, const Weather &air) {
    return correctionFactor(asked, air) / correctionFactor(stated, air);
}

Explanation explainCorrection(CorrectionStandard stated, CorrectionStandard asked, const Weather &air) {
    if (correctionFactor(stated, air) == 1) return explainCorrection(asked, air); // as measured
    const Explanation from = explainCorrection(stated, air), to = explainCorrection(asked, air);
    constexpr int digits = 4;
    Explanation e = from;
    const Measured factor{correctionBetween(stated, asked, air), Dimension::none, digits};
    e.result = factor;
    e.title = MARKED("correction.between", "From one standard to another");
    e.formula =
        MARKED("correction.between_formula", "factor of the one that is asked for / factor of the one that "
                                             "the numbers hold");
    e.substituted = {MARKED("correction.between_substituted", "{0} / {1} = {2}"),
                     {to.result, from.result, factor}};
    return e;
}

std::optional<Weather> airOf(const Run &run) {
    if (run.ambient == AmbientBasis::none) return std::nullopt;
    return Weather{run.ambientKpa, run.ambientC, run.humidity};
}

std::optional<Weather> airOfTheDay(const Job &job) {
    for (const char *path : {"mechanical.now_kpa", "mechanical.now_c", "mechanical.now_humidity"})
        if (!isStated(job, path)) return std::nullopt;
    return job.mechanical.now;
}

} // namespace wheelwright
