// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"
#include "core/fuel/pour_plan.h"

#include <vector>

namespace wheelwright {

/// A content that the tank is to hold for a while. Contents are of the job's alcohol, 0–1.
struct CanStop {
    double low = 0, high = 0;   ///< what will do
    double widerLow, widerHigh; ///< … where nothing that can be poured comes so near
    double burnL = 0;           ///< used there, before the next
};

/// What a route is to be least in, first of all; then in litres drained, times drained, money, litres poured.
enum class CanRouteLeast { drained, money };

struct CanRequest {
    double capacityL = 0, volumeL = 0, content = 0;
    double reserveL = 0;          ///< at least this is left when a stop ends
    std::vector<ShelfFuel> shelf; ///< 1 to 8; without a can size by the whole litre
    double drainCanL = 10;        ///< what is drained fills whole cans, but for the last when all is drained
    std::vector<CanStop> stops;
    CanRouteLeast least = CanRouteLeast::drained;
    std::size_t mostStates = 200; ///< that are followed from one stop to the next
};

/// What is done at one stop before it begins.
struct CanStep {
    int drainCans = 0; ///< the last may be partly filled
    double drainL = 0;
    std::vector<int> count; ///< of each shelf fuel: cans, or litres of what comes by the litre
    std::vector<double> pourL;
    double volumeL = 0, content = 0; ///< afterwards
    double price = 0;
    bool wider = false; ///< only the wider limits are kept
};

/// All stops of it, or as many as can be reached.
struct CanRoute {
    std::vector<CanStep> steps;
    double drainedL = 0, pouredL = 0, price = 0;
    bool thinned = false; ///< there were more ways than were followed: a slightly better one may exist
    Phrase why;           ///< why it ends before the last stop; empty: it does not
};

/// Of what is in the tank at least this stays, L, when all is drained: a pump's pickup leaves about so much,
/// and arithmetic may be so far off. From memory.
inline constexpr double leastLeftL = 0.5;

/// Drains and pours whole cans (whole litres of what has none) from stop to stop: of all ways that reach as
/// many stops as can be reached the one that is least. Where whole cans are not enough all is drained, to the
/// whole litre. At a stop at most two fuels are poured. A content that was held within its wider limits is
/// not drained again for the narrow ones. Common practice. Throws InputError for a tank, a shelf or stops
/// that make no sense.
CanRoute planCans(const CanRequest &request);

} // namespace wheelwright
