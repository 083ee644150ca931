// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "ui/views/view.h"

namespace wheelwright {

class EnginePage;
class PageSwitch;
class SeatPage;
class TrainerPage;

/// The practice cell: the driver's seat, and which engine it is that of.
class CellView : public View {
    Q_OBJECT
  public:
    explicit CellView(Session &session, QWidget *parent = nullptr);
    bool showInput(const QString &link) override;
    QByteArray kept() const override;
    void keepFrom(const QByteArray &kept) override;
    SeatPage &seat() { return *m_seat; }
    EnginePage &engine() { return *m_engine; }
    TrainerPage &trainer() { return *m_trainer; }
    void showEngine();
    void showSeat();
    void showTrainer();

  private:
    PageSwitch *m_pages;
    SeatPage *m_seat;
    EnginePage *m_engine;
    TrainerPage *m_trainer;
};

} // namespace wheelwright
