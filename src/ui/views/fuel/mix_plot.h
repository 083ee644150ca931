// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/study/fuel_comparison.h"

#include <qcustomplot.h>

namespace wheelwright {

class Session;

/// All the properties of two fuels mixed, each in a small panel over the share of the second, and a line at
/// the share looked at.
class MixPlot : public QCustomPlot {
    Q_OBJECT
  public:
    explicit MixPlot(Session &session, QWidget *parent = nullptr);
    void show(const std::vector<ComparedFuel> &curve);
    void setShare(double share); ///< 0–1
    void restyle();

  public slots:
    void copy() const;
    void copyPicture();

  private:
    struct Panel {
        const FuelColumn *column;
        QCPAxisRect *rect;
        QCPGraph *graph;
        QCPItemLine *mark;
        QCPItemText *title;
    };
    Session &m_session;
    std::vector<Panel> m_panels;
    std::vector<ComparedFuel> m_curve;
    double m_share = 0;
};

} // namespace wheelwright
