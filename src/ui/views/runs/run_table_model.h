// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/runs/run_differences.h"
#include "session/work.h"

#include <QAbstractTableModel>

#include <map>
#include <string>
#include <vector>

namespace wheelwright {

class Session;

/// The runs of the job, a row each: on which side of the comparison it stands, what it ran on, what it came
/// to, and in what it differs from the one that is selected. What people write of a run is edited in place.
class RunTableModel : public QAbstractTableModel {
    Q_OBJECT
  public:
    enum Column {
        side,
        number,
        name,
        fuel,
        content,
        change,
        peak,
        warmth,
        differs,
        verdict,
        next,
        hardware,
        mode,
        columns
    };

    explicit RunTableModel(Session &session, QObject *parent = nullptr);
    int rowCount(const QModelIndex &parent = {}) const override;
    int columnCount(const QModelIndex &parent = {}) const override;
    QVariant data(const QModelIndex &index, int role) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
    bool setData(const QModelIndex &index, const QVariant &value, int role) override;
    Qt::ItemFlags flags(const QModelIndex &index) const override;

    std::string idOf(int row) const;
    int rowOf(const std::string &id) const; ///< −1: none
    /// The run that the others are held against; empty: none.
    void setSelected(const std::string &id);
    const std::string &selected() const { return m_selected; }
    /// Of a run: causes in which it differs from the selected one; empty too where it is the same.
    const std::vector<RunCause> &causesOf(const std::string &id) const;
    bool differencesKnown() const { return m_differences.result() && !m_differences.running(); }

  signals:
    void differencesChanged();

  private:
    using Causes = std::map<std::string, std::vector<RunCause>>;
    void startDifferences();
    QString differsText(const std::string &id) const;
    QVariant textOf(int row, Column column) const;

    Session &m_session;
    std::vector<std::string> m_ids; ///< of the rows
    std::string m_selected;
    Work<Causes> m_differences;
};

} // namespace wheelwright
