// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "ui/views/view.h"

namespace wheelwright {

class ComparePage;
class MeasurePage;
class PageSwitch;
class PourPage;
class SettlingPage;
class ShelfPage;

/// What is in the tank and what to pour; the shelf; how long the reading takes to settle; measuring; fuels
/// side by side. One page each.
class FuelView : public View {
    Q_OBJECT
  public:
    explicit FuelView(Session &session, QWidget *parent = nullptr);
    bool showInput(const QString &link) override;
    void showPage(QWidget *page);

    PourPage *pour() { return m_pour; }
    ShelfPage *shelf() { return m_shelf; }
    SettlingPage *settling() { return m_settling; }
    MeasurePage *measure() { return m_measure; }
    ComparePage *compare() { return m_compare; }

  private:
    PourPage *m_pour;
    ShelfPage *m_shelf;
    SettlingPage *m_settling;
    MeasurePage *m_measure;
    ComparePage *m_compare;
    PageSwitch *m_pages;
};

} // namespace wheelwright
