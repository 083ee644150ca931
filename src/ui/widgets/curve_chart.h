// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/job_schema.h"
#include "ui/widgets/painted_parts.h"

#include <QWidget>

#include <optional>

class QCPGraph;
class QCPItemStraightLine;
class QCustomPlot;
class QLabel;
class QLineEdit;
class QMouseEvent;
class QPushButton;

namespace wheelwright {

class Session;

/// A curve of the job as a small chart: points are dragged, or typed below it in any unit. A double click
/// adds one, Delete takes it away. By keyboard: left and right choose a point, up and down move it, Ctrl+left
/// and right along the axis, Insert adds one. What is dragged lands on what can be typed. Each is one step of
/// undo.
class CurveChart : public QWidget, public PaintedParts {
    Q_OBJECT
  public:
    CurveChart(Session &session, const CurveField &field, QWidget *parent = nullptr);

    QCustomPlot *plot() const { return m_plot; }
    QPointF pixelOf(std::size_t point) const; ///< in the plot
    int chosen() const { return m_chosen; }

    int partCount() const override;
    PaintedPart part(int index) const override;
    int chosenPart() const override { return m_chosen; }
    void choosePart(int index) override;

  public slots:
    void copy() const; ///< the points as tab-separated text
    void copyPicture() const;

  protected:
    bool eventFilter(QObject *watched, QEvent *event) override; ///< of the plot
    void changeEvent(QEvent *event) override;                   ///< another theme

  private:
    void build();
    void restyle();
    void refresh();
    void draw(const Curve &curve);
    void drawLine(const Curve &curve);
    void moveContent();
    void showPoint(const Curve &curve);
    const Curve &curve() const;
    int pointAt(QPointF position) const; ///< −1: none
    void press(const QMouseEvent &event);
    void drag(const QMouseEvent &event);
    void release();
    bool key(int key, bool along);
    void choose(int point);
    void move(double x, double y);
    void addAt(double x);
    void removeChosen();
    void takeTyped();
    void change(const QString &what, const Curve &to);
    double snapped(double value, Dimension dimension) const;
    double xOf(double pixel) const;
    double yOf(double pixel) const;

    Session &m_session;
    const CurveField &m_field;
    QCustomPlot *m_plot;
    QCPGraph *m_line = nullptr, *m_points = nullptr, *m_chosenPoint = nullptr;
    QCPItemStraightLine *m_here = nullptr;
    QLineEdit *m_x, *m_y;
    QPushButton *m_add, *m_remove;
    int m_chosen = 0;
    bool m_dragging = false;
    std::optional<Curve> m_preview; ///< as it would be when the button is let go
};

} // namespace wheelwright
