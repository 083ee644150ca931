// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QDialog>

#include <functional>
#include <vector>

class QLineEdit;
class QListWidget;

namespace wheelwright {

class Session;

/// Something that can be gone to or done by its name.
struct Findable {
    QString title;   ///< "Injector duty"
    QString kind;    ///< "check"; empty: an action
    QString keys;    ///< its shortcut, where it has one
    QString words{}; ///< what else it is found by: a path, an id
    std::function<void()> run;
};

/// Every table, field, curve, limit, check, fuel and revision of the open job. `to` shows the place of a
/// path, `check` a check's worst place.
std::vector<Findable> findablesOf(const Session &session, const std::function<void(const QString &)> &to,
                                  const std::function<void(const QString &)> &check);

/// Finds anything of the window and the job by a few letters of its name, and goes there. With nothing typed
/// it lists the actions.
class Finder : public QDialog {
    Q_OBJECT
  public:
    Finder(std::vector<Findable> all, QWidget *parent);

  protected:
    bool eventFilter(QObject *watched, QEvent *event) override;

  private:
    void filter(const QString &typed);
    void run();

    std::vector<Findable> m_all;
    QLineEdit *m_typed;
    QListWidget *m_list;
};

} // namespace wheelwright
