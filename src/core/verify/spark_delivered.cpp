// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/verify/spark_delivered.h"

#include "core/base/limits.h"
#include "core/study/extra_tables.h"
#include "core/study/spark_budget.h"

namespace wheelwright {
namespace {

constexpr double alwaysAskedKpa = 100;

// What all corrections but the one by intake air add: the same at every point. The fallback share goes by
// what is asked, and is none of these.
double evenlyAtBest(const Evaluation &e) {
    const SparkBudget b =
        sparkBudget(e.study(), {e.job().calibration.baseContent, e.rpm().front(), e.load().front()});
    double sum = 0;
    for (const BudgetStep &s : b.steps)
        if (s.id != "base" && s.id != "content" && s.id != "intake_air" && s.id != "fallback")
            sum += s.bestDeg;
    return sum;
}

ByPoint correctionsAtBest(const Evaluation &e) {
    return {e, [air = IntakeAirAtBest(e.job()), even = evenlyAtBest(e)](double load) {
                return even + air.at(load);
            }};
}

} // namespace

BestDelivered::BestDelivered(const Evaluation &e)
    : m_corrections(correctionsAtBest(e)), m_fallback(e.rpm().size() * e.load().size()) {
    if (const ExtraTable *fallback = extraInUse(e.job(), TableKind::sparkFallback)) {
        m_fallback = e.sampled(fallback->table);
        m_fallbackLeast =
            1 - std::max(e.job().sparkDelivery.fallbackUsual, e.job().sparkDelivery.fallbackWorst);
    }
}

SparkCeilings::SparkCeilings(const Evaluation &e)
    : m_tables(e, TableKind::sparkCeiling), m_margin(limitOf(e.job(), "spark.ceiling.margin")),
      m_fromKpa(m_tables.empty() ? 0
                                 : std::min({alwaysAskedKpa, e.job().conditions.ambientKpa,
                                             m_tables.tables().firstRow()})) {}

bool SparkCeilings::saidAt(double content) const {
    constexpr double sameContent = 1e-9;
    const ContentTables &t = m_tables.tables();
    if (t.empty() || t.lowest() > content + sameContent) return false;
    const ContentTables::Between b = t.between(content);
    const auto said = [&](std::size_t level) {
        return std::ranges::none_of(t.levels()[level].tables, [](const ExtraTable *e) {
            return std::ranges::any_of(e->table.origins(), guessed);
        });
    };
    return said(b.low) && said(b.high);
}

double SparkCeilings::marginAt(double content) const {
    const double plusMinus = m_tables.tables().plusMinusAt(content);
    return m_tables.tables().estimatesOnly() ? -plusMinus : std::max(m_margin, plusMinus);
}

} // namespace wheelwright
