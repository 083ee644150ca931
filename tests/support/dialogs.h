// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "support/geometry.h"
#include "support/test_window.h"
#include "ui/finder.h"
#include "ui/help_window.h"
#include "ui/new_job_dialog.h"
#include "ui/salvaged_dialog.h"
#include "ui/views/evidence/log_import_dialog.h"
#include "ui/views/flow/injector_change_dialog.h"
#include "ui/views/runs/run_import_dialog.h"
#include "ui/views/tables/calibration_dialogs.h"
#include "ui/views/tables/regrid_dialog.h"
#include "ui/views/tables/spark_dialogs.h"
#include "ui/views/tables/tables_view.h"
#include "ui/widgets/background_preview.h"

#include <QDialog>

namespace wheelwright::testing {

/// Whether nothing that a dialog works out is under way any more.
inline bool workedOut(QDialog &dialog) {
    if (auto *logs = dynamic_cast<LogImportDialog *>(&dialog)) return logs->arrival().preview() != nullptr;
    if (auto *runs = dynamic_cast<RunImportDialog *>(&dialog)) return !runs->work().running();
    for (auto *preview : dialog.findChildren<BackgroundPreview *>())
        if (preview->work().running()) return false;
    return true;
}

/// Opens every dialog of our own over the window, with what it works out there, and closes it again. Says how
/// many there were.
inline int eachDialog(TestWindow &window, const std::function<void(const QString &name, QDialog &)> &look) {
    int seen = 0;
    const auto showIt = [&](const char *name, QDialog &dialog) {
        dialog.show();
        for (int i = 0; i < 3000 && !workedOut(dialog); ++i)
            QTest::qWait(10);
        QTest::qWait(60); // words that came last are laid out
        look(QLatin1String(name), dialog);
        ++seen;
        dialog.close();
    };
    Shell &shell = window.shell;
    Session &session = window.session;
    NewJobDialog fresh(session, &shell);
    showIt("new job", fresh);
    SalvagedDialog salvaged({QStringLiteral("2")}, QStringLiteral("1.wwjob"), &shell);
    showIt("salvaged", salvaged);
    LogImportDialog logs(session, {QStringLiteral(SOURCE_DIR "/data/demo/logs/thistle-e78-pulls.csv")},
                         &shell);
    showIt("bring in a log", logs);
    RunImportDialog runs(session, {QStringLiteral(SOURCE_DIR "/data/demo/runs/thistle-01-e10-baseline.csv")},
                         &shell);
    showIt("bring in runs", runs);
    InjectorChangeDialog injectors(session, &shell);
    showIt("change injectors", injectors);
    ConvertDialog convert(session, &shell);
    showIt("convert", convert);
    RegridDialog grid(session, &shell);
    showIt("re-grid", grid);
    SparkEstimateDialog ceilings(session, SparkEstimateDialog::Makes::ceilings, &shell);
    showIt("estimate ceilings", ceilings);
    SparkEstimateDialog curve(session, SparkEstimateDialog::Makes::curve, &shell);
    showIt("knock limit", curve);
    FuelWorthDialog worth(session, &shell);
    showIt("fuel's worth", worth);
    window.view<TablesView>("tables")->showLogsHere();
    if (auto *here = shell.findChild<QDialog *>(QStringLiteral("logsHere"))) showIt("logs at a cell", *here);
    HelpWindow help(&shell);
    help.open(QStringLiteral("fuel"));
    showIt("help", help);
    Finder finder(findablesOf(session, {}, {}), &shell);
    showIt("finder", finder);
    return seen;
}

} // namespace wheelwright::testing
