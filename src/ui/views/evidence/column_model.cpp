// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/evidence/column_model.h"

#include "core/base/error.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"

#include <QComboBox>
#include <QPainter>

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

constexpr int skippedRole = -1; // in the list of roles: not imported at all

QString roleTitle(const MappedColumn &m) {
    return m.skipped ? ColumnModel::tr("leave out") : text(definitionOf(m.role).title);
}

} // namespace

ColumnModel::ColumnModel(Session &session, QObject *parent)
    : QAbstractTableModel(parent), m_session(session) {}

void ColumnModel::show(const LogPreview &preview, const MapSurroundings &around) {
    beginResetModel();
    m_layout = preview.layout;
    m_map = preview.map;
    m_around = around;
    refreshWorked();
    endResetModel();
}

void ColumnModel::addWorked(const MappedColumn &column) {
    ChannelMap with = m_map;
    with.columns.push_back(column);
    with = fitted(with, m_layout);
    beginResetModel();
    m_map = std::move(with);
    refreshWorked();
    endResetModel();
}

// What a column is made of may have got another role: then it looks like nothing.
void ColumnModel::refreshWorked() {
    m_worked.clear();
    for (std::size_t i = m_layout.columns.size(); i < m_map.columns.size(); ++i) {
        try {
            m_worked.push_back(workedPreview(m_map.columns[i], m_map, m_layout, m_around));
        } catch (const InputError &) {
            LogColumn &none = m_worked.emplace_back();
            none.name = m_map.columns[i].name;
        }
    }
}

void ColumnModel::setSurroundings(const MapSurroundings &around) {
    m_around = around;
    refreshWorked();
    if (rowCount() > 0) emit dataChanged(index(0, 0), index(rowCount() - 1, columns - 1));
}

void ColumnModel::setMap(ChannelMap map) {
    beginResetModel();
    m_map = std::move(map);
    refreshWorked();
    endResetModel();
}

void ColumnModel::put(int row, MappedColumn column) {
    m_map.columns[static_cast<std::size_t>(row)] = std::move(column);
    refreshWorked();
    emit dataChanged(index(row, 0), index(row, columns - 1));
    const int own = static_cast<int>(m_layout.columns.size());
    if (row < own && own < rowCount()) emit dataChanged(index(own, 0), index(rowCount() - 1, columns - 1));
}

int ColumnModel::firstQuestion() const {
    for (int i = 0; i < rowCount(); ++i)
        if (!mapped(i).question.empty() && !mapped(i).skipped) return i;
    return -1;
}

int ColumnModel::rowCount(const QModelIndex &parent) const {
    return parent.isValid() ? 0 : static_cast<int>(m_map.columns.size());
}

int ColumnModel::columnCount(const QModelIndex &parent) const {
    return parent.isValid() ? 0 : columns;
}

QString ColumnModel::readingWords(const MappedColumn &m) const {
    QStringList out;
    if (m.scale) {
        if (const double *number = std::get_if<double>(&*m.scale))
            out << tr("scale %1").arg(*number);
        else
            out << (std::get<AfrScale>(*m.scale) == AfrScale::gasoline ? tr("scale 14.7")
                                                                       : tr("scale of the fuel"));
    }
    if (m.reference == PressureReference::absolute) out << tr("absolute");
    if (m.reference == PressureReference::gauge) out << tr("gauge");
    if (m.reversed) out << tr("other sign");
    return out.join(QStringLiteral(", "));
}

QVariant ColumnModel::data(const QModelIndex &at, int what) const {
    if (!at.isValid()) return {};
    const MappedColumn &m = mapped(at.row());
    const LogColumn &c = columnOf(at.row());
    if (what == Qt::DisplayRole || what == Qt::EditRole) {
        switch (at.column()) {
        case file:
            return m.formula.empty() ? text(c.name) : text(m.name + " = " + m.formula);
        case role:
            return what == Qt::EditRole ? QVariant(m.skipped ? skippedRole : static_cast<int>(m.role))
                                        : roleTitle(m);
        case unit:
            return text(m.unit);
        case reading:
            return readingWords(m);
        case sure:
            return m.role == ChannelRole::none || m.skipped ? QString()
                   : m.question.empty()                     ? tr("%1 %").arg(std::round(m.confidence * 100))
                                        : tr("%1 % ?").arg(std::round(m.confidence * 100));
        case outlook:
            return m.role == ChannelRole::none ? QString()
                                               : text(outlookOf(m, c, m_around).said, m_session.units());
        default:
            return {};
        }
    }
    if (what == Qt::ForegroundRole) {
        if (at.column() == outlook && !outlookOf(m, c, m_around).plausible) return theme().trouble;
        if (at.column() == sure && !m.question.empty()) return theme().heed;
        if (m.role == ChannelRole::none || m.skipped) return theme().quiet;
    }
    if (what == Qt::ToolTipRole) return text(m.question, m_session.units());
    if (what == Qt::UserRole && at.column() == trace) {
        QVariantList values;
        for (const double v : c.preview)
            values << v;
        return values;
    }
    return {};
}

QVariant ColumnModel::headerData(int section, Qt::Orientation orientation, int what) const {
    if (what != Qt::DisplayRole || orientation != Qt::Horizontal) return {};
    switch (section) {
    case file:
        return tr("Column");
    case role:
        return tr("is");
    case unit:
        return tr("in");
    case reading:
        return tr("read as");
    case sure:
        return tr("sure");
    case outlook:
        return tr("would run from");
    default:
        return tr("looks like");
    }
}

Qt::ItemFlags ColumnModel::flags(const QModelIndex &at) const {
    Qt::ItemFlags flags = QAbstractTableModel::flags(at);
    const bool clock =
        columnOf(at.row()).knownClock && columnOf(at.row()).clock == static_cast<std::size_t>(at.row());
    if (!clock && (at.column() == role || at.column() == unit)) flags |= Qt::ItemIsEditable;
    return flags;
}

bool ColumnModel::setData(const QModelIndex &at, const QVariant &value, int what) {
    if (what != Qt::EditRole || !at.isValid()) return false;
    MappedColumn m = mapped(at.row());
    if (at.column() == role) {
        const int chosen = value.toInt();
        if (chosen == skippedRole) {
            m.skipped = true;
            m.question = {};
        } else {
            const std::string formula = m.formula;
            m = withRole(m, static_cast<ChannelRole>(chosen), columnOf(at.row()));
            m.formula = formula;
        }
    } else if (at.column() == unit) {
        m.unit = value.toString().trimmed().toStdString();
        m.question = {};
        m.confidence = 1;
        const auto known = unitFromText(m.unit);
        if (known && known->kind == UnitKind::airFuelRatio && !m.scale) m.scale = AfrScale::gasoline;
        if (known && known->kind != UnitKind::airFuelRatio) m.scale.reset();
    } else {
        return false;
    }
    put(at.row(), std::move(m));
    return true;
}

QWidget *ColumnDelegate::createEditor(QWidget *parent, const QStyleOptionViewItem &option,
                                      const QModelIndex &index) const {
    if (index.column() != ColumnModel::role) return QStyledItemDelegate::createEditor(parent, option, index);
    auto *box = new QComboBox(parent);
    box->setAccessibleName(ColumnModel::tr("What this column is"));
    for (const ChannelRoleDefinition &d : allChannelRoles())
        box->addItem(text(d.title), static_cast<int>(d.role));
    box->addItem(ColumnModel::tr("leave out"), skippedRole);
    connect(box, &QComboBox::activated, this, &ColumnDelegate::takeChosen);
    return box;
}

void ColumnDelegate::takeChosen() {
    if (auto *box = qobject_cast<QComboBox *>(sender())) {
        emit commitData(box);
        emit closeEditor(box);
    }
}

void ColumnDelegate::setEditorData(QWidget *editor, const QModelIndex &index) const {
    if (auto *box = qobject_cast<QComboBox *>(editor))
        box->setCurrentIndex(box->findData(index.data(Qt::EditRole)));
    else
        QStyledItemDelegate::setEditorData(editor, index);
}

void ColumnDelegate::setModelData(QWidget *editor, QAbstractItemModel *model,
                                  const QModelIndex &index) const {
    if (auto *box = qobject_cast<QComboBox *>(editor))
        model->setData(index, box->currentData());
    else
        QStyledItemDelegate::setModelData(editor, model, index);
}

void ColumnDelegate::paint(QPainter *painter, const QStyleOptionViewItem &option,
                           const QModelIndex &index) const {
    QStyledItemDelegate::paint(painter, option, index);
    if (index.column() != ColumnModel::trace) return;
    const QVariantList values = index.data(Qt::UserRole).toList();
    double least = 1e300, most = -1e300;
    for (const QVariant &v : values)
        if (const double d = v.toDouble(); std::isfinite(d)) {
            least = std::min(least, d);
            most = std::max(most, d);
        }
    if (least > most) return;
    const QRectF box = QRectF(option.rect).adjusted(4, 4, -4, -4);
    const double span = most > least ? most - least : 1;
    QPolygonF line;
    for (qsizetype i = 0; i < values.size(); ++i)
        if (const double d = values[i].toDouble(); std::isfinite(d))
            line << QPointF(box.left() + box.width() * static_cast<double>(i) /
                                             static_cast<double>(std::max<qsizetype>(1, values.size() - 1)),
                            box.bottom() - (d - least) / span * box.height());
    painter->save();
    painter->setPen(QPen(theme().ink, 1));
    painter->drawPolyline(line);
    painter->restore();
}

} // namespace wheelwright
