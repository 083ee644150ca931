// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/runs/run_chart.h"

#include "session/run_book.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/widgets/plot_style.h"

#include <QAction>
#include <QApplication>
#include <QClipboard>
#include <QKeyEvent>

#include <array>

namespace wheelwright {

RunChart::RunChart(Session &session, QWidget *parent) : QCustomPlot(parent), m_session(session) {
    setProperty("helpPage", "runs");
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Runs over engine speed"));
    setPlottingHints(QCP::phFastPolylines);
    setAntialiasedElements(QCP::aePlottables);
    setMouseTracking(true);
    setContextMenuPolicy(Qt::ActionsContextMenu);
    auto *numbers = new QAction(tr("Copy as numbers"), this),
         *drawn = new QAction(tr("Copy as a picture"), this);
    connect(numbers, &QAction::triggered, this, &RunChart::copy);
    connect(drawn, &QAction::triggered, this, &RunChart::copyPicture);
    addActions({numbers, drawn});
    connect(&session.runBook(), &RunBook::cursorMoved, this, &RunChart::moveCursor);
    connect(&session, &Session::unitsChanged, this, [this] {
        if (isVisible()) draw();
    });
}

void RunChart::show(RunPicture picture) {
    m_picture = std::move(picture);
    if (isVisible()) draw();
}

void RunChart::clear() {
    show({});
}

void RunChart::showEvent(QShowEvent *event) {
    QCustomPlot::showEvent(event);
    draw();
}

void RunChart::resizeEvent(QResizeEvent *event) {
    QCustomPlot::resizeEvent(event);
    if (isVisible() && height() != m_drawnAt) draw(); // with as many lanes as can be read
}

void RunChart::changeEvent(QEvent *event) {
    QCustomPlot::changeEvent(event);
    if (event->type() == QEvent::PaletteChange && isVisible()) draw();
}

QCPAxisRect *RunChart::addLane(const QString &title, Dimension dimension, double share) {
    auto *lane = new QCPAxisRect(this);
    const int row = plotLayout()->rowCount();
    plotLayout()->addElement(row, 0, lane);
    plotLayout()->setRowStretchFactor(row, share);
    styleAxes(*lane);
    for (QCPAxis *axis : lane->axes()) {
        axis->setLayer(QStringLiteral("axes"));
        axis->grid()->setLayer(QStringLiteral("grid"));
    }
    constexpr int least = 12; // its share of the height counts, not this
    lane->setMinimumSize(least, least);
    lane->setMinimumMargins(QMargins(0, 2, 6, 2));
    lane->setMarginGroup(QCP::msLeft, nullptr);
    lane->axis(QCPAxis::atBottom)->setTickLabels(false);
    lane->axis(QCPAxis::atLeft)->ticker()->setTickCount(share < 1 ? 2 : 3);
    const QString unit = text(unitSymbol(dimension, m_session.units()));
    lane->axis(QCPAxis::atLeft)
        ->setLabel(unit.isEmpty() || unit == title ? title : title + QLatin1Char('\n') + unit);
    m_lanes.push_back(lane);
    return lane;
}

void RunChart::addLine(QCPAxisRect *lane, const std::vector<double> &values, Dimension dimension,
                       const RunPicture::Line &line) {
    QVector<double> x, y;
    for (std::size_t k = 0; k < values.size(); ++k) {
        x.push_back(m_picture.rpm[k]);
        y.push_back(toShown(values[k], dimension, m_session.units()));
    }
    QCPGraph *g = addGraph(lane->axis(QCPAxis::atBottom), lane->axis(QCPAxis::atLeft));
    g->setData(x, y, true);
    const QColor hue = line.content ? theme().content(*line.content) : theme().quiet;
    constexpr double wide = 1.6;
    g->setPen(QPen(hue, wide, line.after ? Qt::SolidLine : Qt::DashLine));
}

void RunChart::addGain(QCPAxisRect *lane) {
    QVector<double> x, y, low, high;
    for (std::size_t k = 0; k < m_picture.rpm.size(); ++k) {
        const GainEstimate &g = m_picture.gainKw[k];
        const double half = g.judged() ? g.halfWidth() : 0;
        x.push_back(m_picture.rpm[k]);
        for (const auto &[to, v] : {std::pair{&y, g.mean}, {&low, g.mean - half}, {&high, g.mean + half}})
            to->push_back(toShown(v, Dimension::power, m_session.units()));
    }
    QCPAxis *speed = lane->axis(QCPAxis::atBottom), *gain = lane->axis(QCPAxis::atLeft);
    QCPGraph *under = addGraph(speed, gain), *over = addGraph(speed, gain), *mean = addGraph(speed, gain),
             *zero = addGraph(speed, gain);
    under->setData(x, low, true);
    over->setData(x, high, true);
    mean->setData(x, y, true);
    zero->setData({x.front(), x.back()}, {0, 0}, true);
    under->setPen(Qt::NoPen);
    over->setPen(Qt::NoPen);
    QColor wash = theme().ink;
    wash.setAlphaF(0.16f);
    over->setBrush(wash);
    over->setChannelFillGraph(under);
    mean->setPen(QPen(theme().ink, 2));
    zero->setPen(QPen(theme().quiet, 1));
}

// Between the mean curves of power of both sides.
void RunChart::addArea(QCPAxisRect *lane) {
    const std::vector<double> before = m_picture.meanKw(false), after = m_picture.meanKw(true);
    if (before.size() != m_picture.rpm.size() || after.size() != m_picture.rpm.size()) return;
    std::array<QCPGraph *, 2> ends{};
    for (std::size_t i = 0; i < ends.size(); ++i) {
        QVector<double> x, y;
        for (std::size_t k = 0; k < m_picture.rpm.size(); ++k) {
            x.push_back(m_picture.rpm[k]);
            y.push_back(toShown((i == 0 ? before : after)[k], Dimension::power, m_session.units()));
        }
        ends[i] = addGraph(lane->axis(QCPAxis::atBottom), lane->axis(QCPAxis::atLeft));
        ends[i]->setData(x, y, true);
        ends[i]->setPen(Qt::NoPen);
    }
    QColor wash = theme().ink;
    wash.setAlphaF(0.10f);
    ends[1]->setBrush(wash);
    ends[1]->setChannelFillGraph(ends[0]);
}

void RunChart::draw() {
    clearItems();
    clearGraphs();
    m_cursor.clear();
    m_lanes.clear();
    plotLayout()->clear();
    setBackground(theme().raised);
    if (m_picture.rpm.empty()) {
        replot(QCustomPlot::rpQueuedReplot);
        return;
    }
    struct Lane {
        QString title;
        Dimension dimension;
        double share; ///< of the height
        int matters;  ///< 0: always drawn; the highest goes first where there is no room
        std::function<const std::vector<double> *(const SeenRun &)> of;
    };
    std::vector<Lane> lanes;
    if (!m_picture.gainKw.empty()) lanes.push_back({tr("gain"), Dimension::power, 0.8, 0, {}});
    lanes.push_back({tr("power"), Dimension::power, 1.7, 0, [](const SeenRun &r) { return &r.powerKw; }});
    lanes.push_back({tr("torque"), Dimension::torque, 1.1, 4, [](const SeenRun &r) { return &r.torqueNm; }});
    const std::map<ChannelRole, std::pair<QString, int>> titles{{ChannelRole::map, {tr("boost"), 1}},
                                                                {ChannelRole::lambda, {tr("λ"), 3}},
                                                                {ChannelRole::spark, {tr("spark"), 2}}};
    for (const ChannelRole role : m_picture.lanes())
        lanes.push_back({titles.at(role).first, definitionOf(role).dimension, 0.7, titles.at(role).second,
                         [role](const SeenRun &r) -> const std::vector<double> * {
                             const auto at = r.lanes.find(role);
                             return at == r.lanes.end() ? nullptr : &at->second;
                         }});
    const std::size_t all = lanes.size();
    const auto shares = [&] {
        double sum = 0;
        for (const Lane &l : lanes)
            sum += l.share;
        return sum;
    };
    // Two figures of a scale and a title beside them need so much of a share of 1.
    constexpr double readable = 46, underTheLast = 40;
    while ((height() - underTheLast) / shares() < readable) {
        const auto least = std::ranges::max_element(lanes, {}, &Lane::matters);
        if (least->matters == 0) break;
        lanes.erase(least);
    }
    m_drawnAt = height();
    for (const Lane &l : lanes) {
        QCPAxisRect *rect = addLane(l.title, l.dimension, l.share);
        if (!l.of) {
            addGain(rect);
            continue;
        }
        if (l.dimension == Dimension::power) addArea(rect);
        for (const RunPicture::Line &line : m_picture.lines)
            if (const std::vector<double> *values = l.of(line.run)) addLine(rect, *values, l.dimension, line);
    }
    auto *margins = new QCPMarginGroup(this);
    for (QCPAxisRect *rect : m_lanes) {
        rect->setMarginGroup(QCP::msLeft | QCP::msRight, margins);
        rect->axis(QCPAxis::atBottom)->setRange(m_picture.rpm.front(), m_picture.rpm.back());
        QCPAxis *y = rect->axis(QCPAxis::atLeft);
        y->rescale();
        const double room = std::max(y->range().size() * 0.08, 1e-6);
        y->setRange(y->range().lower - room, y->range().upper + room);
        auto *line = new QCPItemStraightLine(this);
        line->setClipAxisRect(rect);
        for (QCPItemPosition *p : line->positions()) {
            p->setAxisRect(rect);
            p->setAxes(rect->axis(QCPAxis::atBottom), y);
            p->setTypeX(QCPItemPosition::ptPlotCoords);
            p->setTypeY(QCPItemPosition::ptAxisRectRatio);
        }
        line->setPen(QPen(theme().ink, 1));
        m_cursor.push_back(line);
    }
    QCPAxis *last = m_lanes.back()->axis(QCPAxis::atBottom);
    last->setTickLabels(true);
    last->setLabel(lanes.size() == all
                       ? tr("engine speed, rpm")
                       : tr("engine speed, rpm (a higher window shows %1 more)").arg(all - lanes.size()));
    moveCursor();
    replot(QCustomPlot::rpQueuedReplot);
}

void RunChart::moveCursor() {
    const auto rpm = m_session.runBook().cursorRpm();
    for (QCPItemStraightLine *line : m_cursor) {
        line->setVisible(rpm.has_value());
        if (!rpm) continue;
        line->point1->setCoords(*rpm, 0);
        line->point2->setCoords(*rpm, 1);
    }
    if (!m_cursor.empty()) replot(QCustomPlot::rpQueuedReplot);
}

double RunChart::pixelOf(double rpm) const {
    return m_lanes.empty() ? 0 : m_lanes.front()->axis(QCPAxis::atBottom)->coordToPixel(rpm);
}

void RunChart::mouseMoveEvent(QMouseEvent *event) {
    QCustomPlot::mouseMoveEvent(event);
    if (m_lanes.empty()) return;
    const double rpm = m_lanes.front()->axis(QCPAxis::atBottom)->pixelToCoord(event->position().x());
    m_session.runBook().setCursor(m_picture.at(rpm).rpm);
}

void RunChart::leaveEvent(QEvent *event) {
    QCustomPlot::leaveEvent(event);
    if (!hasFocus()) m_session.runBook().setCursor({});
}

// Left and right go from speed to speed, with Shift ten at a time.
void RunChart::keyPressEvent(QKeyEvent *event) {
    const bool left = event->key() == Qt::Key_Left, right = event->key() == Qt::Key_Right;
    if ((!left && !right) || m_picture.rpm.empty()) return QCustomPlot::keyPressEvent(event);
    constexpr int far = 10;
    const int by = (left ? -1 : 1) * (event->modifiers().testFlag(Qt::ShiftModifier) ? far : 1);
    const auto now = m_session.runBook().cursorRpm();
    const auto at = now ? std::ranges::lower_bound(m_picture.rpm, *now) - m_picture.rpm.begin() : 0;
    const auto next = std::clamp<std::ptrdiff_t>(now ? at + by : 0, 0, std::ssize(m_picture.rpm) - 1);
    m_session.runBook().setCursor(m_picture.rpm[static_cast<std::size_t>(next)]);
}

void RunChart::copy() const {
    const UnitChoice &units = m_session.units();
    QStringList head{tr("rpm")};
    for (const RunPicture::Line &l : m_picture.lines)
        head << tr("run %1, power, %2").arg(text(l.run.id), text(unitSymbol(Dimension::power, units)));
    if (!m_picture.gainKw.empty()) head << tr("gain") << tr("±");
    QString out = head.join(QLatin1Char('\t')) + QLatin1Char('\n');
    const auto cell = [&](double v) { return shown(v, Dimension::power, units, false); };
    for (std::size_t k = 0; k < m_picture.rpm.size(); ++k) {
        QStringList row{briefText(m_picture.rpm[k], units)};
        for (const RunPicture::Line &l : m_picture.lines)
            row << cell(l.run.powerKw[k]);
        if (!m_picture.gainKw.empty())
            row << cell(m_picture.gainKw[k].mean)
                << (m_picture.gainKw[k].judged() ? cell(m_picture.gainKw[k].halfWidth()) : QString());
        out += row.join(QLatin1Char('\t')) + QLatin1Char('\n');
    }
    QApplication::clipboard()->setText(out);
}

void RunChart::copyPicture() {
    QApplication::clipboard()->setPixmap(toPixmap());
}

} // namespace wheelwright
