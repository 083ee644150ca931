// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <string>

namespace wheelwright {

struct Job;

/// How the content goes up: over several contents, each proven before the next, or at once from one end to
/// the other.
enum class LadderRoute { steps, bothEnds };

/// What a change of fuel is to come to. What is 0 is not stated.
struct LadderGoal {
    LadderRoute route = LadderRoute::steps;
    double powerKw = 0;      ///< at the wheels, as runs show it; enough is enough: no more is sought after it
    double baseBoostKpa = 0; ///< absolute, on the base fuel; 0: what its boost tables ask for
    double topBoostKpa = 0;  ///< absolute, at the top content; 0: what its boost tables ask for
    double topContent = 0;   ///< 0: what the top tables were calibrated at
    double money = 0;        ///< most that the fuel may cost, in the user's money
    double pulls = 3;        ///< clean ones wanted of a rung; whole
    double drainCanL = 10;   ///< what is drained goes into cans of this size
    bool operator==(const LadderGoal &) const = default;
};

/// One content of the way up.
struct LadderContent {
    double content = 0;
    bool operator==(const LadderContent &) const = default;
};

/// A fuel that the car must be able to run on when all is done.
struct LadderFuel {
    std::string fuel; ///< name on the shelf
    bool operator==(const LadderFuel &) const = default;
};

/// Who let a rung pass.
enum class PassedBy { evidence, hand };

/// A rung that was passed, and by what.
struct RungPass {
    std::string rung; ///< id of the rung: "content.25"
    std::string at;   ///< ISO 8601
    PassedBy by = PassedBy::evidence;
    std::string reason;      ///< why by hand
    double content = 0;      ///< volume fraction, as found
    double boostKpa = 0;     ///< absolute, as found; 0: not of this rung
    double powerKw = 0;      ///< at the wheels, as found; 0: nobody measured it
    double price = 0;        ///< of the fuel that its plan poured
    std::string calibration; ///< fingerprint of the state that it was passed with (calibrationPrint())
    std::string gates;       ///< a line each: what every gate said
    std::string logs;        ///< ids of what they used, a line each
    bool operator==(const RungPass &) const = default;
};

/// Something that only eyes can see, looked at and found in order.
struct RungLook {
    std::string rung; ///< id of the rung that it was looked at for
    std::string gate; ///< id of the gate or of the item: "plugs"
    std::string at;   ///< ISO 8601
    std::string note; ///< what was seen
    bool operator==(const RungLook &) const = default;
};

} // namespace wheelwright
