// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/revisions.h"

#include "core/job/describe.h"

namespace wheelwright {
namespace {
using D = Dimension;
}

Chapter revisionsChapter() {
    const auto revisions = listOf<Revision>([](auto &j) -> auto & { return j.revisions; });
    const auto marks = listOf<CellMark>([](auto &j) -> auto & { return j.cellMarks; });
    Chapter c;
    c.lists = {
        revisions.list("revisions", "Revisions", 200,
                       {revisions.field("name", "Revision", &Revision::name, "Once only."),
                        revisions.date("at", "When", &Revision::at, "ISO 8601."),
                        revisions.field("note", "Note", &Revision::note, "Why it was kept."),
                        revisions.field("sent", "Sent", &Revision::sent, "Handed to the controller."),
                        revisions.deferred("state", "State", &Revision::state, "The calibration, as text.")}),
        held(marks.list("calibration.cell_marks", "Notes and locks", 20000,
                        {marks.field("table", "Table", &CellMark::table, "Path of the table."),
                         marks.number("rpm", "x", D::none, -1000, 30000, &CellMark::rpm, "Its breakpoint."),
                         marks.number("y", "y", D::none, -1000, 30000, &CellMark::y, "Its breakpoint."),
                         marks.field("locked", "Locked", &CellMark::locked, "Edits leave it alone."),
                         marks.field("note", "Note", &CellMark::note, "Anything worth remembering.")})),
    };
    c.same = [](const Job &a, const Job &b) {
        return a.revisions == b.revisions && a.cellMarks == b.cellMarks;
    };
    return c;
}

} // namespace wheelwright
