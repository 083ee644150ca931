// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/content_opinions.h"

#include "core/base/limits.h"
#include "core/job/tank_history.h"

#include <algorithm>
#include <cmath>
#include <optional>

namespace wheelwright {
namespace {

using enum TankEventKind;

double alcoholOf(const TankEvent &e) {
    return std::min(1.0, e.ethanol + e.methanol);
}

// The event's own ±, or what is usual.
Uncertain litresOf(const Job &job, const TankEvent &e) {
    if (e.litresSigma > 0) return {e.litres, e.litresSigma};
    if (e.kind == level) return {e.litres, limitOf(job, "usual.level") * job.tank.capacityL};
    return {e.litres, limitOf(job, e.kind == pour ? "usual.pour" : "usual.burn") * e.litres};
}

Uncertain contentOf(const Job &job, const TankEvent &e) {
    const double alcohol = alcoholOf(e);
    if (e.contentSigma > 0) return {alcohol, e.contentSigma};
    if (e.kind == sensor) return {alcohol, limitOf(job, "usual.content.sensor")};
    if (e.kind == tube || e.kind == content) return {alcohol, limitOf(job, "usual.content.tube")};
    constexpr double pumpFuel = 0.3; // labels of more are not to be believed: common practice
    return {alcohol, limitOf(job, alcohol > pumpFuel ? "usual.content.high_ethanol" : "usual.content.label")};
}

void step(const Job &job, const TankEvent &e, UncertainTank &tank) {
    switch (e.kind) {
    case pour:
        return tank.pour(litresOf(job, e), contentOf(job, e));
    case drain:
    case burn:
        return tank.take(litresOf(job, e));
    case level:
        return tank.setLevel(litresOf(job, e));
    case content:
        return tank.setContent(contentOf(job, e));
    case sensor:
    case tube:
        return;
    }
}

UncertainTank tankAfter(const Job &job, std::size_t events) {
    UncertainTank tank;
    for (std::size_t i = 0; i < events; ++i)
        step(job, job.tankEvents[i], tank);
    return tank;
}

bool unsettled(const Job &job, std::size_t reading) {
    for (std::size_t i = reading; i-- > 0;) {
        if (job.tankEvents[i].kind == burn) return false;
        if (job.tankEvents[i].kind == pour) return true;
    }
    return false;
}

std::optional<Opinion> lastReading(const Job &job, TankEventKind kind, OpinionSource source) {
    const auto &events = job.tankEvents;
    for (std::size_t i = events.size(); i-- > 0;) {
        if (events[i].kind != kind) continue;
        Opinion o;
        o.source = source;
        o.event = i;
        o.at = events[i].at;
        o.read = contentOf(job, events[i]);
        o.maybeUnsettled = kind == sensor && unsettled(job, i);
        UncertainTank tank = tankAfter(job, i);
        tank.setContent(o.read);
        for (std::size_t k = i + 1; k < events.size(); ++k) {
            if (events[k].kind == content) continue; // an opinion stays itself whatever was believed since
            o.poursSince += events[k].kind == pour;
            step(job, events[k], tank);
        }
        o.content = tank.content();
        return o;
    }
    return std::nullopt;
}

// Inside a sentence.
PhraseText nameIn(OpinionSource source) {
    constexpr std::array names{MARKED("opinion.named.arithmetic", "the arithmetic"),
                               MARKED("opinion.named.sensor", "the sensor"),
                               MARKED("opinion.named.tube", "the tube")};
    return names[static_cast<std::size_t>(source)];
}

void judge(const Job &job, ContentOpinions &o) {
    const Opinion *a = nullptr, *b = nullptr;
    for (const Opinion &x : o.all)
        for (const Opinion &y : o.all)
            if (y.content.value - x.content.value > o.apart) {
                o.apart = y.content.value - x.content.value;
                a = &x;
                b = &y;
            }
    const double limit = limitOf(job, "content.disagreement");
    o.agree = o.apart <= limit;
    if (o.all.size() < 2) {
        o.verdict = {o.all.empty()
                         ? MARKED("opinions.none",
                                  "Nobody has said anything about this tank yet. A level read and a tube "
                                  "test are enough to begin.")
                         : MARKED("opinions.one",
                                  "Only one opinion. Read the sensor or a test tube before it is believed.")};
        return;
    }
    if (o.agree) {
        o.verdict = {MARKED("opinions.agree", "They agree: within {0}, at most {1} apart."),
                     {{limit, Dimension::contentDifference}, {o.apart, Dimension::contentDifference}}};
        return;
    }
    const auto surest = std::ranges::min_element(o.all, {}, [](const Opinion &x) { return x.content.sigma; });
    const double joint = std::hypot(a->content.sigma, b->content.sigma);
    constexpr double twice = 2; // about 95 %
    const Phrase differ{
        o.apart > twice * joint
            ? MARKED("opinions.apart",
                     "They disagree: {A} and {B} are {0} apart, more than their ± can explain. "
                     "One of them is wrong: read again.")
            : MARKED("opinions.apart.allowed",
                     "They disagree: {A} and {B} are {0} apart, no more than their ± allows."),
        {{o.apart, Dimension::contentDifference}},
        {},
        {nameIn(a->source), nameIn(b->source)}};
    const Phrase which{MARKED("opinions.which", "Which is to be believed? The surest is {A}, ± {0}."),
                       {{surest->content.sigma, Dimension::contentDifference}},
                       {},
                       {nameIn(surest->source)}};
    Phrase unsettled;
    if (std::ranges::any_of(o.all, &Opinion::maybeUnsettled))
        unsettled = MARKED("opinions.unsettled", "The sensor was read after a pour with nothing burned: the "
                                                 "line may still hold the old fuel.");
    o.verdict = together({differ, which, unsettled});
}

} // namespace

std::string_view opinionId(OpinionSource s) {
    constexpr std::array<std::string_view, 3> ids{"arithmetic", "sensor", "tube"};
    return ids[static_cast<std::size_t>(s)];
}

PhraseText opinionTitle(OpinionSource s) {
    constexpr std::array titles{MARKED("opinion.arithmetic", "The arithmetic"),
                                MARKED("opinion.sensor", "The sensor"), MARKED("opinion.tube", "The tube")};
    return titles[static_cast<std::size_t>(s)];
}

UncertainTank uncertainTankNow(const Job &job) {
    tankNow(job); // refuses what cannot have happened
    return tankAfter(job, job.tankEvents.size());
}

ContentOpinions opinionsOf(const Job &job) {
    ContentOpinions o;
    const bool any = std::ranges::any_of(job.tankEvents, [](const TankEvent &e) {
        return e.kind == pour || e.kind == content || e.kind == level;
    });
    if (any) {
        Opinion arithmetic;
        arithmetic.content = arithmetic.read = uncertainTankNow(job).content();
        arithmetic.event = job.tankEvents.size() - 1;
        o.all.push_back(arithmetic);
    }
    for (const auto &[kind, source] : {std::pair{sensor, OpinionSource::sensor}, {tube, OpinionSource::tube}})
        if (auto reading = lastReading(job, kind, source)) o.all.push_back(*reading);
    judge(job, o);
    return o;
}

const Opinion *opinionBy(const ContentOpinions &o, OpinionSource source) {
    const auto at = std::ranges::find(o.all, source, &Opinion::source);
    return at == o.all.end() ? nullptr : &*at;
}

TankEvent adoption(const Job &job, const Opinion &opinion, std::string at) {
    const Blend now = tankNow(job).content;
    const double known = alcoholOf(now);
    double methanol = job.alcohol == Alcohol::methanol ? 1 : 0; // share of the alcohol
    if (known > 0) methanol = now.methanol.fraction() / known;
    const double alcohol = std::clamp(opinion.content.value, 0.0, 1.0);
    TankEvent e;
    e.kind = content;
    e.at = std::move(at);
    e.ethanol = alcohol * (1 - methanol);
    e.methanol = alcohol * methanol;
    e.contentSigma = std::min(0.5, opinion.content.sigma);
    e.note = "Believed: " + std::string(nameIn(opinion.source).text); // the user's from here on
    return e;
}

} // namespace wheelwright
