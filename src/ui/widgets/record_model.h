// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/job_schema.h"

#include <QAbstractTableModel>

namespace wheelwright {

class Session;

/// A list of records of the job as a table to edit: a row a record, a column a key, and one blank row at the
/// end that becomes a record when something is typed into it. Every edit is a change of the session.
class RecordModel : public QAbstractTableModel {
    Q_OBJECT
  public:
    RecordModel(Session &session, const RecordList &list, QObject *parent = nullptr);

    int rowCount(const QModelIndex &parent = {}) const override;
    int columnCount(const QModelIndex &parent = {}) const override;
    QVariant data(const QModelIndex &index, int role) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
    bool setData(const QModelIndex &index, const QVariant &value, int role) override;
    Qt::ItemFlags flags(const QModelIndex &index) const override;
    bool removeRows(int row, int count, const QModelIndex &parent = {}) override;

    /// What must be known of records, in their order: a mark stands in the first cell of those that have
    /// words, which are its tip. Fewer than records: the others have none.
    void setRemarks(QStringList remarks);

  private:
    std::size_t records() const;
    FieldContent contentOf(const RecordField &field, const QVariant &typed) const;
    void happenedNow(Job &job, std::size_t row) const;

    Session &m_session;
    const RecordList &m_list;
    QStringList m_remarks;
};

} // namespace wheelwright
