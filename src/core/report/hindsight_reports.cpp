// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/hindsight_reports.h"

#include "core/explain/explain_evidence.h"
#include "core/job/job.h"
#include "core/report/numbers.h"

namespace wheelwright {
namespace {

Measured degrees(double v) {
    return {v, Dimension::sparkAngle};
}

Measured part(double v) {
    return {v, Dimension::ratio};
}

std::string nameOf(const Job &job, const std::string &id) {
    const LogInfo *info = logById(job, id);
    return info ? info->name : id;
}

Tone toneOf(MoveVerdict verdict) {
    switch (verdict) {
    case MoveVerdict::asExpected:
        return Tone::plain;
    case MoveVerdict::off:
        return Tone::trouble;
    case MoveVerdict::notSure:
    case MoveVerdict::notJudged:
        break;
    }
    return Tone::caution;
}

} // namespace

WorkedReport takenReport(const SparkTaken &taken, const LogInfo &log) {
    WorkedReport out;
    out.report.title = {MARKED("taken.title", "Who took the spark: {a}"), {}, {log.name}};
    for (std::size_t i = 0; i < taken.said.size(); ++i)
        out.report.blocks.push_back(i == 0 ? Block(Heading{taken.said[i], 2})
                                           : Block(Sentence{taken.said[i]}));
    if (taken.samples == 0) return out;
    const SparkMeans all{taken.samples, taken.askedDeg, taken.deliveredDeg};
    Grid grid;
    grid.heads = {MARKED("taken.head.who", "Who"), MARKED("taken.head.mean", "on the average"),
                  MARKED("taken.head.most", "at the most"), MARKED("taken.head.share", "of the time")};
    for (std::size_t i = 0; i < taken.takers.size(); ++i) {
        const SparkTaker &t = taken.takers[i];
        const bool took = t.mostDeg < 0;
        const auto cell = [&](Measured v) {
            return out.worked({MARKED("hindsight.number", "{0}"), {v}}, Tone::plain,
                              [t, all] { return explainTaker(t, all); });
        };
        grid.rows.push_back(
            {Sentence{t.title, took ? Tone::leading : Tone::quiet, took ? "taken:" + std::to_string(i) : ""},
             cell(degrees(t.meanDeg)), cell(degrees(t.mostDeg)), cell(part(t.share))});
    }
    out.report.blocks.push_back(std::move(grid));
    out.report.blocks.push_back(
        Sentence{MARKED("taken.lines",
                        "Thin: asked; dashed: after temperatures; dotted: after knock; heavy: delivered."),
                 Tone::quiet});
    ReportChart chart;
    chart.title = MARKED("taken.chart", "Spark under load");
    chart.xTitle = MARKED("taken.chart.time", "time");
    chart.yTitle = MARKED("taken.chart.spark", "spark");
    chart.x = Dimension::seconds;
    chart.y = Dimension::sparkAngle;
    chart.lines = {{MARKED("taken.line.asked", "asked"), taken.timeS, taken.asked},
                   {MARKED("taken.line.air", "after temperatures"), taken.timeS, taken.afterAir},
                   {MARKED("taken.line.knock", "after knock"), taken.timeS, taken.afterKnock},
                   {MARKED("taken.line.delivered", "delivered"), taken.timeS, taken.delivered}};
    out.report.blocks.push_back(std::move(chart));
    return out;
}

WorkedReport proofReport(const FuelChangeProof &proof, const Job &job) {
    WorkedReport out;
    out.report.title = {MARKED("proof.title", "Change of fuel, {0} to {1}"),
                        {{proof.fromContent, Dimension::content}, {proof.toContent, Dimension::content}}};
    const bool any = proof.any(MoveVerdict::off), all = proof.all(MoveVerdict::asExpected);
    out.report.blocks.push_back(Heading{
        any   ? MARKED("proof.off", "Not everything moved as the tables say")
        : all ? MARKED("proof.all", "Everything moved as the tables say")
              : MARKED("proof.some", "What could be judged moved as the tables say; the rest is open"),
        2});
    out.report.blocks.push_back(Sentence{
        {proof.twoCalibrations
             ? MARKED("proof.logs.two",
                      "From {a} to {b}, which ran with two calibrations: each counts against its own.")
             : MARKED("proof.logs", "From {a} to {b}, with one calibration."),
         {},
         {nameOf(job, proof.fromLog), nameOf(job, proof.toLog)}}});
    Grid grid;
    grid.heads = {MARKED("proof.head.what", "What"),         MARKED("proof.head.expected", "expected"),
                  MARKED("proof.head.measured", "measured"), MARKED("proof.head.residual", "residual"),
                  MARKED("proof.head.sigma", "±, 95 %"),     MARKED("proof.head.places", "places"),
                  MARKED("proof.head.verdict", "verdict")};
    for (const FuelMove &m : proof.moves) {
        const bool judged = m.verdict != MoveVerdict::notJudged;
        const auto cell = [&](double v, Dimension of) {
            return judged ? out.worked({MARKED("hindsight.number", "{0}"), {{v, of}}}, Tone::plain,
                                       [m] { return explainMove(m); })
                          : Sentence{verbatim("–"), Tone::quiet};
        };
        grid.rows.push_back({Sentence{m.title}, cell(m.expected, m.dimension), cell(m.measured, m.dimension),
                             cell(m.residual, m.dimension), cell(m.around(), m.dimension),
                             cell(m.places, Dimension::count),
                             Sentence{inWords(m.verdict), toneOf(m.verdict)}});
    }
    out.report.blocks.push_back(std::move(grid));
    for (const FuelMove &m : proof.moves)
        if (!m.why.empty())
            out.report.blocks.push_back(Sentence{
                {MARKED("proof.why", "{A} is not judged: {B}."), {}, {}, {m.title, m.why}}, Tone::quiet});
    out.report.blocks.push_back(Sentence{
        MARKED("proof.how",
               "By place, where both logs have clean samples: each counts against what the tables ask for "
               "there. A log proves what it has seen, on that day, in that air, and nothing else."),
        Tone::quiet});
    return out;
}

Report learningReport(std::span<const LearningStep> steps, const Job &job) {
    Report out;
    out.title = Phrase(MARKED("learning.title", "Did corrections do what was foretold?"));
    if (steps.empty()) {
        out.blocks.push_back(
            Heading{MARKED("learning.none", "No correction has been made from a log yet"), 2});
        out.blocks.push_back(Sentence{
            MARKED("learning.none.how", "Take a proposal for fuel or spark, send it, log again: then this "
                                        "says whether the next log found what was foretold."),
            Tone::quiet});
        return out;
    }
    for (std::size_t i = steps.size(); i-- > 0;) {
        const LearningStep &s = steps[i];
        constexpr std::size_t minutes = 16;
        const bool fine = s.verdict == LearningVerdict::asForetold;
        out.blocks.push_back(Heading{
            {MARKED("learning.head", "{a}: {A}"), {}, {s.of->at.substr(0, minutes)}, {inWords(s.verdict)}},
            2});
        std::string names;
        for (const std::string &id : s.logs)
            names += (names.empty() ? "" : ", ") + nameOf(job, id);
        if (!names.empty())
            out.blocks.push_back(Sentence{{MARKED("learning.by", "By {a}."), {}, {names}}, Tone::quiet});
        for (std::size_t k = 0; k < s.said.size(); ++k)
            out.blocks.push_back(Sentence{s.said[k], k == 0 || fine ? Tone::plain : Tone::caution});
    }
    return out;
}

namespace {

void saySensors(Report &out, std::span<const SensorComparison> sensors, const Job &job) {
    if (sensors.empty()) return;
    out.blocks.push_back(
        Heading{MARKED("boost_sensors.title", "The dyno's sensor against the controller's"), 2});
    for (const SensorComparison &c : sensors) {
        const Tone tone = c.verdict == MoveVerdict::off          ? Tone::caution
                          : c.verdict == MoveVerdict::asExpected ? Tone::plain
                                                                 : Tone::quiet;
        out.blocks.push_back(Sentence{
            {MARKED("boost_sensors.verdict", "{a}: {A}"), {}, {nameOf(job, c.log)}, {inWords(c.verdict)}},
            c.verdict == MoveVerdict::off ? Tone::caution : Tone::strong});
        for (const Phrase &said : c.said)
            out.blocks.push_back(Sentence{said, tone});
    }
}

} // namespace

WorkedReport boostPullsReport(std::span<const PullBoost> pulls, std::span<const SensorComparison> sensors,
                              const Job &job) {
    WorkedReport out;
    out.report.title = Phrase(MARKED("pulls.title", "What boost did in pulls"));
    if (pulls.empty())
        out.report.blocks.push_back(
            Heading{MARKED("pulls.none", "No pull with the throttle open, and a known content"), 2});
    if (const auto line = boostOverContent(pulls)) {
        constexpr double tenth = 0.1, at95 = 1.96;
        const Dimension kpa = Dimension::pressureDifference;
        std::vector<Measured> numbers{{line->held * tenth, kpa},
                                      {at95 * line->heldError * tenth, kpa},
                                      {line->from, Dimension::content},
                                      {line->to, Dimension::content}};
        const bool aimed = line->target == line->target;
        if (aimed) numbers.push_back({line->target * tenth, kpa});
        out.report.blocks.push_back(Heading{
            {aimed
                 ? MARKED("pulls.content.aimed",
                          "Boost over content, {2} to {3}: {0} ± {1} more for ten per cent; {4} was aimed at")
                 : MARKED("pulls.content", "Boost over content, {2} to {3}: {0} ± {1} more for ten per cent"),
             std::move(numbers)},
            2});
    }
    for (std::size_t i = 0; i < pulls.size(); ++i) {
        const PullBoost &p = pulls[i];
        out.report.blocks.push_back(Sentence{
            {MARKED("pulls.head", "{a}, at {0}"), {{p.beginS, Dimension::seconds, 1}}, {nameOf(job, p.log)}},
            Tone::leading,
            "pull:" + std::to_string(i)});
        if (p.content == p.content) std::get<Sentence>(out.report.blocks.back()).content = p.content;
        if (!p.reached) {
            out.report.blocks.push_back(
                Sentence{MARKED("pulls.not_reached", "It did not come to its boost."), Tone::quiet});
            continue;
        }
        const Dimension d = Dimension::pressureDifference;
        out.say({MARKED("pulls.numbers", "held {0}, spike {1}, drift {2} ± {3}, wave {4}"),
                 {pressureOf(p.heldKpa),
                  {p.overshootKpa, d},
                  {p.driftKpa, d},
                  {2 * p.driftSigmaKpa, d},
                  {p.waveKpa, d}}},
                Tone::plain, [p] { return explainPull(p); });
        for (const Phrase &said : p.said)
            out.report.blocks.push_back(Sentence{said, Tone::caution});
    }
    saySensors(out.report, sensors, job);
    return out;
}

} // namespace wheelwright
