// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/cell/cell_view.h"

#include "session/live_seat.h"
#include "session/session.h"
#include "ui/views/cell/engine_page.h"
#include "ui/views/cell/seat_page.h"
#include "ui/views/cell/trainer_page.h"
#include "ui/widgets/page_switch.h"

#include <QVBoxLayout>

namespace wheelwright {

CellView::CellView(Session &session, QWidget *parent)
    : View(parent), m_pages(new PageSwitch(this)), m_seat(new SeatPage(session)),
      m_engine(new EnginePage(session)), m_trainer(new TrainerPage(session)) {
    setProperty("helpPage", "cell");
    m_pages->addPage(tr("Seat"), m_seat);
    m_seat->setObjectName(QStringLiteral("seat"));
    m_pages->addPage(tr("Engine"), m_engine);
    m_engine->setObjectName(QStringLiteral("engine"));
    m_pages->addPage(tr("Trainer"), m_trainer);
    m_trainer->setObjectName(QStringLiteral("trainer"));
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(8, 6, 8, 6);
    layout->addWidget(m_pages);
    connect(m_seat, &SeatPage::engineWanted, this, &CellView::showEngine);
    connect(m_engine, &EnginePage::seatWanted, this, &CellView::showSeat);
    connect(m_trainer, &TrainerPage::seatWanted, this, &CellView::showSeat);
    connect(m_trainer, &TrainerPage::progressed, this, &View::keptChanged);
    connect(m_seat, &SeatPage::chosenChanged, this, &View::keptChanged);
    connect(m_engine, &EnginePage::busListenedTo, this, &View::keptChanged);
}

void CellView::showEngine() {
    m_pages->showPage(m_engine);
}

void CellView::showSeat() {
    m_pages->showPage(m_seat);
}

void CellView::showTrainer() {
    m_pages->showPage(m_trainer);
}

bool CellView::showInput(const QString &) {
    return false;
}

QByteArray CellView::kept() const {
    return (m_seat->chosen().join(QLatin1Char(' ')) + QLatin1Char('|') +
            m_trainer->progress().join(QLatin1Char(' ')) + QLatin1Char('|') +
            m_engine->lastBus().join(QLatin1Char('\n')))
        .toUtf8();
}

void CellView::keepFrom(const QByteArray &kept) {
    const QString all = QString::fromUtf8(kept);
    const auto part = [&](int i) {
        return all.section(QLatin1Char('|'), i, i).split(QLatin1Char(' '), Qt::SkipEmptyParts);
    };
    m_seat->choose(part(0));
    m_trainer->setProgress(part(1));
    m_engine->offerBus(all.section(QLatin1Char('|'), 2).split(QLatin1Char('\n'))); // a file may have a |
}

const ViewDefinition &cellView() {
    static const ViewDefinition definition{
        .id = "cell",
        .title = QT_TRANSLATE_NOOP("view", "Cell"),
        .icon = ":/icons/cell.svg",
        .position = 6,
        .make = [](Session &s, QWidget *parent) -> View * { return new CellView(s, parent); },
        .actions = {{QT_TRANSLATE_NOOP("view", "Start a practice engine…"),
                     {},
                     [](const ViewContext &c) { static_cast<CellView *>(c.view())->showEngine(); }},
                    {QT_TRANSLATE_NOOP("view", "Sit down in the driver's seat"),
                     {},
                     [](const ViewContext &c) { static_cast<CellView *>(c.view())->showSeat(); }},
                    {QT_TRANSLATE_NOOP("view", "Train on an engine with a fault…"),
                     {},
                     [](const ViewContext &c) { static_cast<CellView *>(c.view())->showTrainer(); }}},
        .wide = true};
    return definition;
}

} // namespace wheelwright
