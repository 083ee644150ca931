// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QWidget>

#include <functional>

class QLabel;
class QProgressBar;

namespace wheelwright {

class WorkSignals;

/// Says that something is being worked out, how far it is, and offers to stop it; seen only when it takes
/// long. Its place stays when it is not seen.
class WorkBar : public QWidget {
    Q_OBJECT
  public:
    WorkBar(WorkSignals &work, std::function<void()> cancel, QWidget *parent = nullptr);

  protected:
    void resizeEvent(QResizeEvent *event) override; ///< without room for them its words go

  private:
    QLabel *m_words;
    QProgressBar *m_progress;
};

} // namespace wheelwright
