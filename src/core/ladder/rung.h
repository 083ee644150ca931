// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"
#include "core/fuel/tank.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace wheelwright {

/// What a rung of the ladder is for, in the order of the work.
enum class RungKind { preflight, pass, baseBoost, content, topBoost, wayDown, road, handOver };
std::string_view rungKindKey(RungKind kind); ///< stable: "base_boost"
PhraseText rungKindTitle(RungKind kind);     ///< "Boost on the base fuel"
/// Pulls are made on it that a log tells of: the others are passes, looked at, driven or handed over.
bool hasPulls(RungKind kind);

/// One fuel that is poured for a rung.
struct RungPour {
    std::size_t fuel = 0; ///< place among the fuels that plans may use
    std::string name;
    int count = 0; ///< cans, or whole litres of what comes by the litre
    double litres = 0;
    double canL = 0; ///< 0: by the litre
    double price = 0;
};

/// What the engine must do on a rung with its boost: by the model, for the coldest air.
struct RungDemand {
    double rpm = 0, loadKpa = 0; ///< where the duty is highest
    double duty = 0;             ///< of the injectors, 0–1
    std::optional<double> pumpShare;
    double flowLMin = 0;                   ///< of fuel there
    double sparkRpm = 0, sparkLoadKpa = 0; ///< the lowest speed that has all of the boost
    double sparkDeg = 0, lambda = 0;       ///< of the tables there
    std::optional<double> peakKpa;         ///< highest manifold pressure with its overshoot; none: no boost
};

/// What a pass with mechanical injection will do, by the model in the air of today.
struct PassPlan {
    double pillMm = 0;                        ///< main
    double lambda = 0, afr = 0;               ///< at the speed where pills are judged
    double leanestLambda = 0, leanestRpm = 0; ///< over the speeds, from a quarter of the rev limit on
    double leanerBy = 0;                      ///< than the pass before it: 0.03 is 3 %; of the first 0
    Uncertain exhaustC;                       ///< by the passes so far, and what is usual
};

/// Where a rung stands.
enum class RungState {
    passed,
    next,
    later,
    notNeeded, ///< what was wanted is there
    outOfReach ///< something ends the way before it
};
std::string_view rungStateKey(RungState state); ///< "not_needed"
PhraseText rungStateWord(RungState state);

/// One step of the change of fuel.
struct Rung {
    std::string id; ///< stable: "content.25", "top_boost.220"
    RungKind kind = RungKind::preflight;
    RungState state = RungState::later;
    Phrase why; ///< it is not needed, or out of reach

    double content = 0;                 ///< aimed at, 0–1
    std::optional<double> boostKpa;     ///< target, absolute; none: nothing that can be set
    double cutKpa = 0;                  ///< overboost cut for it, absolute; 0: none
    std::optional<double> solenoidDuty; ///< that pulls showed for it, 0–1
    double pulls = 0;                   ///< clean ones wanted

    std::optional<PassPlan> pass; ///< of passes

    // What is done before it, of those that have not been passed.
    int drainCans = 0; ///< of drainCanL; the last may be partly filled
    double drainL = 0, drainCanL = 0;
    std::vector<RungPour> pours;
    double volumeL = 0; ///< in the tank then
    Uncertain expected; ///< content then, by the arithmetic
    double price = 0;
    double settleMin = 0, settleInjectorsMin = 0; ///< until sensor and injectors have the new fuel
    double burnL = 0, minutes = 0;                ///< used, and how long it takes

    double multiplier = 1; ///< fuel volume against the base fuel
    RungDemand demand;     ///< of rungs with pulls
    std::vector<Phrase> remarks;

    bool moves() const { return drainL > 0 || !pours.empty(); } ///< the tank is touched
};

/// A fuel to have at hand.
struct ShoppingItem {
    std::string name;
    int count = 0;
    double litres = 0, canL = 0, price = 0;
    std::vector<Phrase> cautions; ///< to be read before it is poured
};

/// The plan of a change of fuel, from where the tank is now.
struct Ladder {
    std::vector<Rung> rungs;
    std::vector<ShoppingItem> shopping; ///< for all that is still to be passed
    double drainedL = 0, pouredL = 0, price = 0, burnedL = 0, minutes = 0;
    double spent = 0; ///< by rungs that were passed
    Phrase ends;      ///< what ends it before the goal; empty: nothing that is known
    std::vector<Phrase> remarks;
    bool passes = false;  ///< of mechanical injection: its rungs go by λ, not by content
    bool thinned = false; ///< the cans may not be the very best (fuel/can_route.h)

    const Rung *next() const; ///< nullptr: all is done
    const Rung *byId(std::string_view id) const;
};

} // namespace wheelwright
