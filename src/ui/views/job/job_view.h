// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/job_schema.h"
#include "ui/views/view.h"

#include <functional>
#include <map>
#include <vector>

class QGridLayout;
class QPushButton;
class QScrollArea;
class QStackedLayout;

namespace wheelwright {

class ReportView;

class FieldForm;

/// What to do next, then everything that is known of the engine, its fuel and its limits. Every field edits
/// in the unit shown, or any other that is typed.
class JobView : public View {
    Q_OBJECT
  public:
    explicit JobView(Session &session, QWidget *parent = nullptr);
    bool showInput(const QString &link) override;
    QWidget *editor(
        const QString &path) const; ///< of a field, curve or limit ("limit:flow.duty.stop"); nullptr without

  private:
    QWidget *makeEmptyState();
    QWidget *makePage();
    QWidget *makeNext();
    FieldForm *makeGroup(const QString &title, const std::vector<std::string> &prefixes,
                         const QString &caution = {});
    QWidget *makeLimits();
    void addRow(QGridLayout *grid, int row, const QString &title, QWidget *editor, const QString &help);
    void refresh();
    void refreshNext();

    Session &m_session;
    QStackedLayout *m_stack = nullptr;
    QScrollArea *m_scroll = nullptr;
    ReportView *m_next = nullptr;
    std::vector<FieldForm *> m_forms;
    std::map<QString, QWidget *> m_editors; ///< of limits
};

} // namespace wheelwright
