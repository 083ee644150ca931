// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/job_schema.h"

#include <QFrame>

#include <functional>
#include <map>
#include <optional>
#include <vector>

namespace wheelwright {

class Session;

/// Some fields of records of a list as a card of editors, one a line. With several records an editor shows
/// what all of them hold, and nothing where they differ; what is typed goes into all of them as one change of
/// the session.
class RecordForm : public QFrame {
    Q_OBJECT
  public:
    /// atLength: keys of what is written at length, over several lines.
    RecordForm(Session &session, const char *list, const QString &title, const std::vector<std::string> &keys,
               std::vector<std::string> atLength = {}, QWidget *parent = nullptr);

    /// Places of records in the list; none: nothing can be edited.
    void show(std::vector<std::size_t> records);
    /// An edit of one field also says another: who types a content states it.
    void alsoSets(const std::string &key, const std::string &other, FieldContent content);
    QWidget *editor(const std::string &key) const; ///< nullptr without
    void save();                                   ///< what is half typed, where it is written at length

  private:
    QWidget *makeEditor(const RecordField &field);
    QWidget *makeLine(const RecordField &field);
    QWidget *makeLines(const RecordField &field);
    QWidget *makeChoice(const RecordField &field);
    QWidget *makeFlag(const RecordField &field);
    void set(const RecordField &field, const FieldContent &content);
    bool editable() const;
    bool atLength(const RecordField &field) const;
    /// What all records hold; empty: they differ, or there is none.
    std::optional<FieldContent> common(const RecordField &field) const;
    void refresh();

    Session &m_session;
    const RecordList &m_list;
    std::vector<std::string> m_atLength;
    std::vector<std::size_t> m_records;
    std::map<std::string, QWidget *> m_editors;
    std::multimap<std::string, std::pair<std::string, FieldContent>> m_also;
    std::vector<std::function<void()>> m_savers;
    std::vector<std::function<void()>> m_refreshers; ///< each puts one editor's shown value right
};

} // namespace wheelwright
