// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/intake/sheet.h"

#include <QFrame>

#include <map>

class QLabel;
class QPushButton;
class QScrollArea;
class QStackedWidget;

namespace wheelwright {

class FieldForm;
class RecordTable;
class Session;

/// The few fields of one part, what was looked at on it, and its lists. Each part has its page, made when
/// somebody first asks for it.
class PartPanel : public QFrame {
    Q_OBJECT
  public:
    explicit PartPanel(Session &session, QWidget *parent = nullptr);

    /// Pages without the lists of the parts, for where these have a place of their own.
    void leaveOutLists() { m_withLists = false; }
    void showPart(std::string_view id);
    std::string_view part() const { return m_part; }
    void enter();                               ///< the focus into its first field
    bool showInput(const QString &path);        ///< of the part that is shown: brings it into reach
    QWidget *editor(const QString &path) const; ///< of a part that was shown; nullptr without

  signals:
    void left(); ///< Esc: back to the drawing

  protected:
    void keyPressEvent(QKeyEvent *event) override;

  private:
    struct Page {
        QScrollArea *scroll;
        FieldForm *form;
        QLabel *state;
        QPushButton *confirm, *remove;
        std::map<std::string_view, QLabel *> lastOf; ///< by inspection
        std::map<QString, RecordTable *> lists;
    };
    Page &pageOf(const Part &part);
    void addInspections(const Part &part, Page &page, QWidget *body);
    void mark(const InspectionItem &item, bool wrong, const QString &note);
    void refresh();

    Session &m_session;
    QStackedWidget *m_stack;
    std::map<std::string_view, Page> m_pages;
    std::string_view m_part;
    bool m_withLists = true;
};

} // namespace wheelwright
