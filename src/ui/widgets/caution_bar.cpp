// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/caution_bar.h"

#include "core/study/cautions.h"
#include "ui/text.h"
#include "ui/theme.h"

#include <QEvent>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPushButton>
#include <QSettings>

#include <algorithm>

namespace wheelwright {
namespace {

const QString understoodAs = QStringLiteral("cautionsUnderstood");

} // namespace

CautionBar::CautionBar(QSettings &settings, QPushButton *small, QWidget *over)
    : QFrame(over), m_settings(settings), m_small(small), m_text(new QLabel(this)) {
    setProperty("card", true);
    setProperty("over", true);
    setObjectName(QStringLiteral("cautions"));
    setAutoFillBackground(true);
    m_text->setWordWrap(true);
    m_text->setTextInteractionFlags(Qt::TextSelectableByMouse);
    auto *help = new QPushButton(tr("More"), this);
    help->setToolTip(tr("The page on safety"));
    auto *done = new QPushButton(tr("Understood"), this);
    done->setObjectName(QStringLiteral("cautionUnderstood"));
    done->setAccessibleDescription(tr("Keeps these cautions small from now on"));
    connect(help, &QPushButton::clicked, this, &CautionBar::helpWanted);
    connect(done, &QPushButton::clicked, this, &CautionBar::understand);
    auto *layout = new QHBoxLayout(this);
    layout->setContentsMargins(14, 8, 8, 8);
    layout->addWidget(m_text, 1);
    layout->addWidget(help, 0, Qt::AlignBottom);
    layout->addWidget(done, 0, Qt::AlignBottom);
    m_small->setObjectName(QStringLiteral("cautionsSmall"));
    m_small->setProperty("quietly", true);
    m_small->setToolTip(tr("Shows the cautions again"));
    connect(m_small, &QPushButton::clicked, this, [this] {
        m_inFull = isHidden() ? m_here : std::vector<const Caution *>();
        write();
    });
    over->installEventFilter(this);
    QWidget::hide();
    m_small->hide();
}

QStringList CautionBar::understood() const {
    return m_settings.value(understoodAs).toStringList();
}

void CautionBar::show(const std::vector<const Caution *> &cautions) {
    m_here = cautions;
    m_inFull.clear();
    const QStringList known = understood();
    std::ranges::copy_if(m_here, std::back_inserter(m_inFull),
                         [&](const Caution *c) { return !known.contains(text(c->id)); });
    write();
}

void CautionBar::write() {
    QStringList names, lines;
    for (const Caution *c : m_here)
        names << text(c->title);
    for (const Caution *c : m_inFull)
        lines << QStringLiteral("<b>%1.</b> %2")
                     .arg(text(c->title).toHtmlEscaped(), text(c->text).toHtmlEscaped());
    m_small->setText(tr("Caution: %1").arg(names.join(QStringLiteral(", "))));
    m_small->setVisible(!names.isEmpty());
    m_text->setText(lines.join(QStringLiteral("<br>")));
    setAccessibleName(names.join(QStringLiteral(", ")));
    setStyleSheet(QStringLiteral("#cautions { border: 2px solid %1; border-left-width: 10px; }")
                      .arg(theme().heed.name()));
    setVisible(!lines.isEmpty());
    if (!lines.isEmpty()) place();
}

QString CautionBar::words() const {
    return isHidden() ? QString() : m_text->text();
}

void CautionBar::understand() {
    QStringList known = understood();
    for (const Caution *c : m_inFull)
        known << text(c->id);
    known.removeDuplicates();
    m_settings.setValue(understoodAs, known);
    m_inFull.clear();
    write();
}

void CautionBar::standOver(QWidget *below) {
    m_below = below;
    below->installEventFilter(this);
}

void CautionBar::understandAll(QSettings &settings) {
    QStringList all;
    for (const Caution &c : allCautions())
        all << text(c.id);
    settings.setValue(understoodAs, all);
}

void CautionBar::place() {
    const int width = parentWidget()->width();
    const int height = layout()->totalHeightForWidth(width); // of words in lines of that width
    const bool onAnother = m_below && m_below->isVisible();
    const int floor = onAnother ? m_below->mapTo(parentWidget(), QPoint()).y() : parentWidget()->height();
    setGeometry(0, floor - height, width, height);
    raise();
}

bool CautionBar::eventFilter(QObject *watched, QEvent *event) {
    const QEvent::Type type = event->type();
    const bool moved =
        type == QEvent::Resize || type == QEvent::Move || type == QEvent::Show || type == QEvent::Hide;
    if (moved && !isHidden() && (watched == parentWidget() || watched == m_below)) place();
    return QFrame::eventFilter(watched, event);
}

void CautionBar::keyPressEvent(QKeyEvent *event) {
    if (event->key() == Qt::Key_Escape)
        understand();
    else
        QFrame::keyPressEvent(event);
}

} // namespace wheelwright
