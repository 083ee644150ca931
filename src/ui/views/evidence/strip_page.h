// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/channel_role.h"

#include <QWidget>

class QLabel;
class QMenu;
class QPushButton;

namespace wheelwright {

class ReportView;
class Session;
class TimeStrip;

/// The strip of a log, and beside it what was found.
class StripPage : public QWidget {
    Q_OBJECT
  public:
    explicit StripPage(Session &session, QWidget *parent = nullptr);
    TimeStrip &strip() { return *m_strip; }
    QString found() const; ///< what stands beside the strip
    /// Follows a link of what was found: to its moment, with its working in the panel.
    void showFinding(std::size_t index);

  signals:
    void tablesWanted();

  protected:
    void showEvent(QShowEvent *event) override;

  private:
    QWidget *makeBar();
    void fillLanes();
    void refreshFound();
    void refreshPlace();
    void toTables();
    void keepDelay();
    void lookAtTheFirst();

    Session &m_session;
    TimeStrip *m_strip;
    ReportView *m_found;
    QLabel *m_place;
    QMenu *m_lanes;
    QPushButton *m_moved;
    QPushButton *m_tables;
};

} // namespace wheelwright
