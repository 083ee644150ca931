// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/tables/slice_plot.h"

#include "core/job/job_schema.h"
#include "core/study/slice_fan.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/widgets/plot_style.h"
#include "ui/widgets/refresh.h"

#include <QApplication>
#include <QClipboard>

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

constexpr int mostBounds = 2;

} // namespace

SlicePlot::SlicePlot(Session &session, QWidget *parent) : QCustomPlot(parent), m_session(session) {
    setProperty("helpPage", "tables");
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Slice over all contents"));
    setPlottingHints(QCP::phFastPolylines); // wide pens are very slow without it
    setAntialiasedElements(QCP::aePlottables);
    addLayer(QStringLiteral("fan"), layer(QStringLiteral("main")), QCustomPlot::limBelow);
    for (int i = 0; i < mostBounds; ++i) {
        m_bounds.push_back(addGraph());
        auto *label = new QCPItemText(this);
        label->setPositionAlignment(Qt::AlignRight | Qt::AlignBottom);
        label->position->setType(QCPItemPosition::ptPlotCoords);
        label->setLayer(QStringLiteral("overlay")); // over every line
        m_labels.push_back(label);
    }
    m_now = addGraph();
    m_cursor = new QCPItemStraightLine(this);
    axisRect()->setAutoMargins(QCP::msNone);
    axisRect()->setMargins(QMargins(52, 8, 14, 34));
    restyle();
    (new Refresh(session, this))
        ->on(Refresh::selection | Refresh::job | Refresh::units, [this] { refresh(); })
        .on(Refresh::content, [this] { moveContent(); });
}

void SlicePlot::restyle() {
    stylePlot(*this);
    m_cursor->setPen(QPen(theme().quiet, 1, Qt::DashLine));
    for (std::size_t i = 0; i < m_bounds.size(); ++i) {
        m_bounds[i]->setPen(QPen(theme().trouble, 1, Qt::DashDotLine));
        m_labels[i]->setColor(theme().trouble);
        m_labels[i]->setFont(sansFont(11));
        m_labels[i]->setBrush(theme().raised); // it may lie on a curve
    }
    if (m_session.hasJob()) refresh();
}

void SlicePlot::setAlongRpm(bool along) {
    m_alongRpm = along;
    refresh();
}

TableAxis SlicePlot::axis() const {
    const TableField field = m_session.frontField();
    return m_alongRpm || field.y.single() ? field.x : field.y;
}

Dimension SlicePlot::cellDimension() const {
    return m_session.frontField().dimension;
}

SliceFan SlicePlot::fan() const {
    if (const ExtraTable *extra = m_session.extra())
        return sliceFan(m_session.study(), *extra, m_alongRpm, m_session.cell(), m_session.content());
    return sliceFan(m_session.study(), m_session.quantity(), m_alongRpm, m_session.cell(),
                    m_session.content());
}

// As many curves as there are, each in the hue of its content.
void SlicePlot::drawFan(const SliceFan &fan) {
    while (m_fan.size() > fan.curves.size()) {
        removeGraph(m_fan.back());
        m_fan.pop_back();
    }
    while (m_fan.size() < fan.curves.size()) {
        m_fan.push_back(addGraph());
        m_fan.back()->setLayer(QStringLiteral("fan"));
    }
    const QVector<double> x = shownX(fan.x);
    for (std::size_t i = 0; i < m_fan.size(); ++i) {
        const std::optional<double> content = fan.curves[i].content;
        m_fan[i]->setPen(QPen(content ? theme().content(*content) : theme().quiet, 1));
        m_fan[i]->setData(x, shownY(fan.curves[i].y), true);
    }
}

QVector<double> SlicePlot::shownY(const std::vector<double> &y) const {
    const Dimension dimension = cellDimension();
    QVector<double> out;
    for (double v : y)
        out.push_back(toShown(v, dimension, m_session.units()));
    return out;
}

QVector<double> SlicePlot::shownX(const std::vector<double> &x) const {
    const Dimension dimension = axis().dimension;
    QVector<double> out;
    for (double v : x)
        out.push_back(toShown(v, dimension, m_session.units()));
    return out;
}

void SlicePlot::refresh() {
    if (!m_session.hasJob()) return;
    const SliceFan fan = this->fan();
    drawFan(fan);
    const TableAxis along = axis();
    const QString unit = text(unitSymbol(along.dimension, m_session.units()));
    xAxis->setLabel(along.key == axes::engineSpeed.key || along.key == axes::load.key ? unit
                    : unit.isEmpty() || isContent(along.dimension)
                        ? text(along.title)
                        : text(along.title) + QStringLiteral(", ") + unit);
    yAxis->setLabel(text(unitSymbol(cellDimension(), m_session.units())));
    tickAs(*xAxis, along.dimension, m_session.units());
    fitRange(fan);
    const bool across = along.key == m_session.frontField().x.key;
    const double at =
        across ? m_session.table().x()[m_session.cell().x] : m_session.table().y()[m_session.cell().y];
    const double cursor = toShown(at, along.dimension, m_session.units());
    m_cursor->point1->setCoords(cursor, 0);
    m_cursor->point2->setCoords(cursor, 1);
    moveContent();
}

void SlicePlot::fitRange(const SliceFan &fan) {
    const QVector<double> x = shownX(fan.x);
    xAxis->setRange(x.front(), std::max(x.back(), x.front() + 1e-6));
    double low = 1e9, high = -1e9;
    const auto include = [&](const std::vector<double> &y) {
        for (double v : shownY(y)) {
            low = std::min(low, v);
            high = std::max(high, v);
        }
    };
    for (const FanCurve &c : fan.curves)
        include(c.y);
    include(fan.now.y);
    for (const FanBound &b : fan.bounds)
        include(b.y);
    constexpr double ofNumber = 0.02; // about a flat line, lest its axis says the same number thrice
    const double room = std::max({(high - low) * 0.08, std::abs(high) * ofNumber, 1e-3});
    const double ofNames = fan.bounds.empty() ? 0 : 0.14 * (high - low); // over the highest line
    yAxis->setRange(low - room, high + room + ofNames);
}

void SlicePlot::moveContent() {
    if (!m_session.hasJob() || !isVisible()) return;
    const SliceFan fan = this->fan();
    const QVector<double> x = shownX(fan.x);
    m_now->setData(x, shownY(fan.now.y), true);
    m_now->setPen(QPen(fan.now.content ? theme().content(*fan.now.content) : theme().ink, 3));
    for (std::size_t i = 0; i < m_bounds.size(); ++i) {
        const bool drawn = i < fan.bounds.size();
        m_bounds[i]->setVisible(drawn);
        m_labels[i]->setVisible(drawn);
        if (!drawn) continue;
        const QVector<double> y = shownY(fan.bounds[i].y);
        m_bounds[i]->setData(x, y, true);
        m_labels[i]->setText(text(fan.bounds[i].title));
        // Side by side, so that lines that lie close keep their names apart.
        const auto at = x.size() - 1 - static_cast<int>(i) * x.size() / 3;
        m_labels[i]->position->setCoords(x[at], y[at]);
    }
    replot(QCustomPlot::rpQueuedReplot);
}

void SlicePlot::copy() {
    const SliceFan fan = this->fan();
    const TableAxis along = axis();
    QString out = along.key == axes::engineSpeed.key ? QStringLiteral("rpm") : text(along.title);
    for (const FanCurve &c : fan.curves)
        out += QLatin1Char('\t') +
               (c.content ? text(contentName(*c.content, m_session.job().alcohol == Alcohol::methanol))
                          : shown(c.at.value, c.at.dimension, m_session.units()));
    for (std::size_t i = 0; i < fan.x.size(); ++i) {
        out += QLatin1Char('\n') + briefText(shownX(fan.x)[static_cast<int>(i)], m_session.units());
        for (const FanCurve &c : fan.curves)
            out += QLatin1Char('\t') + exactText(shownY(c.y)[static_cast<int>(i)], m_session.units());
    }
    QApplication::clipboard()->setText(out + QLatin1Char('\n'));
}

void SlicePlot::copyPicture() {
    QApplication::clipboard()->setPixmap(toPixmap());
}

} // namespace wheelwright
