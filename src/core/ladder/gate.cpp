// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ladder/gate.h"

#include "core/base/error.h"
#include "core/job/job_schema.h"
#include "core/ladder/ladder_plan.h"
#include "core/study/headroom.h"

#include <algorithm>
#include <array>

namespace wheelwright {

#define WHEELWRIGHT_GATE(name) const Gate &name##Gate();
#include "core/ladder/all_gates.def"
#undef WHEELWRIGHT_GATE

std::span<const Gate *const> allGates() {
    static const std::array all{
#define WHEELWRIGHT_GATE(name) &name##Gate(),
#include "core/ladder/all_gates.def"
#undef WHEELWRIGHT_GATE
    };
    return all;
}

const Gate *gateById(std::string_view id) {
    const auto at = std::ranges::find(allGates(), id, [](const Gate *g) { return g->id; });
    return at == allGates().end() ? nullptr : *at;
}

std::string_view gateVerdictKey(GateVerdict verdict) {
    constexpr std::array<std::string_view, 3> keys{"passed", "failed", "not_judged"};
    return keys[static_cast<std::size_t>(verdict)];
}

PhraseText gateVerdictWord(GateVerdict verdict) {
    constexpr std::array words{MARKED("gate.passed", "passed"), MARKED("gate.failed", "failed"),
                               MARKED("gate.not_judged", "not judged")};
    return words[static_cast<std::size_t>(verdict)];
}

std::string_view gateRemedyKey(GateRemedy remedy) {
    constexpr std::array<std::string_view, 14> keys{
        "none", "light_load", "short_pull", "pull", "correct_fuel", "take_spark", "wait",
        "pour", "tube",       "stop_here",  "cool", "look",         "setting",    "find_out"};
    return keys[static_cast<std::size_t>(remedy)];
}

const RungLook *RungEvidence::look(std::string_view gate) const {
    const RungLook *last = nullptr;
    for (const RungLook &l : job().ladderLooks)
        if (l.rung == rung.id && l.gate == gate) last = &l;
    return last;
}

std::vector<RungKind> pullRungs() {
    return {RungKind::baseBoost, RungKind::content, RungKind::topBoost, RungKind::wayDown};
}

GateUse useOf(const PullFacts &p) {
    return {GateUse::Kind::log, p.log, p.logName, p.beginS, p.endS};
}

Job withAnswer(const Job &job, const Rung &rung, const GateAnswer &answer) {
    Job after = job;
    if (answer.link == boostTables && rung.boostKpa) {
        setForRung(after, rung);
    } else if (answer.link == boostTables) {
        constexpr int rounds = 8; // either end moves the other's content a little
        for (int i = 0; i < rounds; ++i)
            for (const double content : {job.calibration.baseContent, job.calibration.topContent})
                moveBoostTarget(after, content, answer.toSet);
    } else if (const Field *field = fieldByPath(answer.link)) {
        field->write(after, answer.toSet);
    } else if (!answer.link.empty()) {
        validateLimit(answer.link, answer.toSet);
        after.limits[answer.link] = answer.toSet;
    } else {
        throw InputError("gate", MARKED("expected.gate_sets", "one that asks for a setting"),
                         Phrase(answer.said));
    }
    return after;
}

const PullFacts &lastWord(std::span<const PullFacts *const> pulls) {
    const auto full = std::find_if(pulls.rbegin(), pulls.rend(), [](const PullFacts *p) { return p->full; });
    return full != pulls.rend() ? **full : *pulls.back();
}

Phrase namesOf(std::span<const WatchRule *const> rules) {
    Phrase names;
    for (const WatchRule *r : rules)
        names = names.empty() ? Phrase(r->title)
                              : Phrase{MARKED("gate.watch.and", "{A}; {B}"), {}, {}, {names, r->title}};
    return names;
}

std::vector<GateUse> usesOf(std::span<const PullFacts *const> pulls) {
    std::vector<GateUse> out;
    for (const PullFacts *p : pulls)
        out.push_back(useOf(*p));
    return out;
}

GateAnswer noPulls(const RungEvidence &e) {
    GateAnswer a;
    a.said = e.otherCalibration > 0
                 ? Phrase(MARKED("gate.other_calibration",
                                 "The pulls of this rung ran with another calibration than the one of now."))
                 : Phrase(MARKED("gate.no_pulls", "No log has a pull of this rung."));
    a.toPass = MARKED("gate.no_pulls.to_pass",
                      "One short pull, logged; look at λ, knock and rail before a full one.");
    a.remedy = GateRemedy::shortPull;
    return a;
}

GateAnswer noChannel(const RungEvidence &e, PhraseText channel) {
    GateAnswer a;
    a.said = {MARKED("gate.no_channel", "The logs do not say it: they have no {A}."), {}, {}, {channel}};
    a.toPass = {MARKED("gate.no_channel.to_pass", "Log {A}, and pull again."), {}, {}, {channel}};
    a.remedy = GateRemedy::pull;
    a.used = usesOf(e.pulls);
    return a;
}

std::optional<GateAnswer> goneSince(const RungEvidence &e, double PullFacts::*member, ChannelRole role,
                                    PhraseText channel) {
    const PullFacts &last = lastWord(e.pulls);
    const bool silent = last.silentOn(role);
    if (last.*member == last.*member && !silent) return std::nullopt;
    GateAnswer a = noChannel(e, channel);
    a.said = {silent ? MARKED("gate.silent_channel",
                              "The last pull does not say all of it: for a part of it there is no {A}.")
                     : MARKED("gate.gone_channel", "The last pull does not say it: it has no {A}."),
              {},
              {},
              {channel}};
    return a;
}

const PullFacts *extreme(const RungEvidence &e, double PullFacts::*member, bool most) {
    const PullFacts *found = nullptr;
    for (const PullFacts *p : e.pulls) {
        const double v = p->*member;
        if (v == v && (!found || (most ? v > found->*member : v < found->*member))) found = p;
    }
    return found;
}

} // namespace wheelwright
