// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/revisions.h"

#include "core/job/describe.h"
#include "core/job/revision.h"

namespace wheelwright {
namespace {
using D = Dimension;
}

Chapter revisionsChapter() {
    const auto revisions = listOf<Revision>([](auto &j) -> auto & { return j.revisions; });
    const auto marks = listOf<CellMark>([](auto &j) -> auto & { return j.cellMarks; });
    Chapter c;
    c.lists = {
        referred(
            MARKED("referred.name_revision", "the name of a revision"),
            revisions.list(
                MARKED("revisions", "Revisions"), 200,
                {revisions.field(MARKED("revisions.name", "Revision"), &Revision::name,
                                 MARKED("revisions.name.help", "Once only.")),
                 revisions.date(MARKED("revisions.at", "When"), &Revision::at,
                                MARKED("revisions.at.help", "ISO 8601.")),
                 revisions.field(MARKED("revisions.note", "Note"), &Revision::note,
                                 MARKED("revisions.note.help", "Why it was kept.")),
                 revisions.field(MARKED("revisions.sent", "Sent"), &Revision::sent,
                                 MARKED("revisions.sent.help", "Handed to the controller.")),
                 revisions.reference(MARKED("revisions.parent", "Made from"), &Revision::parent, "revisions",
                                     MARKED("revisions.parent.help", "The revision before it.")),
                 revisions.field(MARKED("revisions.current", "Now"), &Revision::current,
                                 MARKED("revisions.current.help", "The tables of now were made from it.")),
                 revisions.date(MARKED("revisions.came_back", "Came back"), &Revision::cameBack,
                                MARKED("revisions.came_back.help",
                                       "When it was read back from the controller and found the same.")),
                 revisions.date(MARKED("revisions.released", "Released"), &Revision::released,
                                MARKED("revisions.released.help", "When it was handed over to be driven.")),
                 revisions.deferred(MARKED("revisions.state", "State"), &Revision::state, validateState,
                                    MARKED("revisions.state.help", "The calibration, as text."))})),
        held(marks.list(
            MARKED("calibration.cell_marks", "Notes and locks"), 20000,
            {marks.field(MARKED("calibration.cell_marks.table", "Table"), &CellMark::table,
                         MARKED("calibration.cell_marks.table.help", "Path of the table.")),
             marks.number(MARKED("calibration.cell_marks.rpm", "x"), D::none, -1000, 30000, &CellMark::rpm,
                          MARKED("calibration.cell_marks.rpm.help", "Its breakpoint.")),
             marks.number(MARKED("calibration.cell_marks.y", "y"), D::none, -1000, 30000, &CellMark::y,
                          MARKED("calibration.cell_marks.y.help", "Its breakpoint.")),
             marks.field(MARKED("calibration.cell_marks.locked", "Locked"), &CellMark::locked,
                         MARKED("calibration.cell_marks.locked.help", "Edits leave it alone.")),
             marks.field(MARKED("calibration.cell_marks.note", "Note"), &CellMark::note,
                         MARKED("calibration.cell_marks.note.help", "Anything worth remembering."))})),
    };
    c.same = [](const Job &a, const Job &b) {
        return a.revisions == b.revisions && a.cellMarks == b.cellMarks;
    };
    return c;
}

} // namespace wheelwright
