// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/fuel/comparison_model.h"

#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"

#include <QPainter>

#include <algorithm>

namespace wheelwright {

ComparisonModel::ComparisonModel(Session &session, QObject *parent)
    : QAbstractTableModel(parent), m_session(session) {}

void ComparisonModel::refresh() {
    beginResetModel();
    m_fuels.clear();
    if (m_session.hasJob())
        m_fuels = compareFuels(m_session.study(), m_session.today().toStdString(),
                               injectorDutyOver(m_session.verdict()));
    m_most.clear();
    for (const FuelColumn &c : allFuelColumns()) {
        double most = 0;
        for (const ComparedFuel &f : m_fuels)
            most = std::max(most, c.of(f).value_or(0));
        m_most.push_back(most);
    }
    endResetModel();
}

int ComparisonModel::rowCount(const QModelIndex &parent) const {
    return parent.isValid() ? 0 : static_cast<int>(m_fuels.size());
}

int ComparisonModel::columnCount(const QModelIndex &parent) const {
    return parent.isValid() ? 0 : static_cast<int>(allFuelColumns().size());
}

QVariant ComparisonModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (orientation == Qt::Vertical) {
        const ComparedFuel &f = m_fuels[static_cast<std::size_t>(section)];
        if (role == Qt::ToolTipRole) {
            QStringList words{f.leaded ? tr("Leaded.") : QString()};
            for (const ShelfFlag &flag : f.flags)
                words << text(flag.words, m_session.units());
            return words.join(QLatin1Char('\n')).trimmed();
        }
        if (role != Qt::DisplayRole) return {};
        return text(f.name) + (f.leaded ? tr(" · Pb") : QString()) +
               (f.flags.empty() ? QString() : QStringLiteral(" ◖"));
    }
    const FuelColumn &c = allFuelColumns()[static_cast<std::size_t>(section)];
    if (role == Qt::DisplayRole) return text(c.title);
    if (role == Qt::ToolTipRole) return text(c.help);
    return {};
}

QVariant ComparisonModel::data(const QModelIndex &index, int role) const {
    if (!index.isValid()) return {};
    const auto column = static_cast<std::size_t>(index.column());
    const FuelColumn &c = allFuelColumns()[column];
    const ComparedFuel &f = m_fuels[static_cast<std::size_t>(index.row())];
    const auto v = c.of(f);
    if (role == Qt::DisplayRole)
        return v ? fixedText(toShown(*v, c.dimension, m_session.units()), c.decimals, m_session.units())
                 : QStringLiteral("–");
    if (role == Qt::ToolTipRole) return v ? shown(*v, c.dimension, m_session.units()) : tr("Not known");
    if (role == magnitudeRole) return v && m_most[column] > 0 ? *v / m_most[column] : 0.0;
    if (role == contentRole) return f.alcohol;
    return {};
}

void BarDelegate::paint(QPainter *p, const QStyleOptionViewItem &option, const QModelIndex &index) const {
    p->save();
    const QRect r = option.rect;
    const bool selected = option.state & QStyle::State_Selected;
    if (selected) p->fillRect(r, option.palette.color(QPalette::AlternateBase));
    const double magnitude = index.data(ComparisonModel::magnitudeRole).toDouble();
    const QColor hue = theme().content(index.data(ComparisonModel::contentRole).toDouble());
    constexpr int inset = 6, thickness = 5;
    const QRectF bar(r.left() + inset, r.bottom() - thickness - 2, (r.width() - 2 * inset) * magnitude,
                     thickness);
    p->fillRect(bar, hue);
    p->setPen(theme().ink);
    p->setFont(sansFont(13, selected));
    p->drawText(r.adjusted(inset, 1, -inset, -thickness), Qt::AlignLeft | Qt::AlignVCenter,
                index.data(Qt::DisplayRole).toString());
    if (option.state & QStyle::State_HasFocus) {
        p->setPen(QPen(theme().content(0.5), 1));
        p->drawRect(r.adjusted(0, 0, -1, -1));
    }
    p->restore();
}

} // namespace wheelwright
