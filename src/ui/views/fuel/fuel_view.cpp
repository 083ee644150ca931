// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/fuel/fuel_view.h"

#include "session/session.h"
#include "ui/views/fuel/compare_page.h"
#include "ui/views/fuel/measure_page.h"
#include "ui/views/fuel/pour_page.h"
#include "ui/views/fuel/settling_page.h"
#include "ui/views/fuel/shelf_page.h"
#include "ui/widgets/field_form.h"
#include "ui/widgets/page_switch.h"

#include <QCoreApplication>
#include <QVBoxLayout>

namespace wheelwright {

FuelView::FuelView(Session &session, QWidget *parent)
    : View(parent), m_pour(new PourPage(session)), m_shelf(new ShelfPage(session)),
      m_settling(new SettlingPage(session)), m_measure(new MeasurePage(session)),
      m_compare(new ComparePage(session)), m_pages(new PageSwitch(this)) {
    setProperty("helpPage", "fuel");
    m_pages->addPage(tr("Pour"), m_pour);
    m_pour->setObjectName(QStringLiteral("pour"));
    m_pages->addPage(tr("Shelf"), m_shelf);
    m_shelf->setObjectName(QStringLiteral("shelf"));
    m_pages->addPage(tr("Settle"), m_settling);
    m_settling->setObjectName(QStringLiteral("settling"));
    m_pages->addPage(tr("Measure"), m_measure);
    m_measure->setObjectName(QStringLiteral("measure"));
    m_pages->addPage(tr("Compare"), m_compare);
    m_compare->setObjectName(QStringLiteral("compare"));
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(8, 6, 8, 6);
    layout->addWidget(m_pages);
}

void FuelView::showPage(QWidget *page) {
    m_pages->showPage(page);
}

bool FuelView::showInput(const QString &link) {
    if (link == QLatin1String("tank.events")) {
        showPage(m_pour);
        return true;
    }
    if (m_settling->form()->editor(link)) {
        showPage(m_settling); // before, since a hidden field takes no focus
        return m_settling->form()->showInput(link);
    }
    if (!m_shelf->showInput(link)) return false;
    showPage(m_shelf);
    return true;
}

const ViewDefinition &fuelView() {
    static const ViewDefinition definition{
        "fuel", QT_TRANSLATE_NOOP("view", "Fuel"), ":/icons/fuel.svg", 2,
        [](Session &s, QWidget *parent) -> View * { return new FuelView(s, parent); }};
    return definition;
}

} // namespace wheelwright
