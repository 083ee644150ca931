// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/ladder/rung.h"
#include "ui/widgets/painted_parts.h"

#include <QWidget>

namespace wheelwright {

class Session;

/// The rungs over a scale of contents, from the bottom up: the next one big, passed ones a line, later ones
/// faint, what is out of reach a broken outline. Up and Down choose a rung.
class LadderDrawing : public QWidget, public PaintedParts {
    Q_OBJECT
  public:
    explicit LadderDrawing(Session &session, QWidget *parent = nullptr);

    void setLadder(const Ladder &ladder);
    const std::string &chosen() const { return m_chosen; } ///< id; empty: none
    void choose(const std::string &id);
    QRect rectOf(std::size_t rung) const; ///< its row
    QSize sizeHint() const override;
    QSize minimumSizeHint() const override;

    int partCount() const override;
    PaintedPart part(int index) const override;
    int chosenPart() const override;
    void choosePart(int index) override;

  public slots:
    void copy() const;
    void copyPicture();

  signals:
    void chosenChanged();

  protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    void changeEvent(QEvent *event) override;

  private:
    int heightOf(const Rung &rung) const;
    double stretch() const;
    double xOf(double content) const; ///< or λ, where rungs are passes
    double placeOf(const Rung &rung) const;
    void drawScale(QPainter &painter) const;
    void drawLookedAt(QPainter &painter) const;
    void drawWay(QPainter &painter) const;
    void drawRung(QPainter &painter, const Rung &rung, const QRect &row) const;
    void drawBar(QPainter &painter, const Rung &rung, const QRect &row) const;
    void drawWords(QPainter &painter, const Rung &rung, const QRect &row) const;
    void describe();

    Session &m_session;
    Ladder m_ladder;
    std::string m_chosen;
};

} // namespace wheelwright
