#include "core/flow/fuel_delivery.h"
#include "core/tables/school.h"
#include "core/verify/check.h"
#include "core/verify/limits.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

// Faults that the controller knows of fall back; one that reads a little wrong is believed.
struct Fault {
    std::string_view aspect;
    double content;
};

std::vector<Fault> faultsAt(const Job &job, double content) {
    const ContentSensing &c = job.contentSensing;
    std::vector<Fault> faults{{"reads 10 % high", std::min(1.0, content + 0.1)},
                              {"reads 10 % low", std::max(0.0, content - 0.1)}};
    if (c.onFault == SensorFaultRule::fixedContent) faults.push_back({"signal lost", c.faultContent});
    return faults; // holding the last content is right until the next fill
}

CheckOutcome run(const Evaluation &e) {
    const Job &job = e.job();
    const double lean = limitOf(job, "content.fault.lean");
    constexpr double spark = 1; // degree over what the true content gets
    const double rpm = e.rpm()[e.rpm().size() / 2];
    const std::size_t middle = e.rpm().size() / 2;
    const double load = std::max(job.conditions.ambientKpa, e.load()[e.load().size() / 2]);
    CheckOutcome out;
    for (const ContentSlice &s : e.slices()) {
        WorstFinder worst(e, s, 1);
        const BlendedPoint right = blendedPoint(job, s.content, rpm, load);
        for (const Fault &f : faultsAt(job, s.content)) {
            const BlendedPoint wrong = blendedPoint(job, f.content, rpm, load);
            // Fuel delivered for the content believed, over what the content in the tank needs.
            const double usual = job.conditions.intakeUsualC;
            const double given = InjectorDemand(job, f.content, usual).mm3(wrong.fuel, load, wrong.lambda);
            const double needed = InjectorDemand(job, s.content, usual).mm3(right.fuel, load, right.lambda);
            const double leaner = needed / given - 1;
            const double more = wrong.sparkDeg - right.sparkDeg;
            worst.consider((lean - leaner) / std::max(lean, 0.01), middle, load, leaner, lean, f.aspect);
            worst.consider((spark - more) / spark, middle, load, leaner, lean, f.aspect);
        }
        out.byContent.push_back(worst.place());
    }
    return out;
}

Explanation explain(const Evaluation &e, const WorstPlace &p) {
    const Job &job = e.job();
    Explanation x;
    x.title = "Content sensor: " + std::string(p.aspect);
    x.result = {p.value, Dimension::ratio};
    x.formula = "leaner = fuel needed for the content in the tank / fuel given for the one believed − 1";
    x.substituted = {"{0} leaner at {1}", {{p.value, Dimension::ratio}, {p.content, Dimension::content}}};
    for (const Fault &f : faultsAt(job, p.content)) {
        const BlendedPoint wrong = blendedPoint(job, f.content, p.rpm, p.loadKpa);
        const BlendedPoint right = blendedPoint(job, p.content, p.rpm, p.loadKpa);
        x.inputs.push_back({"Δα",
                            std::string(f.aspect) + ": spark",
                            {wrong.sparkDeg - right.sparkDeg, Dimension::sparkAngle},
                            "content_sensor.on_fault"});
    }
    x.inputs.push_back({"E_f",
                        "falls back to",
                        {job.contentSensing.faultContent, Dimension::content},
                        "content_sensor.fault_content"});
    x.inputs.push_back({"lim",
                        "leaner, most",
                        {limitOf(job, "content.fault.lean"), Dimension::ratio},
                        "limit:content.fault.lean"});
    x.source = "Blend of the job at both contents; limit: " + limitOrigin(job, "content.fault.lean");
    x.uncertainty = {
        "A sensor stuck at 0 or 100 % is believed for ever: compare it with a tube after every fill.", {}};
    x.change = {"Fuel that holds the last good content, spark and boost that drop to the base fuel's.", {}};
    return x;
}

} // namespace

const Check &contentSensorFaultCheck() {
    static const Check check{
        "content.sensor_fault",
        "Sensor fault",
        "Are λ and spark bearable when the content sensor fails?",
        Dimension::ratio,
        {"content.fault.lean"},
        CalibratedQuantity::fuel,
        0,
        "A full mark is no leaner and no more spark; an empty one the limit of either.",
        run,
        explain,
        [](const Job &job) { return job.contentSensing.onFault != SensorFaultRule::notStated; },
        "the job does not say what the controller does on a fault"};
    return check;
}

} // namespace wheelwright
