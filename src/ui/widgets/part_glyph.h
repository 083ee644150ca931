// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/intake/sheet.h"

#include <QPainter>

namespace wheelwright {

/// What a part looks like on this engine: how many cylinders it has, what drives its compressor.
struct GlyphLook {
    int cylinders = 4;
    Charging charging = Charging::turbo;
    bool waterCooled = false;
    QColor fuel{};     ///< hue of what is in it
    double wide = 100; ///< of the drawing, where its height is 100
};
GlyphLook glyphLook(const Job &job, double content);

/// A part as a line drawing. The pen says how far it is known: solid, hatched for an estimate, broken where
/// nobody has said it.
void drawPartGlyph(QPainter &painter, const QRectF &box, std::string_view part, Knowledge known,
                   const GlyphLook &look);

/// How far a number is known, as a piece of such a line.
void drawKnowledge(QPainter &painter, const QRectF &box, Knowledge known);

/// How far a part was looked at, as the tag that hangs on it: filled, half filled, empty, or crossed out.
void drawInspectionTag(QPainter &painter, const QRectF &box, LookedAt state);

} // namespace wheelwright
