// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/verify/verdict.h"
#include "ui/widgets/painted_parts.h"

#include <QWidget>

namespace wheelwright {

class Session;

/// Rows are checks, columns are contents. A bar stands on its base line as long as the margin is comfortable;
/// a failing one hangs under the line as a saw tooth; a caution is hollow; of what is not judged only the
/// dotted top is drawn. Up and Down choose a check, Left and Right a content.
class MarginBoard : public QWidget, public PaintedParts {
    Q_OBJECT
  public:
    explicit MarginBoard(Session &session, QWidget *parent = nullptr);

    std::size_t row() const { return m_row; }
    void setRow(std::size_t row);
    QRect wordsRect(std::size_t row) const; ///< where a row's worst place stands in words
    QRect barsRect(std::size_t row) const;
    QSize minimumSizeHint() const override;

    int partCount() const override;
    PaintedPart part(int index) const override;
    int chosenPart() const override;
    void choosePart(int index) override;
    int partColumns() const override;
    QString columnName(int column) const override;
    QString rowName(int row) const override;

  public slots:
    void copy();
    void copyPicture();

  signals:
    void rowChanged();
    void placeWanted(const wheelwright::WorstPlace &place); ///< go there in the tables

  protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseDoubleClickEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

  private:
    std::size_t rows() const;
    double rowHeight() const;
    double xOf(double content) const; ///< middle of the content's column
    std::size_t sliceAt(double x) const;
    std::optional<std::size_t> rowAt(double y) const;
    void drawRow(QPainter &painter, std::size_t row) const;
    void drawBars(QPainter &painter, std::size_t row) const;
    void drawScale(QPainter &painter) const;

    Session &m_session;
    std::size_t m_row = 0;
};

} // namespace wheelwright
