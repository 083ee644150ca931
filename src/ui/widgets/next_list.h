// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QWidget>

#include <array>

class QLabel;
class QPushButton;

namespace wheelwright {

class Session;

/// The three things that are best found out next, each with what it would answer and a button to where it
/// goes.
class NextList : public QWidget {
    Q_OBJECT
  public:
    explicit NextList(Session &session, QWidget *parent = nullptr);
    QString words() const;

  signals:
    void placeWanted(const QString &link);

  private:
    void refresh();

    struct Item {
        QWidget *box;
        QLabel *find, *unlocks;
        QPushButton *go;
        QString place;
    };
    Session &m_session;
    QLabel *m_about;
    std::array<Item, 3> m_items;
};

} // namespace wheelwright
