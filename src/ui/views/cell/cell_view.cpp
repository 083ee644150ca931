// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/cell/cell_view.h"

#include "session/live_seat.h"
#include "session/session.h"
#include "ui/views/cell/engine_page.h"
#include "ui/views/cell/seat_page.h"
#include "ui/widgets/page_switch.h"

#include <QVBoxLayout>

namespace wheelwright {

CellView::CellView(Session &session, QWidget *parent)
    : View(parent), m_pages(new PageSwitch(this)), m_seat(new SeatPage(session)),
      m_engine(new EnginePage(session)) {
    setProperty("helpPage", "cell");
    m_pages->addPage(tr("Seat"), m_seat);
    m_seat->setObjectName(QStringLiteral("seat"));
    m_pages->addPage(tr("Engine"), m_engine);
    m_engine->setObjectName(QStringLiteral("engine"));
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(8, 6, 8, 6);
    layout->addWidget(m_pages);
    connect(m_seat, &SeatPage::engineWanted, this, &CellView::showEngine);
    connect(m_engine, &EnginePage::seatWanted, this, &CellView::showSeat);
    connect(m_seat, &SeatPage::chosenChanged, this, &View::keptChanged);
}

void CellView::showEngine() {
    m_pages->showPage(m_engine);
}

void CellView::showSeat() {
    m_pages->showPage(m_seat);
}

bool CellView::showInput(const QString &) {
    return false;
}

QByteArray CellView::kept() const {
    return m_seat->chosen().join(QLatin1Char(' ')).toUtf8();
}

void CellView::keepFrom(const QByteArray &kept) {
    m_seat->choose(QString::fromUtf8(kept).split(QLatin1Char(' '), Qt::SkipEmptyParts));
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
                     [](const ViewContext &c) { static_cast<CellView *>(c.view())->showSeat(); }}},
        .wide = true};
    return definition;
}

} // namespace wheelwright
