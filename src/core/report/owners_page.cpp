// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/owners_page.h"

#include "core/explain/explain_fuel.h"
#include "core/job/content_sensing.h"
#include "core/job/tank_history.h"
#include "core/report/calibration_reports.h"
#include "core/report/handover_words.h"
#include "core/report/numbers.h"
#include "core/report/pour_tables.h"
#include "core/study/shelf.h"

#include <algorithm>
#include <utility>

namespace wheelwright {
namespace {

using D = Dimension;

// What logs prove of it: the verdict's first sentence is by the model.
void addDriven(const Verdict &v, Report &out) {
    const Job &job = v.study->job();
    std::vector<Phrase> driven;
    for (std::size_t i = 0; i < v.contents.size(); ++i) {
        const std::size_t from = i;
        while (i < v.contents.size() && i < v.pulls.size() && v.pulls[i] == BeenThere::proven)
            ++i;
        if (i > from) driven.push_back(nameOfContents(job, v.contents[from], v.contents[i - 1]));
    }
    if (driven.empty())
        out.blocks.push_back(Sentence{
            MARKED("handover.driven.nowhere", "No log proves any of it: it is what the model says.")});
    else
        out.blocks.push_back(
            Sentence{{MARKED("handover.driven", "Driven there, clean, on this calibration: {A}."),
                      {},
                      {},
                      {listed(driven)}}});
}

Phrase fuelWords(CheckState state) {
    switch (state) {
    case CheckState::proven:
        return MARKED("handover.fuel.proven", "may be run, and was");
    case CheckState::held:
        return MARKED("handover.fuel.held", "may be run");
    case CheckState::caution:
        return MARKED("handover.fuel.caution", "near a limit");
    case CheckState::notJudged:
        return MARKED("handover.fuel.not_judged", "not judged");
    case CheckState::failing:
        break;
    }
    return MARKED("handover.fuel.failing", "not to be run");
}

void addFuels(const Verdict &v, std::string_view today, WorkedReport &made) {
    Report &out = made.report;
    const std::vector<OwnersFuel> fuels = ownersFuels(v, today);
    out.blocks.push_back(Heading{MARKED("handover.fuels", "Fuels, a tank of each alone"), 2});
    if (fuels.empty()) {
        out.blocks.push_back(Sentence{MARKED("handover.fuels.none", "None is on the shelf of this job.")});
        return;
    }
    Grid grid;
    grid.heads = {MARKED("handover.fuel", "Fuel"), MARKED("handover.fuel.content", "Content"),
                  MARKED("handover.fuel.may", "Alone in the tank")};
    for (const OwnersFuel &f : fuels) {
        const bool bad = f.state == CheckState::failing;
        grid.rows.push_back({Sentence{strongName(f.name)},
                             made.worked({MARKED("handover.fuel.about", "{A} ± {0}"),
                                          {{2 * f.content.sigma, D::contentDifference, 0}},
                                          {},
                                          {nameOfContent(v.study->job(), f.content.value)}},
                                         Tone::plain, [f] { return explainFuelContent(f.name, f.content); }),
                             Sentence{fuelWords(f.state), bad ? Tone::trouble : Tone::plain}});
    }
    out.blocks.push_back(std::move(grid));
    for (const OwnersFuel &f : fuels)
        for (const Phrase &flag : f.flags)
            out.blocks.push_back(
                Sentence{{MARKED("shelf.flag", "⟨{a}⟩: {A}"), {}, {f.name}, {flag}}, Tone::caution});
}

// What an owner sees from the seat.
void addWatch(const Job &job, Report &out) {
    out.blocks.push_back(Heading{MARKED("handover.watch", "What to watch"), 2});
    const auto item = [&out](Phrase words, std::string leadsTo = {}) {
        out.blocks.push_back(Sentence{
            {MARKED("report.item", "· {A}"), {}, {}, {std::move(words)}}, Tone::plain, std::move(leadsTo)});
    };
    item({MARKED("handover.watch.reserve", "No full throttle under {0} in the tank: the pickup may run dry."),
          {litresOf(job.tank.reserveL, 0)}},
         "tank.reserve_l");
    item(MARKED("handover.watch.knock",
                "Rattling, a warning lamp, smoke or a temperature that climbs: off the throttle, and no more "
                "load until somebody has looked at it."));
    if (job.control == FuelControl::mechanical) {
        item(MARKED("handover.watch.pills",
                    "Pills belong to the air of the day: other weather, another pill. Harder to start: the "
                    "bottom end is lean, stop."));
    } else if (followsSensor(job)) {
        item(
            job.contentSensing.onFault == SensorFaultRule::notStated
                ? Phrase(MARKED("handover.watch.sensor_unknown",
                                "Nobody has stated what the controller does when the content sensor fails: a "
                                "reading that stands still after a fill means no load."))
                : Phrase(MARKED("handover.watch.sensor",
                                "A content reading that stands still after another fuel went in: no load, "
                                "and a tube.")));
    } else {
        item(MARKED("handover.watch.window",
                    "There is no content sensor: after every fill a tube, and the file whose window holds "
                    "what it says, before any load."));
    }
    if (job.alcohol == Alcohol::methanol)
        item(MARKED("handover.watch.oil", "Methanol gets into the oil: look at it, and change it often."));
}

// The slower of sensor and injectors, so that nobody pulls too early.
struct OwnersWait {
    FuelPath path;
    double minutes;
    bool atInjector;
};

OwnersWait waitOf(const Job &job, bool cruise, double from, double to) {
    const FuelPath path = fuelPathOf(job, cruise);
    const double sensor = settlingMinutes(path, from, to),
                 injectors = injectorSettlingMinutes(path, from, to);
    return {path, std::max(sensor, injectors), injectors > sensor};
}

void addFuelChange(const Job &job, WorkedReport &made) {
    Report &out = made.report;
    out.blocks.push_back(Heading{MARKED("handover.change", "To change the fuel"), 2});
    const double from = alcoholOf(tankNow(job).content);
    const double to = from < 0.5 ? job.calibration.topContent : job.calibration.baseContent;
    Steps steps;
    steps.steps.push_back(Sentence{MARKED(
        "handover.change.pour", "Look the litres up in the pour table; engine off, no flame, no spark, "
                                "containers earthed.")});
    if (job.control == FuelControl::controller) {
        // A step each, since each number has a working of its own.
        const auto wait = [&](PhraseText words, const OwnersWait &w) {
            steps.steps.push_back(
                made.worked({words, {{w.minutes, D::minutes, 1}}}, Tone::plain,
                            [w, from, to] { return explainSettling(w.path, from, to, w.atInjector); }));
        };
        const OwnersWait idle = waitOf(job, false, from, to), drive = waitOf(job, true, from, to);
        wait(MARKED("handover.change.idle", "Let it idle ⟨{0}⟩: until then the old fuel is in the line."),
             idle);
        constexpr double asShown = 0.05; // min: less is the same number on the page
        if (drive.minutes < idle.minutes - asShown)
            wait(MARKED("handover.change.drive", "Or drive gently ⟨{0}⟩, which does the same."), drive);
        steps.steps.push_back(Sentence{
            MARKED("handover.change.tube", "Fill a tube from the line and read it, or let the reading stand "
                                           "still: is it what the table said?")});
        steps.steps.push_back(Sentence{
            MARKED("handover.change.load",
                   "Only then load, a little at first, on a closed course. Back the same way: weaker fuel "
                   "needs less spark and less boost, which must come down by themselves.")});
    } else {
        steps.steps.push_back(Sentence{
            MARKED("handover.change.pills", "Pills are for one fuel: another one needs other pills first.")});
    }
    out.blocks.push_back(std::move(steps));
}

void addCautions(const Job &job, std::string_view today, Report &out) {
    out.blocks.push_back(Sentence{together(handlingCautions(shelfOf(job, today))), Tone::caution});
    out.blocks.push_back(Sentence{
        MARKED("handover.cautions",
               "Lean mixture, knock and overboost destroy engines and can hurt people. Emissions, road and "
               "series rules are the owner's to check; local codes, data sheets and licensed people come "
               "before this page. Every limit in it is a starting point, not a promise."),
        Tone::caution});
}

// A line to sign on.
void addSignatures(Report &out) {
    Grid grid;
    grid.heads = {MARKED("handover.sign.by", "Handed over by"), MARKED("handover.sign.to", "Taken by"),
                  MARKED("handover.sign.day", "Day")};
    const std::string line(24, '_');
    grid.rows.push_back({Sentence{verbatim(line)}, Sentence{verbatim(line)}, Sentence{verbatim(line)}});
    out.blocks.push_back(std::move(grid));
}

} // namespace

std::vector<OwnersFuel> ownersFuels(const Verdict &verdict, std::string_view today) {
    std::vector<OwnersFuel> out;
    for (const Fuel &f : shelfOf(verdict.study->job(), today)) {
        if (!isPoured(f)) continue;
        const double most = 2 * f.alcohol.sigma;
        std::vector<Phrase> flags;
        for (const ShelfFlag &flag : f.flags)
            flags.push_back(flag.words);
        out.push_back({f.name, f.alcohol,
                       worstBetween(verdict, f.alcohol.value - most, f.alcohol.value + most),
                       std::move(flags)});
    }
    return out;
}

std::vector<double> drivenContents(const Verdict &v) {
    std::vector<double> out;
    for (std::size_t i = 0; i < v.contents.size() && i < v.pulls.size(); ++i)
        if (v.pulls[i] == BeenThere::proven) out.push_back(v.contents[i]);
    return out;
}

WorkedReport ownersPage(const FlowLook &look, std::string_view today) {
    const Verdict &v = *look.verdict;
    const Job &job = v.study->job();
    WorkedReport out;
    out.report.title = {MARKED("handover.owner.title", "{a}: for the owner"), {}, {job.name}};
    out.report.blocks.emplace_back(OnePage{});
    out.report.blocks.push_back(Heading{v.sentences.empty() ? inWords(v) : v.sentences.front(), 0});
    addDriven(v, out.report);
    if (!answered(v))
        out.say(MARKED("handover.open",
                       "Not every question has been answered: what is open stands on a later page."),
                Tone::caution);
    addFuels(v, today, out);
    addWatch(job, out.report);
    addFuelChange(job, out);
    out.append(pourTablesReport(v, today, {0.25}, 2)); // the card has them all
    addCautions(job, today, out.report);
    if (!job.handover.note.empty()) out.say(verbatim(job.handover.note));
    if (job.handover.call.empty())
        out.say(MARKED("handover.owner.call_nobody", "Nobody is named to call."), Tone::quiet);
    else
        out.say({MARKED("handover.owner.call", "Call ⟨{a}⟩"), {}, {job.handover.call}}, Tone::strong);
    out.report.blocks.push_back(stateSentence(job, today));
    addSignatures(out.report);
    return out;
}

} // namespace wheelwright
