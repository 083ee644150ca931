// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QFrame>
#include <QLabel>
#include <QPushButton>

#include <algorithm>
#include <vector>

namespace wheelwright {

/// The pieces that every station is laid out from; their look is in the style sheet (theme.cpp).
inline QFrame *makeCard(QWidget *parent) {
    auto *card = new QFrame(parent);
    card->setProperty("card", true);
    return card;
}

inline QLabel *makeHead(const QString &title, QWidget *parent) {
    auto *label = new QLabel(title, parent);
    label->setProperty("head", true);
    return label;
}

/// Secondary text, wrapped.
inline QLabel *makeQuiet(const QString &text, QWidget *parent) {
    auto *label = new QLabel(text, parent);
    label->setProperty("quiet", true);
    label->setWordWrap(true);
    return label;
}

/// Buttons under each other: as wide as the longest of their words, and no narrower than that many pixels.
inline void giveOneWidth(const std::vector<QPushButton *> &buttons, int least = 220) {
    int width = least;
    for (QPushButton *b : buttons) {
        b->ensurePolished(); // or its font and edges are still those of the style
        width = std::max(width, b->sizeHint().width());
    }
    for (QPushButton *b : buttons)
        b->setFixedWidth(width);
}

} // namespace wheelwright
