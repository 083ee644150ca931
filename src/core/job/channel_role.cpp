// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/channel_role.h"

#include <algorithm>
#include <array>

namespace wheelwright {
namespace {

using D = Dimension;
using R = ChannelRole;

// The ends of λ leave room for air alone, as a sensor reads it on the overrun.
constexpr std::array roles{
    ChannelRoleDefinition{R::none, "none", MARKED("role.none", "No role"), D::none, "", -1e300, 1e300},
    ChannelRoleDefinition{R::time, "time", MARKED("role.time", "Time"), D::seconds, "s", -1e12, 1e12},
    ChannelRoleDefinition{R::rpm, "rpm", MARKED("role.rpm", "Engine speed"), D::engineSpeed, "rpm", 0, 20000},
    ChannelRoleDefinition{R::map, "map", MARKED("role.map", "Manifold pressure"), D::pressure, "kPa", 0,
                          1000},
    ChannelRoleDefinition{R::throttle, "throttle", MARKED("role.throttle", "Throttle"), D::ratio, "fraction",
                          -0.05, 1.1},
    ChannelRoleDefinition{R::lambda, "lambda", MARKED("role.lambda", "λ"), D::mixture, "λ", 0.4, 10},
    ChannelRoleDefinition{R::lambdaTarget, "lambda_target", MARKED("role.lambda_target", "λ target"),
                          D::mixture, "λ", 0.4, 2},
    ChannelRoleDefinition{R::spark, "spark", MARKED("role.spark", "Spark"), D::sparkAngle, "deg", -40, 80},
    ChannelRoleDefinition{R::knockRetard, "knock_retard", MARKED("role.knock_retard", "Knock retard"),
                          D::sparkAngle, "deg", 0, 40},
    ChannelRoleDefinition{R::ethanol, "ethanol", MARKED("role.ethanol", "Alcohol content"), D::content,
                          "fraction", 0, 1},
    ChannelRoleDefinition{R::fuelTemp, "fuel_temp", MARKED("role.fuel_temp", "Fuel temperature"),
                          D::temperature, "°C", -50, 130},
    ChannelRoleDefinition{R::intakeTemp, "intake_temp", MARKED("role.intake_temp", "Intake air"),
                          D::temperature, "°C", -50, 250},
    ChannelRoleDefinition{R::coolantTemp, "coolant_temp", MARKED("role.coolant_temp", "Coolant"),
                          D::temperature, "°C", -50, 180},
    ChannelRoleDefinition{R::pulseWidth, "pulse_width", MARKED("role.pulse_width", "Pulse"), D::duration,
                          "ms", 0, 100},
    ChannelRoleDefinition{R::duty, "duty", MARKED("role.duty", "Injector duty"), D::ratio, "fraction", 0,
                          1.5},
    ChannelRoleDefinition{R::railPressure, "rail_pressure", MARKED("role.rail_pressure", "Rail pressure"),
                          D::pressure, "kPa", 0, 50000},
    ChannelRoleDefinition{R::oilPressure, "oil_pressure", MARKED("role.oil_pressure", "Oil pressure"),
                          D::pressure, "kPa", 0, 3000},
    ChannelRoleDefinition{R::battery, "battery", MARKED("role.battery", "Battery"), D::voltage, "V", 0, 40},
    ChannelRoleDefinition{R::exhaustTemp, "exhaust_temp", MARKED("role.exhaust_temp", "Exhaust temperature"),
                          D::temperature, "°C", -50, 1400},
    ChannelRoleDefinition{R::boostTarget, "boost_target", MARKED("role.boost_target", "Boost target"),
                          D::pressure, "kPa", 0, 1000},
    ChannelRoleDefinition{R::solenoidDuty, "solenoid_duty", MARKED("role.solenoid_duty", "Boost solenoid"),
                          D::ratio, "fraction", 0, 1},
    ChannelRoleDefinition{R::speed, "speed", MARKED("role.speed", "Speed"), D::roadSpeed, "km/h", 0, 600},
    ChannelRoleDefinition{R::gear, "gear", MARKED("role.gear", "Gear"), D::count, "", -2, 20},
    ChannelRoleDefinition{R::cam, "cam", MARKED("role.cam", "Cam"), D::none, "", -720, 720},
    ChannelRoleDefinition{R::sprayFlow, "spray_flow", MARKED("role.spray_flow", "Spray"), D::volumeFlow,
                          "cc/min", 0, 20000},
    ChannelRoleDefinition{R::torque, "torque", MARKED("role.torque", "Torque"), D::torque, "N·m", -5000,
                          20000},
    ChannelRoleDefinition{R::power, "power", MARKED("role.power", "Power"), D::power, "kW", -1000, 10000},
    ChannelRoleDefinition{R::fuelTrim, "fuel_trim", MARKED("role.fuel_trim", "Fuel trim"), D::ratio,
                          "fraction", -0.5, 0.5},
    ChannelRoleDefinition{R::dynoMap, "dyno_map", MARKED("role.dyno_map", "Manifold pressure by the dyno"),
                          D::pressure, "kPa", 0, 1000},
    ChannelRoleDefinition{R::portShare, "port_share", MARKED("role.port_share", "Share of port injection"),
                          D::ratio, "fraction", 0, 1},
    ChannelRoleDefinition{R::ambientPressure, "ambient_pressure",
                          MARKED("role.ambient_pressure", "Pressure of the air outside"), D::pressure, "kPa",
                          50, 110},
    ChannelRoleDefinition{R::ambientTemp, "ambient_temp", MARKED("role.ambient_temp", "Air outside"),
                          D::temperature, "°C", -60, 80},
    ChannelRoleDefinition{R::humidity, "humidity", MARKED("role.humidity", "Humidity of the air"), D::ratio,
                          "fraction", 0, 1},
};

} // namespace

std::span<const ChannelRoleDefinition> allChannelRoles() {
    return roles;
}

const ChannelRoleDefinition &definitionOf(ChannelRole role) {
    return roles[static_cast<std::size_t>(role)];
}

const ChannelRoleDefinition *roleByKey(std::string_view key) {
    const auto at = std::ranges::find(roles, key, &ChannelRoleDefinition::key);
    return at == roles.end() ? nullptr : &*at;
}

} // namespace wheelwright
