// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/job.h"

#include "core/job/job_schema.h"

namespace wheelwright {
namespace {

// Where a new job's flat tables begin: common practice for a boosted pump-fuel engine at rest, to be
// replaced.
constexpr double flatVe = 80, flatSparkDeg = 10, flatLambda = 0.85;

} // namespace

double limitOf(const Job &job, std::string_view id) {
    return limitOf(job.limits, id);
}

PhraseText limitOrigin(const Job &job, std::string_view id) {
    return limitOrigin(job.limits, id);
}

BlendModel blendModelOf(const Job &job) {
    return BlendModel(job.gasoline, job.ethanol, job.methanol);
}

Blend blendAt(const Job &job, double content) {
    Blend blend;
    (job.alcohol == Alcohol::ethanol ? blend.ethanol : blend.methanol) = VolumeFraction::fraction(content);
    return blend;
}

void makeTablesFlat(Job &job) {
    const Axis rpm({500, 1000, 1500, 2000, 2500, 3000, 3500, 4000, 4500, 5000, 5500, 6000, 6500, 7000});
    const Axis load({20, 40, 60, 80, 100, 120, 140, 160, 180, 200, 220});
    const Axis throttle({0, 50, 100});
    const std::array<double, calibratedQuantityCount> start{flatVe, flatSparkDeg, job.conditions.ambientKpa,
                                                            flatLambda};
    for (CalibratedQuantity q : allQuantities) {
        const Axis &y = q == CalibratedQuantity::boost ? throttle : load;
        TwoTable &t = job.calibration.of(q);
        t.base = t.top = Table2D::uniform(rpm, y, start[static_cast<std::size_t>(q)]);
    }
    // The top fuel needs more of the same: a content-referenced table carries the fuel model's multiplier.
    TwoTable &fuel = job.calibration.of(CalibratedQuantity::fuel);
    const BlendModel blends = blendModelOf(job);
    const Blend reference = blendAt(job, job.calibration.fuelReferenceContent);
    fuel.base = Table2D::uniform(
        rpm, load, flatVe * blends.volumeMultiplier(blendAt(job, job.calibration.baseContent), reference));
    fuel.top = Table2D::uniform(
        rpm, load, flatVe * blends.volumeMultiplier(blendAt(job, job.calibration.topContent), reference));
    for (const CalibratedQuantity q : allQuantities)
        for (Table2D *t : {&job.calibration.of(q).base, &job.calibration.of(q).top})
            t->setOrigins(std::vector(t->cells().size(), CellOrigin::assumed));
}

Job newJob(std::string name) {
    Job job;
    job.name = std::move(name);
    makeTablesFlat(job);
    validate(job);
    return job;
}

} // namespace wheelwright
