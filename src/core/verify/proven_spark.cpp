// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/verify/proven_spark.h"

#include "core/study/cell_trust.h"
#include "core/study/school.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

constexpr double nearContent = 0.05; // so near to its content a log proves: common practice

// A spark table that logs have corrected, in kPa of load.
struct ProvenTable {
    double content;
    const Table2D *table;
};

std::vector<ProvenTable> provenTables(const Job &job) {
    const Calibration &c = job.calibration;
    std::vector<ProvenTable> proven;
    const auto consider = [&](double content, const Table2D &table) {
        if (std::ranges::any_of(table.origins(), fromLog)) proven.push_back({content, &table});
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

// A step of a search that no log has run yet: what was corrected is not proven by what it was corrected from.
bool awaitsItsLog(const Job &job, double rpm, double loadKpa, double content) {
    const SparkSearch *search = searchAt(job, rpm, loadKpa, content);
    return search && search->clean == 0;
}

// The highest load that a log has been to in the table's column nearest to a speed.
std::optional<ProvenLoad> lastProven(const Job &job, const ProvenTable &p, double rpm) {
    const Table2D &t = *p.table;
    const std::size_t x = t.x().nearest(rpm);
    for (std::size_t y = t.y().size(); y-- > 0;)
        if (fromLog(t.origin({x, y})) && !awaitsItsLog(job, t.x()[x], t.y()[y], p.content))
            return ProvenLoad{t.y()[y], t.cell(x, y)};
    return std::nullopt;
}

} // namespace

std::vector<std::optional<ProvenLoad>> provenLoads(const Evaluation &e, const Proof &proof,
                                                   const ContentSlice &s) {
    std::vector<std::optional<ProvenLoad>> last(e.rpm().size());
    const auto keepLater = [&last](std::size_t i, std::optional<ProvenLoad> known) {
        if (known && (!last[i] || known->loadKpa > last[i]->loadKpa)) last[i] = known;
    };
    for (const ProvenTable &p : provenTables(e.job()))
        if (std::abs(p.content - s.content) <= nearContent)
            for (std::size_t i = 0; i < last.size(); ++i)
                keepLater(i, lastProven(e.job(), p, e.rpm()[i]));
    for (std::size_t i = 0; i < last.size(); ++i)
        if (const auto load = proof.highestProven(s.content, e.rpm()[i]))
            keepLater(i, ProvenLoad{*load, e.pointAt(i, *load).of(s.spark)});
    return last;
}

bool anySparkFromLog(const Job &job) {
    return std::ranges::any_of(tablesOf(job, CalibratedQuantity::spark),
                               [](const Table2D *t) { return std::ranges::any_of(t->origins(), fromLog); });
}

} // namespace wheelwright
