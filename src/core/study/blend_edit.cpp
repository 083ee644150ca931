// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/blend_edit.h"

namespace wheelwright {

void setBlend(Job &job, CalibratedQuantity q, double content, const Table2D &wanted) {
    const BlendEnds ends = SchoolModel(job).at(q, content);
    Table2D steps = blendedTable(ends);
    for (std::size_t y = 0; y < steps.y().size(); ++y)
        for (std::size_t x = 0; x < steps.x().size(); ++x)
            steps.setCell({x, y}, (wanted.cell(x, y) - steps.cell(x, y)) / ends.scale);
    const bool one = ends.low == ends.high;
    const double w = one ? 0 : ends.weight;
    const double norm = (1 - w) * (1 - w) + w * w;
    for (const bool top : {false, true}) {
        if (top && one) continue;
        Table2D &end = endTable(job, q, content, top);
        const double part = (top ? w : 1 - w) / norm;
        const bool sameAxes = end.x() == steps.x() && end.y() == steps.y();
        for (std::size_t y = 0; y < end.y().size(); ++y)
            for (std::size_t x = 0; x < end.x().size(); ++x) {
                const double step = sameAxes ? steps.cell(x, y) : steps.lookup(end.x()[x], end.y()[y]).value;
                if (step != 0) end.setCell({x, y}, end.cell(x, y) + step * part);
            }
    }
}

void editBlend(Job &job, CalibratedQuantity q, double content, const CellSet &cells,
               const CellExpression &expression) {
    Table2D wanted = blendedTable(SchoolModel(job).at(q, content));
    applyExpression(wanted, cells, expression);
    setBlend(job, q, content, wanted);
}

} // namespace wheelwright
