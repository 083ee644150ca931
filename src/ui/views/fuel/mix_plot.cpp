// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/fuel/mix_plot.h"

#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/widgets/plot_style.h"

#include <QApplication>
#include <QClipboard>

#include <algorithm>
#include <array>
#include <cmath>

namespace wheelwright {
namespace {

// What a mixture is chosen by; the rest of the columns follows from these.
constexpr std::array shownColumns{"stoich_afr",      "volume_multiplier", "ron",         "mon",
                                  "ideal_cooling_k", "energy_mj_l",       "price_per_l", "price_per_100km"};
constexpr int columnsInARow = 4;

const FuelColumn &columnOf(std::string_view id) {
    return *std::ranges::find(allFuelColumns(), id, &FuelColumn::id);
}

} // namespace

MixPlot::MixPlot(Session &session, QWidget *parent) : QCustomPlot(parent), m_session(session) {
    setProperty("helpPage", "fuel");
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Two fuels mixed, over the share of the second"));
    setPlottingHints(QCP::phFastPolylines);
    setAntialiasedElements(QCP::aePlottables);
    plotLayout()->clear();
    for (std::size_t i = 0; i < shownColumns.size(); ++i) {
        Panel panel;
        panel.column = &columnOf(shownColumns[i]);
        panel.rect = new QCPAxisRect(this);
        plotLayout()->addElement(static_cast<int>(i) / columnsInARow, static_cast<int>(i) % columnsInARow,
                                 panel.rect);
        panel.rect->setAutoMargins(QCP::msNone);
        panel.rect->setMargins(QMargins(42, 18, 14, 18));
        panel.graph = addGraph(panel.rect->axis(QCPAxis::atBottom), panel.rect->axis(QCPAxis::atLeft));
        panel.rect->axis(QCPAxis::atBottom)->setRange(0, 100);
        panel.rect->axis(QCPAxis::atBottom)->ticker()->setTickCount(3);
        panel.rect->axis(QCPAxis::atLeft)->ticker()->setTickCount(3);
        panel.mark = new QCPItemLine(this);
        panel.title = new QCPItemText(this);
        for (QCPItemPosition *position : {panel.mark->start, panel.mark->end, panel.title->position}) {
            position->setAxisRect(panel.rect);
            position->setAxes(panel.rect->axis(QCPAxis::atBottom), panel.rect->axis(QCPAxis::atLeft));
        }
        panel.mark->setClipAxisRect(panel.rect);
        panel.mark->start->setTypeX(QCPItemPosition::ptPlotCoords);
        panel.mark->end->setTypeX(QCPItemPosition::ptPlotCoords);
        panel.mark->start->setTypeY(QCPItemPosition::ptAxisRectRatio);
        panel.mark->end->setTypeY(QCPItemPosition::ptAxisRectRatio);
        panel.title->position->setType(QCPItemPosition::ptAxisRectRatio);
        panel.title->position->setCoords(0, -0.02);
        panel.title->setPositionAlignment(Qt::AlignLeft | Qt::AlignBottom);
        panel.title->setClipToAxisRect(false);
        m_panels.push_back(panel);
    }
    restyle();
}

void MixPlot::restyle() {
    stylePlot(*this);
    for (Panel &p : m_panels) {
        p.mark->setPen(QPen(theme().quiet, 1, Qt::DashLine));
        p.title->setColor(theme().ink);
        p.title->setFont(sansFont(11));
    }
    show(m_curve);
}

void MixPlot::show(const std::vector<ComparedFuel> &curve) {
    m_curve = curve;
    if (curve.empty()) return;
    for (Panel &p : m_panels) {
        QVector<double> x, y;
        for (std::size_t i = 0; i < curve.size(); ++i)
            if (const auto v = p.column->of(curve[i])) {
                x.push_back(100.0 * static_cast<double>(i) / static_cast<double>(curve.size() - 1));
                y.push_back(toShown(*v, p.column->dimension, m_session.units()));
            }
        p.graph->setData(x, y, true);
        p.graph->setPen(QPen(theme().content(curve.back().alcohol), 2));
        if (y.isEmpty()) continue;
        const auto [low, high] = std::minmax_element(y.begin(), y.end());
        const double room = std::max((*high - *low) * 0.1, std::max(std::abs(*high), 1.0) * 0.01);
        tickAs(*p.rect->axis(QCPAxis::atBottom), Dimension::content, m_session.units());
        p.rect->axis(QCPAxis::atLeft)->setRange(*low - room, *high + room);
    }
    setShare(m_share);
}

void MixPlot::setShare(double share) {
    m_share = share;
    if (m_curve.empty()) return;
    const auto at = static_cast<std::size_t>(std::lround(share * static_cast<double>(m_curve.size() - 1)));
    for (Panel &p : m_panels) {
        p.mark->start->setCoords(share * 100, 0);
        p.mark->end->setCoords(share * 100, 1);
        const auto v = p.column->of(m_curve[at]);
        p.title->setText(QStringLiteral("%1  %2").arg(
            text(p.column->title), v ? fixedText(toShown(*v, p.column->dimension, m_session.units()),
                                                 p.column->decimals, m_session.units())
                                     : tr("not known")));
    }
    replot(QCustomPlot::rpQueuedReplot);
}

void MixPlot::copy() const {
    QString out = tr("share %");
    for (const FuelColumn &c : allFuelColumns())
        out += QLatin1Char('\t') + text(c.id);
    for (std::size_t i = 0; i < m_curve.size(); ++i) {
        out += QLatin1Char('\n') +
               briefText(100.0 * static_cast<double>(i) / static_cast<double>(m_curve.size() - 1),
                         m_session.units());
        for (const FuelColumn &c : allFuelColumns()) {
            const auto v = c.of(m_curve[i]);
            out += QLatin1Char('\t') + (v ? exactText(*v, m_session.units()) : QString());
        }
    }
    QApplication::clipboard()->setText(out + QLatin1Char('\n'));
}

void MixPlot::copyPicture() {
    QApplication::clipboard()->setPixmap(toPixmap());
}

} // namespace wheelwright
