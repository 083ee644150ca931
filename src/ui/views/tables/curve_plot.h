// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/study/content_curve.h"
#include "session/session.h"
#include "ui/widgets/painted_parts.h"

#include <qcustomplot.h>

class QLineEdit;

namespace wheelwright {

/// The curve by which a quantity goes from base to top over content, with the physical default and the
/// straight line behind it and what was measured as dots. Points are dragged; a double click adds one, Delete
/// takes it away. By keyboard: left and right choose a point, up and down move it, Ctrl+left and right along
/// the content. A drag is one step of undo.
class CurvePlot : public QCustomPlot, public PaintedParts {
    Q_OBJECT
  public:
    explicit CurvePlot(Session &session, QWidget *parent = nullptr);
    void refresh();
    void restyle();
    int chosen() const { return m_chosen; }
    QPointF pixelOf(CurvePoint point) const;

    int partCount() const override;
    PaintedPart part(int index) const override;
    int chosenPart() const override;
    void choosePart(int index) override;

  public slots:
    void copy(); ///< the curve in steps of 1 % as tab-separated text
    void copyPicture();

  protected:
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseReleaseEvent(QMouseEvent *event) override;
    void mouseDoubleClickEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

  private:
    void draw(const std::optional<ContentCurve> &curve);
    void moveContent();
    int pointAt(QPointF position) const; ///< −1: none
    void beginEntry(const QString &typed);
    void takeEntry();
    bool change(const QString &what, const std::function<void(Job &)> &edit);
    CurvePoint pointFrom(QPointF position) const;

    Session &m_session;
    QCPGraph *m_physical, *m_straight, *m_used, *m_evidence, *m_points, *m_chosenPoint;
    QCPItemStraightLine *m_here;
    QCPItemRect *m_below, *m_above;
    QCPItemText *m_words;
    std::vector<CurvePoint> m_shownPoints;
    QLineEdit *m_entry; ///< over the chosen point while its numbers are typed
    int m_chosen = -1;
    bool m_dragging = false;
    std::optional<Job> m_preview; ///< the job as it would be when the button is let go
};

} // namespace wheelwright
