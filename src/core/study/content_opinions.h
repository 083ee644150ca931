// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"
#include "core/fuel/uncertain_tank.h"
#include "core/job/job.h"

#include <array>

namespace wheelwright {

/// Who says what the tank's content is.
enum class OpinionSource { arithmetic, sensor, tube };
inline constexpr std::array allOpinionSources{OpinionSource::arithmetic, OpinionSource::sensor,
                                              OpinionSource::tube};
std::string_view opinionId(OpinionSource source); ///< "arithmetic" …
PhraseText opinionTitle(OpinionSource source);    ///< "The arithmetic" …

/// One opinion on the alcohol content of what is in the tank now. A reading from before a pour is carried on
/// through it, so that all three speak of the same fuel.
struct Opinion {
    OpinionSource source = OpinionSource::arithmetic;
    Uncertain content;
    std::string at;        ///< of the reading; as typed
    std::size_t event = 0; ///< the reading, or the last event that the arithmetic counts
    Uncertain read;        ///< the reading itself, before later pours
    int poursSince = 0;    ///< pours that it has been carried through
    bool maybeUnsettled =
        false; ///< nothing burned between a pour and this reading: the line may hold the old fuel
};

struct ContentOpinions {
    std::vector<Opinion> all; ///< those that exist, arithmetic first
    double apart = 0;         ///< largest difference between two
    bool agree = true;        ///< within the limit content.disagreement
    Phrase verdict;           ///< in words, with what to do
};

/// Volume and content of the tank with what is usual for events that state no ± (limits usual.*).
/// Throws InputError as tankNow().
UncertainTank uncertainTankNow(const Job &job);

ContentOpinions opinionsOf(const Job &job);

/// nullptr when there is none of that source.
const Opinion *opinionBy(const ContentOpinions &opinions, OpinionSource source);

/// The event that makes an opinion the believed content. Alcohols keep the proportion that the arithmetic
/// knows; without any, all of it is the job's alcohol.
TankEvent adoption(const Job &job, const Opinion &opinion, std::string at);

} // namespace wheelwright
