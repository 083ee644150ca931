// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/cell_trust.h"
#include "core/verify/check.h"

#include <algorithm>
#include <cmath>
#include <optional>

namespace wheelwright {
namespace {

constexpr double nearContent = 0.05; // so near to its content a log proves: common practice

// A spark table that logs have corrected, in kPa of load.
struct ProvenTable {
    double content;
    const Table2D *table;
    std::vector<CellOrigin> origins;
};

bool isProven(const std::vector<CellOrigin> &origins) {
    return std::ranges::any_of(origins, fromLog);
}

std::vector<ProvenTable> provenTables(const Job &job) {
    const Calibration &c = job.calibration;
    std::vector<ProvenTable> proven;
    const auto consider = [&](double content, const Table2D &table) {
        if (isProven(table.origins())) proven.push_back({content, &table, table.origins()});
    };
    if (definitionOf(c.school).levels && !c.levels.empty()) {
        for (const ContentLevel &l : c.levels)
            consider(l.content, l.of(CalibratedQuantity::spark));
        return proven;
    }
    consider(c.baseContent, c.of(CalibratedQuantity::spark).base);
    consider(c.topContent, c.of(CalibratedQuantity::spark).top);
    return proven;
}

struct ProvenLoad {
    double loadKpa, sparkDeg;
};

// A step of a search that no log has run yet: what was corrected is not proven by what it was corrected from.
bool awaitsItsLog(const Job &job, double rpm, double loadKpa, double content) {
    const SparkSearch *search = searchAt(job, rpm, loadKpa, content);
    return search && search->clean == 0;
}

// The highest load that a log has been to in the table's column nearest to a speed, with the spark that it
// has.
std::optional<ProvenLoad> lastProven(const Job &job, const ProvenTable &p, double rpm) {
    const Table2D &t = *p.table;
    const std::size_t x = t.x().nearest(rpm);
    for (std::size_t y = t.y().size(); y-- > 0;)
        if (fromLog(p.origins[y * t.x().size() + x]) && !awaitsItsLog(job, t.x()[x], t.y()[y], p.content))
            return ProvenLoad{t.y()[y], t.cell(x, y)};
    return std::nullopt;
}

// The later of both: cells that a log has corrected, and places that logs have proven as they stand.
CheckOutcome runWith(const Evaluation &e, const Proof &proof) {
    const std::vector<ProvenTable> proven = provenTables(e.job());
    constexpr double comfort = 1; // degree
    return judgeReachablePoints(e, comfort, [&](const ContentSlice &s) {
        std::vector<std::optional<ProvenLoad>> last(e.rpm().size());
        for (const ProvenTable &p : proven)
            if (std::abs(p.content - s.content) <= nearContent)
                for (std::size_t i = 0; i < last.size(); ++i)
                    last[i] = lastProven(e.job(), p, e.rpm()[i]);
        for (std::size_t i = 0; i < last.size(); ++i)
            if (const auto load = proof.highestProven(s.content, e.rpm()[i]);
                load && (!last[i] || *load > last[i]->loadKpa))
                last[i] = ProvenLoad{*load, e.pointAt(i, *load).of(s.spark)};
        return [&s, last = std::move(last)](const auto &p) {
            const std::optional<ProvenLoad> &known = last[p.rpmIndex];
            if (!known || p.loadKpa <= known->loadKpa) return notAsked;
            const double spark = p.of(s.spark);
            return Judged{known->sparkDeg - spark, spark, known->sparkDeg};
        };
    });
}

CheckOutcome run(const Evaluation &e) {
    return runWith(e, {});
}

Explanation explain(const Evaluation &, const WorstPlace &p) {
    constexpr Dimension deg = Dimension::sparkAngle;
    Explanation x;
    x.title = MARKED("spark.unproven.working", "Spark where no log has been");
    x.result = {p.value, deg};
    x.formula = MARKED("spark.unproven.formula", "spark above the last proven load ≤ spark at that load");
    x.substituted = {
        MARKED("spark.unproven.numbers", "{0} against {1} at {2} and {3}"),
        {{p.value, deg}, {p.limit, deg}, {p.rpm, Dimension::engineSpeed}, {p.loadKpa, Dimension::pressure}}};
    x.inputs = {{"α",
                 MARKED("spark.unproven.from.spark_here", "spark here"),
                 {p.value, deg},
                 "calibration.spark.base"},
                {"α₀",
                 MARKED("spark.unproven.from.spark_last_proven", "spark at the last proven load"),
                 {p.limit, deg},
                 "calibration.origins"}};
    x.source = MARKED("spark.unproven.source",
                      "Common practice: cells that were never driven hold no more than the last that was");
    x.uncertainty = {MARKED("spark.unproven.uncertainty",
                            "Judged only within 5 % of a content whose spark table logs have corrected."),
                     {}};
    x.change = {MARKED("spark.unproven.change", "Spark of {0} or less here, or a clean log that proves it."),
                {{p.limit, deg}}};
    return x;
}

} // namespace

const Check &sparkUnprovenCheck() {
    static const Check check{
        "spark.unproven",
        MARKED("spark.unproven.title", "Unproven spark"),
        MARKED("spark.unproven.named", "unproven spark"),
        QuestionId::knock,
        MARKED("spark.unproven.question",
               "Does spark stay at or under the last proven load's, where no log has been?"),
        Dimension::sparkAngle,
        {},
        CalibratedQuantity::spark,
        0,
        MARKED("spark.unproven.help", "A full mark is one degree or more under the last proven load."),
        run,
        explain,
        {"proven_spark"},
        false,
        nullptr,
        false,
        runWith};
    return check;
}

} // namespace wheelwright
