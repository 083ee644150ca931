// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/verify/check.h"

#include <QPainter>

namespace wheelwright {

/// A verdict as a shape: a filled disc (proven), a hatched one (held by the model), a disc with a notch
/// (caution), an empty thin ring (not judged), a broken thick one (fails). Never by colour alone.
void drawVerdictMark(QPainter &painter, const QRectF &box, CheckState state);

} // namespace wheelwright
