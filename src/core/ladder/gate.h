// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/limits.h"
#include "core/ladder/ladder_facts.h"
#include "core/ladder/rung.h"
#include "core/study/content_opinions.h"
#include "core/study/study.h"

#include <optional>

#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace wheelwright {

/// What a gate made of the evidence. What nobody has judged is not passed.
enum class GateVerdict { passed, failed, notJudged };
std::string_view gateVerdictKey(GateVerdict verdict); ///< "not_judged"
PhraseText gateVerdictWord(GateVerdict verdict);

/// What to do where a gate is not passed.
enum class GateRemedy {
    none,
    lightLoad,   ///< idle, cruise, part throttle: without boost first
    shortPull,   ///< one, then look
    pull,        ///< make more pulls, or log what is not logged
    correctFuel, ///< by these logs
    takeSpark,   ///< where it knocked
    wait,        ///< until the reading stands still
    pour,        ///< the content is another than planned
    testTube,
    stop,     ///< a part has come to its end
    cool,     ///< let it cool down
    lookAt,   ///< look at it, and say what was seen
    set,      ///< something of the job
    findCause ///< the cause, before anything else
};
std::string_view gateRemedyKey(GateRemedy remedy); ///< "correct_fuel"

/// Where an answer comes from.
struct GateUse {
    enum class Kind { log, run, tank, look, setting } kind = Kind::log;
    std::string id;            ///< of the log or run; path of a setting
    std::string name;          ///< as people call it
    double fromS = 0, toS = 0; ///< of a log
};

struct GateAnswer {
    GateVerdict verdict = GateVerdict::notJudged;
    Phrase said;   ///< what was found, with its numbers
    Phrase toPass; ///< what would pass it; empty where it is passed
    GateRemedy remedy = GateRemedy::none;
    std::vector<GateUse> used;
    /// Of remedy `set`: path of the field, id of the limit, or boostTables …
    std::string link;
    double toSet = 0; ///< … and what it should say, in its internal unit
};
/// A link: the targets of the rung with its cut where it has one (setForRung()), else of all contents;
/// absolute, kPa.
inline constexpr std::string_view boostTables = "calibration.boost";
/// The job with what an answer on a rung asks for. Throws InputError where it asks for no setting.
Job withAnswer(const Job &job, const Rung &rung, const GateAnswer &answer);

/// All that gates are asked with. Pulls: the last ones of the rung (ladder_status.h) on the calibration as it
/// is, as many as it wants.
struct RungEvidence {
    const Study &study;
    const Ladder &ladder;
    const Rung &rung;
    const LadderFacts &facts;
    std::vector<const PullFacts *> pulls;
    std::vector<const LightLoadFacts *> lights; ///< at its content, on the calibration as it is
    std::size_t otherCalibration = 0;           ///< pulls of this rung that ran with another one
    std::optional<ContentOpinions> opinions;    ///< none: the tank's events do not add up
    std::string calibration;                    ///< fingerprint of the one of now

    std::string pouredAt; ///< of the last pour or drain, ISO 8601; empty: nobody says

    /// It came in after the last pour, as far as anybody says.
    bool ofThisFill(const std::string &added) const {
        return pouredAt.empty() || added.empty() || added >= pouredAt;
    }
    const Job &job() const { return study.job(); }
    double limit(std::string_view id) const { return limitOf(study.job(), id); }
    std::size_t wanted() const { return static_cast<std::size_t>(rung.pulls); } ///< clean pulls
    /// The last look at something for this rung; nullptr: nobody has.
    const RungLook *look(std::string_view gate) const;
};

/// A question that a rung has to answer before it is passed. Adding one is a file <name>_gate.cpp that
/// defines `const Gate &<name>Gate()` and a line in all_gates.def.
struct Gate {
    std::string_view id; ///< stable: "lambda"
    PhraseText title;
    PhraseText question;         ///< one sentence
    std::vector<RungKind> asked; ///< of these rungs
    GateAnswer (*answer)(const RungEvidence &);
    /// Of these rungs a look is enough where no channel says it.
    bool byEyes = false;
    std::vector<std::string_view> limits{};
    /// Of those rungs only some; nullptr: all.
    bool (*applies)(const RungEvidence &) = nullptr;
};
std::span<const Gate *const> allGates();
const Gate *gateById(std::string_view id); ///< nullptr for none

/// Rungs on which pulls are made.
std::vector<RungKind> pullRungs();

// What gates have in common.

/// Nobody has pulled on this rung yet, or only on another calibration.
GateAnswer noPulls(const RungEvidence &evidence);
/// The pulls have not got what this gate needs. channel: as in a sentence, "knock retard".
GateAnswer noChannel(const RungEvidence &evidence, PhraseText channel);
/// Not judged: earlier pulls say such a number, and the one that has the last word does not, or its channel
/// is silent for a part of it, as where a sensor has gone. Nothing where it does.
std::optional<GateAnswer> goneSince(const RungEvidence &evidence, double PullFacts::*member, ChannelRole role,
                                    PhraseText channel);
/// The last full pull, of short ones the last; pulls are not empty. It has the last word on what could be
/// asked.
const PullFacts &lastWord(std::span<const PullFacts *const> pulls);
/// "Coolant; Oil pressure"
Phrase namesOf(std::span<const WatchRule *const> rules);
std::vector<GateUse> usesOf(std::span<const PullFacts *const> pulls);
GateUse useOf(const PullFacts &pull);

/// The pull that is most (or least) in one of its numbers; nullptr where none says it.
const PullFacts *extreme(const RungEvidence &evidence, double PullFacts::*member, bool most = true);

} // namespace wheelwright
