// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/log_review.h"
#include "core/proposal/learned_ceilings.h"
#include "core/proposal/spark_beside.h"
#include "core/proposal/spark_search.h"
#include "core/proposal/spark_sweep.h"

#include <memory>
#include <optional>
#include <span>
#include <string>
#include <vector>

namespace wheelwright {

/// A cell of the spark that the engine gets at a content, and what logs say of its knock: samples of the
/// running engine nearest to it, from limit evidence.knock_from up.
struct KnockCell {
    CellIndex cell; ///< of the blend, on the low end's axes
    double rpm = 0, loadKpa = 0;
    double content = 0; ///< mean of its samples
    double hits = 0;
    int knocks = 0;                       ///< times that it began here, tip-ins apart
    int transientKnocks = 0;              ///< times that it did in a tip-in: once it may be false
    double retardDeg = 0;                 ///< the most that was taken while it went on here; of a tip-in too
    double carriedDeg = 0;                ///< the most retard that came along from elsewhere
    double intakeC = 0, worstContent = 0; ///< at the most retard; not numbers without
    bool transient = false; ///< it began in a tip-in, and has not come again: it is not acted on
    double offsetDeg = 0;   ///< that corrections by temperature added or took, on the average
    double nowDeg = 0, proposedDeg = 0;
    bool locked = false;
    SparkSearch search; ///< once the proposal is taken
    Phrase next;
    std::vector<std::string> logs; ///< ids that say so
};

struct KnockProposal {
    std::vector<KnockCell> cells; ///< with enough hits, or with knock; by content band, load, speed
    /// On the road: what surrounds them. By content band, load, speed.
    std::vector<BesideCell> beside;
    struct Unused {
        std::string log;
        Phrase why;
    };
    std::vector<Unused> unused;
    bool changes() const;
};

struct KnockOptions {
    std::optional<double> content;   ///< only samples within limit evidence.content_window of it
    std::optional<double> leastHits; ///< empty: limit evidence.least_hits
    /// Go by learned ceilings where they are known to a degree; nullptr: by steps alone.
    LearnedCeilings *learned = nullptr;
    /// What all logs say of power over spark, where a dyno wrote it in (sweepsIn()): then the search ends by
    /// power, and not where spark is estimated best.
    std::span<const LoggedSweep> sweeps{};
};

/// By cell and content band; each goes on from where the job says its search stands, with logs that have not
/// been counted there yet. Logs without knock retard, spark or a known content say nothing, and it says so.
KnockProposal proposeSpark(const Study &study, std::span<const std::shared_ptr<const LogReview>> logs,
                           const KnockOptions &options = {});

/// The job with the steps in its spark tables, at their contents, and the search where it then stands; the
/// correction is noted, made at that time (ISO 8601).
Job withSpark(const Job &job, const KnockProposal &proposal, const std::string &at);

} // namespace wheelwright
