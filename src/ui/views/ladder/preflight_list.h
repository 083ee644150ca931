// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QListWidget>

namespace wheelwright {

class Session;

/// What is looked at before the first start: a tick says that it was, with the time. Space ticks.
class PreflightList : public QListWidget {
    Q_OBJECT
  public:
    explicit PreflightList(Session &session, QWidget *parent = nullptr);
    void refresh(); ///< from the job

  signals:
    void looked(const QString &item);

  private:
    Session &m_session;
    bool m_filling = false;
};

} // namespace wheelwright
