// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/fuel/uncertain_tank.h"

#include "core/base/phrase.h"

#include <optional>
#include <string>
#include <vector>

namespace wheelwright {

/// A fuel that can be poured. Contents are of the job's alcohol, 0–1.
struct ShelfFuel {
    std::string name;
    double content = 0;
    double pricePerL = 0;              ///< in the user's money
    double availableL = 1e9;           ///< what is left of it; practically endless at a station
    double canL = 0;                   ///< size of a sealed can; 0: by the litre
    double contentSigma = 0;           ///< standard uncertainty of its content
    double meterSigma = 0;             ///< … of each litre poured, as a share
    std::vector<Phrase> cautions = {}; ///< to be read before it is poured
};

struct PourRequest {
    double capacityL = 0;
    double volumeL = 0;
    double content = 0;
    double target = 0;
    std::optional<double> levelL;                      ///< wanted total; empty: any up to the capacity
    std::vector<ShelfFuel> shelf;                      ///< 1 to 8
    double reserveL = 0;                               ///< under it the pickup may run dry
    std::optional<UncertainTank> known = std::nullopt; ///< how well the tank is known; empty: exactly
    /// Over 0: both alcohols are in it. Contents are then those of the job's alcohol that need as much fuel,
    /// a litre of the other counting for so many, and the plan aims at the need of the target.
    double otherCountsFor = 0;
};

/// What each strategy looks for.
enum class PourStrategy {
    leastAdded, ///< least fuel poured, no drain
    fullest,    ///< highest level, no drain
    cheapest,   ///< least money, no drain
    nearest,    ///< no drain, content as near to the target as can be, least added among those
    leastDrain, ///< drain as little as makes the target reachable, then pour as little as needed
    wholeCans   ///< no drain, whole cans only: nearest content, then least added
};
std::string_view strategyId(PourStrategy s); ///< "least_added" …

struct PourPlan {
    PourStrategy strategy = PourStrategy::leastAdded;
    bool exact = false;        ///< reaches the target within 0.01 %
    double drainL = 0;         ///< first, from what is in the tank now
    std::vector<double> pourL; ///< of each shelf fuel
    double volumeL = 0;        ///< after all
    double content = 0;
    double price = 0;
    std::vector<int> cans; ///< for wholeCans
};

struct PourAnswer {
    std::vector<PourPlan> plans; ///< one for each strategy that has an answer
    Phrase why;                  ///< why the target cannot be reached without draining; empty when it can
};

/// Throws InputError for a tank or a shelf that makes no sense.
PourAnswer planPour(const PourRequest &request);

/// nullptr when that strategy has no answer.
const PourPlan *planOf(const PourAnswer &answer, PourStrategy strategy);

} // namespace wheelwright
