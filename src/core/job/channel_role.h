// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"

#include <span>
#include <string_view>

namespace wheelwright {

/// What a channel of a log measures. What nobody has given a role is kept all the same and counts for
/// nothing.
enum class ChannelRole {
    none,
    time,
    rpm,
    map,
    throttle,
    lambda,
    lambdaTarget,
    spark,
    knockRetard,
    ethanol,
    fuelTemp,
    intakeTemp,
    coolantTemp,
    pulseWidth,
    duty,
    railPressure,
    oilPressure,
    battery,
    exhaustTemp,
    boostTarget,
    solenoidDuty,
    speed,
    gear,
    cam,
    sprayFlow,
    torque,
    power,
    fuelTrim,
    dynoMap,   ///< the same place as map, by a sensor that is not the controller's
    portShare, ///< of the fuel, by injectors at the ports beside those in the cylinders
    ambientPressure,
    ambientTemp, ///< of the air outside, where the engine draws it
    humidity,    ///< relative
};
/// Roles there are.
inline constexpr std::size_t channelRoleCount = static_cast<std::size_t>(ChannelRole::humidity) + 1;

struct ChannelRoleDefinition {
    ChannelRole role;
    std::string_view key;  ///< stable: "lambda_target"
    PhraseText title;      ///< as shown
    Dimension dimension;   ///< pressures are absolute, also those that are measured against the air
    std::string_view unit; ///< of the dimension, for scripts: "kPa"
    double least = 0,
           most = 0; ///< outside of it a reading is no reading, whatever the engine; common practice
};

/// Every role, in the order of the enumeration: what a log may hold. Adding one is a line.
std::span<const ChannelRoleDefinition> allChannelRoles();
const ChannelRoleDefinition &definitionOf(ChannelRole role);
/// nullptr for no such key.
const ChannelRoleDefinition *roleByKey(std::string_view key);

} // namespace wheelwright
