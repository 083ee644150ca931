// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/runs/cam_crossing.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

using R = ChannelRole;

// Zero between two speeds, on a straight line.
double zeroBetween(double x0, double y0, double x1, double y1) {
    return x0 - y0 * (x1 - x0) / (y1 - y0);
}

// From the crossing outwards, to where the difference leaves its interval; empty: it never does.
std::optional<double> toldApart(const CamCrossing &c, std::size_t from, bool upwards) {
    const auto out = [&](std::size_t k) {
        return std::abs(c.highLessLowNm[k].mean) - c.highLessLowNm[k].halfWidth();
    };
    double lastRpm = *c.crossingRpm, last = -c.highLessLowNm[from].halfWidth(); // there the curves are one
    const std::ptrdiff_t step = upwards ? 1 : -1;
    for (auto k = static_cast<std::ptrdiff_t>(from); k >= 0 && k < std::ssize(c.rpm); k += step) {
        const auto here = static_cast<std::size_t>(k);
        if (out(here) > 0) return zeroBetween(lastRpm, last, c.rpm[here], out(here));
        lastRpm = c.rpm[here];
        last = out(here);
    }
    return std::nullopt;
}

void proposeSwitch(CamCrossing &c) {
    const double at = *c.crossingRpm;
    const auto within = [&](double distance) {
        return std::clamp(distance, leastHysteresisRpm, mostHysteresisRpm);
    };
    c.upRpm = at + within(c.highRpm ? *c.highRpm - at : 0);
    c.downRpm = at - within(c.lowRpm ? at - *c.lowRpm : 0);
}

void sayCrossing(CamCrossing &c) {
    if (!c.crossingRpm) {
        const bool high =
            std::ranges::count_if(c.highLessLowNm, [](const GainEstimate &g) { return g.mean > 0; }) * 2 >
            std::ssize(c.highLessLowNm);
        c.said.push_back(
            high ? Phrase(MARKED("cam.said.high",
                                 "By the means the high cam has more torque wherever both ran: "
                                 "the crossing lies lower, or there is none."))
                 : Phrase(MARKED("cam.said.low",
                                 "By the means the low cam has more torque wherever both ran: the "
                                 "crossing lies higher, or there is none.")));
        const auto alike = std::ranges::count_if(c.highLessLowNm,
                                                 [](const GainEstimate &g) { return !g.distinguishable(); });
        if (c.scatterFrom == ScatterFrom::none)
            c.said.push_back(
                MARKED("cam.said.no_scatter_at_all",
                       "Not judged: with one run of each cam nobody knows what of it is scatter."));
        else if (alike > 0)
            c.said.push_back(
                Phrase{MARKED("cam.said.alike", "At {0} of {1} speeds nobody can tell them apart."),
                       {{static_cast<double>(alike), Dimension::count},
                        {static_cast<double>(std::ssize(c.highLessLowNm)), Dimension::count}}});
        return;
    }
    if (c.crossings > 1)
        c.said.push_back(
            Phrase{MARKED("cam.said.several", "The curves cross {0} times: the last one counts."),
                   {{static_cast<double>(c.crossings), Dimension::count}}});
    if (c.scatterFrom == ScatterFrom::none)
        c.said.push_back(MARKED("cam.said.no_scatter",
                                "Not judged: with one run of each cam nobody knows how far the "
                                "crossing may lie from here."));
    else if (!c.lowRpm || !c.highRpm)
        c.said.push_back(MARKED("cam.said.open",
                                "On one side the cams cannot be told apart up to the end of what was "
                                "measured."));
}

double meanLambda(const LogTrace &t, double fromS, double toS) {
    double sum = 0, count = 0;
    for (std::size_t i = t.indexAt(fromS); i < t.size() && t.timeS(i) <= toS; ++i)
        if (const double v = t.at(R::lambda, i); std::isfinite(v)) {
            sum += v;
            ++count;
        }
    return count > 0 ? sum / count : std::nan("");
}

} // namespace

CamCrossing camCrossing(const MeasuredRuns &low, const MeasuredRuns &high, const RunViewing &how) {
    MeasuredRuns both = low;
    both.insert(both.end(), high.begin(), high.end());
    const SeenRuns view = seen(both, how);
    const std::array groups{low, high};
    const DriftModel model = driftModel(placesOf(groups), how.drift);
    CamCrossing c;
    c.rpm = view.rpm;
    c.scatterFrom = model.from;
    for (std::size_t k = 0; k < c.rpm.size(); ++k) {
        std::vector<double> values;
        for (const SeenRun &r : view.runs)
            values.push_back(r.torqueNm[k]);
        c.highLessLowNm.push_back(gainBy(model, values));
    }
    std::size_t above = 0;
    for (std::size_t k = 1; k < c.rpm.size(); ++k) {
        const double before = c.highLessLowNm[k - 1].mean, here = c.highLessLowNm[k].mean;
        if (!(before < 0 && here >= 0)) continue;
        ++c.crossings;
        c.crossingRpm = zeroBetween(c.rpm[k - 1], before, c.rpm[k], here);
        above = k;
    }
    if (c.crossingRpm) {
        if (c.scatterFrom != ScatterFrom::none) {
            c.highRpm = toldApart(c, above, true);
            c.lowRpm = toldApart(c, above - 1, false);
        }
        proposeSwitch(c);
    }
    sayCrossing(c);
    c.said.insert(c.said.end(), view.said.begin(), view.said.end());
    return c;
}

std::vector<Phrase> camCautions(const Job &job, const MeasuredRuns &low, const MeasuredRuns &high,
                                bool named) {
    std::vector<Phrase> out;
    const auto said = [](const auto &r) { return !r->run.cam.empty(); };
    if (!named && (!std::ranges::all_of(low, said) || !std::ranges::all_of(high, said)))
        out.push_back(MARKED("cam.said.unnamed", "Nobody says of all these runs which cam they were on."));
    std::vector<Phrase> others;
    for (const RunDifference &d : RunDifferenceFinder(job).between(low, high, {true, true}).found)
        if (!d.accounted && d.what != "cam") others.emplace_back(d.title);
    if (!others.empty())
        out.push_back(Phrase{MARKED("cam.said.not_alone", "Not the cam alone: these runs differ in {A}."),
                             {},
                             {},
                             {listed(others)}});
    return out;
}

std::vector<LambdaAtSwitch> lambdaAtSwitches(const LogReview &log) {
    const LogTrace &t = log.trace();
    std::vector<LambdaAtSwitch> out;
    if (!t.has(R::cam) || !t.has(R::lambda)) return out;
    const std::span<const double> cam = t.of(R::cam);
    double least = std::numeric_limits<double>::infinity(), most = -least;
    for (const double v : cam)
        if (std::isfinite(v)) {
            least = std::min(least, v);
            most = std::max(most, v);
        }
    if (!(most > least)) return out;
    const double middle = (least + most) / 2, share = log.study().job().conditions.ambientKpa * 0.6;
    constexpr double windowS = 0.5, laterS = 0.3;
    for (std::size_t i = 1; i < t.size(); ++i) {
        if (!t.follows(i) || !std::isfinite(cam[i]) || !std::isfinite(cam[i - 1])) continue;
        const bool up = cam[i] > middle;
        if (up == (cam[i - 1] > middle)) continue;
        if (t.has(R::map) && !(t.at(R::map, i) > share)) continue; // not under load
        const double at = t.timeS(i);
        LambdaAtSwitch s{log.info().id,
                         at,
                         t.at(R::rpm, i),
                         up,
                         meanLambda(t, at - windowS, at),
                         meanLambda(t, at + laterS, at + laterS + windowS)};
        if (std::isfinite(s.before) && std::isfinite(s.after)) out.push_back(std::move(s));
    }
    return out;
}

} // namespace wheelwright
