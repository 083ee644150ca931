// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ladder/preflight.h"

#include <array>

namespace wheelwright {

std::span<const PreflightItem> allPreflightItems() {
    static constexpr std::array items{
        PreflightItem{"leaks", MARKED("preflight.leaks", "Leaks and clamps"),
                      MARKED("preflight.leaks.help",
                             "Fuel, oil, coolant, intake and exhaust joints, looked over cold.")},
        PreflightItem{"levels", MARKED("preflight.levels", "Oil and coolant"),
                      MARKED("preflight.levels.help", "Level, look and smell; fuel in the oil.")},
        PreflightItem{"base_timing", MARKED("preflight.base_timing", "Base timing by light"),
                      MARKED("preflight.base_timing.help",
                             "Within 1° of true top dead centre; mechanical cam timing looked at.")},
        PreflightItem{"sensors", MARKED("preflight.sensors", "Sensors read true"),
                      MARKED("preflight.sensors.help",
                             "With the engine off: manifold pressure is the air outside, throttle shut and "
                             "open, temperatures those of the day, content as the tube says.")},
        PreflightItem{"plugs", MARKED("preflight.plugs", "Plugs of the right heat range"),
                      MARKED("preflight.plugs.help", "New or read, and gapped for the boost.")},
        PreflightItem{"wideband", MARKED("preflight.wideband", "Wideband warm and on its scale"),
                      MARKED("preflight.wideband.help",
                             "In λ, or on the AFR scale that the job states; 1.00 at a warm idle that is "
                             "tuned for it.")},
        PreflightItem{"log", MARKED("preflight.log", "The log runs"),
                      MARKED("preflight.log.help",
                             "With speed, manifold pressure, throttle, λ, spark, knock retard, content, "
                             "duty, rail and oil pressure, temperatures.")},
        PreflightItem{"cuts", MARKED("preflight.cuts", "Cuts are set, and work"),
                      MARKED("preflight.cuts.help", "Overboost and speed, tried low once.")},
        PreflightItem{
            "file", MARKED("preflight.file", "The file is the one that was sent"),
            MARKED("preflight.file.help", "Read back and compared: rev limit, boost, sensors, base timing.")},
        PreflightItem{"room", MARKED("preflight.room", "The room"),
                      MARKED("preflight.room.help",
                             "Tie-downs, ventilation, ears, nobody in line with wheels or driveline; on a "
                             "dyno or a closed course.")},
        PreflightItem{"fire", MARKED("preflight.fire", "Fire and fuel"),
                      MARKED("preflight.fire.help",
                             "The right extinguisher in reach, containers earthed and shut, no ignition "
                             "source, gloves and goggles; local codes and safety data sheets first.")},
    };
    return items;
}

} // namespace wheelwright
