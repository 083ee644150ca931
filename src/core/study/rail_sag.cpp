// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/rail_sag.h"

#include "core/study/evaluation.h"
#include "core/study/fuel_delivery.h"

namespace wheelwright {

CommandedAcross commandedAcross(const Study &given, double content) {
    const Study &study = given.inPressure();
    const Job &job = study.job();
    if (job.supply.commandedKpa > 0) return {job.supply.commandedKpa, {}};
    const RailPressure rail(job);
    if (!rail.commanded()) return {};
    const Evaluation &e = study.evaluation();
    const ContentSlice s = e.sliceAt(content);
    const InjectorDemand demand(job, content, job.conditions.intakeUsualC);
    CommandedAcross out;
    double most = 0;
    for (std::size_t i = 0; i < s.reach.size(); ++i) {
        if (!s.reach[i].runs) continue;
        const EdgePoint p = e.pointAt(i, s.reach[i].highestKpa);
        const EnginePoint at{p.rpm, p.loadKpa};
        const double flow = engineFlowLMin(job, demand.mm3(p.of(s.fuel), at, p.of(s.lambda)), p.rpm);
        if (!(flow > most)) continue;
        most = flow;
        out = {rail.acrossKpa(at), OperatingPoint{content, p.rpm, p.loadKpa}};
    }
    return out;
}

} // namespace wheelwright
