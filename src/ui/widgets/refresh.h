// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/job_change.h"

#include <QObject>

#include <functional>
#include <string>
#include <vector>

class QWidget;

namespace wheelwright {

class Session;

/// Keeps a view in step with the session: what it shows is worked out once a turn of the event loop however
/// much has happened, only while it can be seen, and only when something it shows is another. Belongs to the
/// view.
class Refresh : public QObject {
    Q_OBJECT
  public:
    enum Cause {
        job = 1,
        content = 2,
        selection = 4, ///< quantity, side, cell
        units = 8,
        verdict = 16,
        state = 32 ///< whether all is saved; also when an edit was refused and what was typed must go
    };
    Q_DECLARE_FLAGS(Causes, Cause)
    using Paths = std::vector<std::string>;

    Refresh(Session &session, QWidget *view);
    /// A part of the view and what it depends on. A part does the work of those named after it, too: of all
    /// that are due only the first is done. paths: below which the job must differ to count ("fuel.",
    /// "tank.events"); none: everywhere. Another job counts always.
    Refresh &on(Causes causes, std::function<void()> work, Paths paths = {});
    /// Due for another reason: the first part, and with it all.
    void ask();
    /// What is due is done at once: before something goes by what is shown.
    void now();

  private:
    struct Part {
        Causes causes;
        std::function<void()> work;
        Paths paths;
        bool due = true;
    };

    bool eventFilter(QObject *watched, QEvent *event) override;
    void happened(Cause cause);
    void jobDiffers(const JobChange &change);
    void post();

    Session &m_session;
    QWidget *m_view;
    std::vector<Part> m_parts;
    bool m_posted = false;
};

} // namespace wheelwright

// Outside, lest it hide the operators of other flags inside.
Q_DECLARE_OPERATORS_FOR_FLAGS(wheelwright::Refresh::Causes)
