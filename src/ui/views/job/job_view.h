// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/job_schema.h"
#include "ui/views/view.h"

#include <map>

class QGridLayout;
class QLabel;
class QPushButton;
class QScrollArea;
class QStackedLayout;

namespace wheelwright {

class IntakeSheet;
class PageSwitch;
class PartPanel;

/// What to do next, then the engine as a drawing: its parts with what is known of them, the few fields of the
/// one that is chosen beside it. On a page of its own the limits. Every field edits in the unit shown, or any
/// other that is typed.
class JobView : public View {
    Q_OBJECT
  public:
    explicit JobView(Session &session, QWidget *parent = nullptr);
    bool showInput(const QString &link) override;
    IntakeSheet *sheet() const { return m_sheet; }
    QWidget *editor(
        const QString &path) const; ///< of a field, curve or limit ("limit:flow.duty.stop"); nullptr without

  protected:
    void resizeEvent(QResizeEvent *event) override;

  private:
    QWidget *makeEmptyState();
    QWidget *makePage();
    QWidget *makeSheet();
    QWidget *makeNext();
    QWidget *makeLimits();
    void addRow(QGridLayout *grid, int row, const QString &title, QWidget *editor, const QString &help);
    void refresh();
    void refreshNext();

    Session &m_session;
    QStackedLayout *m_stack = nullptr;
    PageSwitch *m_pages = nullptr;
    IntakeSheet *m_sheet = nullptr;
    PartPanel *m_panel = nullptr;
    QScrollArea *m_limits = nullptr;
    QLabel *m_next = nullptr;
    QPushButton *m_go = nullptr;
    QString m_nextPart;                     ///< to go on with; empty: all that is drawn is stated
    std::map<QString, QWidget *> m_editors; ///< of limits
};

} // namespace wheelwright
