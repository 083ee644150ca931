// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QFrame>
#include <QStringList>

#include <vector>

class QLabel;
class QPushButton;
class QSettings;

namespace wheelwright {

struct Caution;

/// The cautions of the station in front, over its lower edge: in full until they are understood, which is
/// kept; from then on only their names stand in a button of the window's head, which brings them back.
class CautionBar : public QFrame {
    Q_OBJECT
  public:
    /// Over `over`; `small` is the button. The settings must outlive it.
    CautionBar(QSettings &settings, QPushButton *small, QWidget *over);

    void show(const std::vector<const Caution *> &cautions);
    QString words() const; ///< that are seen in full; empty: none

    void standOver(QWidget *below); ///< while it is seen, on it; must outlive this

    /// As if all had been understood: for pictures and tests of other things.
    static void understandAll(QSettings &settings);

  signals:
    void helpWanted();

  protected:
    bool eventFilter(QObject *watched, QEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

  private:
    void write();
    void understand();
    void place();
    QStringList understood() const;

    QSettings &m_settings;
    QPushButton *m_small;
    QLabel *m_text;
    QWidget *m_below = nullptr;
    std::vector<const Caution *> m_here, m_inFull;
};

} // namespace wheelwright
