// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ladder/gate.h"

#include <algorithm>

namespace wheelwright {
namespace {

// What cruise and holds of the same fill say.
bool standsStill(const RungEvidence &e) {
    return !e.lights.empty() && std::ranges::all_of(e.lights, [&](const LightLoadFacts *l) {
        return l->contentMoved <= e.limit("watch.content.pull");
    });
}

// On the way down a log counts that has none: it belongs there by when it was made.
bool contentKnown(const RungEvidence &e) {
    const auto known = [](const auto *f) { return f->content == f->content; };
    return std::ranges::all_of(e.pulls, known) && (!e.pulls.empty() || std::ranges::all_of(e.lights, known));
}

GateAnswer answerSettled(const RungEvidence &e) {
    if (e.pulls.empty() && e.lights.empty()) return noPulls(e);
    if (!contentKnown(e)) return noChannel(e, MARKED("gate.channel.content", "content, read or stated"));
    const double allowed = e.limit("watch.content.pull");
    GateAnswer a;
    a.used = usesOf(e.pulls);
    double worst = PullFacts::unknown;
    bool stated = true, usable = true;
    const auto consider = [&](double moved) {
        if (!(worst >= moved)) worst = moved;
    };
    for (const PullFacts *p : e.pulls) {
        consider(p->contentMoved);
        stated = stated && !p->contentByChannel;
        usable = usable && p->contentUsable;
    }
    // Before the first pull what cruise and holds say must do.
    for (const LightLoadFacts *l : e.lights) {
        if (!e.pulls.empty()) break;
        a.used.push_back({GateUse::Kind::log, l->log, l->logName, l->beginS, l->endS});
        consider(l->contentMoved);
        stated = stated && !(l->contentMoved == l->contentMoved);
    }
    if (e.pulls.size() > 1 && standsStill(e) &&
        std::ranges::all_of(e.pulls, [&](const PullFacts *p) { return p->contentMoved > allowed; })) {
        a.verdict = GateVerdict::failed;
        a.said = {
            MARKED("gate.settled.dry",
                   "The reading stands still at light load and moves by {0} in every pull: the return line "
                   "runs dry, or the sensor is short of fuel."),
            {{worst, Dimension::contentDifference, 1}}};
        a.toPass = MARKED(
            "gate.settled.dry.to_pass",
            "Look at pump, filter and rail under load; or have the controller freeze the reading there.");
        a.remedy = GateRemedy::findCause;
        return a;
    }
    if (!(worst == worst)) {
        // Where the user states it, the user answers for it: a tube before the pull.
        a.verdict = stated ? GateVerdict::passed : GateVerdict::notJudged;
        a.said = stated ? MARKED("gate.settled.stated",
                                 "No sensor: the content is stated, and the tube vouches for it.")
                        : MARKED("gate.settled.short",
                                 "The logs are too short to say whether the content has settled.");
        if (stated) return a;
        a.toPass = MARKED("gate.settled.longer", "Log for at least a minute before the pull.");
        a.remedy = GateRemedy::lightLoad;
        return a;
    }
    const Measured moved{worst, Dimension::contentDifference, 1},
        limit{allowed, Dimension::contentDifference, 1};
    if (worst <= allowed && usable) {
        constexpr PhraseText reading = MARKED("gate.channel.ethanol", "reading of the content");
        if (!e.pulls.empty())
            if (auto gone = goneSince(e, &PullFacts::content, ChannelRole::ethanol, reading)) return *gone;
        a.verdict = GateVerdict::passed;
        a.said =
            e.pulls.empty()
                ? Phrase{MARKED("gate.settled.light", "The reading moves by {0} over cruise and holds."),
                         {moved}}
                : Phrase{MARKED("gate.settled.held", "The reading moves by {0} at most in a pull."), {moved}};
        return a;
    }
    a.verdict = GateVerdict::failed;
    a.said =
        worst > allowed
            ? Phrase{MARKED("gate.settled.moves", "The reading moves by {0}; {1} are allowed."),
                     {moved, limit}}
            : Phrase(MARKED("gate.settled.log", "The reading moves over the log, or jumps at high flow."));
    a.toPass =
        MARKED("gate.settled.to_pass", "Drive until the reading stands still, then pull again. A return line "
                                       "that runs dry needs its reading frozen at load.");
    a.remedy = GateRemedy::wait;
    return a;
}

} // namespace

const Gate &settledGate() {
    static const Gate gate{"settled",
                           MARKED("gate.settled", "Content settled"),
                           MARKED("gate.settled.question", "Had the reading settled before the pull?"),
                           pullRungs(),
                           answerSettled,
                           false,
                           {"watch.content.pull"}};
    return gate;
}

} // namespace wheelwright
