// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/record_model.h"

#include "core/base/error.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/widgets/record_words.h"
#include "ui/widgets/verdict_mark.h"

#include <QApplication>

namespace wheelwright {
namespace {

constexpr int markSide = 12;

} // namespace

RecordModel::RecordModel(Session &session, const RecordList &list, QObject *parent)
    : QAbstractTableModel(parent), m_session(session), m_list(list) {
    // The lists are short: a fresh start is cheaper than being clever about what moved.
    const auto renew = [this] {
        beginResetModel();
        endResetModel();
    };
    // At once, since rows must never be asked for that are not there any more.
    connect(&session, &Session::jobChanged, this, [this, renew](const JobChange &change) {
        if (change.touches(m_list.path)) renew();
    });
    connect(&session, &Session::jobReplaced, this, renew);
    connect(&session, &Session::unitsChanged, this, renew);
}

std::size_t RecordModel::records() const {
    return m_list.size(m_session.job());
}

int RecordModel::rowCount(const QModelIndex &parent) const {
    return parent.isValid() || !m_session.hasJob() ? 0 : static_cast<int>(records()) + 1;
}

int RecordModel::columnCount(const QModelIndex &parent) const {
    return parent.isValid() ? 0 : static_cast<int>(m_list.fields.size());
}

void RecordModel::setRemarks(QStringList remarks) {
    if (remarks == m_remarks) return;
    m_remarks = std::move(remarks);
    if (rowCount() > 0) emit dataChanged(index(0, 0), index(rowCount() - 1, 0));
}

QVariant RecordModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (orientation == Qt::Vertical)
        return role == Qt::DisplayRole && section == static_cast<int>(records())
                   ? QVariant(QStringLiteral("+"))
                   : QVariant();
    const RecordField &f = m_list.fields[static_cast<std::size_t>(section)];
    if (role == Qt::DisplayRole) return text(f.title);
    return role == Qt::ToolTipRole ? QVariant(text(f.help)) : QVariant();
}

QVariant RecordModel::data(const QModelIndex &index, int role) const {
    const auto row = static_cast<std::size_t>(index.row());
    if (!index.isValid() || row >= records()) return {};
    const RecordField &f = m_list.fields[static_cast<std::size_t>(index.column())];
    const QString remark = m_remarks.value(index.row());
    if (index.column() == 0 && !remark.isEmpty()) {
        if (role == Qt::DecorationRole)
            return verdictPicture(CheckState::caution, markSide, qApp->devicePixelRatio());
        if (role == Qt::ToolTipRole || role == Qt::AccessibleDescriptionRole) return remark;
    }
    const FieldContent content = f.read(m_session.job(), row);
    if (const bool *on = std::get_if<bool>(&content))
        return role == Qt::CheckStateRole ? QVariant(*on ? Qt::Checked : Qt::Unchecked) : QVariant();
    if (role == Qt::TextAlignmentRole && std::holds_alternative<double>(content))
        return QVariant(Qt::AlignRight | Qt::AlignVCenter);
    if (role != Qt::DisplayRole && role != Qt::EditRole) return {};
    return shownContent(f, content, m_session.units());
}

Qt::ItemFlags RecordModel::flags(const QModelIndex &index) const {
    Qt::ItemFlags flags = QAbstractTableModel::flags(index);
    if (!index.isValid() || m_session.readOnly()) return flags;
    const RecordField &f = m_list.fields[static_cast<std::size_t>(index.column())];
    const bool flag =
        static_cast<std::size_t>(index.row()) < records() &&
        std::holds_alternative<bool>(f.read(m_session.job(), static_cast<std::size_t>(index.row())));
    return flags | (flag ? Qt::ItemIsUserCheckable : Qt::ItemIsEditable);
}

FieldContent RecordModel::contentOf(const RecordField &f, const QVariant &typed) const {
    Job blank;
    m_list.resize(blank, 1);
    if (std::holds_alternative<bool>(f.read(blank, 0))) return typed.toInt() == Qt::Checked;
    return typedContent(m_list, f, typed.toString(), m_session.units());
}

// What is noted of the tank happens now, as on the command line; who means another time types that. The
// ladder asks what was logged since the last pour.
void RecordModel::happenedNow(Job &job, std::size_t row) const {
    for (const RecordField &f : m_list.fields)
        if (f.key == "at") f.write(job, row, m_session.now().toStdString());
}

bool RecordModel::setData(const QModelIndex &index, const QVariant &value, int role) {
    if (role != Qt::EditRole && role != Qt::CheckStateRole) return false;
    if (role == Qt::EditRole && value == data(index, role))
        return false; // looked at, not changed: the shown number may be a rounded one
    const auto row = static_cast<std::size_t>(index.row());
    const RecordField &f = m_list.fields[static_cast<std::size_t>(index.column())];
    try {
        const FieldContent content = contentOf(f, value);
        validate(m_list, f, row, content);
        return m_session.perform(QStringLiteral("%1: %2").arg(text(m_list.title), text(f.title)),
                                 [&](Job &job) {
                                     const bool fresh = row >= m_list.size(job);
                                     if (fresh) m_list.resize(job, row + 1);
                                     if (fresh && m_list.path == "tank.events") happenedNow(job, row);
                                     const FieldContent before = f.read(job, row);
                                     f.write(job, row, content);
                                     const auto *from = std::get_if<std::string>(&before);
                                     const auto *to = std::get_if<std::string>(&content);
                                     const bool isName = index.column() == 0 && from && to && !from->empty();
                                     if (isName) renameReferences(job, m_list.path, *from, *to);
                                 });
    } catch (const InputError &e) {
        m_session.report(text(e.words()));
        return false;
    }
}

bool RecordModel::removeRows(int row, int count, const QModelIndex &) {
    if (row < 0 || count < 1 || static_cast<std::size_t>(row) + static_cast<std::size_t>(count) > records())
        return false;
    return m_session.perform(tr("%1: take away").arg(text(m_list.title)), [&](Job &job) {
        for (int i = 0; i < count; ++i)
            m_list.erase(job, static_cast<std::size_t>(row));
    });
}

} // namespace wheelwright
