// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/action_finder.h"

#include <QAction>
#include <QKeyEvent>
#include <QLineEdit>
#include <QListWidget>
#include <QVBoxLayout>

#include <algorithm>

namespace wheelwright {
namespace {

QString plainName(const QAction *a) {
    return a->text().remove(QLatin1Char('&'));
}

// All typed words, in any order, anywhere in the name.
bool matches(const QString &name, const QString &typed) {
    const QStringList parts = typed.split(QLatin1Char(' '), Qt::SkipEmptyParts);
    return std::ranges::all_of(parts,
                               [&](const QString &p) { return name.contains(p, Qt::CaseInsensitive); });
}

} // namespace

ActionFinder::ActionFinder(const QList<QAction *> &actions, QWidget *parent)
    : QDialog(parent), m_actions(actions), m_typed(new QLineEdit(this)), m_list(new QListWidget(this)) {
    setWindowTitle(tr("Find an action"));
    setObjectName(QStringLiteral("actionFinder"));
    resize(460, 360);
    m_typed->setPlaceholderText(tr("A few letters of what you want to do"));
    m_typed->setAccessibleName(tr("Find an action"));
    m_list->setAccessibleName(tr("Actions"));
    m_typed->installEventFilter(this);
    auto *layout = new QVBoxLayout(this);
    layout->addWidget(m_typed);
    layout->addWidget(m_list);
    connect(m_typed, &QLineEdit::textChanged, this, &ActionFinder::filter);
    connect(m_typed, &QLineEdit::returnPressed, this, &ActionFinder::run);
    connect(m_list, &QListWidget::itemActivated, this, &ActionFinder::run);
    filter({});
}

void ActionFinder::filter(const QString &typed) {
    m_list->clear();
    for (qsizetype i = 0; i < m_actions.size(); ++i) {
        const QAction *a = m_actions[i];
        if (!a->isEnabled() || !matches(plainName(a), typed)) continue;
        const QString keys = a->shortcut().toString(QKeySequence::NativeText);
        auto *item = new QListWidgetItem(
            plainName(a) + (keys.isEmpty() ? QString() : QStringLiteral("    ") + keys), m_list);
        item->setData(Qt::UserRole, static_cast<int>(i));
    }
    m_list->setCurrentRow(0);
}

void ActionFinder::run() {
    const QListWidgetItem *item = m_list->currentItem();
    if (!item) return;
    QAction *action = m_actions[item->data(Qt::UserRole).toInt()];
    accept();
    action->trigger();
}

bool ActionFinder::eventFilter(QObject *watched, QEvent *event) {
    if (watched == m_typed && event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent *>(event)->key();
        if (key == Qt::Key_Down || key == Qt::Key_Up) {
            const int step = key == Qt::Key_Down ? 1 : -1;
            m_list->setCurrentRow(
                std::clamp(m_list->currentRow() + step, 0, std::max(0, m_list->count() - 1)));
            return true;
        }
    }
    return QDialog::eventFilter(watched, event);
}

} // namespace wheelwright
