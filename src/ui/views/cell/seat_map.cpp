// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/cell/seat_map.h"

#include "core/base/limits.h"
#include "session/live_seat.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"

#include <QPainter>

#include <algorithm>

namespace wheelwright {

SeatMap::SeatMap(Session &session, LiveSeat &live, QWidget *parent)
    : CellMap(session, tr("Where it has been since"), "cell", parent), m_live(live) {}

void SeatMap::refresh() {
    if (!session().hasJob()) return setAxes({}, {});
    m_coverage = m_live.coverage();
    const Table2D &spark =
        session().study().inPressure().job().calibration.of(CalibratedQuantity::spark).base;
    if (m_coverage.samples.size() != spark.x().size() * spark.y().size() || !(m_coverage.rpm == spark.x()) ||
        !(m_coverage.loadKpa == spark.y()))
        m_coverage = {
            spark.x(), spark.y(), std::vector<double>(spark.x().size() * spark.y().size(), 0.0), {}};
    m_enough = limitOf(session().job(), "evidence.least_hits");
    setAxes(spark.x().points(), spark.y().points());
    update();
}

double SeatMap::samples(std::size_t x, std::size_t y) const {
    const std::size_t at = y * m_coverage.rpm.size() + x;
    return at < m_coverage.samples.size() ? m_coverage.samples[at] : 0;
}

std::size_t SeatMap::filled() const {
    return static_cast<std::size_t>(
        std::ranges::count_if(m_coverage.samples, [](double n) { return n > 0; }));
}

QString SeatMap::words(std::size_t x, std::size_t y) const {
    if (!hasCells()) return {};
    const double n = samples(x, y);
    QStringList out{shown(rpm()[x], Dimension::engineSpeed, session().units()),
                    shown(loadKpa()[y], Dimension::pressure, session().units()),
                    n > 0 ? tr("%1 samples").arg(n, 0, 'f', 0) : tr("not yet")};
    if (m_coverage.now == CellIndex{x, y}) out << tr("now");
    return out.join(QStringLiteral(", "));
}

QString SeatMap::copied(std::size_t x, std::size_t y) const {
    return QString::number(samples(x, y), 'f', 0);
}

void SeatMap::paintHead(QPainter &p) {
    p.setPen(theme().quiet);
    p.setFont(sansFont(11));
    p.drawText(QRectF(box(0, 0).left(), 0, width(), 18), Qt::AlignLeft | Qt::AlignVCenter,
               tr("been in %1 cells").arg(filled()));
}

void SeatMap::paintCell(QPainter &p, const QRectF &cell, std::size_t x, std::size_t y) {
    const double n = samples(x, y);
    const QColor hue = theme().content(m_live.content());
    const QRectF inner = cell.adjusted(0.5, 0.5, -0.5, -0.5);
    p.setPen(QPen(theme().line, 0.5));
    p.setBrush(n >= m_enough ? QBrush(hue) : n > 0 ? QBrush(hue, Qt::Dense5Pattern) : QBrush(Qt::NoBrush));
    p.drawRect(inner);
    if (m_coverage.now != CellIndex{x, y}) return;
    p.setPen(QPen(theme().ink, 3));
    p.setBrush(Qt::NoBrush);
    p.drawRect(inner);
}

} // namespace wheelwright
