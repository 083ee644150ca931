// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/study/fuel_comparison.h"

#include <QAbstractTableModel>
#include <QStyledItemDelegate>

namespace wheelwright {

class Session;

/// The compared fuels as rows, what is compared as columns. Every cell also knows how long its bar is.
class ComparisonModel : public QAbstractTableModel {
    Q_OBJECT
  public:
    enum Role { magnitudeRole = Qt::UserRole, contentRole };
    explicit ComparisonModel(Session &session, QObject *parent = nullptr);
    void refresh();
    const std::vector<ComparedFuel> &fuels() const { return m_fuels; }

    int rowCount(const QModelIndex &parent = {}) const override;
    int columnCount(const QModelIndex &parent = {}) const override;
    QVariant data(const QModelIndex &index, int role) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

  private:
    Session &m_session;
    std::vector<ComparedFuel> m_fuels;
    std::vector<double> m_most; ///< of each column
};

/// A number with a bar under it, in the hue of its fuel.
class BarDelegate : public QStyledItemDelegate {
  public:
    using QStyledItemDelegate::QStyledItemDelegate;
    void paint(QPainter *painter, const QStyleOptionViewItem &option,
               const QModelIndex &index) const override;
};

} // namespace wheelwright
