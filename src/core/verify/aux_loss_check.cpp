// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/limits.h"
#include "core/verify/check.h"
#include "core/verify/flow_demand.h"

#include <algorithm>

namespace wheelwright {
namespace {

// λ when the spray stops, over the λ that was meant.
double leanerBy(const Job &job, const BlendProperties &fuel, double mainLMin, double spray) {
    if (!job.aux.trimmed || spray <= 0) return 1;
    constexpr double farLeaner = 9; // the spray was to bring nearly all of the fuel
    const double trim = sprayTrim(mainLMin, fuel, spray, job.aux.spray.methanol, job.methanol);
    return trim > 1 / farLeaner ? 1 / trim : farLeaner;
}

CheckOutcome run(const Evaluation &e) {
    const Job &job = e.job();
    const double tolerance = limitOf(job, "aux.loss.tolerance");
    const double comfort = std::max(tolerance, 0.001);
    const bool caught = job.aux.failSafe != SprayFailSafe::none;
    const ByPoint spray(e, [&](double load) { return sprayFlowAt(job.aux.spray, load); });
    return judgeReachablePoints(e, comfort, [&](const ContentSlice &s) {
        const FlowDemand demand(e, s, job.conditions.intakeUsualC);
        const BlendProperties fuel = blendModelOf(job).properties(blendAt(job, s.content));
        return [&, demand, fuel](const auto &p) {
            const double lambda = p.of(s.lambda);
            const double factor = leanerBy(job, fuel, demand.lMin(p), p.of(spray));
            const double limit = lambda * (1 + tolerance);
            if (caught) return Judged{comfort, lambda * factor, limit};
            return Judged{tolerance - (factor - 1), lambda * factor, limit};
        };
    });
}

Explanation explain(const Evaluation &e, const WorstPlace &p) {
    const Job &job = e.job();
    const double spray = sprayFlowAt(job.aux.spray, p.loadKpa);
    const double meant = p.limit / (1 + limitOf(job, "aux.loss.tolerance"));
    Explanation x;
    x.title = MARKED("aux.loss.working", "Mixture when the spray stops");
    x.result = {p.value, Dimension::mixture};
    x.formula = MARKED("aux.loss.formula", "λ_lost = λ / trim,  trim = 1 − ṁ_spray AFR_M / (ṁ_air / λ)");
    x.substituted = {
        MARKED("aux.loss.numbers", "{0} meant, {1} without the {2} of spray"),
        {{meant, Dimension::mixture}, {p.value, Dimension::mixture}, {spray, Dimension::volumeFlow}}};
    x.inputs = {{"Q",
                 MARKED("aux.loss.from.spray_here", "spray here"),
                 {spray, Dimension::volumeFlow},
                 "aux.flow_cc_min"},
                {"M",
                 MARKED("aux.loss.from.methanol", "methanol in it"),
                 {job.aux.spray.methanol, Dimension::methanolContent},
                 "aux.methanol"},
                {"p",
                 MARKED("aux.loss.from.starts", "starts at"),
                 {job.aux.spray.startKpa, Dimension::pressure},
                 "aux.start_kpa"},
                {"±",
                 MARKED("aux.loss.from.leaner_allowed", "leaner allowed"),
                 {limitOf(job, "aux.loss.tolerance"), Dimension::ratio},
                 "limit:aux.loss.tolerance"}};
    x.source = {
        MARKED("aux.loss.source", "λ of two fuels: air over the sum of fuel times its AFR; tolerance: {A}"),
        {},
        {},
        {limitOrigin(job, "aux.loss.tolerance")}};
    x.uncertainty = {MARKED("aux.loss.uncertainty", "Tanks run empty, pumps and nozzles fail. Spark that "
                                                    "leaned on the spray is then too much as well."),
                     {}};
    x.change =
        job.aux.failSafe == SprayFailSafe::none
            ? Phrase{MARKED("aux.loss.change",
                            "A fail-safe: boost cut or spark taken back by a flow switch. Or tables that are "
                            "not trimmed for it."),
                     {}}
            : Phrase{MARKED("aux.loss.change.fail_safe",
                            "A fail-safe is stated; test it by shutting the spray off at low boost."),
                     {}};
    return x;
}

} // namespace

const Check &auxLossCheck() {
    static const Check check{
        "aux.loss",
        MARKED("aux.loss.title", "Spray stops"),
        MARKED("aux.loss.named", "spray stops"),
        QuestionId::mixture,
        MARKED("aux.loss.question", "Is the engine still safe when the spray stops?"),
        Dimension::mixture,
        {"aux.loss.tolerance"},
        CalibratedQuantity::lambda,
        0,
        MARKED("aux.loss.help", "A full mark is no leaner at all, or a fail-safe that is stated."),
        run,
        explain,
        {"lambda_tables"},
        true,
        [](const Job &job) {
            return job.aux.fitted && job.aux.spray.ratedFlowCcMin > 0 && job.aux.spray.methanol > 0;
        }};
    return check;
}

} // namespace wheelwright
