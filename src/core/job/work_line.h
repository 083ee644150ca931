// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/revision.h"

namespace wheelwright {

/// A revision on the line of work, or the calibration of now where it is none of them.
struct WorkMark {
    std::optional<std::size_t> revision; ///< place in the job's list; empty: now
    std::optional<std::size_t> from;     ///< mark that it was made from; empty: the first, or nobody knows
    std::size_t lane = 0;            ///< 0: on the way to now; others were left for a revision before them
    bool now = false;                ///< the tables of now are these
    std::vector<Difference> changed; ///< against `from`
    Phrase unread;                   ///< why nobody can say what changed; empty: `changed` says it
    // What was made with it, in the order of the job: places in its lists.
    std::vector<std::size_t> logs, runs, rungs;
};

/// The calibration from the first revision to now, and what was done with each.
struct WorkLine {
    std::vector<WorkMark> marks; ///< as they were kept, now the last unless it is one of them
    std::size_t lanes = 1;
    // Made with a calibration that nobody has kept, or nobody has said.
    std::vector<std::size_t> strayLogs, strayRuns, strayRungs;
};
/// Which marks say what they changed and what was made with them: it takes reading every calibration, against
/// the two that now is held against.
enum class ChangesOf { all, now };
WorkLine workLineOf(const Job &job, ChangesOf changes = ChangesOf::all);

/// What the second has and the first has not, by the places of revisions; empty: now. Throws as restored().
std::vector<Difference> differencesBetween(const Job &job, std::optional<std::size_t> first,
                                           std::optional<std::size_t> second);

} // namespace wheelwright
