// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/watch_rule.h"

#include <vector>

namespace wheelwright {

/// A stretch of a log whose content stands still, or does not.
struct ContentStretch {
    std::size_t from = 0, to = 0; ///< samples, both within
    double beginS = 0, endS = 0;
    bool settled = true;
    double content = 0; ///< mean of what the log says
};

/// What a log says of its fuel, and what the tank says of it.
struct LogContent {
    bool known = false;                    ///< a channel reads it, or somebody stated it
    bool stated = false;                   ///< by the user, who answers for it
    std::vector<ContentStretch> stretches; ///< all of the log, by time; empty where no channel reads it
    double mean = 0, least = 0, most = 0;  ///< of the channel without its noise, while the engine runs
    double movedPerMinute = 0;             ///< the fastest that it moved, a share of fuel per minute
    bool settled = false;                  ///< at no time faster than clean.content, long enough to say so
    bool returnDry = false;                ///< it jumps at high flow while it was steady before
    /// Opinions of the tank by the day that the log came in; further from the log than content.disagreement.
    struct Beside {
        PhraseText who;
        double content = 0, sigma = 0;
        bool agrees = true;
    };
    std::vector<Beside> beside;
    std::vector<Phrase> said; ///< all of it in sentences, the gravest first

    /// Whether corrections may be made from it: settled, or told to be so by who stated the content.
    bool usable() const { return known && (stated || (settled && !returnDry)); }
};

/// job: as it is now, with the history of its tank.
LogContent contentOf(const WatchedLog &log, const LogInfo &info, const Job &job);

} // namespace wheelwright
