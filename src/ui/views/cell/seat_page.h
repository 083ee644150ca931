// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/channel_role.h"

#include <QWidget>

#include <array>

class QCheckBox;
class QLabel;
class QPushButton;

namespace wheelwright {

class CallBanner;
class LiveSeat;
class ReportView;
class SeatMap;
class SeatReading;
class Session;

/// The driver's seat: six readings, what the rules call, where the engine has been, what the last pull was.
/// Space begins and ends a recording, M marks, Escape aborts; keys of a clicker do the same.
class SeatPage : public QWidget {
    Q_OBJECT
  public:
    explicit SeatPage(Session &session, QWidget *parent = nullptr);
    std::array<SeatReading *, 6> &readings() { return m_readings; }
    CallBanner &banner() { return *m_banner; }
    SeatMap &map() { return *m_map; }
    QString lastPull() const;
    QString stateLine() const;
    /// Keys of the roles, to be kept.
    QStringList chosen() const;
    void choose(const QStringList &roles);

  signals:
    void engineWanted(); ///< there is none yet
    void chosenChanged();

  protected:
    void showEvent(QShowEvent *event) override;

  private:
    QWidget *makeFoot();
    void bindKeys();
    void toggleLog();
    void tick();
    void refresh(); ///< all of it
    void drive(const QString &step);

    Session &m_session;
    LiveSeat &m_live;
    CallBanner *m_banner;
    std::array<SeatReading *, 6> m_readings{};
    SeatMap *m_map;
    ReportView *m_pull;
    QLabel *m_state = nullptr, *m_last = nullptr;
    QPushButton *m_log = nullptr, *m_mark = nullptr, *m_abort = nullptr, *m_pullButton = nullptr,
                *m_cruise = nullptr, *m_engine = nullptr;
    QCheckBox *m_sound = nullptr;
};

} // namespace wheelwright
