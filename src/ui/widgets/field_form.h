// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/intake/sheet.h"
#include "core/job/job_schema.h"

#include <QFrame>

#include <functional>
#include <map>
#include <vector>

class QGridLayout;

namespace wheelwright {

class Session;

/// Fields and curves of the job as a card of editors, one a line: those whose path begins with one of the
/// prefixes. Every field edits in the unit shown, or any other that is typed; every edit is a change of the
/// session. What nobody has said yet, or a template has made up, looks so.
class FieldForm : public QFrame {
    Q_OBJECT
  public:
    FieldForm(Session &session, const QString &title, const std::vector<std::string> &prefixes,
              const QString &caution = {}, QWidget *parent = nullptr);

    QWidget *editor(const QString &path) const; ///< nullptr without
    /// Puts the focus into the editor of that path, its text selected; false when it is not here.
    bool showInput(const QString &path);

  private:
    QWidget *makeNumber(const Field &field);
    QWidget *makeText(const Field &field);
    QWidget *makeNotes(const Field &field);
    QWidget *makeChoice(const Field &field);
    QWidget *makeFlag(const Field &field);
    void showKnowledge(QWidget *editor, Knowledge known);
    void write(const Field &field, const QString &what, const FieldContent &content);
    QWidget *makeEditor(const Field &field);
    void addCurveRow(QGridLayout *grid, int row, const CurveField &field);
    void addRow(QGridLayout *grid, int row, const QString &title, QWidget *editor, const QString &help);
    void refresh();

    Session &m_session;
    std::map<QString, QWidget *> m_editors;
    std::vector<std::function<void()>> m_refreshers; ///< each puts one editor's shown value right
};

} // namespace wheelwright
