// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QString>
#include <QWidget>

#include <span>

namespace wheelwright {

class Session;

/// A station of the rail. Adding one is a folder ui/views/<name>/ that defines `const ViewDefinition
/// &<name>View()` and a line in all_views.def. Views share the session and never know each other; what leads
/// to another station goes out as stationWanted().
class View : public QWidget {
    Q_OBJECT
  public:
    using QWidget::QWidget;

    /// Brings the input that a link of the working panel names into reach; false when it is not here.
    virtual bool showInput(const QString &link) = 0;

  signals:
    void stationWanted(const QString &id);
    void actionWanted(const QString &id); ///< "open", "new", "demo"
};

struct ViewDefinition {
    const char *id;
    const char *title; ///< to be translated in context "view"
    const char *icon;  ///< resource
    int position;      ///< in the order of work, 1–10: Alt+position opens it (10 is Alt+0)
    View *(*make)(Session &session, QWidget *parent);
};

std::span<const ViewDefinition *const> allViews();

} // namespace wheelwright
