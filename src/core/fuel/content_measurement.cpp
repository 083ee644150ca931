// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fuel/content_measurement.h"

#include "core/base/error.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <string>

namespace wheelwright {

TubeResult tubeContent(const TubeReading &r) {
    constexpr double mostContraction = 0.2;
    const auto require = [](bool holds, const char *where, PhraseText expected, double found) {
        if (!holds) throw InputError(where, expected, std::to_string(found));
    };
    require(r.waterLine > 0 && std::isfinite(r.waterLine), "water line",
            MARKED("expected.more_than_0", "more than 0"), r.waterLine);
    require(r.fuelLine > r.waterLine && std::isfinite(r.fuelLine), "fuel line",
            MARKED("expected.more_than_the_water_line", "more than the water line"), r.fuelLine);
    // Water alone does not shrink: a layer under its line was misread, or the lines were.
    require(r.layerTop >= r.waterLine && r.layerTop <= r.fuelLine, "layer",
            MARKED("expected.from_water_line_fuel_line", "from the water line to the fuel line"), r.layerTop);
    require(r.reading >= 0, "reading uncertainty", MARKED("expected.0_or_more", "0 or more"), r.reading);
    require(r.contraction >= 0 && r.contraction < mostContraction, "contraction",
            MARKED("expected.0_to_0_2", "0 to 0.2"), r.contraction);
    require(r.contractionSigma >= 0, "contraction uncertainty", MARKED("expected.0_or_more", "0 or more"),
            r.contractionSigma);

    const double span = r.fuelLine - r.waterLine;
    TubeResult out;
    out.raw = (r.layerTop - r.waterLine) / span;
    // The layer that is read has shrunk: before mixing it was S/(1 − k).
    const double keep = 1 - r.contraction;
    const double content = (r.layerTop / keep - r.waterLine) / span;
    // c = (S/(1−k) − W)/(T − W); first-order propagation.
    const double byLayer = 1 / keep / span;
    const double byWater = (content - 1) / span;
    const double byFuel = -content / span;
    const double byContraction = r.layerTop / (keep * keep) / span;
    const double readings = std::hypot(byLayer, byWater, byFuel) * r.reading;
    out.content = {std::clamp(content, 0.0, 1.0), std::hypot(readings, byContraction * r.contractionSigma)};
    return out;
}

SensorReading readContentSensor(double hertz, double pulseMs) {
    if (!(hertz >= 0) || !std::isfinite(hertz))
        throw InputError("frequency", MARKED("expected.0_hz_or_more", "0 Hz or more"), std::to_string(hertz));
    if (!(pulseMs >= 0) || !std::isfinite(pulseMs))
        throw InputError("pulse width", MARKED("expected.0_ms_or_more", "0 ms or more"),
                         std::to_string(pulseMs));
    // A little play about the ends is the sensor's tolerance, not a fault: ±5 Hz. All common practice, from
    // memory.
    constexpr double zeroHz = 50, spanHz = 100, play = 5, contaminatedHz = 180, silentHz = 1;
    constexpr double coldMs = 1, spanMs = 4, coldC = -40, spanC = 165;
    SensorReading out;
    out.content = std::clamp((hertz - zeroHz) / spanHz, 0.0, 1.0);
    out.temperatureC =
        pulseMs > 0 ? coldC + (pulseMs - coldMs) / spanMs * spanC : std::numeric_limits<double>::quiet_NaN();
    if (hertz < silentHz)
        out.fault = SensorFault::noSignal;
    else if (hertz >= contaminatedHz)
        out.fault = SensorFault::contaminated;
    else if (hertz < zeroHz - play)
        out.fault = SensorFault::lowRange;
    else if (hertz > zeroHz + spanHz + play)
        out.fault = SensorFault::highRange;
    else if (pulseMs > 0 && (pulseMs < coldMs || pulseMs > coldMs + spanMs))
        out.fault = SensorFault::temperatureRange;
    return out;
}

std::string_view faultId(SensorFault fault) {
    constexpr std::array<std::string_view, 6> ids{"none",       "no_signal",    "low_range",
                                                  "high_range", "contaminated", "temperature_range"};
    return ids[static_cast<std::size_t>(fault)];
}

PhraseText faultWords(SensorFault fault) {
    constexpr std::array words{
        MARKED("sensor.in_range", "The reading is in range."),
        MARKED("sensor.no_signal", "No signal: wiring, supply or the sensor itself. Hold the last good "
                                   "content, spark and boost of the "
                                   "base fuel."),
        MARKED("sensor.low_range", "Below the range of fuel: wiring or the sensor itself."),
        MARKED("sensor.high_range", "Above the range of fuel: wiring, or the first sign of water in it."),
        MARKED("sensor.contaminated", "Contaminated fuel (water) or a fault: do not run on this reading."),
        MARKED("sensor.temperature_range",
               "The temperature pulse is out of range: wiring or the sensor itself.")};
    return words[static_cast<std::size_t>(fault)];
}

} // namespace wheelwright
