// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/ladder/ladder_facts.h"
#include "core/ladder/ladder_plan.h"
#include "core/ladder/pull_trends.h"
#include "core/proposal/learned_ceilings.h"

#include <optional>
#include <string>
#include <vector>

namespace wheelwright {

/// Standard errors within which 95 of 100 lie.
inline constexpr double within95 = 1.96;

/// What a rung that nobody has pulled on will show, once its λ is on target.
struct RungForecast {
    std::string rung; ///< id
    double rpm = 0, loadKpa = 0,
           intakeC = 0;                    ///< where its injectors are fullest, in the air of the last pulls
    double tablesDuty = 0;                 ///< by the tables there, 0–1
    Uncertain fuelOver;                    ///< share of it that the engine needs more
    Uncertain duty;                        ///< 0–1
    Uncertain lambdaError;                 ///< λ less its target there, with the tables as they are
    std::optional<Uncertain> heldKpa;      ///< absolute; none: no boost is set
    std::optional<Uncertain> solenoidDuty; ///< 0–1
    std::optional<Uncertain> powerKw;
    double sparkRpm = 0, sparkLoadKpa = 0;
    double askedSparkDeg = 0;                ///< by the tables there …
    std::optional<Uncertain> standsSparkDeg; ///< … and what the engine stands, by its logs
};

/// Where the injectors come to their caution, in the coldest air.
struct DutyCrossing {
    bool overContent = false; ///< at one boost over content; else at one content over boost
    double content = 0;       ///< that it is at; with overContent: of the highest rung
    double boostKpa = 0;      ///< absolute; without overContent: of the highest rung; 0: none is set
    double duty = 0;          ///< the caution
    /// Content or boost, absolute: most likely, at the earliest and at the latest (95 %). Not a number where
    /// it does not come to it over the scale.
    double at = 0, earliest = 0, latest = 0;
    Uncertain atEnd; ///< duty of the highest rung
};

struct LadderForecast {
    std::size_t rungs = 0; ///< pieces of evidence that it goes by; 0: tables and priors alone
    std::vector<PullTrends::Found> found;
    std::vector<RungForecast> open; ///< next and later ones with pulls
    std::vector<DutyCrossing> crossings;
    /// Of a rung; nullptr: none.
    const RungForecast *of(std::string_view rung) const;
};

/// From all full pulls of the job. learned: what its logs say of spark; nullptr: nothing.
LadderForecast forecastLadder(const Study &study, const Ladder &ladder, const LadderFacts &facts,
                              LearnedCeilings *learned = nullptr);

/// One rung by itself.
RungForecast forecastRung(const Study &study, const Rung &rung, const PullTrends &trends);

} // namespace wheelwright
