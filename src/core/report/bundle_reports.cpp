// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/bundle_reports.h"

#include "core/report/ladder_reports.h"
#include "core/report/numbers.h"

#include <algorithm>

namespace wheelwright {
namespace {

Phrase nameWords(const std::string &s) {
    return {MARKED("gate.fuels.one", "{a}"), {}, {s}};
}

Phrase listWords(const std::vector<Phrase> &all) {
    Phrase out = all.front();
    for (std::size_t i = 1; i < all.size(); ++i)
        out = {MARKED("ladder.and", "{A}, {B}"), {}, {}, {out, all[i]}};
    return out;
}

Phrase namesWords(const std::vector<std::string> &names) {
    std::vector<Phrase> all;
    all.reserve(names.size());
    for (const std::string &n : names)
        all.push_back(nameWords(n));
    return listWords(all);
}

PhraseText lightWord(RungLight light) {
    return light == RungLight::green   ? MARKED("bundle.light.green", "GREEN")
           : light == RungLight::amber ? MARKED("bundle.light.amber", "AMBER")
                                       : MARKED("bundle.light.red", "RED");
}

Tone toneOf(RungLight light) {
    return light == RungLight::green   ? Tone::strong
           : light == RungLight::amber ? Tone::caution
                                       : Tone::trouble;
}

// The first thing that keeps it from green.
Phrase reasonOf(const CameBack &c) {
    if (!c.back.changed.empty()) {
        const auto guarded = std::ranges::find_if(c.back.changed, &Difference::guarded);
        const Difference &d = guarded == c.back.changed.end() ? c.back.changed.front() : *guarded;
        return {MARKED("bundle.reason.changed",
                       "{A} came back as another than was sent: load revision {a} again, and "
                       "read it back."),
                {},
                {c.revision},
                {d.title}};
    }
    const GateResult *first = c.status ? c.status->first() : nullptr;
    if (first && first->answer.verdict == GateVerdict::failed)
        return {MARKED("bundle.reason.gate", "{A}: {B}"), {}, {}, {first->gate->title, first->answer.toPass}};
    if (!c.back.missing.empty())
        return {MARKED("bundle.reason.not_read",
                       "{0} guarded settings and tables were not read back: nobody knows whether they are as "
                       "they were sent."),
                {countOf(c.back.missing.size())}};
    if (first)
        return {MARKED("bundle.reason.gate", "{A}: {B}"), {}, {}, {first->gate->title, first->answer.toPass}};
    if (!c.status) return MARKED("bundle.reason.no_rung", "No rung is open.");
    return MARKED("bundle.reason.none", "The rung may be passed.");
}

} // namespace

Report bundleReport(const Job &job, const BundleHead &head, const Rung *rung) {
    Report out;
    out.title = {MARKED("bundle.title", "{a}: revision {b}"), {}, {head.job, head.revision}};
    const auto say = [&](Phrase words, Tone tone = Tone::plain) {
        out.blocks.push_back(Sentence{std::move(words), tone});
    };
    const auto head2 = [&](PhraseText words) { out.blocks.push_back(Heading{words, 2}); };
    say({MARKED("bundle.print", "Its fingerprint is {a}."), {}, {head.calibration}});
    if (!head.note.empty()) say(nameWords(head.note), Tone::strong);
    say(MARKED("bundle.caution",
               "Lean mixture, knock and overboost destroy engines and can hurt people: a dyno or a closed "
               "course, in steps, with cuts set. Fuel: no ignition source; follow the safety data sheet and "
               "local codes. Limits are starting points, not promises."),
        Tone::caution);
    head2(MARKED("bundle.head.do", "What to do"));
    Steps steps;
    const auto step = [&](Phrase words) { steps.steps.emplace_back(std::move(words)); };
    step(MARKED("bundle.step.load",
                "Load the tables (folder tables) and the settings (settings.json) into the controller."));
    step(MARKED("bundle.step.read_back",
                "Read them out again. Put what was read into a folder ‘back’: settings.json and the "
                "tables by the same names. What is not known becomes null."));
    if (rung)
        for (const Sentence &s : rungSteps(*rung).steps)
            steps.steps.push_back(s);
    step({MARKED("bundle.step.log",
                 "Name the logs so that {a} is in their names, or leave bundle.json beside them; send all of "
                 "the folder back."),
          {},
          {head.calibration}});
    out.blocks.push_back(std::move(steps));
    head2(MARKED("bundle.head.log", "What to log"));
    Grid grid{{MARKED("bundle.log.channel", "channel"), MARKED("bundle.log.purpose", "asked for by"),
               MARKED("bundle.log.must", "needed")},
              {}};
    for (const WantedChannel &w : wantedChannels(job))
        grid.rows.push_back({definitionOf(w.role).title, w.purpose,
                             w.must ? MARKED("bundle.log.always", "always")
                                    : MARKED("bundle.log.if_there", "if there is one")});
    out.blocks.push_back(std::move(grid));
    head2(MARKED("bundle.head.guarded", "What must stay as it is"));
    std::vector<Phrase> guarded;
    for (const Field &f : allFields())
        if (f.inRevision && !f.guarded.empty()) guarded.push_back(f.title);
    say({MARKED("bundle.guarded", "{A}."), {}, {}, {listWords(guarded)}});
    return out;
}

Phrase bundleMessage(const BundleHead &head, const Rung *rung) {
    const Phrase who{MARKED("bundle.title", "{a}: revision {b}"), {}, {head.job, head.revision}};
    if (!rung)
        return {MARKED("bundle.message", "{A} ({a}). Load it, read it back, log, send the folder back."),
                {},
                {head.calibration},
                {who}};
    return {MARKED("bundle.message.rung", "{A} ({a}). {B}: {C} Read it back, log, send the folder back."),
            {},
            {head.calibration},
            {who, rungName(*rung), rungInBrief(*rung)}};
}

Report cameBackReport(const CameBack &c) {
    Report out;
    out.title = {MARKED("bundle.back.title", "{a}: what came back"), {}, {c.job}};
    const auto say = [&](Phrase words, Tone tone = Tone::plain) {
        out.blocks.push_back(Sentence{std::move(words), tone});
    };
    say({MARKED("bundle.back.light", "{A}: {B}"), {}, {}, {lightWord(c.light()), reasonOf(c)}},
        toneOf(c.light()));
    say(c.asked ? Phrase{MARKED("bundle.back.asked", "Tied to revision {a} because somebody said so."),
                         {},
                         {c.revision}}
                : Phrase{MARKED("bundle.back.tied", "Tied to revision {a} by its fingerprint."),
                         {},
                         {c.revision}},
        c.asked ? Tone::caution : Tone::plain);
    if (c.goneOn)
        say(MARKED("bundle.back.gone_on",
                   "The job has another calibration since: gates do not count these logs."),
            Tone::caution);
    if (!c.logs.empty())
        say({MARKED("bundle.back.logs", "Logs taken in: {A}."), {}, {}, {namesWords(c.logs)}});
    if (!c.known.empty())
        say({MARKED("bundle.back.known", "Logs that were there already: {A}."),
             {},
             {},
             {namesWords(c.known)}});
    if (c.logs.empty() && c.known.empty())
        say(MARKED("bundle.back.no_logs", "No log came with it."), Tone::caution);
    if (!c.back.changed.empty()) {
        Grid grid{{MARKED("bundle.back.what", "what came back changed"), MARKED("bundle.back.sent", "sent"),
                   MARKED("bundle.back.came", "came back"), MARKED("bundle.back.guarded", "guarded")},
                  {}};
        for (const Difference &d : c.back.changed)
            grid.rows.push_back({Sentence{d.title, Tone::trouble}, d.before, d.after,
                                 d.guarded ? MARKED("bundle.back.guarded.yes", "guarded") : PhraseText{}});
        out.blocks.push_back(std::move(grid));
    }
    if (c.back.compared.empty())
        say(MARKED("bundle.back.nothing_read",
                   "Nothing was read back: nobody knows whether the controller has what was sent."),
            Tone::caution);
    else
        say({MARKED("bundle.back.compared",
                    "Held against what was sent: {0} settings and tables, {1} of them changed."),
             {countOf(c.back.compared.size()), countOf(c.back.changed.size())}});
    if (!c.back.compared.empty() && !c.back.missing.empty())
        say({MARKED("bundle.back.missing", "Not read back: {A}."), {}, {}, {listWords(c.back.missing)}},
            Tone::caution);
    if (c.rung && c.status) {
        const Report gates = gatesReport(*c.rung, *c.status);
        out.blocks.insert(out.blocks.end(), gates.blocks.begin(), gates.blocks.end());
    }
    return out;
}

Phrase cameBackMessage(const CameBack &c) {
    const Phrase who{MARKED("bundle.title", "{a}: revision {b}"), {}, {c.job, c.revision}};
    if (!c.rung)
        return {
            MARKED("bundle.back.message", "{A}. {B}: {C}"), {}, {}, {who, lightWord(c.light()), reasonOf(c)}};
    return {MARKED("bundle.back.message.rung", "{A}. {B}: {C}. {D}"),
            {},
            {},
            {who, lightWord(c.light()), rungName(*c.rung), reasonOf(c)}};
}

} // namespace wheelwright
