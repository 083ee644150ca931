// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QWidget>

namespace wheelwright {

class LiveSeat;
class Session;

/// What must be known at once, in words that can be read across a room: the rules that are broken now, the
/// bus that is silent, else that nothing is, and how much of that nobody can say.
class CallBanner : public QWidget {
    Q_OBJECT
  public:
    CallBanner(Session &session, LiveSeat &live, QWidget *parent);
    void refresh();
    QString words() const { return m_words; }
    bool calling() const { return m_grave; } ///< something is to be done now
    QSize sizeHint() const override { return {600, 66}; }

  protected:
    void paintEvent(QPaintEvent *event) override;

  private:
    Session &m_session;
    LiveSeat &m_live;
    QString m_words, m_small;
    bool m_grave = false;
};

} // namespace wheelwright
