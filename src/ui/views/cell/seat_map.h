// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/live/seat.h"
#include "ui/widgets/cell_map.h"

namespace wheelwright {

class LiveSeat;

/// Cells of the spark table as the live engine fills them: dotted where it has been a little, solid from as
/// many samples as coverage asks for, the cell where it is with a heavy frame. Says where it has been, proves
/// nothing.
class SeatMap : public CellMap {
    Q_OBJECT
  public:
    SeatMap(Session &session, LiveSeat &live, QWidget *parent);
    void refresh();
    QString words(std::size_t x, std::size_t y) const override;
    std::size_t filled() const; ///< cells with at least one sample

  protected:
    void paintHead(QPainter &painter) override;
    void paintCell(QPainter &painter, const QRectF &cell, std::size_t x, std::size_t y) override;
    QString copied(std::size_t x, std::size_t y) const override;

  private:
    double samples(std::size_t x, std::size_t y) const;

    LiveSeat &m_live;
    SeatCoverage m_coverage;
    double m_enough = 1;
};

} // namespace wheelwright
