// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/log_trace.h"

#include <span>
#include <string_view>
#include <vector>

namespace wheelwright {

enum class EpisodeKind {
    start,   ///< from the first turn of the engine on, thirty seconds
    cold,    ///< running, coolant not warm yet
    idle,    ///< throttle shut, slow
    overrun, ///< throttle shut, turned by the car
    cruise,  ///< steady at light load
    hold,    ///< steady under load: what a dyno does
    tipIn,   ///< the throttle opens fast
    pull     ///< through the speeds with the throttle open
};

struct EpisodeDefinition {
    EpisodeKind kind;
    std::string_view key; ///< stable: "tip_in"
    PhraseText title;
    PhraseText help; ///< what makes it one, with its numbers
};
std::span<const EpisodeDefinition> allEpisodeKinds();
const EpisodeDefinition &definitionOf(EpisodeKind kind);

/// A stretch of a log in which the engine does one thing; start and cold may lie over others.
struct Episode {
    EpisodeKind kind;
    std::size_t from = 0, to = 0; ///< samples, both within
    double beginS = 0, endS = 0;
    double rpmFrom = 0, rpmTo = 0;
    double peakLoadKpa = 0; ///< not a number where the log has no manifold pressure
    double content = 0;     ///< mean; not a number where nobody knows it
};

/// All of a log, by their beginning. What a kind needs and the log has not got is not found: without a
/// throttle the manifold pressure stands for it, without both there are no pulls. Thresholds are common
/// practice, named in the definitions.
std::vector<Episode> findEpisodes(const LogTrace &trace, double ambientKpa);

/// Those of a kind.
std::vector<Episode> only(std::span<const Episode> all, EpisodeKind kind);

} // namespace wheelwright
