// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/study/content_opinions.h"

#include <QWidget>

namespace wheelwright {

class Session;

/// The drafting scale under the title: 0–100 % alcohol, the calibrated ends, what sensor, tube and
/// arithmetic say of the tank, the proof band and the handle of
/// the content that every view looks at. Drag the handle, or arrows and Page keys when it has the focus. A
/// click on a notch of the band goes to the worst place there.
class ContentRuler : public QWidget {
    Q_OBJECT
  public:
    explicit ContentRuler(Session &session, QWidget *parent = nullptr);
    QSize sizeHint() const override { return {600, 84}; }
    QSize minimumSizeHint() const override { return {360, 84}; }

    QRect bandRect() const;           ///< where the proof band is drawn
    double contentAt(double x) const; ///< 0–1, by position
    double positionOf(double content) const;

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

    Session &m_session;
    ContentOpinions m_opinions;
    bool m_dragging = false;
};

} // namespace wheelwright
