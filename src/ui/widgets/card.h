// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QFrame>
#include <QLabel>

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

} // namespace wheelwright
