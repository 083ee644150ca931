// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/watch_rule.h"
#include "core/live/live_roles.h"

#include <array>
#include <optional>
#include <span>
#include <vector>

namespace wheelwright {

/// What stands beside a reading: where it should be, and what it must not pass.
struct SeatMark {
    enum class Kind { target, caution, stop };
    Kind kind = Kind::target;
    double value = 0;   ///< in the internal unit of the role
    bool least = false; ///< it must not fall under this; else not rise over it
    bool operator==(const SeatMark &) const = default;
};

/// How a reading stands to its marks. Without a number, or without a limit that holds here, nobody has judged
/// it.
enum class SeatStanding { notJudged, within, caution, over };
SeatStanding standingOf(double value, std::span<const SeatMark> marks);

/// Where numbers of a role usually lie, for a scale beside them: from idle to what this engine's tables and
/// limits go to.
struct SeatSpan {
    double from = 0, to = 1;
};
SeatSpan spanOf(ChannelRole role, const Study &study);

/// What the seat shows when nobody has chosen: six roles.
std::span<const ChannelRole> usualSeatRoles();
/// Roles that can be shown in large: numbers that change while one drives.
std::span<const ChannelRole> seatRoles();

/// What a pull was, said as soon as it has ended.
struct PullVerdict {
    double beginS = 0, endS = 0, rpmFrom = 0, rpmTo = 0;
    double content = 0, peakKpa = 0; ///< not a number where nobody said
    double lambdaOver = 0;           ///< furthest λ over its highest target of half a second, at load
    double knockDeg = 0, duty = 0, railShare = 0; ///< most, most and least; not a number without
    std::vector<LogFinding> found;                ///< of the rules, within it; the gravest first
    std::vector<const WatchRule *> notAsked;
};
/// In a sentence: what was found; else that nothing was, and what nobody could ask.
Phrase inWords(const PullVerdict &verdict);
/// Its numbers, those that somebody said.
Phrase numbersOf(const PullVerdict &verdict);
bool clean(const PullVerdict &verdict); ///< nothing found, and every rule asked

/// What the rules and the tables say of a live engine, of the last rows that are there.
struct SeatReview {
    double atS = -1; ///< of the last row; −1: none
    /// Rules that are broken now, or were within the last callHeldS seconds, the gravest first.
    struct Call {
        const WatchRule *rule;
        double worst = 0, limit = 0;
    };
    std::vector<Call> calls;
    std::vector<const WatchRule *> notAsked; ///< there is no channel for them: what is silent is not clean
    std::array<std::vector<SeatMark>, channelRoleCount> marks{};
    std::optional<PullVerdict> lastPull; ///< the last that has ended
    bool pulling = false;                ///< one is under way

    const std::vector<SeatMark> &marksOf(ChannelRole role) const {
        return marks[static_cast<std::size_t>(role)];
    }
};
SeatReview reviewSeat(const Study &study, LogTrace trace);

/// A call stays so long after its cause has gone: it must be read. Common practice.
inline constexpr double callHeldS = 2;

/// Samples by cell of the tables of spark, where the engine has been in a stretch of rows: nearest cell, fuel
/// on.
struct SeatCoverage {
    Axis rpm, loadKpa;
    std::vector<double> samples;  ///< rpm fastest
    std::optional<CellIndex> now; ///< where it is
};
/// afterS: of the samples behind it.
SeatCoverage coverageOf(const Study &study, const LogTrace &trace, double afterS = -1);

} // namespace wheelwright
