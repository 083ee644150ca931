// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/report/report.h"

#include <QWidget>

#include <functional>

namespace wheelwright {

class Session;

/// What can be done with a sheet that is shown: copied, saved, printed.
class SheetButtons : public QWidget {
    Q_OBJECT
  public:
    struct Sheet {
        QString title;                   ///< of the dialogs: "the comparison"
        QString fileName;                ///< offered to save it under, without its ending
        std::function<Report()> made;    ///< what is saved and printed
        std::function<QString()> copied; ///< what goes to the clipboard
        QString copyHint{};
    };
    SheetButtons(Session &session, Sheet sheet, QWidget *parent);

  public slots:
    void copy() const;
    void save();
    void print();

  private:
    Session &m_session;
    Sheet m_sheet;
};

/// The grids of a report, tab-separated under their heads, as a spreadsheet takes them; empty where there is
/// none.
QString gridsAsText(const Report &report, const UnitChoice &units);

} // namespace wheelwright
