// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "session/session.h"

#include <QWidget>

#include <map>
#include <memory>
#include <optional>

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;

namespace wheelwright {

/// The row under the tables: what they show (values, difference to another fuel or revision, where the engine
/// and the logs have been), a search that selects, and what stands in the chosen cell beside its number.
class TableTools : public QWidget {
    Q_OBJECT
  public:
    explicit TableTools(Session &session, QWidget *parent = nullptr);
    /// What the numbers of one table are shown less; none: values.
    std::optional<Table2D> reference(TableSide side);
    /// What is shown less the reference; none: the table of now.
    std::optional<Table2D> subject(TableSide side);
    QString referenceWords() const; ///< "less the base table", "now less First"; empty: values
    bool showsTrust() const;
    void toggleDifference(); ///< the last reference again, or values
    void toggleTrust();
    void beginSearch();

  signals:
    void logsWanted();
    void changed(); ///< what the tables show

  private:
    void refresh();
    void refreshCell();
    void fillReferences();
    void showComparison();
    const Study *revision(const QString &name);
    std::optional<Table2D> tableOf(const QString &revision, TableSide side);

    Session &m_session;
    QComboBox *m_shows;
    QPushButton *m_trust;
    QLineEdit *m_search;
    QLabel *m_cell;
    std::optional<RecordId> m_filledFor; ///< the other table that the references are for
    QString m_lastReference;
    std::map<QString, std::unique_ptr<const Study>> m_revisions; ///< by name; nullptr: it cannot be read
};

} // namespace wheelwright
