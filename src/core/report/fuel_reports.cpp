// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/fuel_reports.h"

#include "core/job/tank_history.h"
#include "core/report/numbers.h"

#include <algorithm>
#include <cmath>
#include <memory>

namespace wheelwright {
namespace {

using D = Dimension;

bool countsMethanol(const Job &job) {
    return job.alcohol == Alcohol::methanol;
}

Sentence answer(WorkedReport &out, Phrase words, double content, WorkedReport::Explain explain) {
    Sentence s = out.worked(std::move(words), Tone::answer, std::move(explain));
    s.content = content;
    return s;
}

// A flag of the shelf, with the fuel that it is about.
Sentence flagged(const std::string &fuel, const ShelfFlag &flag) {
    return {{MARKED("shelf.flag", "⟨{a}⟩: {A}"), {}, {fuel}, {flag.words}}, Tone::caution};
}

} // namespace

WorkedReport tankReport(const Job &job) {
    WorkedReport out;
    out.report.title = MARKED("tank.now", "In the tank");
    if (job.tankEvents.empty()) {
        out.say(MARKED("tank.unknown", "Nothing is known of this tank yet."));
        return out;
    }
    const UncertainTank tank = uncertainTankNow(job);
    const auto kept = std::make_shared<const Job>(job);
    const double content = tank.content().value;
    out.report.blocks.push_back(
        answer(out, strongName(contentName(content, countsMethanol(job))), content, [kept] {
            const ContentOpinions opinions = opinionsOf(*kept);
            const Opinion *sum = opinionBy(opinions, OpinionSource::arithmetic);
            return sum ? explainOpinion(*kept, *sum) : explainTankLevel(*kept);
        }));
    out.say({MARKED("tank.level", "⟨{0}⟩ ± {1} of {2}"),
             {litresOf(tank.volumeL().value), litresOf(tank.volumeL().sigma), litresOf(job.tank.capacityL)}},
            Tone::strong, [kept] { return explainTankLevel(*kept); });
    return out;
}

Report tankWordsReport(const Job &job, const ContentOpinions &opinions) {
    Report out;
    if (!job.tankEvents.empty() && uncertainTankNow(job).volumeL().value < job.tank.reserveL)
        out.blocks.push_back(
            Sentence{{MARKED("tank.reserve", "Under the {0} that the pickup needs: no pulls."),
                      {litresOf(job.tank.reserveL)}},
                     Tone::trouble});
    out.blocks.push_back(Sentence{opinions.verdict, opinions.agree ? Tone::quiet : Tone::plain});
    return out;
}

Report shelfReport(const std::vector<Fuel> &shelf) {
    Report out;
    out.title = MARKED("shelf.must_be_known", "What must be known before pouring");
    for (const Fuel &f : shelf)
        for (const ShelfFlag &flag : f.flags)
            out.blocks.push_back(flagged(f.name, flag));
    if (out.blocks.empty())
        out.blocks.push_back(
            Sentence{shelf.empty() ? MARKED("shelf.empty", "No fuel stands on the shelf yet.")
                                   : MARKED("shelf.nothing", "Nothing stands against any of these fuels.")});
    out.blocks.push_back(Sentence{together(handlingCautions(shelf)), Tone::quiet});
    return out;
}

WorkedReport settlingReport(const Job &job, double before, double after) {
    WorkedReport out;
    out.report.title = MARKED("settling", "Until it has settled");
    const bool methanol = countsMethanol(job);
    struct Wait {
        FuelPath path;
        double injectors, sensor;
        // The slower of both, so that nobody pulls too early.
        double both() const { return std::max(injectors, sensor); }
    };
    const auto waitOf = [&](bool cruise) {
        const FuelPath path = fuelPathOf(job, cruise);
        return Wait{path, injectorSettlingMinutes(path, before, after), settlingMinutes(path, before, after)};
    };
    const Wait idle = waitOf(false), cruise = waitOf(true);
    out.say({MARKED("settling.wait", "⟨Wait {0}⟩ idling, or {1} driving gently; then a tube."),
             {{idle.both(), D::minutes}, {cruise.both(), D::minutes}}},
            Tone::answer, [path = idle.path, before, after, injectorsLast = idle.injectors > idle.sensor] {
                return explainSettling(path, before, after, injectorsLast);
            });
    out.say({MARKED("settling.from_to", "From {a} in the tank to {b}, the content looked at:"),
             {},
             {contentName(before, methanol), contentName(after, methanol)}});
    Grid grid{{Phrase{}, MARKED("settling.injectors", "the injectors have it after"),
               MARKED("settling.sensor", "the sensor knows after")},
              {}};
    const auto add = [&](PhraseText how, const Wait &wait) {
        const auto explain = [path = wait.path, before, after](bool atInjector) {
            return [=] { return explainSettling(path, before, after, atInjector); };
        };
        const auto minutes = [](double v) { return strongNumber({v, D::minutes}); };
        grid.rows.push_back({how, out.worked(minutes(wait.injectors), Tone::strong, explain(true)),
                             out.worked(minutes(wait.sensor), Tone::strong, explain(false))});
    };
    add(MARKED("settling.idling", "Idling"), idle);
    add(MARKED("settling.driving", "Driving"), cruise);
    out.report.blocks.push_back(std::move(grid));
    return out;
}

Report mustChangeReport(const ComparedFuel &f) {
    Report out;
    out.title = verbatim(f.name);
    out.blocks.push_back(Heading{verbatim(f.name), 2});
    out.blocks.push_back(Sentence{
        MARKED("compare.must_change", "What must change, against what is in the tank:"), Tone::quiet});
    for (const Phrase &p : f.mustChange)
        out.blocks.push_back(Sentence{{MARKED("report.item", "· {A}"), {}, {}, {p}}});
    if (f.mustChange.empty())
        out.blocks.push_back(Sentence{MARKED("compare.nothing", "Nothing in fuel, spark or boost.")});
    for (const ShelfFlag &flag : f.flags)
        out.blocks.push_back(Sentence{flag.words, Tone::caution});
    out.blocks.push_back(
        Sentence{MARKED("compare.advice", "More octane than the engine needs makes no power by "
                                          "itself, and without retuning it often loses some. "
                                          "Octane and cooling are advice, not a promise."),
                 Tone::quiet});
    return out;
}

Report mixReport(const std::string &first, const std::string &second, double share, const ComparedFuel &f) {
    Report out;
    out.title = MARKED("compare.mix", "Two fuels mixed");
    out.blocks.push_back(
        Sentence{{f.leaded ? MARKED("compare.mix.leaded", "⟨{0}⟩ {a}, ⟨{1}⟩ {b}: {2}, {3}, leaded")
                           : MARKED("compare.mix.unleaded", "⟨{0}⟩ {a}, ⟨{1}⟩ {b}: {2}, {3}"),
                  {shareOf(1 - share, 0),
                   shareOf(share, 0),
                   {f.content.ethanol.fraction(), D::ethanolContent},
                   {f.content.methanol.fraction(), D::methanolContent}},
                  {first, second}}});
    return out;
}

WorkedReport tubeReport(const TubeReading &reading, bool methanol) {
    const TubeResult r = tubeContent(reading);
    WorkedReport out;
    out.report.title = MARKED("tube", "Content by tube");
    out.report.blocks.push_back(answer(out,
                                       {MARKED("tube.answer", "⟨{a}⟩ ± {0}"),
                                        {shareOf(r.content.sigma)},
                                        {contentName(r.content.value, methanol)}},
                                       r.content.value, [reading] { return explainTube(reading); }));
    out.say(MARKED("tube.methanol", "Methanol counts as ethanol in a tube."));
    return out;
}

WorkedReport sensorReport(double hertz, double pulseMs) {
    const SensorReading s = readContentSensor(hertz, pulseMs);
    const auto explain = [hertz, pulseMs] { return explainSensor(hertz, pulseMs); };
    WorkedReport out;
    out.report.title = MARKED("sensor", "Content by sensor");
    const Measured content{s.content, D::content, 0};
    out.report.blocks.push_back(answer(
        out,
        std::isfinite(s.temperatureC)
            ? Phrase{MARKED("sensor.answer.warm", "⟨{0}⟩ {1}"), {content, {s.temperatureC, D::temperature}}}
            : strongNumber(content),
        s.content, explain));
    out.say(faultWords(s.fault), s.fault == SensorFault::none ? Tone::plain : Tone::trouble);
    return out;
}

WorkedReport mixtureReport(double lambda, double content, const std::vector<MixtureLine> &lines,
                           WorkedReport::Explain working) {
    WorkedReport out;
    out.report.title = MARKED("mixture", "AFR and λ");
    out.report.blocks.push_back(
        answer(out, {MARKED("mixture.lambda", "⟨λ {0}⟩"), {{lambda, D::none}}}, content, std::move(working)));
    out.say(explainLambda(lambda, 1, {}).change);
    for (const MixtureLine &line : lines)
        out.say({MARKED("mixture.on_scale", "⟨{0}⟩ {A}"),
                 {{lambda * line.stoichiometry, D::none, 2}},
                 {},
                 {line.scale}});
    return out;
}

} // namespace wheelwright
