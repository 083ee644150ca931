// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trainer/scenario.h"

#include "core/base/error.h"
#include "core/job/revision.h"

#include <algorithm>

namespace wheelwright {
namespace {

using R = ChannelRole;

// As a log of ten rows in a hundred would have it: what an engine says, in the units of the roles.
LogTrace traceOf(const Training &training) {
    constexpr std::size_t every = 2;
    const double ambient = training.given.conditions.ambientKpa;
    using S = PracticeSample;
    struct Column {
        R role;
        double S::*member;
        double scale, offset;
    };
    const std::vector<Column> columns{
        {R::rpm, &S::rpm, 1, 0},
        {R::map, &S::mapKpa, 1, 0},
        {R::throttle, &S::throttlePercent, 0.01, 0},
        {R::lambda, &S::lambda, 1, 0},
        {R::lambdaTarget, &S::lambdaTarget, 1, 0},
        {R::spark, &S::sparkDeg, 1, 0},
        {R::knockRetard, &S::knockRetardDeg, 1, 0},
        {R::ethanol, &S::contentPercent, 0.01, 0},
        {R::fuelTemp, &S::fuelC, 1, 0},
        {R::intakeTemp, &S::intakeC, 1, 0},
        {R::coolantTemp, &S::coolantC, 1, 0},
        {R::pulseWidth, &S::pulseMs, 1, 0},
        {R::duty, &S::dutyPercent, 0.01, 0},
        {R::railPressure, &S::railKpa, 1, ambient},
        {R::oilPressure, &S::oilKpa, 1, ambient},
        {R::battery, &S::batteryV, 1, 0},
        {R::exhaustTemp, &S::exhaustC, 1, 0},
        {R::boostTarget, &S::boostTargetKpa, 1, 0},
        {R::solenoidDuty, &S::solenoidPercent, 0.01, 0},
        {R::speed, &S::speedKmH, 1, 0},
        {R::gear, &S::gear, 1, 0},
    };
    std::vector<double> times;
    std::vector<std::pair<R, std::vector<double>>> out;
    out.reserve(columns.size());
    for (const Column &c : columns)
        out.emplace_back(c.role, std::vector<double>());
    for (std::size_t i = 0; i < training.samples.size(); i += every) {
        const S &s = training.samples[i];
        times.push_back(s.timeS);
        for (std::size_t c = 0; c < columns.size(); ++c)
            out[c].second.push_back(s.*columns[c].member * columns[c].scale + columns[c].offset);
    }
    return {std::move(times), std::move(out), ContentBasis::channel};
}

bool begins(const PracticeEvent &event, std::string_view word) {
    return std::string_view(event.what).starts_with(word);
}

} // namespace

Examined::Examined(const Training &training)
    : m_training(training), m_study(training.given), m_log(m_study, traceOf(training)),
      m_findings(watch(m_log)) {
    for (const Episode &e : only(m_log.episodes(), EpisodeKind::pull))
        if (e.rpmTo - e.rpmFrom > leastPullRpm) m_pulls.push_back(e);
}

std::optional<double> Examined::firstS(std::string_view rule) const {
    for (const LogFinding &f : m_findings.found)
        if (f.rule->id == rule) return f.beginS;
    return std::nullopt;
}

std::optional<Examined::Known> Examined::lambdaError(double fromKpa, double toKpa, double fromS,
                                                     double toS) const {
    constexpr double leastS = 3, afterCutS = 1, warmC = 60;
    const LogTrace &t = m_log.trace();
    double sum = 0, count = 0, knownS = 0;
    for (std::size_t i = 0; i < t.size(); ++i) {
        const double load = t.at(R::map, i);
        const bool asked = t.timeS(i) >= fromS && t.timeS(i) <= toS && load >= fromKpa && load <= toKpa &&
                           m_log.sinceCutS(i) > afterCutS && t.at(R::coolantTemp, i) > warmC &&
                           !m_log.inTipIn(i);
        if (!asked) continue;
        sum += t.at(R::lambda, i) - m_log.lambdaTarget(i);
        ++count;
        if (knownS == 0 && count * t.stepS() >= leastS) knownS = t.timeS(i);
    }
    if (knownS == 0) return std::nullopt;
    return Known{sum / count, knownS};
}

bool Examined::looked(std::string_view inspection) const {
    return std::ranges::any_of(m_training.events, [&](const PracticeEvent &e) {
        return e.what == "look " + std::string(inspection);
    });
}

double Examined::lastChangeS() const {
    double last = 0;
    for (const PracticeEvent &e : m_training.events)
        if (begins(e, "set") || begins(e, "load")) last = e.timeS;
    return last;
}

double Examined::firstChangeS() const {
    for (const PracticeEvent &e : m_training.events)
        if (begins(e, "set") || begins(e, "load")) return e.timeS;
    return 0;
}

bool Examined::tablesTouched() const {
    return calibrationPrint(stateOf(m_training.left)) != calibrationPrint(stateOf(m_training.given));
}

double Examined::minutes() const {
    constexpr double secondsPerMinute = 60;
    double out = m_training.samples.empty() ? 0 : m_training.samples.back().timeS / secondsPerMinute;
    for (const Inspection &i : allInspections())
        out += static_cast<double>(
                   std::ranges::count(m_training.events, "look " + std::string(i.id), &PracticeEvent::what)) *
               i.minutes;
    return out;
}

Job givenJob(const Scenario &scenario, const Job &sound) {
    if (sound.control != FuelControl::controller)
        throw InputError(sound.name, MARKED("expected.a_controller", "a job with a controller"),
                         MARKED("found.mechanical_injection", "mechanical injection"));
    Job job = sound;
    if (scenario.prepare) scenario.prepare(job);
    validate(job);
    return job;
}

HiddenEngine engineOf(const Scenario &scenario, const Job &sound) {
    return drawEngine(Study(sound), scenario.seed);
}

Inspected inspectIn(const Scenario &scenario, const Inspection &inspection, const HiddenEngine &engine,
                    double tankContent) {
    if (inspection.id == scenario.tells)
        return {{MARKED("inspect.found", "{A}: {B}"), {}, {}, {inspection.title, scenario.told}}, false};
    return inspect(inspection, scenario.faults, engine, tankContent);
}

std::vector<PracticeStep> stepsBefore(const Scenario &scenario) {
    std::vector<PracticeStep> out;
    PracticeStep s;
    s.what = "drain";
    s.litres = scenario.drainedL;
    if (s.litres > 0) out.push_back(s);
    s.what = "pour";
    s.litres = scenario.pouredL;
    s.fuel = scenario.poured;
    if (s.litres > 0) out.push_back(s);
    return out;
}

Training drive(const Scenario &scenario, const Job &sound, const PracticeScript &script) {
    Training out;
    out.given = givenJob(scenario, sound);
    PracticeDriver driver(out.given, engineOf(scenario, sound), scenario.faults,
                          [&](const PracticeSample &s, const PracticeTruth &) { out.samples.push_back(s); });
    PracticeScript start = script;
    start.ethanol = scenario.ethanol;
    driver.fill(start);
    const auto step = [&](const PracticeStep &s, const std::string &where) {
        try {
            driver.doStep(s);
        } catch (const InputError &e) {
            throw InputError(where + e.where(), e.expected(), e.found());
        }
    };
    for (const PracticeStep &s : stepsBefore(scenario))
        step(s, "before: ");
    for (std::size_t i = 0; i < script.steps.size() && !driver.over(); ++i)
        step(script.steps[i], "step " + std::to_string(i + 1) + ": ");
    const PracticeResult result = driver.result();
    out.left = driver.job();
    out.events = result.events;
    out.damage = result.damage;
    out.destroyedBy = result.destroyedBy;
    out.tankContent = result.tankContent;
    return out;
}

bool stoppedInTime(const Examined &examined, std::optional<double> signS) {
    if (!signS || examined.tablesTouched()) return false;
    // Also those that were broken off.
    const auto later = std::ranges::count_if(examined.log().episodes(), [&](const Episode &e) {
        return e.kind == EpisodeKind::pull && e.beginS > *signS;
    });
    return later <= 1;
}

namespace {

TrainingItem item(std::string_view id, PhraseText title, int points, int most, Phrase words) {
    return {id, title, points, most, std::move(words)};
}

double worst(const PracticeDamage &d) {
    return std::max({d.knock, d.lean, d.pressure, d.overspeed, d.heat});
}

} // namespace

TrainingScore score(const Scenario &scenario, const Training &training) {
    constexpr int forName = 35, forSign = 20, forConfirming = 10, forGoal = 15, forLife = 10, forTime = 10;
    constexpr double worn = 0.3;
    const Examined examined(training);
    TrainingScore out;
    const bool named = training.answer == scenario.cause;
    out.items.push_back(item("named", MARKED("train.named", "The cause, named"), named ? forName : 0, forName,
                             training.answer.empty() ? Phrase(MARKED("train.no_answer", "no answer"))
                                                     : Phrase(causeById(training.answer, "answer").title)));
    const std::optional<double> sign = scenario.signS(examined);
    out.items.push_back(
        item("evidence", MARKED("train.evidence", "Its sign, in the log"), sign ? forSign : 0, forSign,
             sign ? Phrase(MARKED("train.seen_at", "there at {0}"), {Measured{*sign, Dimension::seconds, 1}})
                  : Phrase(MARKED("train.not_seen", "the log does not show it"))));
    const Inspection &settles = inspectionById(scenario.confirm, "confirm");
    const bool confirmed = examined.looked(scenario.confirm);
    out.items.push_back(
        item("confirmed", MARKED("train.confirmed", "Looked at before it was named"),
             confirmed ? forConfirming : 0, forConfirming,
             training.answer.empty() ? MARKED("train.no_answer", "no answer") : settles.title));
    const bool reached = scenario.reached(examined);
    out.items.push_back(
        item("goal", MARKED("train.goal", "The goal"), reached ? forGoal : 0, forGoal, scenario.goalWords));
    const bool lives = training.destroyedBy.empty();
    const double damage = worst(training.damage);
    out.items.push_back(
        item("lives", MARKED("train.lives", "The engine lives"),
             !lives          ? 0
             : damage < worn ? forLife
                             : forLife / 2,
             forLife,
             lives ? Phrase(MARKED("train.damage", "{0} of what destroys it"),
                            {Measured{damage, Dimension::ratio, 0}})
                   : Phrase(MARKED("train.destroyed", "destroyed: {a}"), {}, {training.destroyedBy})));
    const double minutes = examined.minutes();
    out.items.push_back(item("time", MARKED("train.time", "The time it took"),
                             minutes <= scenario.parMinutes       ? forTime
                             : minutes <= 2 * scenario.parMinutes ? forTime / 2
                                                                  : 0,
                             forTime,
                             Phrase(MARKED("train.minutes", "{0}, {1} are enough"),
                                    {Measured{minutes, Dimension::minutes, 0},
                                     Measured{scenario.parMinutes, Dimension::minutes, 0}})));
    out.hintsTaken = training.hints;
    for (const TrainingItem &i : out.items)
        out.points += i.points;
    out.points = std::max(0, out.points - hintCosts * training.hints);
    out.passed = named && lives && reached && out.points >= passFrom;
    out.verdict =
        !lives       ? Phrase(MARKED("train.verdict.destroyed", "The engine is destroyed."))
        : out.passed ? Phrase(MARKED("train.verdict.passed", "Passed."))
        : named ? Phrase(MARKED("train.verdict.named", "Named, but not proven: look at what is missing."))
                : Phrase(MARKED("train.verdict.failed", "Not found."));
    return out;
}

std::vector<Phrase> debrief(const Scenario &scenario, const Training &training) {
    const Examined examined(training);
    std::vector<Phrase> out;
    out.push_back(
        {MARKED("train.it_was", "It was: {A}."), {}, {}, {causeById(scenario.cause, "cause").title}});
    const std::optional<double> sign = scenario.signS(examined);
    out.push_back(sign ? Phrase(MARKED("train.sign_there", "The evidence was there at {0}: {A}"),
                                {Measured{*sign, Dimension::seconds, 1}}, {}, {scenario.signWords})
                       : Phrase(MARKED("train.sign_missing", "The evidence would have been: {A}"), {}, {},
                                {scenario.signWords}));
    out.push_back({MARKED("train.settles", "What settles it: {A}."),
                   {},
                   {},
                   {inspectionById(scenario.confirm, "confirm").title}});
    out.push_back({MARKED("train.temptation", "What it is easily taken for: {A}."),
                   {},
                   {},
                   {causeById(scenario.temptation, "temptation").title}});
    out.emplace_back(scenario.lesson);
    return out;
}

} // namespace wheelwright
