// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/old_ceilings.h"

#include "core/base/text.h"
#include "core/job/job.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace wheelwright {
namespace {

bool isOld(const ExtraTable &extra) {
    return extra.kind == TableKind::sparkCeiling && extra.table.x().last() <= 1;
}

// A name that no other table has.
std::string freeName(const std::vector<ExtraTable> &extras, const std::string &wanted) {
    std::string name = wanted;
    for (int i = 2; std::ranges::find(extras, name, &ExtraTable::name) != extras.end(); ++i)
        name = wanted + " " + std::to_string(i);
    return name;
}

Table2D columnOverSpeed(const Table2D &old, std::size_t content, const Axis &rpm) {
    std::vector<double> cells;
    std::vector<CellOrigin> origins;
    for (std::size_t y = 0; y < old.y().size(); ++y) {
        cells.insert(cells.end(), rpm.size(), old.cell(content, y));
        origins.insert(origins.end(), rpm.size(), old.origin({content, y}));
    }
    Table2D table(rpm, old.y(), std::move(cells));
    if (!old.origins().empty()) table.setOrigins(std::move(origins));
    return table;
}

std::string pathOf(const std::string &name) {
    return "calibration.extras." + name;
}

// What stood at a cell of the old table stands at all speeds of the new one.
void moveMarks(Job &job, const std::string &from, double content, const std::string &to, const Axis &rpm) {
    const std::vector<CellMark> marks = job.cellMarks.values();
    for (const CellMark &m : marks) {
        if (m.table != from || m.rpm != content) continue;
        for (const double speed : rpm.points()) {
            CellMark moved = m;
            moved.table = to;
            moved.rpm = speed;
            job.cellMarks.push_back(std::move(moved));
        }
    }
}

} // namespace

void spreadOldCeilings(Job &job) {
    if (std::ranges::none_of(std::as_const(job.extras), isOld)) return;
    const Axis rpm = job.calibration.of(CalibratedQuantity::spark).base.x();
    for (std::size_t i = 0; i < job.extras.size();) {
        if (!isOld(std::as_const(job.extras)[i])) {
            ++i;
            continue;
        }
        const ExtraTable old = std::as_const(job.extras)[i];
        job.extras.eraseAt(i);
        for (std::size_t c = 0; c < old.table.x().size(); ++c) {
            const double content = old.table.x()[c];
            ExtraTable e;
            e.kind = TableKind::sparkCeiling;
            e.content = content;
            e.name =
                freeName(job.extras, old.name + ", " + exactNumber(std::round(content * 1000) / 10) + " %");
            e.table = columnOverSpeed(old.table, c, rpm);
            moveMarks(job, pathOf(old.name), content, pathOf(e.name), rpm);
            job.extras.insertAt(i++, std::move(e));
        }
        job.cellMarks.eraseIf([&](const CellMark &m) { return m.table == pathOf(old.name); });
    }
}

} // namespace wheelwright
