// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/job_schema.h"

#include <QAbstractTableModel>

namespace wheelwright {

class Session;

/// The job's gasoline, ethanol and methanol as columns, their numbers and origin as rows. What differs from
/// the shipped value is bold.
class ComponentModel : public QAbstractTableModel {
    Q_OBJECT
  public:
    explicit ComponentModel(Session &session, QObject *parent = nullptr);
    int rowCount(const QModelIndex &parent = {}) const override;
    int columnCount(const QModelIndex &parent = {}) const override;
    QVariant data(const QModelIndex &index, int role) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
    bool setData(const QModelIndex &index, const QVariant &value, int role) override;
    Qt::ItemFlags flags(const QModelIndex &index) const override;

    void resetToShipped(int column);

  private:
    const Field &fieldAt(const QModelIndex &index) const;

    Session &m_session;
};

} // namespace wheelwright
