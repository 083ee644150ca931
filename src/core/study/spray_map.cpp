// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/spray_map.h"

#include "core/study/engine_map.h"

#include <algorithm>
#include <limits>

namespace wheelwright {

std::vector<SprayCell> sprayMap(const Study &study, double content) {
    const Job &job = study.job();
    const Table2D spark = study.inPressure().blended(CalibratedQuantity::spark, content);
    const InjectorDemand demand(job, content, job.conditions.intakeUsualC);
    const BlendProperties main = study.fuelAt(content);
    std::vector<SprayCell> cells;
    const EngineMap map =
        mapOverFuelTable(study, content, [&](double rpm, double load, double fuel, double lambda) {
            SprayCell c;
            c.rpm = rpm;
            c.loadKpa = load;
            c.sprayCcMin = sprayFlowAt(job.aux.spray, load);
            c.lambdaMeant = lambda;
            c.sparkDeg = spark.lookup(rpm, load).value;
            const double mainLMin = engineFlowLMin(job, demand.mm3(fuel, {rpm, load}, lambda), rpm);
            c.trim = sprayTrim(mainLMin, main, c.sprayCcMin, job.aux.spray.methanol, job.methanol);
            c.lambdaIfLost = c.trim > 0 ? lambda / c.trim : std::numeric_limits<double>::infinity();
            const double trimmed = mainLMin * std::max(0.0, c.trim);
            const double methanolLMin = c.sprayCcMin * 1e-3 * job.aux.spray.methanol;
            c.alcoholWith = trimmed + methanolLMin > 0
                                ? (trimmed * content + methanolLMin) / (trimmed + methanolLMin)
                                : content;
            cells.push_back(c);
            return c.trim;
        });
    for (std::size_t i = 0; i < cells.size(); ++i)
        cells[i].reached = map.reached[i];
    return cells;
}

double sparkOnSpray(const Study &study, double content, const SprayCell &cell) {
    const auto at = [&](double c) { return blendedPoint(study, {c, cell.rpm, cell.loadKpa}).sparkDeg; };
    return at(std::clamp(cell.alcoholWith, 0.0, 1.0)) - at(content);
}

} // namespace wheelwright
