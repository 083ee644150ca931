// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/pour_sheet.h"

#include <cmath>

namespace wheelwright {
namespace {

Measured litres(double v) {
    return {v, Dimension::displacement};
}

// "Pour 7.15 L of Sealed ethanol → E40 ±2, 37.2 L": a step and what the tank holds after it.
Phrase inWords(const PourStep &s, bool methanol) {
    const std::string content = contentName(s.content.value, methanol);
    const std::string sigma = std::to_string(std::lround(s.content.sigma * 100));
    const std::vector<Measured> volumes{litres(s.litres), litres(s.volumeL)};
    if (s.drain)
        return Phrase(MARKED("pour.step.drain", "⟨Drain {0}⟩ → {a} ±{b}, {1}"), volumes, {content, sigma});
    if (s.cans == 1)
        return Phrase(MARKED("pour.step.can", "⟨Pour 1 whole can ({0}) of {c}⟩ → {a} ±{b}, {1}"), volumes,
                      {content, sigma, s.name});
    if (s.cans > 1)
        return Phrase(MARKED("pour.step.cans", "⟨Pour {d} whole cans ({0}) of {c}⟩ → {a} ±{b}, {1}"), volumes,
                      {content, sigma, s.name, std::to_string(s.cans)});
    return Phrase(MARKED("pour.step", "⟨Pour {0} of {c}⟩ → {a} ±{b}, {1}"), volumes,
                  {content, sigma, s.name});
}

// Cautions of a fuel stand under the steps that pour it.
void addPlan(const SaidPlan &said, bool methanol, std::vector<Block> &to) {
    const std::string link = "plan:" + std::to_string(said.plan);
    Steps steps;
    for (const PourStep &s : said.steps)
        steps.steps.push_back({inWords(s, methanol), Tone::strong, link});
    if (steps.steps.empty())
        to.push_back(Sentence{Phrase(MARKED("pour.nothing", "Nothing to pour.")), Tone::strong, link});
    else
        to.push_back(std::move(steps));
    to.insert(to.end(), said.remarks.begin(), said.remarks.end());
}

std::vector<Sentence> remarksOn(const PourPlan &plan, const std::vector<PourStep> &steps,
                                const PourRequest &r) {
    std::vector<Sentence> out;
    for (const PourStep &s : steps)
        if (!s.drain)
            for (const Phrase &caution : r.shelf[s.fuel].cautions)
                out.emplace_back(caution, Tone::caution);
    if (!plan.exact)
        out.emplace_back(Phrase{MARKED("pour.misses", "Misses the target by {0}."),
                                {{std::abs(plan.content - r.target), Dimension::ratio}}});
    if (Phrase warning = pickupWarning(plan, r); !warning.text.empty())
        out.emplace_back(std::move(warning), Tone::trouble);
    return out;
}

bool samePours(const PourPlan &a, const PourPlan &b) {
    constexpr double nothing = 0.005;
    for (std::size_t i = 0; i < a.pourL.size(); ++i)
        if (std::abs(a.pourL[i] - b.pourL[i]) > nothing) return false;
    return std::abs(a.drainL - b.drainL) <= nothing && a.cans.empty() == b.cans.empty();
}

// "Least added · Nearest without draining": what one plan is, each title translated by itself.
Phrase titled(const Phrase &so, const Phrase &also) {
    Phrase both = Phrase(MARKED("pour.titles", "{A} · {B}"));
    both.phrases = {so, also};
    return both;
}

void addPlans(const PourAnswer &answer, const PourRequest &r, bool methanol, int level,
              std::vector<Block> &to) {
    for (const SaidPlan &said : saidPlans(r, answer)) {
        to.push_back(Heading{said.title, level});
        addPlan(said, methanol, to);
    }
}

// With both alcohols about, contents are said as one.
void addNeed(const PourRequest &r, bool methanol, std::vector<Block> &to) {
    if (r.otherCountsFor > 0)
        to.push_back(Sentence{
            Phrase(
                methanol
                    ? MARKED("pour.need.methanol",
                             "Ethanol is in it too: the plan aims at the fuel that {a} needs, a litre of "
                             "ethanol counting for {0} of methanol.")
                    : MARKED("pour.need.ethanol",
                             "Methanol is in it too: the plan aims at the fuel that {a} needs, a litre of "
                             "methanol counting for {0} of ethanol. A content sensor reads something else."),
                {litres(r.otherCountsFor)}, {contentName(r.target, methanol)}),
            Tone::caution});
}

void addWhy(const PourAnswer &answer, std::vector<Block> &to) {
    if (!answer.why.empty())
        to.push_back(Sentence{
            Phrase(MARKED("pour.why", "⟨Not by pouring alone:⟩ {A}."), {}, {}, {answer.why}), Tone::caution});
}

} // namespace

// Plans that come to the same are said once.
std::vector<SaidPlan> saidPlans(const PourRequest &r, const PourAnswer &answer) {
    std::vector<SaidPlan> out;
    std::vector<bool> said(answer.plans.size(), false);
    for (std::size_t i = 0; i < answer.plans.size(); ++i) {
        if (said[i]) continue;
        const PourPlan &plan = answer.plans[i];
        SaidPlan one{i, strategyWords(plan.strategy), stepsOf(plan, r), {}};
        for (std::size_t k = i + 1; k < answer.plans.size(); ++k)
            if (!said[k] && samePours(plan, answer.plans[k])) {
                said[k] = true;
                one.title = titled(one.title, strategyWords(answer.plans[k].strategy));
            }
        if (plan.price > 0)
            one.title = titled(one.title,
                               Phrase(MARKED("pour.costs", "costs {0}"), {{plan.price, Dimension::money}}));
        one.remarks = remarksOn(plan, one.steps, r);
        out.push_back(std::move(one));
    }
    return out;
}

Report pourHead(bool methanol, const PourRequest &r, const PourAnswer &answer) {
    Report report;
    report.title = Phrase(MARKED("pour.plans.title", "What to pour"));
    report.blocks.push_back(Heading{
        Phrase(MARKED("pour.plans.to", "To get to ⟨{a}⟩:"), {}, {contentName(r.target, methanol)}), 1});
    addNeed(r, methanol, report.blocks);
    addWhy(answer, report.blocks);
    return report;
}

Report pourPlans(bool methanol, const PourRequest &r, const PourAnswer &answer) {
    Report report = pourHead(methanol, r, answer);
    addPlans(answer, r, methanol, 3, report.blocks);
    return report;
}

Report pourSheet(const std::string &jobName, bool methanol, const PourRequest &r, const PourAnswer &answer,
                 const std::string &on) {
    Report sheet;
    sheet.title =
        Phrase(MARKED("pour.sheet.title", "{a}: to {b}"), {}, {jobName, contentName(r.target, methanol)});
    sheet.blocks.push_back(
        Sentence{Phrase(MARKED("pour.sheet.tank", "In the tank: {a}, {0} of {1}. {b}"),
                        {litres(r.volumeL), litres(r.capacityL)}, {contentName(r.content, methanol), on})});
    addNeed(r, methanol, sheet.blocks);
    addWhy(answer, sheet.blocks);
    addPlans(answer, r, methanol, 1, sheet.blocks);
    sheet.blocks.push_back(Sentence{
        Phrase(MARKED("pour.sheet.confirm",
                      "Then run the engine until the reading stands still, and confirm with a test tube."))});
    sheet.blocks.push_back(Sentence{
        Phrase(MARKED(
            "pour.sheet.cautions",
            "Earth the container, no ignition source, closed vessels; gloves and goggles. Methanol is "
            "poisonous by swallowing, breath and skin. Follow the supplier's safety data sheet and the "
            "local fire code.")),
        Tone::caution});
    return sheet;
}

Report pourEffects(bool methanol, const std::vector<PouredFuel> &fuels) {
    Report report;
    report.title = Phrase(MARKED("pour.effects.title", "If it is just filled up"));
    if (fuels.empty()) return report;
    report.blocks.push_back(
        Heading{Phrase(MARKED("pour.effects.if",
                              "If it is just filled up (to the level above), tables and reading unchanged:")),
                2});
    for (std::size_t i = 0; i < fuels.size(); ++i) {
        Phrase words = Phrase(MARKED("pour.effects.of", "⟨{a}⟩ → {b}. {A}"), {},
                              {fuels[i].name, contentName(fuels[i].effect.content, methanol)});
        words.phrases = {together(inWords(fuels[i].effect, fuels[i].methanol))};
        report.blocks.push_back(Sentence{words, Tone::plain, "effect:" + std::to_string(i)});
    }
    return report;
}

Report pourFlush(bool methanol, const FlushPlan &plan, double target) {
    Report report;
    report.title = Phrase(MARKED("pour.flush.title", "Flush"));
    const std::string link = "flush:";
    if (plan.possible && plan.fills == 0) {
        report.blocks.push_back(
            Sentence{Phrase(MARKED("pour.flush.there", "The tank is there already.")), Tone::plain, link});
        return report;
    }
    std::string contents; // names and arrows, in no language
    constexpr std::size_t mostShown = 6;
    for (std::size_t i = 0; i < plan.contents.size() && i < mostShown; ++i)
        contents += (i > 0 ? " → " : "") + contentName(plan.contents[i], methanol);
    if (plan.contents.size() > mostShown) contents += " → …";
    if (!plan.possible)
        report.blocks.push_back(
            Sentence{Phrase(MARKED("pour.flush.never", "No number of fills comes within that of {a}: {b}"),
                            {}, {contentName(target, methanol), contents}),
                     Tone::plain, link});
    else if (plan.fills == 1)
        report.blocks.push_back(Sentence{
            Phrase(MARKED("pour.flush.one", "⟨1 fill⟩, {0} in all: {a}"), {litres(plan.fuelL)}, {contents}),
            Tone::strong, link});
    else
        report.blocks.push_back(Sentence{Phrase(MARKED("pour.flush.many", "⟨{b} fills⟩, {0} in all: {a}"),
                                                {litres(plan.fuelL)}, {contents, std::to_string(plan.fills)}),
                                         Tone::strong, link});
    if (plan.lastL > 0)
        report.blocks.push_back(Sentence{
            Phrase(plan.fills == 1 ? MARKED("pour.flush.last.one", "Only {0}: brim full it would go past.")
                                   : MARKED("pour.flush.last", "The last one only {0}: brim full it would "
                                                               "go past."),
                   {litres(plan.lastL)}),
            Tone::plain, link});
    return report;
}

} // namespace wheelwright
