// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/limits.h"
#include "core/study/mechanical_lambda.h"
#include "core/verify/check.h"

#include <algorithm>

namespace wheelwright {
namespace {

// VE, what a pump still gives and what an orifice lets through are known to about 5 % each, λ of them to
// about 7 % (root of the squares, the orifices' share between nozzles and pills): from memory. A pass does
// not say better: the exhaust of two sound engines at one λ differs by as much as that λ does.
constexpr double knownTo = 0.07;
constexpr double comfort = 0.1, doubt = 0.06; // λ inside the band; doubt: 7 % of the usual 0.8

// The same at every content: there is one fuel, and nothing reads its content.
CheckOutcome run(const Evaluation &e) {
    const Job &job = e.job();
    const double lean = limitOf(job, "mechanical.lambda.lean"), rich = limitOf(job, "mechanical.lambda.rich");
    WorstPlace worst;
    double least = 1e9;
    for (const MixturePoint &p : mixtureOverSpeed(job)) {
        const double headroom = std::min(lean - p.lambda, p.lambda - rich);
        if (headroom >= least) continue;
        least = headroom;
        const double kpa = job.mechanical.manifoldKpa.at(p.rpm), margin = headroom / comfort;
        worst = {0,
                 p.rpm,
                 kpa,
                 p.lambda,
                 p.lambda - rich < lean - p.lambda ? rich : lean,
                 std::min(margin, 1.0),
                 margin,
                 {}};
    }
    CheckOutcome out;
    for (const ContentSlice &s : e.slices()) {
        worst.content = s.content;
        out.byContent.push_back(worst);
    }
    return out;
}

Explanation explain(const Evaluation &e, const WorstPlace &p) {
    const Job &job = e.job();
    const MixturePoint x0 = mixtureOfJob(job, p.rpm);
    Explanation x;
    x.title = MARKED("mechanical.lambda.working", "Mixture over speed");
    x.result = {p.value, Dimension::mixture};
    x.formula =
        MARKED("mechanical.lambda.formula",
               "λ = air / (fuel · AFR),  fuel = nozzles · √(p − p_n),  pump flow = fuel + pills · √p");
    x.substituted = {
        MARKED("mechanical.lambda.numbers", "{0} of air, {1} of fuel: {2} of the pump's {3} at {4}"),
        {{x0.airGS, Dimension::massFlow},
         {x0.fuelGS, Dimension::massFlow},
         {x0.network.share, Dimension::ratio},
         {x0.network.pumpLMin, Dimension::flowLMin},
         {x0.network.pressureKpa, Dimension::pressureGauge}}};
    x.inputs = {{"d",
                 MARKED("mechanical.lambda.from.main_pill", "main pill"),
                 {job.mechanical.injection.main.diameterMm, Dimension::length},
                 "mechanical.main_mm"},
                {"Q_p",
                 MARKED("mechanical.lambda.from.pump", "pump"),
                 {job.mechanical.injection.pumpLMin, Dimension::flowLMin},
                 "mechanical.pump_l_min"},
                {"VE",
                 MARKED("mechanical.lambda.from.volumetric_efficiency", "volumetric efficiency"),
                 {job.mechanical.ve, Dimension::ratio},
                 "mechanical.ve"},
                {"p",
                 MARKED("mechanical.lambda.from.manifold_pressure_here", "manifold pressure here"),
                 {p.loadKpa, Dimension::pressure},
                 "mechanical.manifold_kpa"},
                {"p_n",
                 MARKED("mechanical.lambda.from.nozzles_against", "the nozzles spray against"),
                 {x0.network.backKpa, Dimension::pressureGauge},
                 "mechanical.nozzle_place"}};
    x.source = {
        MARKED("mechanical.lambda.source", "Orifice law; air: Heywood (1988) eq. 2.27; band of λ: {A}"),
        {},
        {},
        {limitOrigin(job, "mechanical.lambda.lean")}};
    x.uncertainty = {MARKED("mechanical.lambda.uncertainty",
                            "Wear of the pump, discharge coefficients and VE are known to about 5 % each: λ "
                            "to about ± {0}. Trust "
                            "exhaust temperature and plugs."),
                     {{knownTo * p.value, Dimension::mixture}}};
    x.change = {
        p.limit == limitOf(job, "mechanical.lambda.lean")
            ? MARKED("mechanical.lambda.change",
                     "A smaller main pill, or a stronger high-speed spring where only the top is lean.")
            : MARKED("mechanical.lambda.change.larger_main",
                     "A larger main pill; a high-speed bypass where only the top is rich."),
        {}};
    return x;
}

} // namespace

const Check &mechanicalLambdaCheck() {
    static const Check check{"mechanical.lambda",
                             MARKED("mechanical.lambda.title", "Mixture over speed"),
                             MARKED("mechanical.lambda.named", "mixture over speed"),
                             QuestionId::mixture,
                             MARKED("mechanical.lambda.question",
                                    "Does the pill keep the mixture inside the band from bottom to top?"),
                             Dimension::mixture,
                             {"mechanical.lambda.lean", "mechanical.lambda.rich"},
                             CalibratedQuantity::lambda,
                             doubt / comfort,
                             MARKED("mechanical.lambda.help",
                                    "A full mark is λ 0.10 or more inside the band; under 0.06 is a "
                                    "caution: the model knows λ no better."),
                             run,
                             explain,
                             {"mechanical", "nozzle_place"},
                             true,
                             nullptr,
                             true};
    return check;
}

} // namespace wheelwright
