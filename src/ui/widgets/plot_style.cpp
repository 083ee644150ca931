// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/plot_style.h"

#include "ui/text.h"
#include "ui/theme.h"

#include <qcustomplot.h>

namespace wheelwright {
namespace {

class ContentTicker : public QCPAxisTicker {
  public:
    explicit ContentTicker(QString letter) : m_letter(std::move(letter)) {}

  protected:
    QString getTickLabel(double tick, const QLocale &locale, QChar format, int precision) override {
        return m_letter + QCPAxisTicker::getTickLabel(tick, locale, format, precision);
    }

  private:
    QString m_letter;
};

} // namespace

void tickAs(QCPAxis &axis, Dimension dimension, const UnitChoice &units) {
    const int count = axis.ticker()->tickCount(); // as many as before: small charts have few
    if (isContent(dimension))
        axis.setTicker(QSharedPointer<QCPAxisTicker>(new ContentTicker(text(unitSymbol(dimension, units)))));
    else if (dynamic_cast<ContentTicker *>(axis.ticker().data()))
        axis.setTicker(QSharedPointer<QCPAxisTicker>(new QCPAxisTicker));
    axis.ticker()->setTickCount(count);
}

void styleAxes(QCPAxisRect &rect) {
    for (QCPAxis *axis : rect.axes()) {
        axis->setBasePen(theme().line);
        axis->setTickPen(theme().line);
        axis->setSubTickPen(Qt::NoPen);
        axis->grid()->setPen(QPen(theme().line, 1, Qt::DotLine));
        axis->grid()->setZeroLinePen(Qt::NoPen);
        axis->setTickLabelColor(theme().quiet);
        axis->setLabelColor(theme().quiet);
        axis->setTickLabelFont(sansFont(10));
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
