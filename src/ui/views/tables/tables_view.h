#pragma once
#include "ui/views/tables/cursor_readout.h"
#include "ui/views/tables/slice_plot.h"
#include "ui/views/tables/table_grid.h"
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

  protected:
    void showEvent(QShowEvent *event) override;
    void resizeEvent(QResizeEvent *event) override;
    void changeEvent(QEvent *event) override;

  private:
    QLayout *makeHead();
    QLayout *makeSlice();
    void refresh();
    void refreshReadout();
    void explainCursor();
    void shareWidth();

    Session &m_session;
    QButtonGroup *m_quantities;
    QPushButton *m_weight;
    QLabel *m_place;
    CursorReadout *m_readout;
    std::array<TableGrid *, 3> m_grids; ///< base, now, top
    QPushButton *m_alongRpm;
    QPushButton *m_alongLoad;
    SlicePlot *m_slice;
};

} // namespace wheelwright
