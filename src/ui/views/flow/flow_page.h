// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/report/flow_reports.h"

#include <QWidget>

#include <functional>
#include <string>
#include <string_view>
#include <vector>

class QTabWidget;
class QVBoxLayout;

namespace wheelwright {

class PartColumn;
class RecordTable;
class Refresh;
class ReportView;
class Session;

/// One page of the Flow station: parts of the engine on the left, what follows from them on the right, under
/// it charts and lists. It works out its words only while it can be seen.
class FlowPage : public QWidget {
    Q_OBJECT
  public:
    /// parts: those that it works with; empty: none stand beside it.
    FlowPage(Session &session, const char *id, const std::vector<std::string_view> &parts, QWidget *parent);

    bool showInput(const QString &link); ///< brings the input into reach; false when it is not here
    QString words() const;

  signals:
    void wanted(); ///< showInput found it here

  protected:
    /// Everything that is said and drawn. Throws InputError, which is then said instead.
    virtual void refresh() = 0;
    /// Everything follows the content looked at; or only what is said here does.
    void followContent();
    void followContent(std::function<void()> speak);

    void addList(const char *path, const QString &name);
    void addTab(QWidget *widget, const QString &name);
    void showTab(QWidget *widget, bool shown);
    QVBoxLayout *cardLayout() { return m_card; }
    void say(WorkedReport report);
    void say(Sentence sentence);
    FlowLook look() const; ///< what the reports of the station are made from
    Session &session() const { return m_session; }

  private:
    void guarded(const std::function<void()> &work);

    Session &m_session;
    PartColumn *m_parts = nullptr;
    ReportView *m_words;
    QVBoxLayout *m_card;
    QTabWidget *m_tabs;
    struct List {
        std::string path;
        RecordTable *table;
    };
    std::vector<List> m_lists;
    Refresh *m_refresh;
};

FlowPage *makeFrontierPage(Session &session, QWidget *parent);
FlowPage *makeInjectorsPage(Session &session, QWidget *parent);
FlowPage *makePumpsPage(Session &session, QWidget *parent);
FlowPage *makeBoostPage(Session &session, QWidget *parent);
FlowPage *makeSprayPage(Session &session, QWidget *parent);
FlowPage *makePillsPage(Session &session, QWidget *parent);

} // namespace wheelwright
