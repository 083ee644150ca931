// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "ui/views/tables/cursor_readout.h"
#include "ui/views/tables/curve_plot.h"
#include "ui/views/tables/extra_strip.h"
#include "ui/views/tables/slice_plot.h"
#include "ui/views/tables/table_drawer.h"
#include "ui/views/tables/table_grid.h"
#include "ui/views/tables/table_tools.h"
#include "ui/views/view.h"

#include <array>

class QHBoxLayout;
class QButtonGroup;
class QLabel;
class QPushButton;

namespace wheelwright {

class ReportView;

/// The bench. Base | now | top of a quantity with one cursor, or another table of the controller, chosen from
/// the drawer; and the slice under them.
class TablesView : public View {
    Q_OBJECT
  public:
    explicit TablesView(Session &session, QWidget *parent = nullptr);
    bool showInput(const QString &link) override;
    QByteArray kept() const override;
    void keepFrom(const QByteArray &kept) override;

    void beginSearch();
    void toggleDifference();
    void toggleTrust();
    void showLogsHere();
    void toggleDrawer(); ///< open, with the keyboard in its search
    TableDrawer &drawer() { return *m_drawer; }

  protected:
    void showEvent(QShowEvent *event) override;
    void resizeEvent(QResizeEvent *event) override;
    void changeEvent(QEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

  private:
    QLayout *makeHead();
    QWidget *makeBench();
    QWidget *makeMissing();
    QWidget *makeSlice();
    void refresh();
    void refreshBench();
    void showMissing(TableKind kind);
    void showDrawer(bool on);
    void chooseDrawer(bool on); ///< by hand: it is so the next time
    int besideDrawer() const;   ///< width that is left
    bool roomy() const;         ///< for all words in the head
    bool weightInWords() const; ///< there is room to say it
    void showExtraReadout(const ExtraTable &extra);
    void toBench();
    bool showExtra(const QString &named);
    void refreshReadout();
    void explainCursor();
    void shareWidth();
    void showDifferences();
    void showCurve(bool on);
    void showKnockShape();

    Session &m_session;
    QButtonGroup *m_quantities;
    QPushButton *m_drawerButton;
    bool m_drawerChosen = false;
    QPushButton *m_weight;
    QHBoxLayout *m_head = nullptr; ///< the first row
    QLabel *m_place;
    CursorReadout *m_readout;
    TableDrawer *m_drawer;
    ExtraStrip *m_strip;
    QWidget *m_bench; ///< the tables
    QWidget *m_sliceBox;
    QWidget *m_missing; ///< stands there instead where the job has no such table
    QLabel *m_missingWords;
    QPushButton *m_addMissing;
    std::optional<TableKind> m_missingKind;
    ReportView *m_budget;               ///< beside tables of spark
    std::array<TableGrid *, 3> m_grids; ///< base, now, top
    QPushButton *m_alongRpm;
    QPushButton *m_alongLoad;
    QPushButton *m_overContent;
    std::array<QPushButton *, 4> m_shapes; ///< own points, physical, straight, knock limit
    SlicePlot *m_slice;
    CurvePlot *m_curve;
    TableTools *m_tools;
};

} // namespace wheelwright
