// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/ladder/gate.h"
#include "core/ladder/ladder_plan.h"

#include <string>
#include <vector>

namespace wheelwright {

struct GateResult {
    const Gate *gate;
    GateAnswer answer;
};

/// Green: every gate has passed; red: one has failed; amber: something is not judged.
enum class RungLight { green, amber, red };
std::string_view rungLightKey(RungLight light);
PhraseText rungLightWord(RungLight light);

/// What all gates of a rung say.
struct RungStatus {
    std::string rung; ///< id
    std::vector<GateResult> gates;
    std::size_t pulls = 0; ///< that count for it

    RungLight light() const;
    bool passes() const { return light() == RungLight::green; }
    /// What to do first: of the first gate that failed, else of the first that is not judged; nullptr: none.
    const GateResult *first() const;
};

/// Whether a pull counts for a rung: its content is nearer to this rung's than to any other's, and it was
/// aimed at the rung's boost, or over it.
bool belongsTo(const PullFacts &pull, const Rung &rung, const Ladder &ladder, const Job &job);

/// Facts: of the job as it is, by ladderFacts().
RungStatus rungStatus(const Study &study, const Ladder &ladder, const Rung &rung, const LadderFacts &facts);

/// The pass of the next rung, to be added to the job. Without a reason by evidence: throws InputError where a
/// gate has not passed, naming it, and for a rung that is not next. With a reason by hand, whatever the gates
/// say; that is kept with it. at: ISO 8601.
RungPass passOf(const Study &study, const Ladder &ladder, const LadderFacts &facts, const std::string &rung,
                const std::string &at, const std::string &reason = {});

/// Power at the wheels of the best run at a content with the calibration as it is: of a dyno, or of the road
/// less what that is known to; 0: none.
double powerAt(const Study &study, double content, const std::string &calibration);

} // namespace wheelwright
