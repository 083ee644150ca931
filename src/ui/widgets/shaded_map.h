// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/unit.h"
#include "ui/widgets/painted_parts.h"

#include <QWidget>

#include <vector>

namespace wheelwright {

class Session;

/// Numbers over rpm and load, shaded by size in the hue of a content. Cells that the engine never reaches are
/// blank; flagged ones carry a heavy frame and their number in bold. Loads run downwards, as in the tables.
struct ShadedCells {
    std::vector<double> rpm{}, loadKpa{};
    std::vector<double> value{}; ///< rpm-major
    std::vector<bool> reached{}, flagged{};
    Dimension dimension = Dimension::none;
    int decimals = 1;
    double content = 0; ///< its hue
};

class ShadedMap : public QWidget, public PaintedParts {
    Q_OBJECT
  public:
    ShadedMap(Session &session, const QString &name, const char *helpPage, QWidget *parent = nullptr);
    void show(ShadedCells cells);
    const ShadedCells &cells() const { return m_cells; }
    QSize sizeHint() const override { return {420, 220}; }

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
    void chosen(std::size_t index); ///< of value: clicked, or Return at the cursor

  protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

  private:
    QRectF box(std::size_t column, std::size_t row) const;
    QString number(std::size_t index) const;
    void choose(std::size_t column, std::size_t row);
    QString words(std::size_t column, std::size_t row) const;
    QString shownNumber(std::size_t index) const; ///< with its unit

    Session &m_session;
    ShadedCells m_cells;
    std::size_t m_column = 0, m_row = 0;
};

} // namespace wheelwright
