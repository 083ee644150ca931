// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/fit_dialog.h"

#include <QDialog>
#include <QScrollArea>
#include <QVBoxLayout>

namespace wheelwright {

void fitDialog(QDialog &dialog, QSize room) {
    const QSize needed = dialog.minimumSizeHint().expandedTo(dialog.minimumSize());
    const QSize wanted = dialog.testAttribute(Qt::WA_Resized) ? dialog.size() : dialog.sizeHint();
    if (wanted.boundedTo(room) != wanted) dialog.resize(wanted.boundedTo(room));
    if (!dialog.layout() || needed.boundedTo(room) == needed) return;
    auto *page = new QWidget;
    page->setLayout(dialog.layout()); // takes the widgets along
    page->setMinimumSize(needed);
    auto *scroll = new QScrollArea(&dialog);
    scroll->setFocusPolicy(Qt::NoFocus); // what is in it takes the keys, and is scrolled to
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setWidgetResizable(true);
    scroll->setWidget(page);
    auto *outer = new QVBoxLayout(&dialog);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->addWidget(scroll);
    dialog.setMinimumSize(0, 0);
    dialog.resize(needed.boundedTo(room));
}

} // namespace wheelwright
