// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/ladder/gate_list.h"

#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/widgets/verdict_mark.h"

#include <QHeaderView>
#include <QPainter>
#include <QStyledItemDelegate>

#include <array>

namespace wheelwright {
namespace {

enum Column { gate, found, columnCount };

CheckState markOf(GateVerdict v) {
    constexpr std::array marks{CheckState::proven, CheckState::failing, CheckState::notJudged};
    return marks[static_cast<std::size_t>(v)];
}

/// The shape of a verdict before its word.
class VerdictDelegate : public QStyledItemDelegate {
  public:
    using QStyledItemDelegate::QStyledItemDelegate;
    void paint(QPainter *painter, const QStyleOptionViewItem &option,
               const QModelIndex &index) const override {
        QStyleOptionViewItem shifted = option;
        constexpr int room = 20, size = 11;
        shifted.rect.setLeft(option.rect.left() + room);
        painter->fillRect(option.rect, option.state.testFlag(QStyle::State_Selected)
                                           ? option.palette.highlight()
                                           : option.palette.base());
        QStyledItemDelegate::paint(painter, shifted, index);
        const QRectF box(option.rect.left() + (room - size) / 2.0 + 1,
                         option.rect.center().y() - size / 2.0 + 1, size, size);
        drawVerdictMark(*painter, box, static_cast<CheckState>(index.data(Qt::UserRole).toInt()));
    }
};

} // namespace

class GateList::Model : public QAbstractTableModel {
  public:
    Model(Session &session, QObject *parent) : QAbstractTableModel(parent), m_session(session) {}

    void setGates(std::vector<GateResult> gates) {
        // The same gates with other answers: the choice stays.
        const bool same = std::ranges::equal(gates, m_gates, {}, &GateResult::gate, &GateResult::gate);
        if (!same) beginResetModel();
        m_gates = std::move(gates);
        if (!same)
            endResetModel();
        else if (!m_gates.empty())
            emit dataChanged(index(0, 0), index(rowCount() - 1, columnCount() - 1));
    }
    const std::vector<GateResult> &gates() const { return m_gates; }

    int rowCount(const QModelIndex &parent = {}) const override {
        return parent.isValid() ? 0 : static_cast<int>(m_gates.size());
    }
    int columnCount(const QModelIndex &parent = {}) const override {
        return parent.isValid() ? 0 : static_cast<int>(Column::columnCount);
    }
    QVariant headerData(int section, Qt::Orientation o, int role) const override {
        if (o != Qt::Horizontal || role != Qt::DisplayRole) return {};
        const std::array heads{GateList::tr("Gate"), GateList::tr("Found")};
        return heads[static_cast<std::size_t>(section)];
    }
    QVariant data(const QModelIndex &at, int role) const override {
        const GateResult &g = m_gates[static_cast<std::size_t>(at.row())];
        if (role == Qt::UserRole) return static_cast<int>(markOf(g.answer.verdict));
        if (role == Qt::ToolTipRole)
            return at.column() == found ? text(g.answer.said, m_session.units()) : text(g.gate->question);
        if (role != Qt::DisplayRole) return {};
        if (at.column() == gate) return text(g.gate->title);
        return GateList::tr("%1. %2").arg(text(gateVerdictWord(g.answer.verdict)),
                                          text(g.answer.said, m_session.units()));
    }

  private:
    Session &m_session;
    std::vector<GateResult> m_gates;
};

GateList::GateList(Session &session, QWidget *parent) : CopyTable(parent), m_model(new Model(session, this)) {
    setModel(m_model);
    setAccessibleName(tr("Gates of the rung"));
    setItemDelegateForColumn(gate, new VerdictDelegate(this));
    setSelectionBehavior(SelectRows);
    setSelectionMode(SingleSelection);
    setFrameShape(QFrame::NoFrame);
    setShowGrid(false);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setWordWrap(false);
    verticalHeader()->hide();
    constexpr int lineHeight = 21, gateWidth = 168;
    verticalHeader()->setDefaultSectionSize(lineHeight);
    horizontalHeader()->setStretchLastSection(true);
    setColumnWidth(gate, gateWidth);
    connect(selectionModel(), &QItemSelectionModel::currentRowChanged, this, &GateList::chosenChanged);
    connect(m_model, &QAbstractItemModel::dataChanged, this, &GateList::chosenChanged);
}

void GateList::setStatus(const RungStatus *status) {
    const std::string_view before = chosen() ? chosen()->gate->id : std::string_view();
    m_model->setGates(status ? status->gates : std::vector<GateResult>());
    if (!status || m_model->gates().empty()) {
        emit chosenChanged();
        return;
    }
    if (chosen() && chosen()->gate->id == before && !before.empty()) return;
    // On what is to be done first.
    const GateResult *first = status->first();
    const auto row = first ? static_cast<std::size_t>(first - status->gates.data()) : 0;
    choose(row);
}

const GateResult *GateList::chosen() const {
    const int row = currentIndex().row();
    return row >= 0 && row < m_model->rowCount() ? &m_model->gates()[static_cast<std::size_t>(row)] : nullptr;
}

void GateList::choose(std::size_t row) {
    setCurrentIndex(m_model->index(static_cast<int>(row), 0));
}

} // namespace wheelwright
