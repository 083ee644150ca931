// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/flow/frontier_plot.h"

#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/widgets/plot_style.h"
#include "ui/widgets/refresh.h"

#include <QApplication>
#include <QClipboard>

#include <algorithm>
#include <array>
#include <cmath>

namespace wheelwright {
namespace {

// Each part by its dashes; the caution is the stop's, thinner. Never by hue, which is fuel content.
QPen penOf(LimitingPart part, const QColor &ink) {
    static const std::array<QList<qreal>, 6> dashes{QList<qreal>{6, 3}, {6, 3}, {1, 3},
                                                    {10, 3, 2, 3},      {3, 3}, {14, 4}};
    QPen pen(ink, part == LimitingPart::dutyCaution ? 1 : 2);
    pen.setDashPattern(dashes[static_cast<std::size_t>(part)]);
    return pen;
}

QVector<double> perCent(const std::vector<double> &contents) {
    QVector<double> x;
    for (const double c : contents)
        x.push_back(c * 100);
    return x;
}

} // namespace

FrontierPlot::FrontierPlot(Session &session, QWidget *parent) : QCustomPlot(parent), m_session(session) {
    setProperty("helpPage", "flow");
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Boost that each part allows, over content"));
    setPlottingHints(QCP::phFastPolylines);
    setAntialiasedElements(QCP::aePlottables);
    setToolTip(tr("Drag the thick target line up or down: the boost tables follow"));
    m_room = addGraph();
    for (int i = 0; i < 6; ++i) {
        auto *label = new QCPItemText(this);
        label->setPositionAlignment(Qt::AlignRight | Qt::AlignBottom);
        label->position->setType(QCPItemPosition::ptPlotCoords);
        label->setLayer(QStringLiteral("overlay")); // over every line
        m_lines.push_back({addGraph(), label});
    }
    m_target = addGraph();
    m_peak = addGraph();
    m_targetLabel = new QCPItemText(this);
    m_targetLabel->setPositionAlignment(Qt::AlignLeft | Qt::AlignTop);
    m_peakLabel = new QCPItemText(this);
    m_peakLabel->setLayer(QStringLiteral("overlay"));
    m_peakLabel->setPositionAlignment(Qt::AlignLeft | Qt::AlignBottom);
    m_content = new QCPItemStraightLine(this);
    addPower();
    xAxis->setRange(0, 100);
    (new Refresh(session, this))->on(Refresh::content, [this] { moveContent(); });
    restyle();
}

// What the fuel is enough for, on the same scale of content, under the pressures.
void FrontierPlot::addPower() {
    auto *rect = new QCPAxisRect(this);
    plotLayout()->addElement(1, 0, rect);
    plotLayout()->setRowStretchFactor(0, 4);
    plotLayout()->setRowSpacing(0);
    auto *group = new QCPMarginGroup(this);
    for (QCPAxisRect *r : axisRects())
        r->setMarginGroup(QCP::msLeft | QCP::msRight, group);
    m_powerX = rect->axis(QCPAxis::atBottom);
    m_powerY = rect->axis(QCPAxis::atLeft);
    m_powerX->setRange(0, 100);
    m_powerY->ticker()->setTickCount(3);
    m_powerLow = addGraph(m_powerX, m_powerY);
    m_powerHigh = addGraph(m_powerX, m_powerY);
    m_powerHigh->setChannelFillGraph(m_powerLow);
}

void FrontierPlot::drawPower() {
    QVector<double> low, high;
    for (const auto &[least, most] : m_frontier.powerKw) {
        low.push_back(toShown(least, Dimension::power, m_session.units()));
        high.push_back(toShown(most, Dimension::power, m_session.units()));
    }
    const QVector<double> x = perCent(m_frontier.contents);
    m_powerLow->setData(x, low, true);
    m_powerHigh->setData(x, high, true);
    for (QCPGraph *g : {m_powerLow, m_powerHigh})
        g->setPen(QPen(theme().quiet, 1));
    QColor wash = theme().quiet;
    wash.setAlphaF(0.25f);
    m_powerHigh->setBrush(wash);
    const auto [least, most] = std::pair{*std::ranges::min_element(low), *std::ranges::max_element(high)};
    m_powerY->setRange(least - (most - least) * 0.15, most + (most - least) * 0.15);
    m_powerY->setLabel(text(unitSymbol(Dimension::power, m_session.units())));
}

void FrontierPlot::restyle() {
    stylePlot(*this);
    m_targetLabel->setColor(theme().ink);
    m_targetLabel->setFont(sansFont(12, true));
    m_peakLabel->setColor(theme().quiet);
    m_peakLabel->setFont(sansFont(11));
    m_peakLabel->setBrush(theme().raised);
    m_peak->setPen(QPen(theme().quiet, 1.5));
    for (const Line &line : m_lines) {
        line.label->setColor(theme().ink);
        line.label->setFont(sansFont(11));
        line.label->setBrush(theme().raised);
        line.label->setPadding({3, 1, 3, 1});
    }
    show(m_frontier);
}

void FrontierPlot::show(const Frontier &frontier) {
    m_frontier = frontier;
    if (frontier.contents.empty()) return;
    const UnitChoice &units = m_session.units();
    for (QCPAxis *x : {xAxis, m_powerX})
        tickAs(*x, Dimension::content, units);
    const QVector<double> x = perCent(frontier.contents);
    const auto shownY = [&](const std::vector<double> &kpa) {
        QVector<double> y;
        for (const double v : kpa)
            y.push_back(toShown(v, Dimension::pressure, units));
        return y;
    };
    std::vector<double> lowest(frontier.contents.size(), mostFrontierKpa);
    double high = 0;
    for (std::size_t i = 0; i < m_lines.size(); ++i) {
        const bool drawn = i < frontier.lines.size();
        m_lines[i].graph->setVisible(drawn);
        m_lines[i].label->setVisible(drawn);
        if (!drawn) continue;
        const FrontierLine &line = frontier.lines[i];
        m_lines[i].graph->setData(x, shownY(line.kpa), true);
        m_lines[i].graph->setPen(penOf(line.part, theme().ink));
        m_lines[i].label->setText(text(limitingPartTitle(line.part)));
        // Labels side by side along the scale, so that lines that lie close keep their names apart.
        const std::size_t at = (frontier.contents.size() - 1) * (i + 2) / (m_lines.size() + 1);
        m_lines[i].label->position->setCoords(x[static_cast<int>(at)],
                                              toShown(line.kpa[at], Dimension::pressure, units));
        for (std::size_t k = 0; k < lowest.size(); ++k)
            lowest[k] = std::min(lowest[k], line.kpa[k]);
        if (line.part != LimitingPart::pump || line.kpa.back() < mostFrontierKpa)
            high = std::max(high, line.kpa.back());
    }
    high = std::max(high, *std::ranges::max_element(frontier.peakKpa)) * 1.12;
    m_room->setData(x, shownY(lowest), true);
    m_room->setPen(Qt::NoPen);
    QColor wash = theme().quiet;
    wash.setAlphaF(0.10f);
    m_room->setBrush(wash);
    const double ambient = m_session.job().conditions.ambientKpa;
    yAxis->setRange(toShown(ambient * 0.9, Dimension::pressure, units),
                    toShown(high, Dimension::pressure, units));
    yAxis->setLabel(tr("manifold pressure, %1").arg(text(unitSymbol(Dimension::pressure, units))));
    m_peak->setData(x, shownY(frontier.peakKpa), true);
    m_peakLabel->setText(tr("with overshoot"));
    m_peakLabel->position->setCoords(2, toShown(frontier.peakKpa.front(), Dimension::pressure, units));
    drawTarget(frontier.targetKpa);
    drawPower();
    moveContent();
}

void FrontierPlot::drawTarget(const std::vector<double> &kpa) {
    QVector<double> y;
    for (const double v : kpa)
        y.push_back(toShown(v, Dimension::pressure, m_session.units()));
    m_target->setData(perCent(m_frontier.contents), y, true);
    m_targetLabel->setText(tr("target"));
    m_targetLabel->position->setCoords(2, y.front());
}

void FrontierPlot::moveContent() {
    if (!isVisible()) return;
    m_target->setPen(QPen(theme().content(m_session.content()), 4));
    m_content->setPen(QPen(theme().content(m_session.content()), 1));
    m_content->point1->setCoords(m_session.content() * 100, 0);
    m_content->point2->setCoords(m_session.content() * 100, 1);
    replot(QCustomPlot::rpQueuedReplot);
}

double FrontierPlot::contentAt(double x) const {
    return std::clamp(xAxis->pixelToCoord(x) / 100, 0.0, 1.0);
}

double FrontierPlot::kpaAt(double y) const {
    return fromShown(yAxis->pixelToCoord(y), Dimension::pressure, m_session.units());
}

double FrontierPlot::targetAt(double content) const {
    return m_frontier.targetKpa[m_frontier.nearest(content)];
}

void FrontierPlot::mousePressEvent(QMouseEvent *event) {
    if (m_frontier.contents.empty() || m_session.readOnly()) return;
    const double content = contentAt(event->position().x());
    const double line =
        yAxis->coordToPixel(toShown(targetAt(content), Dimension::pressure, m_session.units()));
    constexpr double nearPixels = 14;
    m_dragging = event->button() == Qt::LeftButton && std::abs(line - event->position().y()) < nearPixels;
    m_dragContent = content;
    m_dragKpa = targetAt(content);
}

void FrontierPlot::mouseMoveEvent(QMouseEvent *event) {
    if (!m_dragging) return;
    m_dragKpa = std::round(kpaAt(event->position().y()));
    Job moved = m_session.job();
    moveBoostTarget(moved, m_dragContent, m_dragKpa);
    drawTarget(boostTargets(Study(moved), m_frontier.contents));
    m_targetLabel->setText(tr("target %1 at %2")
                               .arg(shown(m_dragKpa, Dimension::pressure, m_session.units()),
                                    shown(m_dragContent, Dimension::content, m_session.units())));
    replot(QCustomPlot::rpQueuedReplot);
}

void FrontierPlot::mouseReleaseEvent(QMouseEvent *) {
    if (!m_dragging) return;
    m_dragging = false;
    const bool moved =
        m_session.perform(tr("Boost target %1 at %2")
                              .arg(shown(m_dragKpa, Dimension::pressure, m_session.units()),
                                   shown(m_dragContent, Dimension::content, m_session.units())),
                          [&](Job &job) { moveBoostTarget(job, m_dragContent, m_dragKpa); });
    if (!moved) show(m_frontier);
}

void FrontierPlot::changeEvent(QEvent *event) {
    QCustomPlot::changeEvent(event);
    if (event->type() == QEvent::PaletteChange) restyle();
}

void FrontierPlot::copy() const {
    QString out = tr("content") + QLatin1Char('\t') + QStringLiteral("target_kpa\tpeak_kpa");
    for (const FrontierLine &line : m_frontier.lines)
        out += QLatin1Char('\t') + text(limitingPartId(line.part)) + QStringLiteral("_kpa");
    for (std::size_t i = 0; i < m_frontier.contents.size(); ++i) {
        out += QStringLiteral("\n%1\t%2\t%3")
                   .arg(m_frontier.contents[i])
                   .arg(m_frontier.targetKpa[i])
                   .arg(m_frontier.peakKpa[i]);
        for (const FrontierLine &line : m_frontier.lines)
            out += QStringLiteral("\t%1").arg(line.kpa[i]);
    }
    QApplication::clipboard()->setText(out + QLatin1Char('\n'));
}

void FrontierPlot::copyPicture() {
    QApplication::clipboard()->setPixmap(toPixmap());
}

} // namespace wheelwright
