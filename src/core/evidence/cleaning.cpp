// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/evidence/cleaning.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace wheelwright {
namespace {

using R = ChannelRole;

// How fast a channel moves: over a fifth of a second, or from sample to sample.
double rateOf(const LogTrace &t, R role, std::size_t i) {
    constexpr double windowS = 0.2;
    std::size_t back = i;
    while (back > 0 && t.follows(back) && t.timeS(i) - t.timeS(back) < windowS)
        --back;
    const double s = t.timeS(i) - t.timeS(back);
    return s > 0 ? std::abs(t.at(role, i) - t.at(role, back)) / s : 0;
}

constexpr double airAlone = 1.6, tooRich = 0.55; // beyond them a sensor says nothing of the fuel

const std::array filters{
    CleaningFilter{"running", MARKED("clean.running", "Engine runs"),
                   MARKED("clean.running.help", "Over 400 rpm."), "", R::rpm,
                   [](const WatchedLog &log, std::size_t i) {
                       constexpr double least = 400;
                       return !(log.at(R::rpm, i) >= least);
                   }},
    CleaningFilter{"coolant", MARKED("clean.coolant", "Coolant warm"),
                   MARKED("clean.coolant.help", "Cold engines get more fuel than their tables say."),
                   "clean.coolant", R::coolantTemp,
                   [](const WatchedLog &log, std::size_t i) {
                       return log.at(R::coolantTemp, i) < log.limit("clean.coolant");
                   }},
    CleaningFilter{"after_start", MARKED("clean.after_start", "After-start fuel is over"),
                   MARKED("clean.after_start.help", "So long after the first turn of the engine."),
                   "clean.after_start", R::rpm,
                   [](const WatchedLog &log, std::size_t i) {
                       return std::ranges::any_of(log.episodes(), [&](const Episode &e) {
                           const double since = log.trace().timeS(i) - e.beginS;
                           return e.kind == EpisodeKind::start && since >= 0 &&
                                  since < log.limit("clean.after_start");
                       });
                   }},
    CleaningFilter{
        "fuel_cut", MARKED("clean.fuel_cut", "Fuel is on"),
        MARKED("clean.fuel_cut.help", "Also not just after a cut: air is still on its way to the sensor."),
        "", R::pulseWidth,
        [](const WatchedLog &log, std::size_t i) {
            constexpr double flushedS = 1;
            return log.fuelCut(i) || log.sinceCutS(i) < flushedS;
        }},
    CleaningFilter{
        "steady", MARKED("clean.steady", "Steady, or a pull"),
        MARKED("clean.steady.help", "Throttle and speed move slowly, or the engine pulls through them."),
        "clean.throttle_rate", R::throttle,
        [](const WatchedLog &log, std::size_t i) {
            if (log.inPull(i)) return false;
            return rateOf(log.trace(), R::throttle, i) > log.limit("clean.throttle_rate") ||
                   rateOf(log.trace(), R::rpm, i) > log.limit("clean.rpm_rate");
        },
        "clean.rpm_rate"},
    CleaningFilter{
        "lambda", MARKED("clean.lambda", "λ is a reading"),
        MARKED("clean.lambda.help", "Between 0.55 and 1.6: beyond, the sensor says nothing of the fuel."), "",
        R::lambda,
        [](const WatchedLog &log, std::size_t i) {
            const double v = log.at(R::lambda, i);
            return !(v > tooRich && v < airAlone);
        }},
    CleaningFilter{"content", MARKED("clean.content", "Content settled"),
                   MARKED("clean.content.help", "Moving by less than this in a minute."), "clean.content",
                   R::ethanol,
                   [](const WatchedLog &log, std::size_t i) {
                       return !log.trace().contentStated() &&
                              std::abs(log.contentPerMinute(i)) > log.limit("clean.content");
                   }},
    CleaningFilter{
        "rail", MARKED("clean.rail", "Rail pressure healthy"),
        MARKED("clean.rail.help", "A rail that sags makes tables look lean that are not."), "flow.sag",
        R::railPressure,
        [](const WatchedLog &log, std::size_t i) { return log.railShare(i) < 1 - log.limit("flow.sag"); }},
    CleaningFilter{"tip_in", MARKED("clean.tip_in", "No acceleration enrichment"),
                   MARKED("clean.tip_in.help", "Not while the throttle has just opened."), "", R::throttle,
                   [](const WatchedLog &log, std::size_t i) { return log.inTipIn(i); }},
};

} // namespace

std::span<const CleaningFilter> allCleaningFilters() {
    return filters;
}

CleanLog clean(const WatchedLog &log) {
    CleanLog out;
    const std::size_t samples = log.trace().size();
    out.kept.assign(samples, true);
    out.left = samples;
    for (const CleaningFilter &f : allCleaningFilters()) {
        CleanLog::Step step{&f, out.left, 0, log.trace().has(f.needs)};
        for (std::size_t i = 0; step.asked && i < samples; ++i)
            if (out.kept[i] && f.takes(log, i)) {
                out.kept[i] = false;
                ++step.taken;
            }
        out.left -= step.taken;
        out.steps.push_back(step);
    }
    return out;
}

} // namespace wheelwright
