// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/log_reports.h"

#include "core/explain/explain_evidence.h"

#include <algorithm>
#include <cmath>
#include <memory>

namespace wheelwright {
namespace {

void add(Report &report, Phrase words, Tone tone = Tone::plain, std::string link = {}) {
    report.blocks.push_back(Sentence{std::move(words), tone, std::move(link)});
}

Measured counted(std::size_t n) {
    return {static_cast<double>(n), Dimension::count};
}

Phrase causeWords(const Cause &c) {
    std::vector<Phrase> parts{c.what};
    for (const Phrase &p : c.speaksFor)
        parts.push_back({MARKED("cause.for", "for it: {A}"), {}, {}, {p}});
    for (const Phrase &p : c.speaksAgainst)
        parts.push_back({MARKED("cause.against", "against it: {A}"), {}, {}, {p}});
    return listed(parts);
}

void addFinding(Report &out, const LogFinding &f, std::size_t index) {
    add(out, Phrase(f.rule->title), Tone::trouble, "finding:" + std::to_string(index));
    add(out, inWords(f));
    if (f.transient)
        add(out, Phrase(MARKED("finding.transient", "While the throttle had just opened: it may be false.")),
            Tone::quiet);
    if (!f.causes.empty())
        add(out, {MARKED("finding.likely", "Likely {A}"), {}, {}, {causeWords(f.causes.front())}},
            Tone::quiet);
}

// By pull and channel: of several rules that need it together.
void addSilent(Report &out, const LogFindings &findings) {
    std::vector<SilentPull> left = findings.silent;
    std::ranges::stable_sort(left, {}, &SilentPull::beginS);
    while (!left.empty()) {
        const SilentPull first = left.front();
        std::vector<Phrase> rules;
        std::erase_if(left, [&](const SilentPull &s) {
            const bool same = s.beginS == first.beginS && s.silent == first.silent;
            if (same) rules.emplace_back(s.rule->title);
            return same;
        });
        add(out,
            {MARKED("findings.silent",
                    "Not asked all through the pull at {0}, since “{A}” is silent for a part of it: {B}."),
             {{first.beginS, Dimension::seconds, 1}},
             {},
             {Phrase(definitionOf(first.silent).title), listed(rules)}},
            Tone::caution);
    }
}

void addNotAsked(Report &out, const LogFindings &findings) {
    if (findings.notAsked.empty()) return;
    std::vector<Phrase> names;
    names.reserve(findings.notAsked.size());
    for (const WatchRule *rule : findings.notAsked)
        names.emplace_back(rule->title);
    add(out,
        {MARKED("findings.not_asked",
                "Not asked, since the log has not got what they need or nobody knows the tables that it ran "
                "with: {A}."),
         {},
         {},
         {listed(names)}},
        Tone::caution);
}

} // namespace

Report findingsReport(const LogReview &log) {
    Report out;
    out.title = Phrase(MARKED("findings.title", "Found in this log"));
    const LogFindings &f = log.findings();
    const std::size_t asked = allWatchRules().size() - f.notAsked.size();
    out.blocks.push_back(
        Heading{f.found.empty() ? Phrase(MARKED("findings.none", "Nothing found"))
                                : Phrase{MARKED("findings.count", "Found: {0}"), {counted(f.found.size())}},
                2});
    add(out,
        {MARKED("findings.asked", "{0} of {1} rules could be asked."),
         {counted(asked), counted(allWatchRules().size())}},
        Tone::quiet);
    addSilent(out, f); // beside what it takes back, not under all that was found
    for (std::size_t i = 0; i < f.found.size(); ++i)
        addFinding(out, f.found[i], i);
    addNotAsked(out, f);
    return out;
}

Explanation explain(const LogReview &log, const LogFinding &f) {
    Explanation x;
    const Dimension d = f.rule->dimension;
    const std::string limit(f.rule->limits.empty() ? std::string_view() : f.rule->limits.front());
    x.title = Phrase(f.rule->title);
    x.result = {f.worst, d};
    x.formula = Phrase(f.rule->question);
    x.substituted = inWords(f);
    if (!limit.empty())
        x.inputs.push_back({"",
                            Phrase(MARKED("finding.from.limit", "its limit")),
                            {limitOf(log.study().job(), limit), limitById(limit).dimension, allDecimals},
                            "limits." + limit});
    if (f.rpm == f.rpm)
        x.inputs.push_back({"",
                            Phrase(MARKED("finding.from.rpm", "engine speed there")),
                            {f.rpm, Dimension::engineSpeed},
                            {}});
    if (f.loadKpa == f.loadKpa)
        x.inputs.push_back({"",
                            Phrase(MARKED("finding.from.load", "manifold pressure there")),
                            {f.loadKpa, Dimension::pressure},
                            {}});
    if (f.content == f.content)
        x.inputs.push_back({"",
                            Phrase(MARKED("finding.from.content", "content there")),
                            {f.content, Dimension::content},
                            {}});
    x.source = limit.empty() ? Phrase(MARKED("finding.no_limit", "common practice"))
                             : Phrase{MARKED("finding.limit_origin", "Limit: {A}"),
                                      {},
                                      {},
                                      {Phrase(limitOrigin(log.study().job().limits, limit))}};
    std::vector<Phrase> causes;
    for (const Cause &c : f.causes)
        causes.push_back({MARKED("finding.cause", "{A}."), {}, {}, {causeWords(c)}});
    x.uncertainty = together(causes);
    x.change = Phrase(f.rule->lookAt);
    return x;
}

Report logContentReport(const LogReview &log) {
    Report out;
    out.title = Phrase(MARKED("log.content.title", "Fuel of this log"));
    out.blocks.push_back(Heading{out.title, 2});
    const LogContent &c = log.content();
    for (const Phrase &said : c.said)
        add(out, said);
    add(out,
        c.usable() ? Phrase(MARKED("log.content.used", "It counts where tables are judged and corrected."))
                   : Phrase(MARKED("log.content.unused", "It does not count where tables are corrected.")),
        c.usable() ? Tone::quiet : Tone::caution);
    return out;
}

WorkedReport delayReport(const LambdaDelay &delay) {
    WorkedReport out;
    out.report.title = Phrase(MARKED("delay.title", "How late λ comes"));
    out.report.blocks.push_back(Heading{out.report.title, 2});
    if (delay.stated) {
        add(out.report,
            {MARKED("delay.stated",
                    "As the job states it: {0} and {1} over the air flow in g/s, and a lag of {2}. "
                    "It stands with the thresholds under Cleaning."),
             {{delay.curve->atOnceMs, Dimension::duration, 0},
              {delay.curve->gramsMs, Dimension::duration, 0},
              {delay.lagMs, Dimension::duration, 0}}});
        return out;
    }
    if (delay.byFlow.empty()) {
        add(out.report,
            Phrase(MARKED("delay.none", "No step of fuel in this log tells. Cut the fuel on the overrun a "
                                        "few times, at several speeds, and log that.")),
            Tone::caution);
        return out;
    }
    Grid grid;
    grid.heads = {Phrase(MARKED("delay.air", "Air")), Phrase(MARKED("delay.transport", "Delay")),
                  Phrase(MARKED("delay.sigma", "±")), Phrase(MARKED("delay.steps", "Steps"))};
    for (const DelayAtFlow &d : delay.byFlow) {
        const auto cell = [&](Phrase words) {
            return out.worked(std::move(words), Tone::plain, [d, delay] { return explainDelay(d, delay); });
        };
        grid.rows.push_back(
            {cell({MARKED("delay.of_air", "{0}"), {{d.airGS, Dimension::massFlow, 0}}}),
             cell({MARKED("delay.of_delay", "{0}"), {{d.delayMs, Dimension::duration, 0}}}),
             cell({MARKED("delay.of_sigma", "{0}"), {{d.sigmaMs, Dimension::duration, 0}}}),
             cell({MARKED("delay.of_steps", "{0}"), {counted(static_cast<std::size_t>(d.steps))}})});
    }
    out.report.blocks.push_back(std::move(grid));
    add(out.report,
        {MARKED("delay.lag", "The sensor itself lags by {0}."), {{delay.lagMs, Dimension::duration, 0}}});
    add(out.report, Phrase(MARKED("delay.keep", "Use this delay for all logs of the job")), Tone::leading,
        "delay:keep");
    add(out.report,
        Phrase(MARKED("delay.source", "Steps of injected fuel against λ, one curve for all of them: "
                                      "delay = a + b / air flow. On the strip the thin line of λ is as "
                                      "it was read, the thick one where it belongs.")),
        Tone::quiet);
    return out;
}

Report visitsReport(std::span<const CellVisit> visits, double rpm, double loadKpa) {
    Report out;
    out.title = {MARKED("visits.title", "Logs at {0}, {1}"),
                 {{rpm, Dimension::engineSpeed}, {loadKpa, Dimension::pressure}}};
    out.blocks.push_back(Heading{out.title, 2});
    if (visits.empty()) {
        add(out, Phrase(MARKED("visits.none", "No log has been here.")), Tone::caution);
        return out;
    }
    for (std::size_t i = 0; i < visits.size(); ++i) {
        const CellVisit &v = visits[i];
        const Phrase what = v.episode ? Phrase(definitionOf(v.episode->kind).title)
                                      : Phrase(MARKED("visits.between", "Between episodes"));
        out.blocks.push_back(Sentence{{MARKED("visits.head", "{A} at {0}, {a}"),
                                       {{v.beginS, Dimension::seconds, 1}},
                                       {v.log->info().name},
                                       {what}},
                                      Tone::leading,
                                      "visit:" + std::to_string(i)});
        if (v.content == v.content) std::get<Sentence>(out.blocks.back()).content = v.content;
        std::vector<Phrase> said{{MARKED("visits.hits", "samples: {0}"), {{v.hits, Dimension::count}}}};
        if (v.content == v.content)
            said.push_back({MARKED("visits.content", "content {0}"), {{v.content, Dimension::content, 0}}});
        if (v.lambdaError == v.lambdaError)
            said.push_back({v.lambdaError > 0 ? MARKED("visits.lean", "λ {0} over its target")
                                              : MARKED("visits.rich", "λ {0} under its target"),
                            {{std::abs(v.lambdaError), Dimension::none, 3}}});
        if (v.knockDeg > 0)
            said.push_back(
                {MARKED("visits.knock", "knock retard {0}"), {{v.knockDeg, Dimension::sparkAngle}}});
        add(out, listed(said), Tone::quiet);
    }
    return out;
}

std::vector<bool> reachedCells(const Study &study, const Coverage &coverage, double content) {
    const Axis &rpm = coverage.rpm(), &load = coverage.load();
    const std::vector<ReachAtSpeed> reach = study.reach(content, rpm.points());
    std::vector<bool> out;
    out.reserve(rpm.size() * load.size());
    for (std::size_t y = 0; y < load.size(); ++y)
        for (std::size_t x = 0; x < rpm.size(); ++x)
            out.push_back(reach[x].reaches(load[y]));
    return out;
}

WorkedReport coverageReport(const Study &study, const Coverage &coverage) {
    WorkedReport out;
    out.report.title = Phrase(MARKED("coverage.title", "Where the engine has been"));
    out.report.blocks.push_back(Heading{out.report.title, 2});
    const bool methanol = study.job().alcohol == Alcohol::methanol;
    const auto limits = std::make_shared<const Limits>(study.job().limits); // of all the workings
    Grid grid;
    grid.heads = {Phrase(MARKED("coverage.band", "Content")), Phrase(MARKED("coverage.seen", "Seen")),
                  Phrase(MARKED("coverage.proven", "Proven")), Phrase(MARKED("coverage.reachable", "Of"))};
    const std::span<const double> bands = coverageBands();
    std::size_t provenAll = 0;
    for (std::size_t b = 0; b + 1 < bands.size(); ++b) {
        const std::vector<bool> reached = reachedCells(study, coverage, (bands[b] + bands[b + 1]) / 2);
        std::size_t can = 0, seen = 0, proven = 0, i = 0;
        for (std::size_t y = 0; y < coverage.load().size(); ++y)
            for (std::size_t x = 0; x < coverage.rpm().size(); ++x, ++i) {
                if (!reached[i]) continue;
                ++can;
                const CoverageState s = coverage.state(coverage.at(x, y, b));
                seen += s != CoverageState::never ? 1 : 0;
                proven += s == CoverageState::proven ? 1 : 0;
            }
        provenAll += proven;
        Sentence band{Phrase{MARKED("coverage.band_named", "{a} to {b}"),
                             {},
                             {contentName(bands[b], methanol), contentName(bands[b + 1], methanol)}},
                      Tone::leading, "band:" + std::to_string(b)};
        band.content = (bands[b] + bands[b + 1]) / 2;
        const auto count = [&](std::size_t n, CoverageNumber which) {
            return out.worked({MARKED("coverage.count", "{0}"), {counted(n)}}, Tone::plain,
                              [limits, rev = study.job().engine.revLimitRpm, which, from = bands[b],
                               to = bands[b + 1],
                               n] { return explainCoverage(*limits, rev, which, from, to, n); });
        };
        grid.rows.push_back({band, count(seen, CoverageNumber::seen), count(proven, CoverageNumber::proven),
                             count(can, CoverageNumber::reachable)});
    }
    out.report.blocks.push_back(std::move(grid));
    add(out.report,
        Phrase(MARKED(
            "coverage.meaning",
            "Seen: enough samples of a running engine. Proven: enough clean ones of the calibration as "
            "it is now, on a warm engine, λ on its target and no knock.")),
        Tone::quiet);
    if (provenAll == 0)
        add(out.report, Phrase(MARKED("coverage.no_proof", "No cell is proven.")), Tone::caution);
    return out;
}

} // namespace wheelwright
