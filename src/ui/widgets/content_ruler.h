// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/study/content_opinions.h"
#include "ui/widgets/painted_parts.h"

#include <QWidget>

#include <vector>

namespace wheelwright {

class Session;

/// The drafting scale under the title: 0–100 % alcohol, the calibrated ends, what sensor, tube and
/// arithmetic say of the tank, the proof band and the handle of
/// the content that every view looks at. Drag the handle, or arrows and Page keys when it has the focus. A
/// click on a notch of the band goes to the worst place there; so does Enter where the handle is on one.
class ContentRuler : public QWidget, public PaintedParts, public PaintedValue {
    Q_OBJECT
  public:
    explicit ContentRuler(Session &session, QWidget *parent = nullptr);
    QSize sizeHint() const override { return {600, 84}; }
    QSize minimumSizeHint() const override { return {360, 84}; }

    QRect bandRect() const;           ///< where the proof band is drawn
    double contentAt(double x) const; ///< 0–1, by position
    double positionOf(double content) const;

    /// What is marked on it: the ends of the calibration, and who says what of the tank.
    int partCount() const override;
    PaintedPart part(int index) const override;
    void choosePart(int index) override; ///< looks at its content
    double shownValue() const override;  ///< the content that is looked at, in per cent
    void setShownValue(double percent) override;
    double leastValue() const override { return 0; }
    double mostValue() const override { return 100; }
    double valueStep() const override { return 1; }

  signals:
    void worstPlaceWanted(double content); ///< a notch was clicked

  protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseReleaseEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

  private:
    void drawScale(QPainter &painter) const;
    void drawBand(QPainter &painter) const;
    void drawEnds(QPainter &painter) const;
    void drawOpinions(QPainter &painter) const;
    void drawHandle(QPainter &painter) const;
    bool failsAt(double content) const;
    void describe();
    struct Mark {
        QString words;
        double content;
    };
    std::vector<Mark> marks() const;

    Session &m_session;
    ContentOpinions m_opinions;
    bool m_dragging = false;
};

} // namespace wheelwright
