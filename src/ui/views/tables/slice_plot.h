// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "session/session.h"

#include <qcustomplot.h>

namespace wheelwright {

/// The row or column through the cursor over all contents, as a fan of curves in their contents' hues; the
/// content looked at stands out, and the lines that checks hold against it are drawn. Of another table of the
/// controller all its rows or columns, in no hue where they belong to no content.
class SlicePlot : public QCustomPlot {
    Q_OBJECT
  public:
    explicit SlicePlot(Session &session, QWidget *parent = nullptr);
    bool alongRpm() const { return m_alongRpm; }
    void setAlongRpm(bool along);
    void refresh(); ///< everything, for another slice or job
    void restyle(); ///< after a change of theme

  public slots:
    void copy(); ///< the curves as tab-separated text
    void copyPicture();

  private:
    void moveContent(); ///< only what depends on the content looked at
    void fitRange(const struct SliceFan &fan);
    void drawFan(const struct SliceFan &fan);
    QVector<double> shownY(const std::vector<double> &y) const;
    QVector<double> shownX(const std::vector<double> &x) const;
    struct SliceFan fan() const;
    TableAxis axis() const; ///< along the slice
    Dimension cellDimension() const;

    Session &m_session;
    bool m_alongRpm = true;
    std::vector<QCPGraph *> m_fan;
    QCPGraph *m_now;
    std::vector<QCPGraph *> m_bounds;
    QCPItemStraightLine *m_cursor;
    std::vector<QCPItemText *> m_labels;
};

} // namespace wheelwright
