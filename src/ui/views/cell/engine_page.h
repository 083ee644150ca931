// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QStringList>
#include <QWidget>

class QComboBox;
class QDoubleSpinBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QSpinBox;
class QTableWidget;

namespace wheelwright {

class LiveSeat;
class Session;

/// Which engine is listened to: one to practise with, which is started here, or that on a bus; and what its
/// channels are.
class EnginePage : public QWidget {
    Q_OBJECT
  public:
    explicit EnginePage(Session &session, QWidget *parent = nullptr);
    /// The bus that was listened to last, to be kept: its address and the file of its map; empty: none yet.
    QStringList lastBus() const { return m_lastBus; }
    void offerBus(const QStringList &last);

  signals:
    void seatWanted();
    void busListenedTo();

  protected:
    void showEvent(QShowEvent *event) override;

  private:
    QWidget *makePractice();
    QWidget *makeBus();
    QWidget *makeChannels();
    void startPractice();
    void pour();
    void listen();
    void choose(QLineEdit *file, const QString &title);
    void refresh();
    void refreshChannels();
    void refreshValues();

    Session &m_session;
    LiveSeat &m_live;
    QSpinBox *m_seed = nullptr;
    QComboBox *m_fault = nullptr, *m_kind = nullptr, *m_fuel = nullptr;
    QDoubleSpinBox *m_strength = nullptr, *m_litres = nullptr;
    QLineEdit *m_engineFile = nullptr, *m_address = nullptr, *m_map = nullptr;
    QPushButton *m_start = nullptr, *m_end = nullptr, *m_listen = nullptr, *m_leave = nullptr,
                *m_load = nullptr, *m_cool = nullptr, *m_pour = nullptr;
    QLabel *m_state = nullptr;
    QTableWidget *m_channels = nullptr;
    QStringList m_lastBus;
    bool m_filling = false;
};

} // namespace wheelwright
