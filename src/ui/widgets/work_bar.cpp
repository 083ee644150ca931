// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/work_bar.h"

#include "session/work.h"
#include "ui/theme.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>

namespace wheelwright {
namespace {

constexpr int steps = 1000;

// A bar without an end runs back and forth, unless nothing is to move by itself: then it is empty.
int unknown() {
    return theme().still ? steps : 0;
}

} // namespace

WorkBar::WorkBar(WorkSignals &work, std::function<void()> cancel, QWidget *parent)
    : QWidget(parent), m_words(new QLabel(tr("Working it out …"), this)), m_progress(new QProgressBar(this)) {
    auto *layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    constexpr int leastProgress = 40;
    m_words->setMinimumWidth(1);
    QSizePolicy keepsItsRoom = m_words->sizePolicy();
    keepsItsRoom.setRetainSizeWhenHidden(true); // or the bar would never ask for it again
    m_words->setSizePolicy(keepsItsRoom);
    m_progress->setMinimumWidth(leastProgress);
    auto *stop = new QPushButton(tr("Stop"), this);
    stop->setObjectName(QStringLiteral("stopWork"));
    m_progress->setAccessibleName(tr("How far it is"));
    m_progress->setTextVisible(false);
    m_progress->setRange(0, unknown()); // until it says how far it is
    layout->addWidget(m_words);
    layout->addWidget(m_progress, 1);
    layout->addWidget(stop);
    QSizePolicy keepsItsPlace = sizePolicy();
    keepsItsPlace.setRetainSizeWhenHidden(true);
    setSizePolicy(keepsItsPlace);
    hide();
    connect(stop, &QPushButton::clicked, this, [cancel = std::move(cancel)] { cancel(); });
    connect(&work, &WorkSignals::tookLong, this, &QWidget::show);
    connect(&work, &WorkSignals::progressed, this, [this](double share) {
        m_progress->setRange(0, steps);
        m_progress->setValue(static_cast<int>(share * steps));
    });
    for (auto signal : {&WorkSignals::finished, &WorkSignals::stopped})
        connect(&work, signal, this, [this] {
            hide();
            m_progress->setRange(0, unknown());
            m_progress->reset();
        });
}

void WorkBar::resizeEvent(QResizeEvent *event) {
    QWidget::resizeEvent(event);
    m_words->setVisible(width() >= sizeHint().width());
}

} // namespace wheelwright
