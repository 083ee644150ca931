// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/page_switch.h"

#include "ui/widgets/choice_keys.h"

#include <QAbstractButton>
#include <QButtonGroup>
#include <QHBoxLayout>
#include <QPushButton>
#include <QShortcut>
#include <QStackedWidget>

namespace wheelwright {

PageSwitch::PageSwitch(QWidget *parent)
    : QWidget(parent), m_buttons(new QButtonGroup(this)), m_row(new QHBoxLayout),
      m_stack(new QStackedWidget(this)), m_corners(new QStackedWidget(this)) {
    m_buttons->setExclusive(true);
    tabToTheOneDown(*m_buttons);
    m_row->setSpacing(2);
    m_row->addStretch(1);
    m_corners->setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Fixed);
    m_row->addWidget(m_corners);
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(6);
    layout->addLayout(m_row);
    layout->addWidget(m_stack, 1);
    connect(m_buttons, &QButtonGroup::idClicked, m_stack, &QStackedWidget::setCurrentIndex);
    connect(m_stack, &QStackedWidget::currentChanged, m_corners, &QStackedWidget::setCurrentIndex);
    connect(m_stack, &QStackedWidget::currentChanged, this, &PageSwitch::pageShown);
    const auto key = [this](Qt::Key k, int by) {
        auto *shortcut = new QShortcut(QKeySequence(Qt::CTRL | k), this);
        shortcut->setContext(Qt::WidgetWithChildrenShortcut);
        connect(shortcut, &QShortcut::activated, this, [this, by] { step(by); });
    };
    key(Qt::Key_PageDown, 1);
    key(Qt::Key_PageUp, -1);
}

void PageSwitch::addPage(const QString &title, QWidget *page, QWidget *corner) {
    m_corners->addWidget(corner ? corner
                                : new QWidget(this)); // before the page: its index follows the page's
    if (corner &&
        corner->sizePolicy().horizontalPolicy() == QSizePolicy::Expanding) { // it wants the whole row
        m_corners->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
        constexpr int all = 100;
        m_row->setStretchFactor(m_corners, all);
    }
    auto *button = new QPushButton(title, this);
    button->setCheckable(true);
    button->setProperty("page", true);
    const int index = m_stack->addWidget(page);
    button->setChecked(index == 0);
    m_buttons->addButton(button, index);
    if (index > 0) button->setFocusPolicy(Qt::ClickFocus);
    m_row->insertWidget(index, button);
}

void PageSwitch::showPage(QWidget *page) {
    m_stack->setCurrentWidget(page);
    m_buttons->button(m_stack->currentIndex())->setChecked(true);
}

QWidget *PageSwitch::currentPage() const {
    return m_stack->currentWidget();
}

QList<QWidget *> PageSwitch::pages() const {
    QList<QWidget *> pages;
    for (int i = 0; i < m_stack->count(); ++i)
        pages << m_stack->widget(i);
    return pages;
}

void PageSwitch::step(int by) {
    const int count = m_stack->count();
    showPage(m_stack->widget((m_stack->currentIndex() + by + count) % count));
}

} // namespace wheelwright
