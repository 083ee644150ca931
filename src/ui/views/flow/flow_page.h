// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/explanation.h"
#include "core/verify/verdict.h"
#include "ui/rich_text.h"

#include <QWidget>

#include <functional>
#include <string>
#include <vector>

class QTabWidget;
class QTextBrowser;
class QVBoxLayout;

namespace wheelwright {

class FieldForm;
class RecordTable;
class Refresh;
class Session;

/// One page of the Flow station: the job's fields on the left, what follows from them on the right, under it
/// charts and lists. It works out its words only while it can be seen.
class FlowPage : public QWidget {
    Q_OBJECT
  public:
    /// prefixes: fields for the form; empty: no form.
    FlowPage(Session &session, const char *id, const QString &title, const std::vector<std::string> &prefixes,
             QWidget *parent);

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
    QVBoxLayout *cardLayout() { return m_card; }
    void say(const QString &html);
    /// Text that shows its working when it is clicked. Links last until the next say().
    QString working(std::function<Explanation()> explain, const QString &body);
    /// A check's number at the content looked at.
    QString working(const Verdict::Row &row, const QString &body);
    const Verdict::Row *row(std::string_view check) const; ///< nullptr: not judged
    const WorstPlace &placeNow(const Verdict::Row &row) const;
    Session &session() const { return m_session; }

  private:
    void guarded(const std::function<void()> &work);
    void follow(const QString &link);

    Session &m_session;
    FieldForm *m_form = nullptr;
    QTextBrowser *m_words;
    QVBoxLayout *m_card;
    QTabWidget *m_tabs;
    struct List {
        std::string path;
        RecordTable *table;
    };
    std::vector<List> m_lists;
    std::vector<std::function<Explanation()>> m_links, m_nextLinks;
    Refresh *m_refresh;
};

// The pieces of their words.
QString bigHtml(const QString &body);
QString rowHtml(const QStringList &cells, bool head = false);
QString decimals(double v, int digits);

FlowPage *makeFrontierPage(Session &session, QWidget *parent);
FlowPage *makeInjectorsPage(Session &session, QWidget *parent);
FlowPage *makePumpsPage(Session &session, QWidget *parent);
FlowPage *makeBoostPage(Session &session, QWidget *parent);
FlowPage *makeSprayPage(Session &session, QWidget *parent);
FlowPage *makePillsPage(Session &session, QWidget *parent);

} // namespace wheelwright
