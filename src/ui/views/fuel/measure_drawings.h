// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QWidget>

#include <optional>

namespace wheelwright {

/// The test tube as it stands on the bench: water line, fuel line and the top of the lower layer, which can
/// be dragged to where it is seen.
class TubeDrawing : public QWidget {
    Q_OBJECT
  public:
    explicit TubeDrawing(QWidget *parent = nullptr);
    struct Lines {
        double water = 0, layer = 0, fuel = 0; ///< heights in one unit
    };
    void show(std::optional<Lines> lines); ///< none: the readings are no tube
    double heightOf(double y) const;       ///< what a height in pixels reads, in the tube's unit
    double yOf(double height) const;
    QSize sizeHint() const override { return {200, 190}; }
    QSize minimumSizeHint() const override { return {150, 84}; }

  signals:
    void layerRead(double height); ///< between the water line and the fuel line

  protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;

  private:
    QRectF tube() const;
    std::optional<Lines> m_lines;
};

/// A value on a scale with names for its ends.
class ScaleDrawing : public QWidget {
    Q_OBJECT
  public:
    struct Mark {
        double at = 0;
        QString words;
    };
    struct Scale {
        double least = 0, most = 1;
        std::vector<Mark> marks;     ///< ticks with their words
        QString low, high;           ///< of its ends
        QColor from, to;             ///< its hue from end to end
        std::optional<double> value; ///< none: no pointer; beyond an end it stands there
        QString said;                ///< beside the pointer
    };
    explicit ScaleDrawing(const QString &name, QWidget *parent = nullptr);
    void show(Scale scale);
    double xOf(double value) const;
    QSize sizeHint() const override { return {200, 110}; }
    QSize minimumSizeHint() const override { return {150, 70}; }

  protected:
    void paintEvent(QPaintEvent *event) override;

  private:
    Scale m_scale;
};

} // namespace wheelwright
