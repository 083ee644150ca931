// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/random_job.h"

#include "core/job/job_schema.h"
#include "core/job/named_tables.h"
#include "core/job/revision.h"
#include "core/job/statements.h"
#include "core/tables/table_kind.h"
#include "formats/job_json.h"

#include <fstream>
#include <iterator>

namespace wheelwright::testing {
namespace {

using Random = std::mt19937;

double between(Random &r, double low, double high) {
    return std::uniform_real_distribution<>(low, high)(r);
}

Axis randomAxis(Random &r, double first, double step) {
    std::vector<double> points{first};
    const auto count = std::uniform_int_distribution<std::size_t>(2, 20)(r);
    while (points.size() < count)
        points.push_back(points.back() + between(r, 0.1, 1) * step);
    return Axis(points);
}

Table2D randomTable(Random &r, const TableField &field) {
    const bool load = field.y.key == "load_kpa";
    Axis x = randomAxis(r, between(r, 300, 900), 500);
    Axis y = randomAxis(r, between(r, 0, 20), load ? 25 : 4);
    std::vector<double> cells;
    for (std::size_t i = 0; i < x.size() * y.size(); ++i)
        cells.push_back(between(r, field.least, field.most));
    return Table2D(std::move(x), std::move(y), std::move(cells));
}

} // namespace

Job randomJob(unsigned seed) {
    Random r(seed);
    Job job = newJob("Job " + std::to_string(seed) + " λ \"quoted\"\nline");
    job.calibration.fuelMeaning = static_cast<FuelMeaning>(seed % 4);
    for (const TableField &t : allTables())
        t.of(job) = randomTable(r, tableIn(job, t.quantity, t.top));
    job.engine.displacementL = between(r, 0.1, 8);
    job.engine.cylinders = std::uniform_int_distribution<>(1, 12)(r);
    job.engine.boostLimitKpa = Curve({0, between(r, 0.1, 0.9), 1},
                                     {between(r, 150, 200), between(r, 200, 250), between(r, 250, 300)});
    job.injectors.flowCcMin = between(r, 100, 3000);
    job.injectors.boostReferenced = r() % 2;
    job.calibration.baseContent = between(r, 0, 0.4);
    job.calibration.topContent = between(r, 0.5, 1);
    job.calibration.outside = r() % 2 ? OutsideRule::hold : OutsideRule::extrapolate;
    job.calibration.of(CalibratedQuantity::spark).shape = WeightShape::straight;
    TwoTable &boost = job.calibration.of(CalibratedQuantity::boost);
    boost.shape = WeightShape::custom;
    boost.customWeight =
        Curve({job.calibration.baseContent, 0.45, job.calibration.topContent}, {0, between(r, 0, 1), 1});
    for (unsigned i = 0; i < seed % 4; ++i) {
        ShelfEntry fuel;
        fuel.name = "fuel " + std::to_string(i);
        fuel.kind = static_cast<FuelKind>(i);
        fuel.ethanol = between(r, 0, 0.5);
        fuel.methanol = between(r, 0, 0.5);
        fuel.pricePerL = between(r, 0, 3);
        fuel.canL = 5;
        fuel.leaded = i == 1;
        fuel.supplier = "corner, \"north\"";
        fuel.opened = "2001-02-03";
        fuel.hydrocarbon = i == 2 ? "race" : "";
        job.shelf.push_back(fuel);
        job.hydrocarbons.resize(1);
        job.hydrocarbons[0].name = "race";
        job.hydrocarbons[0].researchOctane = between(r, 100, 120);
        FuelLot lot;
        lot.label = "lot " + std::to_string(i);
        lot.fuel = fuel.name;
        lot.leftL = between(r, 0, 50);
        job.lots.push_back(lot);
        TubeRecord tube;
        tube.of = lot.label;
        tube.layerTop = between(r, 51, 99);
        job.tubes.push_back(tube);
        job.mixtures.push_back({"mix " + std::to_string(i), fuel.name, fuel.name, between(r, 0, 1)});
        const TankEventKind kinds[]{TankEventKind::pour, TankEventKind::burn, TankEventKind::sensor};
        for (TankEventKind kind : kinds) {
            TankEvent event;
            event.at = "2001-02-03T04:05:06Z";
            event.kind = kind;
            event.litres = kind == TankEventKind::pour ? between(r, 1, 5) : between(r, 0, 1);
            event.ethanol = between(r, 0, 1);
            event.contentSigma = between(r, 0, 0.1);
            event.note = "λ";
            job.tankEvents.push_back(event);
        }
    }
    if (seed % 2) {
        for (const double content : {0.2, 0.7}) {
            ContentLevel level{content, content - 0.1, content + 0.1, {}};
            for (CalibratedQuantity q : allQuantities)
                level.of(q) = randomTable(r, tableIn(job, q, false));
            job.calibration.levels.push_back(level);
        }
        job.calibration.school = seed % 3 ? School::stack : School::windowSet;
        job.extras = {newExtraTable(TableKind::cranking, "Cranking"),
                      newExtraTable(TableKind::sparkIntake, "Air")};
        Revision first{.name = "first", .at = "2001-02-03T04:05:06Z", .note = "two\nlines", .sent = true};
        first.released = "2001-02-04";
        job.revisions.push_back(std::move(first));
        job.revisions.back().state = stateOf(job);
        job.cellMarks.push_back({"calibration.spark.base", 3000, 120, true, "note"});
    }
    job.limits["flow.duty.stop"] = between(r, 0.9, 1);
    stateWhatDiffers(job);
    if (seed % 2) estimate(job, "engine.boost_limit_kpa");
    validate(job);
    return job;
}

Job demoJob() {
    std::ifstream in(DEMO_JOB);
    Job job = jobFromJson(std::string((std::istreambuf_iterator<char>(in)), {}));
    job.revisions = {};
    return job;
}

Job flatJob() {
    Job job = newJob("flat");
    for (const bool top : {false, true})
        for (CalibratedQuantity q : allQuantities) {
            const TableField &field = tableOf(q, top);
            Table2D &t = field.of(job);
            const double value = q == CalibratedQuantity::spark   ? 15
                                 : q == CalibratedQuantity::boost ? 150
                                                                  : 0.78;
            if (q != CalibratedQuantity::fuel) t = Table2D::uniform(t.x(), t.y(), value);
        }
    job.injectors.flowCcMin = 1500;
    stateAll(job);
    validate(job);
    return job;
}

void stateEverything(Job &job) {
    for (const Field &f : allFields())
        state(job, f.path);
    for (const CurveField &c : allCurves())
        state(job, c.path);
}

void stateAll(Job &job) {
    stateEverything(job);
    for (const NamedTable &t : namedTables(job))
        namedTable(job, t.path)->setOrigins({});
}

} // namespace wheelwright::testing
