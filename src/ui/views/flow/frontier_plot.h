// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/study/headroom.h"

#include <qcustomplot.h>

namespace wheelwright {

class Session;

/// Boost over content with a line for each part that can end a run, and the job's target on it. The target is
/// dragged; let go, the boost tables follow as one step of undo.
class FrontierPlot : public QCustomPlot {
    Q_OBJECT
  public:
    explicit FrontierPlot(Session &session, QWidget *parent = nullptr);
    void show(const Frontier &frontier);
    void restyle();

  public slots:
    void copy() const;
    void copyPicture();

  protected:
    void changeEvent(QEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseReleaseEvent(QMouseEvent *event) override;

  private:
    void addPower();
    void drawPower();
    void drawTarget(const std::vector<double> &kpa);
    void moveContent();
    double contentAt(double x) const;
    double kpaAt(double y) const;
    double targetAt(double content) const;

    Session &m_session;
    Frontier m_frontier;
    struct Line {
        QCPGraph *graph;
        QCPItemText *label;
    };
    std::vector<Line> m_lines;
    QCPGraph *m_target;
    QCPGraph *m_peak; ///< the target with its overshoot: what the lines must lie over
    QCPGraph *m_room; ///< what is left under the lowest line
    QCPItemText *m_targetLabel, *m_peakLabel;
    QCPItemStraightLine *m_content;
    QCPAxis *m_powerX, *m_powerY; ///< of the band under the pressures
    QCPGraph *m_powerLow, *m_powerHigh;
    bool m_dragging = false;
    double m_dragContent = 0, m_dragKpa = 0;
};

} // namespace wheelwright
