// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "ui/help_pages.h"

#include <QFrame>

class QLabel;
class QPushButton;

namespace wheelwright {

/// The tour, under the stations: a question, what to see, and the way to the next stop. The window is used as
/// ever beside it.
class TourBar : public QFrame {
    Q_OBJECT
  public:
    explicit TourBar(QWidget *parent = nullptr);
    void start();
    void end();
    int stop() const { return m_stop; } ///< from 0
    int stops() const { return static_cast<int>(m_stops.size()); }
    void go(int stop);

  signals:
    void placeWanted(const QString &place);
    void ended();

  protected:
    void keyPressEvent(QKeyEvent *event) override;

  private:
    std::vector<TourStop> m_stops;
    int m_stop = 0;
    QLabel *m_words, *m_count;
    QPushButton *m_back, *m_next;
};

} // namespace wheelwright
