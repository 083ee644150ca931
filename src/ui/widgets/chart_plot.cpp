// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/chart_plot.h"

#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/widgets/plot_style.h"

#include <QApplication>
#include <QClipboard>

#include <algorithm>
#include <cmath>

namespace wheelwright {

Chart chartOf(const ReportChart &drawn) {
    Chart chart;
    chart.xTitle = text(drawn.xTitle);
    chart.yTitle = text(drawn.yTitle);
    chart.x = drawn.x;
    chart.y = drawn.y;
    for (const ReportChart::Line &l : drawn.lines) {
        ChartSeries s;
        s.x = l.x;
        s.y = l.y;
        s.color = chart.series.empty() ? theme().ink : theme().quiet;
        if (l.marks != ReportChart::Line::Marks::none) s.mark = QCPScatterStyle::ssDisc;
        if (l.marks == ReportChart::Line::Marks::alone) s.line = Qt::NoPen;
        if (std::ranges::all_of(l.half, [](double v) { return std::isfinite(v); })) s.band = l.half;
        chart.series.push_back(std::move(s));
    }
    return chart;
}

ChartPlot::ChartPlot(Session &session, const QString &name, const char *helpPage, QWidget *parent)
    : QCustomPlot(parent), m_session(session) {
    setProperty("helpPage", helpPage);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(name);
    setPlottingHints(QCP::phFastPolylines);
    setAntialiasedElements(QCP::aePlottables);
}

void ChartPlot::show(Chart chart) {
    m_chart = std::move(chart);
    if (isVisible()) draw(); // otherwise when it is shown
}

void ChartPlot::showEvent(QShowEvent *event) {
    QCustomPlot::showEvent(event);
    draw();
}

QString ChartPlot::title(const QString &name, Dimension dimension) const {
    if (isContent(dimension)) return name; // its ticks say it
    const QString unit = text(unitSymbol(dimension, m_session.units()));
    return unit.isEmpty() || unit == name ? name : name + QStringLiteral(", ") + unit;
}

void ChartPlot::addName(const QString &name, double x, double y, Qt::Alignment alignment) {
    auto *label = new QCPItemText(this);
    label->position->setType(QCPItemPosition::ptPlotCoords);
    label->setLayer(QStringLiteral("overlay"));
    label->position->setCoords(x, freeHeight(x, y));
    label->setPositionAlignment(alignment);
    label->setText(name);
    label->setColor(theme().ink);
    label->setFont(sansFont(11));
    label->setBrush(theme().raised);
    label->setPadding({3, 0, 3, 0});
}

double ChartPlot::freeHeight(double x, double y) const {
    constexpr double wide = 0.2, high = 0.075; // a name, against the axes
    double free = y;
    for (int i = 0; i < itemCount(); ++i) {
        const auto *other = qobject_cast<QCPItemText *>(item(i));
        if (!other || std::abs(other->position->key() - x) > wide * xAxis->range().size() ||
            (other->position->key() == x && other->position->value() == y))
            continue;
        const double step = high * yAxis->range().size();
        if (std::abs(other->position->value() - free) < step)
            free = other->position->value() + (free + 2 * step < yAxis->range().upper ? step : -step);
    }
    return free;
}

void ChartPlot::addSeries(const ChartSeries &s) {
    QVector<double> x, y, low, high;
    for (std::size_t i = 0; i < s.x.size(); ++i) {
        x.push_back(m_chart.x == Dimension::none ? s.x[i] * m_chart.xPercent
                                                 : toShown(s.x[i], m_chart.x, m_session.units()));
        y.push_back(toShown(s.y[i], m_chart.y, m_session.units()));
        if (s.band.empty()) continue;
        low.push_back(toShown(s.y[i] - s.band[i], m_chart.y, m_session.units()));
        high.push_back(toShown(s.y[i] + s.band[i], m_chart.y, m_session.units()));
    }
    if (!s.band.empty()) {
        QCPGraph *under = addGraph(), *over = addGraph();
        under->setData(x, low, true);
        over->setData(x, high, true);
        under->setPen(Qt::NoPen);
        over->setPen(Qt::NoPen);
        QColor wash = s.color;
        wash.setAlphaF(0.18f);
        over->setBrush(wash);
        over->setChannelFillGraph(under);
    }
    QCPGraph *g = addGraph();
    g->setData(x, y);
    g->setPen(QPen(s.color, s.width, s.line));
    if (s.line == Qt::NoPen) g->setLineStyle(QCPGraph::lsNone);
    if (s.mark != QCPScatterStyle::ssNone)
        g->setScatterStyle(QCPScatterStyle(s.mark, QPen(s.color, 2), Qt::NoBrush, 8));
}

void ChartPlot::addLevel(const ChartLevel &l) {
    auto *line = new QCPItemStraightLine(this);
    const double y = toShown(l.y, m_chart.y, m_session.units());
    line->point1->setCoords(0, y);
    line->point2->setCoords(1, y);
    line->setPen(QPen(theme().ink, 1, l.line));
    addName(l.name, xAxis->range().lower, y, Qt::AlignLeft | Qt::AlignBottom);
}

void ChartPlot::draw() {
    clearItems();
    clearGraphs();
    stylePlot(*this);
    xAxis->setLabel(m_chart.xPercent == 100 ? m_chart.xTitle + QStringLiteral(", %")
                                            : title(m_chart.xTitle, m_chart.x));
    yAxis->setLabel(title(m_chart.yTitle, m_chart.y));
    tickAs(*xAxis, m_chart.x, m_session.units());
    tickAs(*yAxis, m_chart.y, m_session.units());
    if (m_chart.bandHigh > m_chart.bandLow && !m_chart.series.empty()) {
        const ChartSeries &s = m_chart.series.front();
        const double middle = (m_chart.bandLow + m_chart.bandHigh) / 2;
        ChartSeries band{{}, {s.x.front(), s.x.back()}, {middle, middle}, theme().quiet, Qt::NoPen};
        band.band.assign(2, (m_chart.bandHigh - m_chart.bandLow) / 2);
        addSeries(band);
    }
    for (const ChartSeries &s : m_chart.series)
        addSeries(s);
    rescaleAxes();
    for (const ChartLevel &l : m_chart.levels) {
        const double y = toShown(l.y, m_chart.y, m_session.units());
        yAxis->setRange(std::min(yAxis->range().lower, y), std::max(yAxis->range().upper, y));
    }
    const double room = std::max(yAxis->range().size() * 0.12, 1e-9);
    yAxis->setRange(yAxis->range().lower - room / 2, yAxis->range().upper + room);
    const double side = xAxis->range().size() * 0.02;
    xAxis->setRange(xAxis->range().lower - side, xAxis->range().upper + side);
    for (const ChartLevel &l : m_chart.levels)
        addLevel(l);
    for (const ChartSeries &s : m_chart.series)
        if (!s.name.isEmpty() && !s.x.empty())
            addName(s.name,
                    m_chart.x == Dimension::none ? s.x.back() * m_chart.xPercent
                                                 : toShown(s.x.back(), m_chart.x, m_session.units()),
                    toShown(s.y.back(), m_chart.y, m_session.units()), Qt::AlignRight | Qt::AlignBottom);
    replot(QCustomPlot::rpQueuedReplot);
}

void ChartPlot::copy() const {
    QString out;
    for (const ChartSeries &s : m_chart.series) {
        out += title(m_chart.xTitle, m_chart.x) + QLatin1Char('\t') +
               (s.name.isEmpty() ? m_chart.yTitle : s.name) + QLatin1Char('\n');
        for (std::size_t i = 0; i < s.x.size(); ++i)
            out += QStringLiteral("%1\t%2\n")
                       .arg(toShown(s.x[i], m_chart.x, m_session.units()))
                       .arg(toShown(s.y[i], m_chart.y, m_session.units()));
    }
    QApplication::clipboard()->setText(out);
}

void ChartPlot::copyPicture() {
    QApplication::clipboard()->setPixmap(toPixmap());
}

void ChartPlot::changeEvent(QEvent *event) {
    QCustomPlot::changeEvent(event);
    if (event->type() == QEvent::PaletteChange && isVisible()) draw();
}

} // namespace wheelwright
