// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ladder/pull_facts.h"

#include "core/evidence/lambda_delay.h"
#include "core/proposal/boost_pulls.h"
#include "core/study/fuel_delivery.h"
#include "core/study/proof.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace wheelwright {
namespace {

using R = ChannelRole;
constexpr double windowRpm = 500, openThrottleShare = 0.9; // common practice

// At most, and where.
void most(double &value, double &rpm, double v, double at) {
    if (v == v && !(value >= v)) {
        value = v;
        rpm = at;
    }
}

class FactsReader {
  public:
    FactsReader(const Study &study, const LogReview &log, const std::string &calibration)
        : m_study(study.inPressure()), m_current(log.ranWith(calibration)), m_log(log), m_t(log.trace()),
          m_watched(log.watched()) {
        // Where the job states no delay λ stands where it was read: in a pull it moves slowly.
        if (const auto delay = statedDelay(study.job()); delay && m_t.has(R::lambda))
            m_lambda = lambdaInItsPlace(m_watched, *delay);
        else if (m_t.has(R::lambda))
            m_lambda.assign(m_t.of(R::lambda).begin(), m_t.of(R::lambda).end());
    }

    PullFacts read(const Episode &e, const PullBoost *boost) {
        PullFacts f;
        f.log = m_log.info().id;
        f.logName = m_log.info().name;
        f.added = m_log.info().added;
        f.current = m_current;
        f.tablesKnown = m_watched.tablesKnown();
        f.beginS = e.beginS;
        f.endS = e.endS;
        f.rpmFrom = e.rpmFrom;
        f.rpmTo = e.rpmTo;
        f.content = e.content;
        const double limitRpm = m_study.job().engine.revLimitRpm;
        f.full = e.rpmFrom <= pullsFromShare * limitRpm && e.rpmTo >= pullsToShare * limitRpm;
        f.contentByChannel = m_t.has(R::ethanol) && !m_t.contentStated();
        f.peakKpa = e.peakLoadKpa;
        if (boost && boost->reached) {
            const double ambient = m_watched.ambientKpa();
            f.heldKpa = boost->heldKpa + ambient;
            f.targetKpa = boost->targetKpa + ambient;
            f.overshootKpa = boost->overshootKpa;
            f.solenoidDuty = boost->duty;
            f.gear = boost->gear;
        }
        readChannels(e, f);
        readLambda(e, f);
        readDuty(f, e);
        for (const LogFinding &found : m_log.findings().found)
            if (found.beginS <= e.endS && found.endS >= e.beginS && !maybeFalse(found))
                f.found.push_back({found.rule, found.worst, found.limit, found.worstS});
        f.notAsked = m_log.findings().notAsked;
        for (const SilentPull &s : m_log.findings().silent)
            if (s.beginS == e.beginS) f.notAsked.push_back(s.rule);
        for (const R role : {R::lambda, R::map, R::knockRetard, R::duty, R::railPressure, R::oilPressure,
                             R::coolantTemp, R::intakeTemp})
            if (m_t.has(role) && m_t.silentIn(role, e.from, e.to)) f.silent.push_back(role);
        if (f.contentByChannel && m_t.silentIn(R::ethanol, e.from, e.to)) f.silent.push_back(R::ethanol);
        if (m_watched.tablesKnown()) f.ran = m_log.sharedStudy();
        return f;
    }

  private:
    // A throttle that opens fast makes a sensor hear and a mixture swing; heat and pressure are what they
    // are.
    static bool maybeFalse(const LogFinding &f) {
        return f.transient && (f.rule->id == "knock" || f.rule->id == "lean");
    }

    bool counts(std::size_t i) const {
        return !m_watched.fuelCut(i) && !m_watched.inTipIn(i) && m_t.at(R::rpm, i) > 0;
    }

    // What brought a cut: pressure and solenoid fall at once.
    double highestLately(R role, const Episode &e, std::size_t i) const {
        double highest = m_t.at(role, i), ignored = 0;
        constexpr double lately = 0.5; // s
        for (std::size_t k = i; k > e.from && m_t.timeS(i) - m_t.timeS(k) <= lately; --k)
            most(highest, ignored, m_t.at(role, k - 1), 0);
        return highest;
    }

    static bool inSettled(const LogContent &content, const Episode &e) {
        return std::ranges::any_of(content.stretches, [&](const ContentStretch &s) {
            return s.settled && s.from <= e.from && s.to >= e.to;
        });
    }

    void readChannels(const Episode &e, PullFacts &f) const {
        constexpr double perRpm = 1000;
        const double oilSlope = m_watched.limit("watch.oil") / perRpm;
        double ignored = 0, spark = 0, sparks = 0, intakeMost = PullFacts::unknown,
               contentMost = PullFacts::unknown, contentLeast = PullFacts::unknown;
        for (std::size_t i = e.from; i <= e.to; ++i) {
            const double rpm = m_t.at(R::rpm, i);
            if (!(f.cutAtKpa == f.cutAtKpa) && m_watched.fuelCut(i) &&
                m_t.at(R::throttle, i) > openThrottleShare &&
                rpm < m_study.job().engine.revLimitRpm - m_watched.limit("watch.rev_limit")) {
                f.cutAtKpa = highestLately(R::map, e, i);
                if (!(f.solenoidDuty == f.solenoidDuty))
                    f.solenoidDuty = highestLately(R::solenoidDuty, e, i);
            }
            most(f.knockDeg, f.knockRpm, m_t.at(R::knockRetard, i), rpm);
            most(f.aimedKpa, ignored, m_watched.boostTarget(i), rpm);
            most(f.coolantMost, ignored, m_t.at(R::coolantTemp, i), rpm);
            most(intakeMost, ignored, m_t.at(R::intakeTemp, i), rpm);
            most(contentMost, ignored, m_watched.contentRead(i), rpm);
            if (const double c = m_watched.contentRead(i); c == c && !(contentLeast <= c)) contentLeast = c;
            most(f.powerKw, ignored, m_t.at(R::power, i), rpm);
            if (const double s = m_watched.railShare(i);
                s == s && !m_watched.fuelCut(i) && !(f.railLeast <= s))
                f.railLeast = s;
            const double oil = m_t.at(R::oilPressure, i) - oilSlope * rpm - m_watched.ambientKpa();
            if (oil == oil && !(f.oilOverKpa <= oil)) f.oilOverKpa = oil;
            if (counts(i) && m_t.at(R::spark, i) == m_t.at(R::spark, i)) {
                spark += m_t.at(R::spark, i);
                ++sparks;
            }
        }
        if (f.contentByChannel) f.contentMoved = contentMost - contentLeast;
        const LogContent &content = m_log.content();
        f.contentUsable = content.stated || (!content.returnDry && inSettled(content, e));
        f.intakeRise = intakeMost - m_t.at(R::intakeTemp, e.from);
        if (sparks > 0) f.sparkDeg = spark / sparks;
    }

    void readLambda(const Episode &e, PullFacts &f) const {
        if (m_lambda.empty()) return;
        constexpr double loaded = 0.8; // of the highest load of the pull: where it is at load
        struct Window {
            double sum = 0, count = 0;
        };
        std::map<long, Window> windows;
        Window all;
        // Fuel film and sensor follow the throttle late: what is read at first belongs to before.
        constexpr double followsS = 0.8; // common practice
        double atLoadS = PullFacts::unknown;
        for (std::size_t i = e.from; i <= e.to; ++i) {
            const double error = m_lambda[i] - m_watched.lambdaTarget(i);
            if (m_t.at(R::map, i) < loaded * e.peakLoadKpa) continue;
            if (!(atLoadS == atLoadS)) atLoadS = m_t.timeS(i);
            if (error != error || !counts(i) || m_t.timeS(i) - atLoadS < followsS ||
                m_watched.sinceCutS(i) < followsS)
                continue;
            for (Window *w : {&windows[static_cast<long>(m_t.at(R::rpm, i) / windowRpm)], &all}) {
                w->sum += error;
                ++w->count;
            }
        }
        const double least = m_watched.limit("evidence.least_hits");
        for (const auto &[at, w] : windows) {
            const double mean = w.sum / w.count;
            if (w.count < least || std::abs(mean) <= std::abs(f.lambdaError)) continue;
            f.lambdaError = mean;
            f.lambdaErrorRpm = (static_cast<double>(at) + 0.5) * windowRpm;
        }
        if (all.count >= least) f.lambdaMean = all.sum / all.count;
    }

    // Duty at its highest; without one the highest speed at load.
    void readDuty(PullFacts &f, const Episode &e) const {
        std::size_t fullest = e.to + 1, fastest = e.to + 1;
        constexpr double loaded = 0.8;
        for (std::size_t i = e.from; i <= e.to; ++i) {
            if (const double d = m_t.at(R::duty, i); d == d && !(f.dutyMost >= d)) {
                f.dutyMost = d;
                fullest = i;
            }
            if (counts(i) && m_t.at(R::map, i) >= loaded * e.peakLoadKpa &&
                (fastest > e.to || m_t.at(R::rpm, i) > m_t.at(R::rpm, fastest)))
                fastest = i;
        }
        if (fullest <= e.to) {
            f.dutyRpm = m_t.at(R::rpm, fullest);
            f.dutyLoadKpa = m_t.at(R::map, fullest);
        }
        const std::size_t at = fullest <= e.to ? fullest : fastest;
        if (at > e.to || f.content != f.content) return;
        PullFacts::Fullest &place = f.fullest;
        place.rpm = m_t.at(R::rpm, at);
        place.loadKpa = m_t.at(R::map, at);
        const double intake = m_t.at(R::intakeTemp, at);
        place.intakeC = intake == intake ? intake : m_study.job().conditions.intakeUsualC;
        place.duty = f.dutyMost;
        if (!(place.duty == place.duty) && m_watched.tablesKnown() && place.loadKpa > 0)
            place.duty = tablesDuty(m_log.study(), f.content, place);
        place.lambda = lambdaUpTo(e, at);
    }

    // Over the last speeds: what is read at one moment has its noise.
    double lambdaUpTo(const Episode &e, std::size_t at) const {
        double sum = 0, count = 0;
        for (std::size_t i = e.from; i <= at && !m_lambda.empty(); ++i)
            if (counts(i) && m_lambda[i] == m_lambda[i] &&
                m_t.at(R::rpm, i) >= m_t.at(R::rpm, at) - fullestWindowRpm) {
                sum += m_lambda[i];
                ++count;
            }
        return count >= m_watched.limit("evidence.least_hits") ? sum / count : PullFacts::unknown;
    }

    const Study &m_study;
    bool m_current;
    const LogReview &m_log;
    const LogTrace &m_t;
    const WatchedLog &m_watched;
    std::vector<double> m_lambda;
};

} // namespace

double tablesDuty(const Study &given, double content, const PullFacts::Fullest &place) {
    const Study &study = given.inPressure();
    const auto of = [&](CalibratedQuantity q) {
        return study.blended(q, content).lookup(place.rpm, place.loadKpa).value;
    };
    return DutyModel(study.job(), content, place.intakeC)
        .at(place.rpm, place.loadKpa, of(CalibratedQuantity::fuel), of(CalibratedQuantity::lambda))
        .duty;
}

std::vector<PullFacts> pullFacts(const Study &study, const LogReview &log, const std::string &calibration) {
    std::vector<PullFacts> out;
    if (!log.hasSamples()) return out;
    const std::shared_ptr<const LogReview> one(std::shared_ptr<const LogReview>(), &log); // not owned
    const std::vector<PullBoost> boosts = readPulls(std::span(&one, 1));
    FactsReader reader(study, log, calibration);
    for (const Episode &e : log.episodes()) {
        if (e.kind != EpisodeKind::pull) continue;
        const auto boost =
            std::ranges::find_if(boosts, [&](const PullBoost &b) { return b.beginS == e.beginS; });
        out.push_back(reader.read(e, boost == boosts.end() ? nullptr : &*boost));
    }
    return out;
}

std::optional<LightLoadFacts> lightLoadFacts(const LogReview &log, const std::string &calibration) {
    if (!log.hasSamples()) return std::nullopt;
    const WatchedLog &watched = log.watched();
    const LogTrace &t = log.trace();
    LightLoadFacts f;
    bool any = false;
    double error = 0, errors = 0, content = 0, contents = 0, least = PullFacts::unknown,
           highest = PullFacts::unknown;
    for (const Episode &e : log.episodes()) {
        const bool steady = e.kind == EpisodeKind::cruise || e.kind == EpisodeKind::hold;
        if (!steady || e.peakLoadKpa > watched.ambientKpa()) continue;
        if (!any) f.beginS = e.beginS;
        any = true;
        f.endS = e.endS;
        for (std::size_t i = e.from; i <= e.to; ++i) {
            const double off = t.at(R::lambda, i) - watched.lambdaTarget(i), read = watched.contentRead(i);
            if (off == off && !watched.fuelCut(i) && !watched.inTipIn(i)) {
                error += off;
                ++errors;
                if (i > e.from) f.lambdaS += t.timeS(i) - t.timeS(i - 1);
            }
            if (const double c = t.content(i); c == c) {
                content += c;
                ++contents;
            }
            if (!(read == read)) continue;
            if (!(least <= read)) least = read;
            if (!(highest >= read)) highest = read;
        }
    }
    if (!any) return std::nullopt;
    f.log = log.info().id;
    f.logName = log.info().name;
    f.added = log.info().added;
    f.current = log.ranWith(calibration);
    if (errors > 0) f.lambdaError = error / errors;
    if (contents > 0) f.content = content / contents;
    if (!t.contentStated()) f.contentMoved = highest - least;
    return f;
}

} // namespace wheelwright
