// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "ui/views/tables/cursor_readout.h"
#include "ui/views/tables/curve_plot.h"
#include "ui/views/tables/slice_plot.h"
#include "ui/views/tables/table_grid.h"
#include "ui/views/tables/table_tools.h"
#include "ui/views/view.h"

#include <array>

class QButtonGroup;
class QLabel;
class QPushButton;

namespace wheelwright {

/// Base | now | top with one cursor, and the slice under them.
class TablesView : public View {
    Q_OBJECT
  public:
    explicit TablesView(Session &session, QWidget *parent = nullptr);
    bool showInput(const QString &link) override;

    void beginSearch();
    void toggleDifference();
    void toggleTrust();

  protected:
    void showEvent(QShowEvent *event) override;
    void resizeEvent(QResizeEvent *event) override;
    void changeEvent(QEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

  private:
    QLayout *makeHead();
    QLayout *makeSlice();
    void refresh();
    void refreshReadout();
    void explainCursor();
    void shareWidth();
    void showDifferences();
    void showCurve(bool on);

    Session &m_session;
    QButtonGroup *m_quantities;
    QPushButton *m_weight;
    QLabel *m_place;
    CursorReadout *m_readout;
    std::array<TableGrid *, 3> m_grids; ///< base, now, top
    QPushButton *m_alongRpm;
    QPushButton *m_alongLoad;
    QPushButton *m_overContent;
    std::array<QPushButton *, 3> m_shapes; ///< own points, physical, straight
    SlicePlot *m_slice;
    CurvePlot *m_curve;
    TableTools *m_tools;
};

} // namespace wheelwright
