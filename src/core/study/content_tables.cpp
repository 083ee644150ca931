// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/content_tables.h"

#include <algorithm>
#include <limits>

namespace wheelwright {
namespace {

constexpr double sameContent = 1e-9;

} // namespace

bool whollyEstimated(const ExtraTable &table) {
    const std::vector<CellOrigin> &origins = table.table.origins();
    return !origins.empty() &&
           std::ranges::all_of(origins, [](CellOrigin o) { return o == CellOrigin::estimated; });
}

ContentTables::ContentTables(const Job &job, TableKind kind, Estimates estimates) {
    std::vector<const ExtraTable *> tables;
    for (const ExtraTable &e : job.extras)
        if (e.kind == kind) tables.push_back(&e);
    const auto isEstimate = [](const ExtraTable *t) { return whollyEstimated(*t); };
    m_estimatesOnly = !tables.empty() && std::ranges::all_of(tables, isEstimate);
    if (estimates == Estimates::stepBack && !m_estimatesOnly) std::erase_if(tables, isEstimate);
    std::ranges::stable_sort(tables, {}, &ExtraTable::content);
    for (const ExtraTable *t : tables) {
        if (m_levels.empty() || t->content - m_levels.back().content > sameContent)
            m_levels.push_back({t->content, {}});
        m_levels.back().tables.push_back(t);
    }
}

ContentTables::Between ContentTables::between(double content) const {
    const auto above = std::ranges::upper_bound(m_levels, content, {}, &Level::content);
    if (above == m_levels.begin()) return {0, 0, 0};
    const auto low = static_cast<std::size_t>(above - m_levels.begin()) - 1;
    if (above == m_levels.end()) return {low, low, 0};
    const double from = m_levels[low].content;
    return {low, low + 1, (content - from) / (above->content - from)};
}

double ContentTables::at(const OperatingPoint &point) const {
    const auto least = [&](const Level &level) {
        double value = level.tables.front()->table.lookup(point.rpm, point.loadKpa).value;
        for (const ExtraTable *t : level.tables)
            value = std::min(value, t->table.lookup(point.rpm, point.loadKpa).value);
        return value;
    };
    const Between b = between(point.content);
    return (1 - b.weight) * least(m_levels[b.low]) + b.weight * least(m_levels[b.high]);
}

double ContentTables::plusMinusAt(double content) const {
    const auto most = [](const Level &level) {
        double plusMinus = 0;
        for (const ExtraTable *t : level.tables)
            plusMinus = std::max(plusMinus, t->plusMinus);
        return plusMinus;
    };
    const Between b = between(content);
    if (b.weight <= 0) return most(m_levels[b.low]);
    return std::max(most(m_levels[b.low]), most(m_levels[b.high]));
}

double ContentTables::firstRow() const {
    double first = 0;
    for (const Level &level : m_levels)
        for (const ExtraTable *t : level.tables)
            first = std::max(first, t->table.y().first());
    return first;
}

double ContentTables::lastRow() const {
    double last = std::numeric_limits<double>::infinity();
    for (const Level &level : m_levels)
        for (const ExtraTable *t : level.tables)
            last = std::min(last, t->table.y().last());
    return last;
}

SampledContentTables::SampledContentTables(const Evaluation &e, TableKind kind) : m_tables(e.job(), kind) {
    for (const ContentTables::Level &level : m_tables.levels()) {
        std::vector<double> least;
        for (const ExtraTable *t : level.tables) {
            const std::vector<double> samples = e.sampled(t->table);
            if (least.empty()) {
                least = samples;
                continue;
            }
            for (std::size_t i = 0; i < least.size(); ++i)
                least[i] = std::min(least[i], samples[i]);
        }
        m_samples.push_back(std::move(least));
    }
}

BlendedPoints SampledContentTables::at(double content) const {
    const ContentTables::Between b = m_tables.between(content);
    BlendEnds ends;
    ends.weight = b.weight;
    return {ends, m_samples[b.low], m_samples[b.high]};
}

} // namespace wheelwright
