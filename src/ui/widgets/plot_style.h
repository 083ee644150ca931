// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/unit.h"

class QCPAxis;
class QCPAxisRect;
class QCustomPlot;

namespace wheelwright {

/// Background, axes and grid of a plot in the theme's colours.
void stylePlot(QCustomPlot &plot);
void styleAxes(QCPAxisRect &rect);
/// Numbers of an axis as what they measure is spoken of: contents in per cent as E40 or M40.
void tickAs(QCPAxis &axis, Dimension dimension, const UnitChoice &units);

} // namespace wheelwright
