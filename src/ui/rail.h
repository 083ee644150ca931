// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QWidget>

#include <vector>

class QToolButton;

namespace wheelwright {

/// The stations in the order of work, each with the digit that opens it. Where the window is too low for
/// pictures with words they stand in two columns without them.
class Rail : public QWidget {
    Q_OBJECT
  public:
    explicit Rail(QWidget *parent = nullptr);
    void show(const QString &station); ///< as the one in front
    void setJob(bool open);            ///< without a job only its own station can be gone to

    QSize minimumSizeHint() const override;

  signals:
    void stationWanted(const QString &id);

  protected:
    void resizeEvent(QResizeEvent *event) override;

  private:
    std::vector<QToolButton *> m_buttons;
};

} // namespace wheelwright
