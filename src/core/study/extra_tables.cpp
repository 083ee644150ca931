// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/extra_tables.h"

#include <algorithm>

namespace wheelwright {

const ExtraTable *extraInUse(const Job &job, TableKind kind) {
    const auto at = std::ranges::find(job.extras, kind, &ExtraTable::kind);
    return at == job.extras.end() ? nullptr : &*at;
}

double extraAt(const Job &job, TableKind kind, double x, double y) {
    const ExtraTable *extra = extraInUse(job, kind);
    return extra ? extra->table.lookup(x, y).value : definitionOf(kind).neutral;
}

ExtraByLoad::ExtraByLoad(const Job &job, TableKind kind, double x) {
    const ExtraTable *extra = extraInUse(job, kind);
    if (extra) m_axis = extra->table.y();
    for (const double y : m_axis.points())
        m_values.push_back(extraAt(job, kind, x, y));
}

} // namespace wheelwright
