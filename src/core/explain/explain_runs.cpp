// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/explain/explain_runs.h"

#include "core/runs/run_curve.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>

namespace wheelwright {
namespace {

using D = Dimension;

Measured kilowattsOf(double kw, int decimals = 1) {
    return {kw, D::power, decimals};
}
Measured plainOf(double v, int decimals = 3) {
    return {v, D::none, decimals};
}
Measured runsOf(std::size_t n) {
    return {static_cast<double>(n), D::count};
}

constexpr PhraseText regression =
    MARKED("source.run_gain", "Regression on the set, the order and the start temperature: Björck (1996), "
                              "section 2.4; 95 % by Student's t: Abramowitz and Stegun (1964), eq. 26.7.1");

constexpr PhraseText moreRuns =
    MARKED("working.runs.change", "More runs of the same everything, turn and turn about.");

Phrase half95(Measured half) {
    return {MARKED("working.runs.half", "± {0} (95 %)."), {half}};
}

} // namespace

Explanation explainScatter(const RunScatter &s, std::size_t sets) {
    Explanation x;
    x.title = MARKED("working.scatter.title", "Scatter of one run");
    x.result = kilowattsOf(s.sigma, 2);
    x.formula = MARKED("working.scatter.formula",
                       "σ = √(Σ residual² / degrees of freedom), about the mean of each set and a drift");
    x.substituted = {MARKED("working.scatter.numbers", "√({0} / {1})"),
                     {plainOf(s.sigma * s.sigma * s.freedom, 2), plainOf(s.freedom, 0)}};
    x.inputs = {
        {"n", MARKED("working.scatter.from.sets", "sets of the same everything"), runsOf(sets), ""},
        {"f", MARKED("working.scatter.from.freedom", "degrees of freedom"), plainOf(s.freedom, 0), ""}};
    if (s.perRun)
        x.inputs.push_back({"d", MARKED("working.scatter.from.drift", "drift from run to run"),
                            kilowattsOf(*s.perRun, 2), ""});
    x.source = regression;
    x.uncertainty = {MARKED("working.scatter.uncertainty",
                            "Itself known to about {0}: one part in √(2 · degrees of freedom)."),
                     {{1 / std::sqrt(2 * s.freedom), D::ratio, 0}}};
    x.change = moreRuns;
    return x;
}

Explanation explainRunsToSee(double gainKw, int runs, const RunScatter &s) {
    Explanation x;
    x.title = MARKED("working.runs_to_see.title", "Runs of each kind");
    x.result = {static_cast<double>(runs), D::count};
    const bool drift = s.perRun.has_value();
    const GainSight enough = gainSight(gainKw, s.sigma, runs, drift);
    x.formula = drift
                    ? MARKED("working.runs_to_see.formula_drift",
                             "the fewest n with power of the t-test ≥ 80 % at 95 %: gain / (σ · √(2 / n)) · "
                             "√(1 − 3 / (4 n² − 1)), the last for the drift")
                    : MARKED("working.runs_to_see.formula",
                             "the fewest n with power of the t-test ≥ 80 % at 95 %: gain / (σ · √(2 / n))");
    x.substituted = {
        drift ? MARKED("working.runs_to_see.numbers_drift",
                       "{0} / ({1} · √(2 / {2})) · √(1 − 3 / (4 · {2}² − 1)) = {3}: seen in {4} of tries")
              : MARKED("working.runs_to_see.numbers", "{0} / ({1} · √(2 / {2})) = {3}: seen in {4} of tries"),
        {kilowattsOf(gainKw, 2),
         kilowattsOf(s.sigma, 2),
         plainOf(runs, 0),
         plainOf(enough.standardErrors, 2),
         {enough.power, D::ratio}}};
    x.inputs = {
        {"g", MARKED("working.runs_to_see.from.gain", "gain to be seen"), kilowattsOf(gainKw, 2), ""},
        {"σ", MARKED("working.runs_to_see.from.sigma", "scatter of one run"), kilowattsOf(s.sigma, 2), ""}};
    if (runs > 2)
        x.inputs.push_back({"",
                            MARKED("working.runs_to_see.from.one_less", "seen with one run less of each"),
                            {gainSight(gainKw, s.sigma, runs - 1, drift).power, D::ratio},
                            ""});
    x.source = MARKED("working.runs_to_see.source",
                      "Noncentral t: Johnson, Kotz and Balakrishnan (1995), section 31.1");
    x.uncertainty = MARKED("working.runs_to_see.uncertainty",
                           "For runs made turn and turn about; the scatter itself is known from few runs.");
    x.change = MARKED("working.runs_to_see.change",
                      "Less scatter: the same start temperature, the same gear, the same pause.");
    return x;
}

Explanation explainContentRung(const ContentRung &r, const ContentLadder &l) {
    Explanation x;
    x.title = MARKED("working.content_rung.title", "Average power at a content");
    x.result = kilowattsOf(r.meanKw);
    x.formula = MARKED("working.content_rung.formula",
                       "mean over the speeds that all runs have, and over the runs; the drift taken out");
    x.substituted = {MARKED("working.content_rung.numbers", "{0} of {1} runs at {2}"),
                     {kilowattsOf(r.meanKw), runsOf(r.runs.size()), {r.content, D::content}}};
    for (const std::string &id : r.runs)
        x.inputs.push_back({id, MARKED("working.content_rung.from.run", "run"), {r.content, D::content}, ""});
    x.source = regression;
    x.uncertainty =
        std::isfinite(r.halfKw) && r.halfKw > 0
            ? Phrase{MARKED("working.content_rung.uncertainty", "± {0} (95 %) against the first rung; "
                                                                "one run scatters by {1}."),
                     {kilowattsOf(r.halfKw), kilowattsOf(l.scatterKw, 2)}}
            : Phrase(MARKED("working.content_rung.against", "The others are held against it."));
    x.change = moreRuns;
    return x;
}

Explanation explainContentStep(const ContentRung &r, const ContentLadder &l) {
    Explanation x;
    const auto at = std::ranges::find(l.rungs, r.content, &ContentRung::content);
    const double above = at != l.rungs.end() && at + 1 != l.rungs.end()
                             ? (at + 1)->content
                             : std::numeric_limits<double>::quiet_NaN();
    x.title = MARKED("working.content_step.title", "Step to the next content");
    x.result = kilowattsOf(r.next.mean);
    x.formula =
        MARKED("working.content_step.formula", "power of the rung above − power here, the drift taken out");
    x.substituted = {MARKED("working.content_step.numbers", "{0} for {1}: {2} for each per cent"),
                     {kilowattsOf(r.next.mean),
                      {above - r.content, D::contentDifference},
                      kilowattsOf(r.perPercentKw, 2)}};
    x.inputs = {{"E", MARKED("working.content_step.from.here", "here"), {r.content, D::content}, ""},
                {"E'", MARKED("working.content_step.from.above", "the rung above"), {above, D::content}, ""},
                {"σ", MARKED("working.runs_to_see.from.sigma", "scatter of one run"),
                 kilowattsOf(l.scatterKw, 2), ""}};
    x.source = regression;
    x.uncertainty =
        r.next.judged()
            ? half95(kilowattsOf(r.next.halfWidth()))
            : Phrase(MARKED("working.content_step.not_judged", "Not judged: nobody knows the scatter."));
    x.change = moreRuns;
    return x;
}

Explanation explainCrossing(const CamCrossing &c) {
    Explanation x;
    x.title = MARKED("working.crossing.title", "Where the cams cross");
    x.result = {c.crossingRpm.value_or(std::numeric_limits<double>::quiet_NaN()), D::engineSpeed};
    x.formula = MARKED("working.crossing.formula",
                       "speed at which the high cam's torque less the low cam's goes from minus to plus");
    x.substituted = c.upRpm && c.downRpm
                        ? Phrase{MARKED("working.crossing.numbers", "up at {0}, down at {1}"),
                                 {{*c.upRpm, D::engineSpeed}, {*c.downRpm, D::engineSpeed}}}
                        : Phrase{MARKED("working.crossing.none", "crossings between the curves: {0}"),
                                 {runsOf(c.crossings)}};
    x.inputs = {
        {"n", MARKED("working.crossing.from.speeds", "speeds that both ran"), runsOf(c.rpm.size()), ""}};
    x.source =
        MARKED("working.crossing.source",
               "Mean curves and their 95 % by Student's t; hysteresis of 50 to 250 rpm: common practice");
    x.uncertainty =
        c.lowRpm && c.highRpm
            ? Phrase{MARKED("working.crossing.uncertainty",
                            "Between {0} and {1} nobody can tell them apart (95 %)."),
                     {{*c.lowRpm, D::engineSpeed}, {*c.highRpm, D::engineSpeed}}}
            : Phrase(MARKED("working.crossing.not_known",
                            "Not known: no scatter, or it goes on to the end of what was measured."));
    x.change = MARKED("working.crossing.change",
                      "More runs of both cams, turn and turn about, with the same fuel and spark.");
    return x;
}

Explanation explainBoostShape(const BoostShape &s, BoostNumber which) {
    Explanation x;
    const D step = D::pressureDifference;
    x.inputs = {
        {"n",
         MARKED("working.boost_shape.from.reached", "boost is there at"),
         {s.reachedRpm, D::engineSpeed},
         ""},
        {"p", MARKED("working.boost_shape.from.held", "what it holds"), {s.heldKpa, D::pressure}, ""}};
    x.source = MARKED("working.boost_shape.source", "Common practice; a straight line by least squares");
    x.uncertainty =
        MARKED("working.boost_shape.uncertainty", "One run of one day: air, gear and load move it.");
    x.change = MARKED("working.boost_shape.change", "The boost control, or a leak; another run tells.");
    switch (which) {
    case BoostNumber::reached:
        x.title = MARKED("working.boost_shape.reached", "Boost is there");
        x.result = {s.reachedRpm, D::engineSpeed};
        x.formula = MARKED("working.boost_shape.reached.formula",
                           "first speed at four fifths of the way from the air around to what it holds");
        x.substituted = {MARKED("working.boost_shape.reached.numbers", "{0} on the way to {1}"),
                         {{s.reachedRpm, D::engineSpeed}, {s.heldKpa, D::pressure}}};
        break;
    case BoostNumber::held:
        x.title = MARKED("working.boost_shape.held", "Boost that it holds");
        x.result = {s.heldKpa, D::pressure};
        x.formula = MARKED("working.boost_shape.held.formula", "median from there to the end of the run");
        x.substituted = {MARKED("working.boost_shape.held.numbers", "{0} from {1} on"),
                         {{s.heldKpa, D::pressure}, {s.reachedRpm, D::engineSpeed}}};
        break;
    case BoostNumber::spike:
        x.title = MARKED("working.boost_shape.spike", "Spike");
        x.result = {s.spikeKpa, step};
        x.formula = MARKED("working.boost_shape.spike.formula",
                           "most in the first fifth of the speeds after it is there − what it holds");
        x.substituted = {MARKED("working.boost_shape.spike.numbers", "{0} − {1}"),
                         {{s.heldKpa + s.spikeKpa, D::pressure}, {s.heldKpa, D::pressure}}};
        x.inputs.push_back({"",
                            MARKED("working.rung.from.overshoot", "overshoot"),
                            {s.spikeKpa, step},
                            "limit:boost.overshoot"});
        break;
    case BoostNumber::drift:
        x.title = MARKED("working.boost_shape.drift", "Creep or sag to the end");
        x.result = {s.driftKpa, step};
        x.formula = MARKED("working.boost_shape.drift.formula",
                           "slope of a line behind that fifth · the speeds to the end");
        x.substituted = {MARKED("working.boost_shape.drift.numbers", "{0} ± {1}"),
                         {{s.driftKpa, step}, {s.driftErrorKpa, step}}};
        x.uncertainty = {
            MARKED("working.boost_shape.drift.uncertainty", "± {0} (standard error of the line)."),
            {{s.driftErrorKpa, step}}};
        break;
    }
    return x;
}

Explanation explainDyno(const DynoFactor &f) {
    Explanation x;
    x.title = MARKED("working.dyno.title", "One dyno against another");
    x.result = plainOf(f.factor);
    x.formula = MARKED("working.dyno.formula",
                       "exp(mean of ln(power here / power there) over the sets that ran on both)");
    x.substituted = {MARKED("working.dyno.numbers", "{0} from {1} sets, {2} runs"),
                     {plainOf(f.factor), runsOf(f.shared), runsOf(f.runs)}};
    x.inputs = {{"n", MARKED("working.dyno.from.sets", "sets that ran on both"), runsOf(f.shared), ""}};
    x.source = MARKED("working.dyno.source", "Regression of the logarithm of average power on set and dyno: "
                                             "Draper and Smith (1998), section 3.1; 95 % by Student's t");
    x.uncertainty = std::isfinite(f.half)
                        ? half95(plainOf(f.half))
                        : Phrase(MARKED("working.dyno.not_judged", "Not judged: each set ran once on each."));
    x.change = MARKED("working.dyno.change", "The same set of the same everything, again on both.");
    return x;
}

Explanation explainPeak(const MeasuredRun &r) {
    const RunPeak peak = peakOf(r.curve.rpm, r.curve.powerKw);
    Explanation x;
    x.title = MARKED("working.peak.title", "Peak of the run");
    x.result = kilowattsOf(peak.value);
    x.formula = MARKED("working.peak.formula",
                       "most power over the speeds of the run; P = M · n · 2π / 60 000, M in N·m, P in kW");
    constexpr double perKilowatt = 60000 / (2 * std::numbers::pi);
    x.substituted = {
        MARKED("working.peak.numbers", "{0} · {1} · 2π / 60 000"),
        {{peak.rpm > 0 ? peak.value * perKilowatt / peak.rpm : 0, D::torque, 1}, {peak.rpm, D::engineSpeed}}};
    x.inputs = {{"n", MARKED("working.peak.from.speed", "there"), {peak.rpm, D::engineSpeed}, ""},
                {"", MARKED("working.peak.from.rows", "rows of the run"), {r.run.rows, D::count}, ""}};
    x.source = MARKED("working.peak.source",
                      "As measured: SI units of power; corrections stand with the run's details");
    x.uncertainty =
        r.run.knownWithin > 0
            ? half95(kilowattsOf(peak.value * r.run.knownWithin))
            : Phrase(MARKED("working.peak.uncertainty", "What one run is worth stands under Scatter."));
    x.change = MARKED("working.peak.change", "Another smoothing, or another run.");
    return x;
}

} // namespace wheelwright
