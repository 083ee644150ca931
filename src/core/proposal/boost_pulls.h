// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/log_review.h"

#include <memory>
#include <optional>
#include <span>
#include <string>
#include <vector>

namespace wheelwright {

/// What boost did in one pull with the throttle open. Pressures are gauge, kPa.
struct PullBoost {
    std::string log; ///< id
    double beginS = 0, endS = 0;
    double gear = 0; ///< 0: the log does not say
    double content = 0;
    double targetKpa = 0; ///< mean where it held; not a number where nobody says it
    bool reached = false; ///< it came to nine tenths of its target, or, without one, of its highest
    double reachedRpm = 0;
    double heldKpa = 0;      ///< mean from half a second after that on
    double duty = 0;         ///< of the solenoid, mean there; not a number without
    double dutyMoved = 0;    ///< most less least of it there
    double overshootKpa = 0; ///< most over the target in the first second (without one: over what it held)
    double driftKpa = 0; ///< by which it rises (creep) or falls (sag) from there to the end: a straight line
    double driftSigmaKpa = 0; ///< standard error of that
    double waveKpa = 0;       ///< amplitude about that line
    double waveHz = 0;        ///< 0: no wave to speak of
    std::vector<Phrase> said; ///< spike, creep, sag, wave: what stands out, with its number
};

/// Shapes that are worth a word; common practice.
inline constexpr double driftWorthSayingKpa = 7, waveWorthSayingKpa = 4;

/// Pulls of logs with manifold pressure, throttle and a known content, by log and time.
std::vector<PullBoost> readPulls(std::span<const std::shared_ptr<const LogReview>> logs);

/// The job with a point of boost over duty for each pull that held still: solenoid within two per cent, and
/// no creep, sag or wave. One that says the same as a point that is there is left out.
Job withBoostPoints(const Job &job, std::span<const PullBoost> pulls);

/// Boost that was held over content, by a straight line through pulls that came to it.
struct BoostOverContent {
    std::size_t pulls = 0;
    double from = 0, to = 0;        ///< contents
    double held = 0, heldError = 0; ///< kPa more for all of the content (0 to 1), and its standard error
    double target = 0;              ///< the same of what was aimed at; not a number where nobody says it
};
/// Nothing where fewer than three pulls came to their boost, or their contents differ by less than ten per
/// cent.
std::optional<BoostOverContent> boostOverContent(std::span<const PullBoost> pulls);

} // namespace wheelwright
