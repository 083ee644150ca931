// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/wrap_row.h"

#include <algorithm>

namespace wheelwright {
namespace {

constexpr int gap = 4;

QSize wantedBy(const QLayoutItem &item) {
    return item.sizeHint().expandedTo(item.minimumSize());
}

} // namespace

WrapRow::WrapRow(QWidget *parent) : QLayout(parent) {
    setContentsMargins(0, 0, 0, 0);
    setSpacing(gap);
}

WrapRow::~WrapRow() = default;

void WrapRow::addItem(QLayoutItem *item) {
    m_items.emplace_back(item);
    invalidate();
}

int WrapRow::count() const {
    return static_cast<int>(m_items.size());
}

QLayoutItem *WrapRow::itemAt(int index) const {
    return index >= 0 && index < count() ? m_items[static_cast<std::size_t>(index)].get() : nullptr;
}

QLayoutItem *WrapRow::takeAt(int index) {
    if (index < 0 || index >= count()) return nullptr;
    const auto at = m_items.begin() + index;
    QLayoutItem *item = at->release();
    m_items.erase(at);
    return item;
}

std::vector<WrapRow::Line> WrapRow::linesIn(int width) const {
    std::vector<Line> lines;
    Line all;
    const auto add = [this](Line &line, QLayoutItem &item) {
        const int between = line.items.empty() ? 0 : spacing();
        line.width += wantedBy(item).width() + between;
        line.least += item.minimumSize().width() + between;
        line.height = std::max(line.height, wantedBy(item).height());
        line.items.push_back(&item);
    };
    for (const auto &item : m_items) {
        if (item->isEmpty()) continue; // hidden
        if (lines.empty() || lines.back().width + spacing() + wantedBy(*item).width() > width)
            lines.emplace_back();
        add(lines.back(), *item);
        add(all, *item);
    }
    if (lines.size() > 1 && all.least <= width) lines = {all};
    return lines;
}

int WrapRow::heightForWidth(int width) const {
    const QMargins m = contentsMargins();
    int height = 0;
    for (const Line &line : linesIn(width - m.left() - m.right()))
        height += line.height + (height > 0 ? spacing() : 0);
    return height + m.top() + m.bottom();
}

QSize WrapRow::sizeHint() const {
    QSize size(0, 0);
    for (const auto &item : m_items) {
        if (item->isEmpty()) continue;
        const QSize wanted = wantedBy(*item);
        size = QSize(size.width() + wanted.width() + (size.width() > 0 ? spacing() : 0),
                     std::max(size.height(), wanted.height()));
    }
    return size.grownBy(contentsMargins());
}

QSize WrapRow::minimumSize() const {
    QSize size(0, 0);
    for (const auto &item : m_items)
        if (!item->isEmpty()) size = size.expandedTo(wantedBy(*item));
    return size.grownBy(contentsMargins());
}

void WrapRow::setGeometry(const QRect &rect) {
    QLayout::setGeometry(rect);
    const QRect room = rect.marginsRemoved(contentsMargins());
    int top = room.top();
    for (const Line &line : linesIn(room.width())) {
        place(line, QRect(room.left(), top, room.width(), line.height));
        top += line.height + spacing();
    }
}

void WrapRow::place(const Line &line, const QRect &room) const {
    const auto expands = [](const QLayoutItem *i) {
        return i->expandingDirections().testFlag(Qt::Horizontal);
    };
    const auto takers = std::ranges::count_if(line.items, expands);
    int left = room.left(), free = std::max(0, room.width() - line.width);
    const int each = takers > 0 ? free / static_cast<int>(takers) : 0;
    // Where they are pressed into one line each gives of what it has over its least.
    const int over = line.width - room.width(), spare = line.width - line.least;
    const auto widthOf = [&](const QLayoutItem *item) {
        const int wanted = wantedBy(*item).width(), least = item->minimumSize().width();
        if (over > 0 && spare > 0) return wanted - (wanted - least) * over / spare;
        return std::min(room.width(), wanted + (expands(item) ? each : 0));
    };
    bool pushed = false;
    for (QLayoutItem *item : line.items) {
        const QSize wanted = wantedBy(*item);
        const int width = widthOf(item);
        if (!pushed && takers == 0 && item->alignment().testFlag(Qt::AlignRight)) {
            left += free;
            pushed = true;
        }
        const int height =
            item->expandingDirections().testFlag(Qt::Vertical) ? room.height() : wanted.height();
        item->setGeometry(QRect(left, room.top() + (room.height() - height) / 2, width, height));
        left += width + spacing();
    }
}

} // namespace wheelwright
