// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/tour_bar.h"

#include "ui/theme.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPushButton>

#include <algorithm>

namespace wheelwright {

TourBar::TourBar(QWidget *parent)
    : QFrame(parent), m_words(new QLabel(this)), m_count(new QLabel(this)),
      m_back(new QPushButton(tr("Back"), this)), m_next(new QPushButton(this)) {
    setObjectName(QStringLiteral("tour"));
    setProperty("card", true);
    setAccessibleName(tr("Tour"));
    m_words->setWordWrap(true);
    m_words->setTextFormat(Qt::MarkdownText);
    m_words->setAlignment(Qt::AlignLeft | Qt::AlignTop);
    // The title and two lines: it stays as high as it is from stop to stop.
    constexpr int lines = 3;
    m_words->setMinimumHeight(lines * m_words->fontMetrics().lineSpacing() + 6);
    setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Maximum);
    m_count->setProperty("quiet", true);
    m_count->setAlignment(Qt::AlignCenter);
    m_next->setProperty("main", true);
    m_next->setObjectName(QStringLiteral("tourNext"));
    m_back->setObjectName(QStringLiteral("tourBack"));
    auto *leave = new QPushButton(tr("End"), this);
    leave->setProperty("quietly", true);
    leave->setObjectName(QStringLiteral("tourEnd"));
    connect(m_back, &QPushButton::clicked, this, [this] { go(m_stop - 1); });
    connect(m_next, &QPushButton::clicked, this, [this] { go(m_stop + 1); });
    connect(leave, &QPushButton::clicked, this, &TourBar::end);
    auto *layout = new QHBoxLayout(this);
    layout->setContentsMargins(14, 5, 10, 5);
    layout->addWidget(m_words, 1);
    layout->addSpacing(12); // or the count reads as the end of the words
    for (QWidget *w : std::initializer_list<QWidget *>{m_count, leave, m_back, m_next})
        layout->addWidget(w);
    hide();
}

void TourBar::start() {
    m_stops = tourStops();
    show();
    go(0);
    m_next->setFocus();
}

void TourBar::end() {
    hide();
    emit ended();
}

void TourBar::go(int stop) {
    if (stop >= stops()) return end();
    m_stop = std::max(0, stop);
    const TourStop &s = m_stops[static_cast<std::size_t>(m_stop)];
    m_words->setText(QStringLiteral("**%1**  \n%2").arg(s.title, s.words));
    setAccessibleDescription(s.title + u' ' + s.words);
    m_count->setText(tr("%1 of %2").arg(m_stop + 1).arg(stops()));
    m_back->setEnabled(m_stop > 0);
    m_next->setText(m_stop + 1 < stops() ? tr("Next") : tr("Done"));
    emit placeWanted(s.place);
}

void TourBar::keyPressEvent(QKeyEvent *event) {
    if (event->key() == Qt::Key_Escape)
        end();
    else
        QFrame::keyPressEvent(event);
}

} // namespace wheelwright
