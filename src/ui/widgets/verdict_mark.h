// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/verify/check.h"

#include <QPainter>

#include <optional>

namespace wheelwright {

/// A verdict as a shape: a filled disc (proven), a hatched one (held by the model), a disc with a notch
/// (caution), an empty thin ring (not judged), a broken thick one (fails). Never by colour alone.
void drawVerdictMark(QPainter &painter, const QRectF &box, CheckState state);
/// The same for a list; nothing drawn where there is none. ratio: pixels of the screen per pixel.
QPixmap verdictPicture(std::optional<CheckState> state, int side, qreal ratio);

} // namespace wheelwright
