// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/proposal/changed_cells.h"

#include "core/job/named_tables.h"
#include "core/study/school.h"

#include <algorithm>

namespace wheelwright {

std::vector<CorrectedCell> changedCells(const Job &before, const Job &after, CalibratedQuantity quantity,
                                        const CellFinding &found) {
    std::vector<CorrectedCell> out;
    const std::vector<const Table2D *> of = tablesOf(after, quantity);
    const std::vector<NamedTable> old = namedTables(before);
    for (const NamedTable &now : namedTables(after)) {
        if (std::ranges::find(of, now.table) == of.end()) continue;
        const auto was = std::ranges::find(old, now.path, &NamedTable::path);
        if (was == old.end() || was->table->x() != now.table->x() || was->table->y() != now.table->y())
            continue;
        const std::size_t nx = now.table->x().size();
        for (std::size_t i = 0; i < now.table->cells().size(); ++i) {
            if (now.table->cells()[i] == was->table->cells()[i]) continue;
            const double rpm = now.table->x()[i % nx], y = now.table->y()[i / nx];
            CorrectedCell cell = found(now.path, rpm, y);
            cell.table = now.path;
            cell.rpm = rpm;
            cell.y = y;
            out.push_back(std::move(cell));
        }
    }
    return out;
}

} // namespace wheelwright
