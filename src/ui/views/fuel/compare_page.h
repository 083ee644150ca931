// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/study/fuel_comparison.h"

#include <QWidget>

class QComboBox;
class QSlider;
class QTableView;

namespace wheelwright {

class ComparisonModel;
class MixPlot;
class ReportView;
class Session;

/// The shelf and its mixtures side by side, what must change for the one selected, and any two fuels mixed
/// over 0–100 %.
class ComparePage : public QWidget {
    Q_OBJECT
  public:
    explicit ComparePage(Session &session, QWidget *parent = nullptr);
    QTableView *table() { return m_view; }
    QSlider *slider() { return m_share; }
    QString changeText() const;
    QString mixText() const;

  protected:
    void changeEvent(QEvent *event) override;

  private:
    QWidget *makeTable();
    QWidget *makeMix();
    void refresh();
    void refreshChange();
    void refreshMix();
    void moveShare();

    Session &m_session;
    ComparisonModel *m_model = nullptr;
    QTableView *m_view = nullptr;
    ReportView *m_change = nullptr;
    QComboBox *m_first = nullptr;
    QComboBox *m_second = nullptr;
    QSlider *m_share = nullptr;
    ReportView *m_mix = nullptr;
    MixPlot *m_plot = nullptr;
    std::vector<Fuel> m_shelf;
};

} // namespace wheelwright
