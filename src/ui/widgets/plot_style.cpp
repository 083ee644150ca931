// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/plot_style.h"

#include "ui/theme.h"

#include <qcustomplot.h>

namespace wheelwright {

void styleAxes(QCPAxisRect &rect) {
    for (QCPAxis *axis : rect.axes()) {
        axis->setBasePen(theme().line);
        axis->setTickPen(theme().line);
        axis->setSubTickPen(Qt::NoPen);
        axis->grid()->setPen(QPen(theme().line, 1, Qt::DotLine));
        axis->grid()->setZeroLinePen(Qt::NoPen);
        axis->setTickLabelColor(theme().quiet);
        axis->setLabelColor(theme().quiet);
        axis->setTickLabelFont(monoFont(10));
        axis->setLabelFont(sansFont(11));
        axis->setLabelPadding(1);
    }
}

void stylePlot(QCustomPlot &plot) {
    plot.setBackground(theme().raised);
    for (QCPAxisRect *rect : plot.axisRects())
        styleAxes(*rect);
}

} // namespace wheelwright
