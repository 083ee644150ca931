// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "ui/theme.h"

#include <QString>

namespace wheelwright {

/// What is wrong, in the colour of trouble and bold. Takes HTML.
inline QString troubleHtml(const QString &html) {
    return QStringLiteral("<span style='color:%1'><b>%2</b></span>").arg(theme().trouble.name(), html);
}

/// What stands back.
inline QString quietHtml(const QString &html) {
    return QStringLiteral("<span style='color:%1'>%2</span>").arg(theme().quiet.name(), html);
}

} // namespace wheelwright
