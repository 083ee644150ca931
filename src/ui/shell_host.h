// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "ui/shell.h"

#include <functional>
#include <memory>

namespace wheelwright {

/// Holds the window of a session, and makes it anew when its text is to be larger or smaller: the size of
/// text is a scale of everything drawn, and windows take it when they are made. The job, its undo history, a
/// log that is being recorded and what is looked at belong to the session and do not notice.
class ShellHost : public QObject {
    Q_OBJECT
  public:
    /// Both must outlive it. The size of text is taken from the settings and kept there.
    ShellHost(Session &session, QSettings &settings);
    ~ShellHost() override;

    Shell &shell() { return *m_shell; } ///< another one after shellReplaced()
    /// At once; the window keeps its place, its size on the screen, its station and the pages shown.
    void setTextPercent(int percent);
    /// The same, in another language.
    void setLanguage(const QString &code);
    void setDecimalMark(const QString &mark); ///< useDecimalMark

  signals:
    void shellReplaced();

  private:
    void make();
    void remake(const std::function<void()> &change);

    Session &m_session;
    QSettings &m_settings;
    std::unique_ptr<Shell> m_shell;
};

} // namespace wheelwright
