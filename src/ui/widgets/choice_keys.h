// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QAbstractButton>
#include <QButtonGroup>

namespace wheelwright {

/// Of buttons that exclude each other Tab goes to the one that is down, and the arrows from there to the
/// others. By itself the library has Tab go to whichever had the keys last. Call when all are in the group.
inline void tabToTheOneDown(QButtonGroup &group) {
    const auto settle = [&group] {
        for (QAbstractButton *b : group.buttons())
            b->setFocusPolicy(b->isChecked() ? Qt::StrongFocus : Qt::ClickFocus);
    };
    QObject::connect(&group, &QButtonGroup::idToggled, &group, settle);
    settle();
}

} // namespace wheelwright
