// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/tables/tables_actions.h"

#include "core/study/spark_budget.h"
#include "session/cell_editor.h"
#include "ui/views/tables/calibration_dialogs.h"
#include "ui/views/tables/regrid_dialog.h"
#include "ui/views/tables/spark_dialogs.h"
#include "ui/views/tables/tables_view.h"

#include <QInputDialog>

namespace wheelwright {
namespace {

using C = const ViewContext &;

TablesView &inFront(C c) {
    return *static_cast<TablesView *>(c.view());
}

void smoothWithStrength(C c) {
    bool ok = false;
    constexpr double usual = 0.5;
    const double strength = QInputDialog::getDouble(
        c.window, TablesView::tr("Smooth"),
        TablesView::tr("How far towards the line between the neighbours, 0 to 1:"), usual, 0.01, 1, 2, &ok);
    if (ok) CellEditor(c.session).smooth(strength);
}

// What the engine really gets of the spark that is asked for.
void explainSparkBudget(C c) {
    Session &s = c.session;
    s.explain(explainBudget(s.study(), s.place()));
}

} // namespace

std::vector<ViewAction> tablesActions() {
    constexpr bool edits = true;
    return {
        {QT_TRANSLATE_NOOP("view", "Interpolate the selected cells ( / )"),
         {},
         [](C c) { CellEditor(c.session).interpolate(); },
         edits},
        {QT_TRANSLATE_NOOP("view", "Interpolate along rows"),
         {},
         [](C c) { CellEditor(c.session).interpolate(CellEditor::Along::rows); },
         edits},
        {QT_TRANSLATE_NOOP("view", "Interpolate along columns"),
         {},
         [](C c) { CellEditor(c.session).interpolate(CellEditor::Along::columns); },
         edits},
        {QT_TRANSLATE_NOOP("view", "Smooth the selected cells ( ~ )"),
         {},
         [](C c) { CellEditor(c.session).smooth(); },
         edits},
        {QT_TRANSLATE_NOOP("view", "Smooth with a strength…"), {}, smoothWithStrength, edits},
        {QT_TRANSLATE_NOOP("view", "Lock or unlock the selected cells ( Space )"),
         {},
         [](C c) { CellEditor(c.session).toggleLocks(); },
         edits},
        {QT_TRANSLATE_NOOP("view", "Say that the selected numbers are so"),
         {},
         [](C c) { CellEditor(c.session).stateSelected(); },
         edits},
        {QT_TRANSLATE_NOOP("view", "Fill the selected cells from their neighbours"),
         Qt::CTRL | Qt::Key_Period, [](C c) { CellEditor(c.session).fillFromAround(); }, edits},
        {QT_TRANSLATE_NOOP("view", "Nudge the selected cells up ( + )"),
         {},
         [](C c) { CellEditor(c.session).nudge(1); },
         edits},
        {QT_TRANSLATE_NOOP("view", "Nudge the selected cells down ( − )"),
         {},
         [](C c) { CellEditor(c.session).nudge(-1); },
         edits},
        {QT_TRANSLATE_NOOP("view", "Find cells…"), QKeySequence::Find, [](C c) { inFront(c).beginSearch(); },
         edits},
        {QT_TRANSLATE_NOOP("view", "Show values or differences ( D )"),
         {},
         [](C c) { inFront(c).toggleDifference(); }},
        {QT_TRANSLATE_NOOP("view", "Show where the engine and the logs have been ( W )"),
         {},
         [](C c) { inFront(c).toggleTrust(); }},
        {QT_TRANSLATE_NOOP("view", "Re-grid…"), {}, [](C c) { RegridDialog(c.session, c.window).exec(); }},
        {QT_TRANSLATE_NOOP("view", "Drawer of all tables"), Qt::CTRL | Qt::Key_T,
         [](C c) { inFront(c).toggleDrawer(); }},
        {QT_TRANSLATE_NOOP("view", "Convert school or meaning…"),
         {},
         [](C c) { ConvertDialog(c.session, c.window).exec(); }},
        {QT_TRANSLATE_NOOP("view", "Estimate ceilings and best spark…"),
         {},
         [](C c) { SparkEstimateDialog(c.session, SparkEstimateDialog::Makes::ceilings, c.window).exec(); }},
        {QT_TRANSLATE_NOOP("view", "What is this fuel worth here?"),
         {},
         [](C c) { FuelWorthDialog(c.session, c.window).exec(); }},
        {QT_TRANSLATE_NOOP("view", "Spark budget at the cursor"), Qt::CTRL | Qt::Key_B, explainSparkBudget},
    };
}

} // namespace wheelwright
