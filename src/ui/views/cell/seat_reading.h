// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/live/seat.h"

#include <QHash>
#include <QPixmap>
#include <QWidget>

namespace wheelwright {

class LiveSeat;
class Session;

/// One reading that can be read from three metres away: digits, where it lies between the marks of target and
/// limits, and in words how it stands to them. Click, Return or the menu key chooses another.
class SeatReading : public QWidget {
    Q_OBJECT
  public:
    SeatReading(Session &session, LiveSeat &live, ChannelRole role, QWidget *parent);
    ChannelRole role() const { return m_role; }
    void setRole(ChannelRole role);
    QString digits() const { return m_digits; }
    QString standingWords() const { return m_words; }
    SeatStanding standing() const { return m_standing; }
    int digitHeight() const; ///< pixels, of the digits as they are drawn
    void refresh();          ///< draws anew only where something differs
    QSize sizeHint() const override { return {300, 210}; }
    QSize minimumSizeHint() const override { return {180, 120}; }

  signals:
    void roleChosen();

  protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    void changeEvent(QEvent *event) override;
    void resizeEvent(QResizeEvent *event) override;

  private:
    void chooseRole();
    QFont digitFont() const;
    struct Sign {
        QPixmap picture{};
        double advance = 0;
    };
    const Sign &sign(QChar c);
    void drawGround();
    void forgetPictures();
    void drawScale(QPainter &painter, const QRectF &box) const;

    Session &m_session;
    LiveSeat &m_live;
    ChannelRole m_role;
    double m_value, m_content = 0;
    std::vector<SeatMark> m_marks;
    SeatSpan m_span;
    SeatStanding m_standing = SeatStanding::notJudged;
    QString m_digits, m_words, m_drawn;
    int m_digitPixels = 100;
    QPixmap m_ground;
    QString m_groundIs; ///< what it was drawn for
    QHash<QChar, Sign> m_signs;
};

} // namespace wheelwright
