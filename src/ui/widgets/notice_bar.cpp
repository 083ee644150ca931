// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/notice_bar.h"

#include "ui/theme.h"

#include <QEvent>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>

#include <algorithm>

namespace wheelwright {

NoticeBar::NoticeBar(QWidget *parent, const QWidget *rail)
    : QFrame(parent), m_rail(rail), m_text(new QLabel(this)) {
    setProperty("card", true);
    setObjectName(QStringLiteral("notice"));
    setAutoFillBackground(true);
    m_text->setWordWrap(true);
    m_text->setTextInteractionFlags(Qt::TextSelectableByMouse);
    auto *close = new QPushButton(tr("Understood"), this);
    close->setAccessibleDescription(tr("Takes this notice away"));
    connect(close, &QPushButton::clicked, this, &QWidget::hide);
    auto *layout = new QHBoxLayout(this);
    layout->setContentsMargins(10, 4, 6, 4);
    layout->addWidget(m_text, 1);
    layout->addWidget(close);
    parent->installEventFilter(this);
    hide();
}

bool NoticeBar::eventFilter(QObject *watched, QEvent *event) {
    if (watched == parentWidget() && event->type() == QEvent::Resize) place();
    return QFrame::eventFilter(watched, event);
}

void NoticeBar::place() {
    const int whole = parentWidget()->width();
    const int left = std::clamp(m_rail->mapTo(parentWidget(), QPoint(m_rail->width(), 0)).x(), 0, whole / 2);
    const int width = whole - left, height = heightForWidth(width);
    setGeometry(left, parentWidget()->height() - height, width, height);
    raise();
}

void NoticeBar::say(const QString &sentence) {
    m_text->setText(sentence);
    setStyleSheet(QStringLiteral("#notice { border: 2px solid %1; border-left-width: 10px; }")
                      .arg(theme().trouble.name()));
    place();
    show();
}

QString NoticeBar::sentence() const {
    return isVisibleTo(parentWidget()) ? m_text->text() : QString();
}

} // namespace wheelwright
