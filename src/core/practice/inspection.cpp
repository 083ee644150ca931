// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/practice/inspection.h"

#include "core/base/error.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace wheelwright {
namespace {

using enum FaultId;

const std::array inspections{
    Inspection{"tube", MARKED("inspect.tube", "A test tube of what is in the tank"), 5, {}},
    Inspection{"timing_light",
               MARKED("inspect.timing_light", "Base timing with a light against true top dead centre"),
               10,
               {baseTiming}},
    Inspection{"pump",
               MARKED("inspect.pump", "Fuel pressure and flow at the rail, with a gauge and a bucket"),
               25,
               {weakPump, cloggedFilter}},
    Inspection{"throttle",
               MARKED("inspect.throttle", "The throttle by hand, with the reading beside it"),
               2,
               {throttleUnplugged}},
    Inspection{"hoses", MARKED("inspect.hoses", "The intake under pressure, for leaks"), 20, {intakeLeak}},
    Inspection{"exhaust",
               MARKED("inspect.exhaust", "Exhaust joints before the wideband, for leaks"),
               15,
               {exhaustLeak}},
    Inspection{"wideband",
               MARKED("inspect.wideband", "The wideband: its scale, in free air and against another"),
               10,
               {widebandScale, widebandLag}},
    Inspection{"read_back",
               MARKED("inspect.read_back", "The controller read back and held against what was sent"),
               5,
               {fileChanged, earlyRevLimit}},
    Inspection{"corrections",
               MARKED("inspect.corrections", "Which corrections of the controller are on, one by one"),
               5,
               {}},
    Inspection{"solenoid",
               MARKED("inspect.solenoid", "Boost solenoid and spring, by hand and with a gauge"),
               15,
               {solenoidStuck, springOff}},
    Inspection{"coolant", MARKED("inspect.coolant", "Coolant level and joints, cold"), 5, {coolantLeak}},
    Inspection{"return_line",
               MARKED("inspect.return_line", "Flow in the return line at high load"),
               20,
               {returnDry}},
    Inspection{"content_sensor",
               MARKED("inspect.content_sensor", "The content sensor in a jar of known fuel"),
               20,
               {contentStuck, contentLag, contentOff}},
    Inspection{"injectors",
               MARKED("inspect.injectors", "Injectors out and on a flow bench"),
               90,
               {injectorWeak, injectorBankWeak}},
    Inspection{"other_fuel",
               MARKED("inspect.other_fuel", "The same pull on fuel of another station"),
               60,
               {badFuel}},
    Inspection{"charging",
               MARKED("inspect.charging", "Charging voltage at the pump, under load"),
               5,
               {alternatorSag}},
};

constexpr double soundTimingDeg = 2;

} // namespace

std::span<const Inspection> allInspections() {
    return inspections;
}

const Inspection &inspectionById(std::string_view id, const std::string &where) {
    const auto found = std::ranges::find(inspections, id, &Inspection::id);
    if (found != inspections.end()) return *found;
    std::string known;
    for (const Inspection &i : inspections)
        known += (known.empty() ? "" : ", ") + std::string(i.id);
    throw InputError(where, Phrase{MARKED("expected.one_of", "one of {a}"), {}, {known}},
                     "'" + std::string(id) + "'");
}

Inspected inspect(const Inspection &inspection, const std::vector<FaultSetting> &faults,
                  const HiddenEngine &engine, double tankContent) {
    if (inspection.id == "tube")
        return {{MARKED("inspect.tube.reads", "{A}: {0}, within 1 %"),
                 {Measured{std::round(tankContent * 100) / 100, Dimension::content, 0}},
                 {},
                 {inspection.title}},
                true};
    for (const FaultSetting &f : faults) {
        if (std::ranges::find(inspection.shows, f.id) == inspection.shows.end()) continue;
        if (f.id == baseTiming) break; // by its number
        return {{MARKED("inspect.found", "{A}: {B}"), {}, {}, {inspection.title, definitionOf(f.id).title}},
                false};
    }
    if (inspection.id == "timing_light") {
        double off = engine.baseTimingErrorDeg;
        for (const FaultSetting &f : faults)
            if (f.id == baseTiming) off += f.strength;
        return {{MARKED("inspect.timing.reads", "{A}: {0} more than commanded"),
                 {Measured{off, Dimension::sparkAngle, 1}},
                 {},
                 {inspection.title}},
                std::abs(off) <= soundTimingDeg};
    }
    return {{MARKED("inspect.sound", "{A}: nothing wrong"), {}, {}, {inspection.title}}, true};
}

} // namespace wheelwright
