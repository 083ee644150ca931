// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "session/log_arrival.h"

#include <QAbstractTableModel>
#include <QStyledItemDelegate>

namespace wheelwright {

class Session;

/// The columns of a log file that is about to come in: name, what it is taken for, in which unit, how sure
/// that is, what it would then run from and to, and a small picture of it.
class ColumnModel : public QAbstractTableModel {
    Q_OBJECT
  public:
    enum Column { file, role, unit, reading, sure, outlook, trace, columns };
    explicit ColumnModel(Session &session, QObject *parent = nullptr);

    void show(const LogPreview &preview, const MapSurroundings &around);
    void setSurroundings(const MapSurroundings &around);
    const ChannelMap &map() const { return m_map; }
    void setMap(ChannelMap map);
    /// A row as it is read, after an answer of the user.
    void put(int row, MappedColumn column);
    const LogColumn &columnOf(int row) const {
        const auto i = static_cast<std::size_t>(row);
        return i < m_layout.columns.size() ? m_layout.columns[i] : m_worked[i - m_layout.columns.size()];
    }
    /// Throws InputError for what cannot be worked out of these columns.
    void addWorked(const MappedColumn &column);
    const MappedColumn &mapped(int row) const { return m_map.columns[static_cast<std::size_t>(row)]; }
    /// The first row with a question; −1: none is open.
    int firstQuestion() const;

    int rowCount(const QModelIndex &parent = {}) const override;
    int columnCount(const QModelIndex &parent = {}) const override;
    QVariant data(const QModelIndex &index, int role) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
    Qt::ItemFlags flags(const QModelIndex &index) const override;
    bool setData(const QModelIndex &index, const QVariant &value, int role) override;

  private:
    QString readingWords(const MappedColumn &m) const;

    Session &m_session;
    void refreshWorked();
    LogLayout m_layout;
    std::vector<LogColumn> m_worked; ///< as they would look
    ChannelMap m_map;
    MapSurroundings m_around;
};

/// Offers roles, and draws the small picture.
class ColumnDelegate : public QStyledItemDelegate {
    Q_OBJECT
  public:
    using QStyledItemDelegate::QStyledItemDelegate;
    QWidget *createEditor(QWidget *parent, const QStyleOptionViewItem &option,
                          const QModelIndex &index) const override;
    void setEditorData(QWidget *editor, const QModelIndex &index) const override;
    void setModelData(QWidget *editor, QAbstractItemModel *model, const QModelIndex &index) const override;
    void paint(QPainter *painter, const QStyleOptionViewItem &option,
               const QModelIndex &index) const override;

  private:
    void takeChosen(); ///< the editor that says so is done: at the first choice
};

} // namespace wheelwright
