// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QMap>
#include <QWidget>

class QComboBox;
class QListWidget;
class QPushButton;

namespace wheelwright {

class ReportView;
class Session;
class TrainingRoom;

/// Scenarios to practise on, without any engine: what to find out, what can be looked at, what it is, and the
/// envelope at the end. Remembers the best of each.
class TrainerPage : public QWidget {
    Q_OBJECT
  public:
    explicit TrainerPage(Session &session, QWidget *parent = nullptr);
    QString words() const; ///< of what is told, and of what was found
    void chooseScenario(const QString &id);
    /// "weak_pump=95+": points, and a plus where it was passed.
    QStringList progress() const;
    void setProgress(const QStringList &progress);
    int passed() const;

  signals:
    void seatWanted();
    void progressed();

  protected:
    void showEvent(QShowEvent *event) override;

  private:
    QWidget *makeList();
    QWidget *makeRoom();
    void begin();
    void refresh();
    void refreshList();
    void refreshWords();

    Session &m_session;
    TrainingRoom &m_room;
    QListWidget *m_list = nullptr;
    ReportView *m_words = nullptr;
    QComboBox *m_inspection = nullptr, *m_answer = nullptr;
    QPushButton *m_begin = nullptr, *m_look = nullptr, *m_hint = nullptr, *m_finish = nullptr,
                *m_seat = nullptr;
    struct Best {
        int points = 0;
        bool passed = false;
    };
    QMap<QString, Best> m_best;
};

} // namespace wheelwright
