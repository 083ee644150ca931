// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QKeySequence>
#include <QString>
#include <QStringList>
#include <QWidget>

#include <functional>
#include <span>
#include <vector>

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
    /// Files that the user has dropped or chosen, all of which ViewDefinition::takesFile has said yes to.
    virtual void takeFiles(const QStringList &) {}
    /// What the user has chosen to see here, to be kept from one day to the next; empty: nothing.
    virtual QByteArray kept() const { return {}; }
    virtual void keepFrom(const QByteArray &) {}

    /// Where a job may come from while none is open.
    enum class JobSource { file, fresh, demo };

  signals:
    void stationWanted(const QString &id);
    void placeWanted(const QString &place); ///< a station, a page of one, or an input of the job
    void jobWanted(View::JobSource from);
    void keptChanged();
};

/// What an action of a view works with. The view itself is made and brought to the front by asking for it.
struct ViewContext {
    Session &session;
    QWidget *window;
    std::function<View *()> view;
};

/// An action that a view brings to the window: it stands in the menu and is found there before anybody has
/// seen the view. All of them need a job.
struct ViewAction {
    const char *title; ///< to be translated in context "view"
    QKeySequence keys;
    void (*run)(const ViewContext &context);
    bool edits = false; ///< stands under Edit; the others under Calibration
};

struct ViewDefinition {
    const char *id;
    const char *title; ///< to be translated in context "view"
    const char *icon;  ///< resource
    int position;      ///< in the order of work, 1–10: Alt+position opens it (10 is Alt+0)
    View *(*make)(Session &session, QWidget *parent);
    std::vector<ViewAction> actions{}; ///< in the order of the menu
    /// Whether a file is of a kind that this view brings in; none: it brings in nothing. Looks at its first
    /// bytes only.
    bool (*takesFile)(const Session &session, const QString &path) = nullptr;
    bool wide = false; ///< the working panel makes room for it
};

std::span<const ViewDefinition *const> allViews();

} // namespace wheelwright
