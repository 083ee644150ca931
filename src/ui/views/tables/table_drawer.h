// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/tables/table_kind.h"
#include "core/verify/troubled_places.h"
#include "session/session.h"

#include <QWidget>

#include <optional>
#include <variant>

class QLineEdit;
class QListWidget;
class QListWidgetItem;
class QPushButton;

namespace wheelwright {

/// All tables of the controller in groups; the one that is chosen lies on the bench. A few letters find one.
/// Marked by the shapes of the verdict: where the working of a check that fails, or asks for caution, leads,
/// and open where nobody has said the numbers. Kinds that the job has not got stand at the end of their
/// group.
class TableDrawer : public QWidget {
    Q_OBJECT
  public:
    explicit TableDrawer(Session &session, QWidget *parent = nullptr);

    void beginSearch();
    /// A kind that the job has not got is looked at: it is what stands chosen until a table is.
    void lookAt(std::optional<TableKind> missing);
    QListWidget *list() const { return m_list; }
    void add(TableKind kind);
    void rename(); ///< the other table on the bench; so the next two
    void duplicate();
    void takeAway();

  signals:
    void missingChosen(TableKind kind);
    void tableChosen();
    void benchWanted(); ///< Return: the keyboard goes to the table
    void closeWanted(); ///< Escape, with nothing typed

  private:
    using Entry = std::variant<CalibratedQuantity, RecordId, TableKind>; ///< of the last the job has none

    void fill();
    void addHead(const QString &title);
    void addEntry(const QString &title, Entry entry, std::optional<CheckState> mark, const QString &why);
    void addQuantity(CalibratedQuantity quantity, const std::vector<TroubledPlace> &troubles);
    void addExtra(std::size_t place, const std::vector<TroubledPlace> &troubles);
    void filter();
    void choose(const QListWidgetItem *item);
    void showChosen();
    std::optional<Entry> entryOf(const QListWidgetItem *item) const;
    std::string freeName(const std::string &wanted) const;
    bool eventFilter(QObject *watched, QEvent *event) override;

    Session &m_session;
    QLineEdit *m_search;
    QListWidget *m_list;
    QPushButton *m_rename, *m_duplicate, *m_takeAway;
    std::vector<Entry> m_entries;
    std::optional<TableKind> m_missing;
    bool m_filling = false;
};

} // namespace wheelwright
