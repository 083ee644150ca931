// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QLineEdit>

#include <string_view>

namespace wheelwright {

class Session;
struct LimitDefinition;

/// A limit of the job, edited in the unit that it is shown in; cleared it is the shipped one again.
class LimitEdit : public QLineEdit {
    Q_OBJECT
  public:
    LimitEdit(Session &session, std::string_view id, QWidget *parent = nullptr);
    ~LimitEdit() override;
    QString origin() const; ///< "user", or who shipped it
    void refresh();

  signals:
    void refreshed();

  private:
    void finish();

    Session &m_session;
    const LimitDefinition &m_limit;
};

} // namespace wheelwright
