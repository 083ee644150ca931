// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "ui/widgets/painted_parts.h"

#include <QWidget>

#include <optional>
#include <vector>

namespace wheelwright {

class Session;

/// A map of an engine's cells over speed and load, as the tables stand: loads run downwards. Draws the scales
/// and the cursor; what stands in a cell is drawn by who derives from it.
class CellMap : public QWidget, public PaintedParts {
    Q_OBJECT
  public:
    CellMap(Session &session, const QString &name, const char *helpPage, QWidget *parent);
    QRectF box(std::size_t x, std::size_t y) const;
    /// A cell in words: its tooltip, and what is read out.
    virtual QString words(std::size_t x, std::size_t y) const = 0;
    std::size_t column() const { return m_x; }
    std::size_t row() const { return m_y; }
    void choose(std::size_t x, std::size_t y);
    /// Whether a rectangle of cells can be marked: by dragging, by Shift with a click or an arrow. Escape
    /// takes the mark away.
    void setMarking(bool marking);
    /// Columns and rows, both ends included.
    struct Marked {
        std::size_t left = 0, right = 0, top = 0, bottom = 0;
        bool operator==(const Marked &) const = default;
    };
    const std::optional<Marked> &marked() const { return m_marked; }
    void mark(std::optional<Marked> cells);
    QSize sizeHint() const override { return {520, 380}; }
    QSize minimumSizeHint() const override { return {260, 200}; }

    int partCount() const override;
    PaintedPart part(int index) const override;
    int chosenPart() const override;
    void choosePart(int index) override;
    int partColumns() const override;
    QString columnName(int column) const override;
    QString rowName(int row) const override;

  public slots:
    void copy() const;
    void copyPicture();

  signals:
    void chosen();                               ///< another cell has the cursor
    void markedChanged();                        ///< other cells are marked; while dragged only at its end
    void cellWanted(double rpm, double loadKpa); ///< clicked, or Return at the cursor

  protected:
    void setAxes(std::vector<double> rpm, std::vector<double> loadKpa); ///< none: nothing is shown
    bool hasCells() const { return !m_rpm.empty() && !m_loadKpa.empty(); }
    const std::vector<double> &rpm() const { return m_rpm; }
    const std::vector<double> &loadKpa() const { return m_loadKpa; }
    std::size_t indexOf(std::size_t x, std::size_t y) const { return y * m_rpm.size() + x; }
    /// Whether numbers of so many digits can be read in the cells.
    bool fits(int digits) const;
    virtual void paintHead(QPainter &painter) = 0; ///< above the scale, 18 pixels
    virtual void paintCell(QPainter &painter, const QRectF &cell, std::size_t x, std::size_t y) = 0;
    virtual QString copied(std::size_t x, std::size_t y) const = 0; ///< what a spreadsheet gets
    Session &session() const { return m_session; }

    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseReleaseEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    bool event(QEvent *event) override;

  private:
    bool cellAt(QPointF position, std::size_t &x, std::size_t &y) const;
    void extendTo(std::size_t x, std::size_t y);
    void moveTo(std::size_t x, std::size_t y, bool extends);

    Session &m_session;
    std::vector<double> m_rpm, m_loadKpa;
    std::size_t m_x = 0, m_y = 0;
    bool m_marking = false, m_dragged = false;
    std::size_t m_fromX = 0, m_fromY = 0; ///< where a mark began
    std::optional<Marked> m_marked;
};

} // namespace wheelwright
