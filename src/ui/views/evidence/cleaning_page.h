// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QWidget>

#include <vector>

class QLabel;

namespace wheelwright {

class Session;
class WaterfallBar;

/// The samples of a log going through the filters, one under the other: what each takes, its threshold to be
/// edited, and what is left.
class CleaningPage : public QWidget {
    Q_OBJECT
  public:
    explicit CleaningPage(Session &session, QWidget *parent = nullptr);
    /// "taken 120" and the like, filter by filter; for tests and for copying.
    QStringList words() const;

  public slots:
    void copy() const;

  private:
    void refresh();

    Session &m_session;
    struct Row {
        WaterfallBar *bar;
        QLabel *taken;
    };
    std::vector<Row> m_rows;
    QLabel *m_left;
};

} // namespace wheelwright
