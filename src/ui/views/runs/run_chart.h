// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/runs/run_picture.h"

#include <qcustomplot.h>

namespace wheelwright {

class Session;

/// Runs over engine speed, lane under lane with one cursor through all: gain with its band, power, torque,
/// boost, λ, spark. Runs have the hue of their content; those after are drawn through, those before in
/// strokes. Copies as numbers and as a picture.
class RunChart : public QCustomPlot {
    Q_OBJECT
  public:
    explicit RunChart(Session &session, QWidget *parent = nullptr);
    void show(RunPicture picture);
    void clear();
    const RunPicture &picture() const { return m_picture; }
    /// Where a speed lies, in pixels from the left.
    double pixelOf(double rpm) const;

  public slots:
    void copy() const;
    void copyPicture();

  protected:
    void changeEvent(QEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void leaveEvent(QEvent *event) override;
    void showEvent(QShowEvent *event) override;
    void resizeEvent(QResizeEvent *event) override;

  private:
    QCPAxisRect *addLane(const QString &title, Dimension dimension, double share);
    void addLine(QCPAxisRect *lane, const std::vector<double> &values, Dimension dimension,
                 const RunPicture::Line &line);
    void addGain(QCPAxisRect *lane);
    void addArea(QCPAxisRect *lane);
    void draw();
    void moveCursor();

    Session &m_session;
    RunPicture m_picture;
    std::vector<QCPAxisRect *> m_lanes;
    int m_drawnAt = 0; ///< height
    std::vector<QCPItemStraightLine *> m_cursor;
};

} // namespace wheelwright
