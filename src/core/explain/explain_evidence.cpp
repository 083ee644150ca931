// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/explain/explain_evidence.h"

#include <cmath>

namespace wheelwright {
namespace {

using D = Dimension;

Measured countedOf(double n) {
    return {n, D::count};
}
Measured sparkOf(double deg) {
    return {deg, D::sparkAngle};
}
Measured stepKpa(double kpa) {
    return {kpa, D::pressureDifference};
}

ExplanationInput limitInput(const Limits &limits, std::string_view id) {
    const LimitDefinition &limit = limitById(id);
    return {"", limit.title, {limitOf(limits, id), limit.dimension, allDecimals}, "limit:" + std::string(id)};
}

} // namespace

Explanation explainTaker(const SparkTaker &t, const SparkMeans &all) {
    Explanation x;
    x.title = {MARKED("working.taker.title", "{A}: spark that it took"), {}, {}, {t.title}};
    x.result = sparkOf(t.meanDeg);
    x.formula =
        MARKED("working.taker.formula",
               "mean of it over the samples under load: what the job's tables take at that temperature, "
               "what the log says of knock, and what is left over of asked − delivered");
    x.substituted = {
        MARKED("working.taker.numbers", "{0} of {1}, asked {2}, delivered {3}; at most {4} at {5}"),
        {sparkOf(t.meanDeg),
         sparkOf(all.deliveredDeg - all.askedDeg),
         sparkOf(all.askedDeg),
         sparkOf(all.deliveredDeg),
         sparkOf(t.mostDeg),
         {t.mostAtS, D::seconds, 1}}};
    x.inputs = {{"n", MARKED("working.taker.from.samples", "samples under load"),
                 countedOf(static_cast<double>(all.samples)), ""}};
    x.inputs.push_back({"",
                        MARKED("working.taker.from.share", "of the time it took or gave more than 0.25°"),
                        {t.share, D::ratio},
                        ""});
    if (!t.link.empty()) x.inputs.push_back({"", t.title, sparkOf(t.meanDeg), t.link});
    x.source = MARKED("working.taker.source",
                      "The log's own channels against the job's corrections; common practice");
    x.uncertainty =
        MARKED("working.taker.uncertainty",
               "As good as the tables that the log ran with: what they do not say stands as unknown.");
    x.change =
        MARKED("working.taker.change", "Its table or its temperature; of knock another fuel or less spark.");
    return x;
}

Explanation explainMove(const FuelMove &m) {
    Explanation x;
    const auto of = [&](double v) { return Measured{v, m.dimension}; };
    x.title = {MARKED("working.move.title", "{A}: measured less expected"), {}, {}, {m.title}};
    x.result = of(m.residual);
    x.formula = MARKED("working.move.formula", "mean over the places of (what moved − what the tables say)");
    x.substituted = {MARKED("working.move.numbers", "{0} − {1} = {2}"),
                     {of(m.measured), of(m.expected), of(m.residual)}};
    x.inputs = {{"n", MARKED("working.move.from.places", "places that both logs have been in"),
                 countedOf(m.places), ""},
                {"", MARKED("working.move.from.tolerance", "tolerance"), of(m.tolerance), ""}};
    x.source =
        MARKED("working.move.source",
               "95 % by Student's t: Abramowitz and Stegun (1964), eq. 26.7.1; tolerances: common practice");
    x.uncertainty = {MARKED("working.runs.half", "± {0} (95 %)."), {of(m.around())}};
    x.change = MARKED("working.move.change", "Longer logs at both contents, in the same cells.");
    return x;
}

Explanation explainPull(const PullBoost &p) {
    Explanation x;
    x.title = MARKED("working.pull.title", "Boost that the pull held");
    x.result = {p.heldKpa, D::pressure};
    x.formula =
        MARKED("working.pull.formula",
               "mean from half a second after nine tenths of the target; spike: most over the target in "
               "the first second; drift: slope of a line · its time; wave: amplitude about that line");
    x.substituted = {MARKED("working.pull.numbers", "held {0}; spike {1}, drift {2} ± {3}, wave {4}"),
                     {{p.heldKpa, D::pressure},
                      stepKpa(p.overshootKpa),
                      stepKpa(p.driftKpa),
                      stepKpa(2 * p.driftSigmaKpa),
                      stepKpa(p.waveKpa)}};
    x.inputs = {
        {"n", MARKED("working.pull.from.reached", "boost is there at"), {p.reachedRpm, D::engineSpeed}, ""}};
    if (std::isfinite(p.targetKpa))
        x.inputs.push_back({"p*",
                            MARKED("working.pull.from.target", "its target"),
                            {p.targetKpa, D::pressure},
                            "calibration.boost.base"});
    if (std::isfinite(p.duty))
        x.inputs.push_back(
            {"d", MARKED("working.pull.from.duty", "duty of the solenoid"), {p.duty, D::ratio}, ""});
    if (std::isfinite(p.content))
        x.inputs.push_back(
            {"E", MARKED("working.pull.from.content", "content"), {p.content, D::content}, ""});
    x.source = MARKED("working.boost_shape.source", "Common practice; a straight line by least squares");
    x.uncertainty = {MARKED("working.pull.uncertainty", "Drift ± {0} (two standard errors of the line)."),
                     {stepKpa(2 * p.driftSigmaKpa)}};
    x.change = MARKED("working.boost_shape.change", "The boost control, or a leak; another run tells.");
    return x;
}

Explanation explainProposedCell(const ProposedMap &map, const ProposedCell &c) {
    Explanation x;
    x.title = {MARKED("working.proposed.title", "{A}: this cell"), {}, {}, {definitionOf(map.kind).title}};
    x.result = {c.change, map.dimension};
    switch (map.kind) {
    case ProposalKind::fuel:
    case ProposalKind::joint:
        x.formula = MARKED(
            "working.proposed.fuel",
            "needed / given = λ / λ_target · (1 + trim); a part of it is taken, no more than the clamp");
        x.source = MARKED("working.proposed.fuel.source",
                          "Heywood (1988), section 3.4; damping and clamp: common practice");
        break;
    case ProposalKind::spark:
        x.formula = MARKED("working.proposed.spark",
                           "knock takes a step and the margin; clean times give a step back");
        x.source = MARKED("working.proposed.spark.source", "Common practice; docs/sources.md");
        break;
    case ProposalKind::sweep:
        x.formula = MARKED("working.proposed.sweep",
                           "the least spark that has 99.5 % of the most power, by a parabola");
        x.source = MARKED("working.proposed.sweep.source",
                          "Fieller (1954), J. R. Stat. Soc. B 16, 175; Heywood (1988), section 9.1");
        break;
    case ProposalKind::ceilings:
        x.formula =
            MARKED("working.proposed.ceilings",
                   "the spark at which knock begins, by the model's distance to it and what logs heard");
        x.source = MARKED("working.proposed.ceilings.source",
                          "Rasmussen and Williams (2006), sections 2.2 and 3.4; priors from memory");
        break;
    }
    std::vector<Phrase> said(c.said.begin(), c.said.end());
    said.insert(said.begin(), Phrase(inWords(c.state)));
    x.substituted = listed(said);
    x.inputs = {
        {"n", MARKED("working.proposed.from.speed", "engine speed"), {c.rpm, D::engineSpeed}, ""},
        {"p", MARKED("working.proposed.from.load", "manifold pressure"), {c.loadKpa, D::pressure}, ""},
        {"", MARKED("working.proposed.from.samples", "samples"), countedOf(c.hits), ""}};
    if (std::isfinite(c.errorNow))
        x.inputs.push_back(
            {"", MARKED("working.proposed.from.now", "λ over its target now"), {c.errorNow, D::ratio}, ""});
    if (std::isfinite(c.errorThen))
        x.inputs.push_back(
            {"", MARKED("working.proposed.from.then", "and then"), {c.errorThen, D::ratio}, ""});
    x.uncertainty =
        std::isfinite(c.plusMinus)
            ? Phrase{MARKED("working.runs.half", "± {0} (95 %)."),
                     {{c.plusMinus, differenceOf(map.dimension)}}}
            : Phrase(MARKED("working.proposed.not_known", "Nobody knows its ±: too few samples."));
    x.change =
        MARKED("working.proposed.change", "Clean samples in this cell, or other thresholds under Cleaning.");
    return x;
}

Explanation explainCoverage(const Limits &limits, double revLimitRpm, CoverageNumber which, double from,
                            double to, std::size_t cells) {
    Explanation x;
    x.result = countedOf(static_cast<double>(cells));
    x.inputs = {{"", MARKED("working.coverage.from.least", "contents from"), {from, D::content}, ""},
                {"", MARKED("working.coverage.from.most", "to"), {to, D::content}, ""}};
    x.substituted = {MARKED("working.coverage.numbers", "{0} between {1} and {2}"),
                     {countedOf(static_cast<double>(cells)), {from, D::content}, {to, D::content}}};
    x.source =
        MARKED("working.coverage.source", "Samples counted by bilinear weights; limits: common practice");
    x.uncertainty =
        MARKED("working.coverage.uncertainty", "Counted: exact. What a log has not seen it does not prove.");
    x.change = MARKED("working.coverage.change", "A log in those cells at such a content.");
    switch (which) {
    case CoverageNumber::seen:
        x.title = MARKED("working.coverage.seen", "Cells that logs have seen");
        x.formula =
            MARKED("working.coverage.seen.formula",
                   "samples of a running engine with fuel on ≥ the least, among the cells that it reaches");
        x.inputs.push_back(limitInput(limits, "evidence.least_hits"));
        break;
    case CoverageNumber::proven:
        x.title = MARKED("working.coverage.proven", "Cells that logs prove");
        x.formula =
            MARKED("working.coverage.proven.formula", "clean samples of the calibration as it is now ≥ the "
                                                      "least, λ within its limit, knock within its own");
        for (const char *id : {"evidence.least_hits", "watch.lean", "watch.knock"})
            x.inputs.push_back(limitInput(limits, id));
        break;
    case CoverageNumber::reachable:
        x.title = MARKED("working.coverage.reachable", "Cells that the engine reaches");
        x.formula =
            MARKED("working.coverage.reachable.formula",
                   "loads up to the boost target with its overshoot, at every speed up to the rev limit");
        x.inputs.push_back({"n",
                            MARKED("working.coverage.from.rev_limit", "rev limit"),
                            {revLimitRpm, D::engineSpeed},
                            "engine.rev_limit_rpm"});
        break;
    }
    return x;
}

Explanation explainDelay(const DelayAtFlow &d, const LambdaDelay &all) {
    Explanation x;
    const auto ms = [](double v) { return Measured{v, D::duration, 0}; };
    x.title = MARKED("working.delay.title", "How late λ comes");
    x.result = ms(d.delayMs);
    x.formula = MARKED("working.delay.formula", "delay = a + b / air flow, fitted to all steps of fuel");
    x.substituted =
        all.curve
            ? Phrase{MARKED("working.delay.numbers", "{0} + {1} / {2}"),
                     {ms(all.curve->atOnceMs), ms(all.curve->gramsMs), {d.airGS, D::massFlow, 0}}}
            : Phrase{MARKED("working.delay.alone", "{0} at {1}"), {ms(d.delayMs), {d.airGS, D::massFlow, 0}}};
    x.inputs = {{"n", MARKED("working.delay.from.steps", "steps of fuel and λ"), countedOf(d.steps), ""},
                {"τ", MARKED("working.delay.from.lag", "lag of the sensor itself"), ms(all.lagMs), ""}};
    x.source = MARKED("working.delay.source",
                      "Least squares over a grid of delay and lag; transport ∝ 1 / flow: common practice");
    x.uncertainty = {MARKED("working.delay.uncertainty", "± {0} (standard error of the curve here)."),
                     {ms(d.sigmaMs)}};
    x.change = MARKED("working.delay.change", "More cuts of fuel on the overrun, at several speeds.");
    return x;
}

} // namespace wheelwright
