// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "session/remote_book.h"

#include <QWidget>

class QLineEdit;
class QPushButton;

namespace wheelwright {

class ReportView;
class Session;

/// A calibration for somebody far away, and what comes back: both as folders.
class LadderRemotePage : public QWidget {
    Q_OBJECT
  public:
    LadderRemotePage(Session &session, LadderBook &ladder, QWidget *parent = nullptr);

    RemoteBook &book() { return m_book; }
    QString sheetWords() const;
    QString answerWords() const;
    QString messageWords() const;
    QLineEdit &name() { return *m_name; }
    QLineEdit &note() { return *m_note; }
    /// Without asking for a folder.
    void send(const QString &folder);
    void takeBack(const QString &folder);

  protected:
    void showEvent(QShowEvent *event) override;

  private:
    QWidget *makeSend();
    QWidget *makeBack();
    QWidget *makeMessage();
    void askForRevision(const QString &folder, const QStringList &sent);
    void refresh();

    Session &m_session;
    RemoteBook m_book;
    ReportView *m_sheet = nullptr, *m_answer = nullptr, *m_message = nullptr;
    QLineEdit *m_name = nullptr, *m_note = nullptr;
    QPushButton *m_send = nullptr, *m_back = nullptr, *m_copy = nullptr;
};

} // namespace wheelwright
