// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

class QCPAxisRect;
class QCustomPlot;

namespace wheelwright {

/// Background, axes and grid of a plot in the theme's colours.
void stylePlot(QCustomPlot &plot);
void styleAxes(QCPAxisRect &rect);

} // namespace wheelwright
