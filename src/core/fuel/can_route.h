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

/// What a route is to be least in, first of all; then in the other, then in litres poured.
enum class CanRouteLeast { drained, money };

struct CanRequest {
    double capacityL = 0, volumeL = 0, content = 0;
    double reserveL = 0;          ///< at least this is left when a stop ends
    std::vector<ShelfFuel> shelf; ///< 1 to 8; without a can size by the whole litre
    double drainCanL = 10;        ///< what is drained fills whole cans
    std::vector<CanStop> stops;
    CanRouteLeast least = CanRouteLeast::drained;
    std::size_t mostStates = 200; ///< that are followed from one stop to the next
};

/// What is done at one stop before it begins.
struct CanStep {
    int drainCans = 0;
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

/// Drains and pours whole cans (whole litres of what has none) from stop to stop: of all ways that reach as
/// many stops as can be reached the one that is least. At a stop at most two fuels are poured. Common
/// practice. Throws InputError for a tank, a shelf or stops that make no sense.
CanRoute planCans(const CanRequest &request);

} // namespace wheelwright
