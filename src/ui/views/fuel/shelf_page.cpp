// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/fuel/shelf_page.h"

#include "core/report/fuel_reports.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/views/fuel/component_model.h"
#include "ui/widgets/card.h"
#include "ui/widgets/copy_table.h"
#include "ui/widgets/record_model.h"
#include "ui/widgets/record_table.h"
#include "ui/widgets/refresh.h"
#include "ui/widgets/report_view.h"

#include <QEvent>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTabWidget>
#include <QVBoxLayout>

namespace wheelwright {

ShelfPage::ShelfPage(Session &session, QWidget *parent) : QWidget(parent), m_session(session) {
    m_shelf = new RecordTable(
        session, tr("Shelf: the fuels within reach"),
        tr("Content by test tube rather than by label. Type into the last row for a new fuel."), "fuel.shelf",
        this);
    m_tabs = new QTabWidget(this);
    m_flags = new ReportView(tr("What must be known before pouring"), ReportView::Fit::fills, m_tabs);
    m_tabs->addTab(m_flags, tr("Before pouring"));
    const auto add = [&](const QString &tab, const QString &hint, const char *list) {
        auto *table = new RecordTable(session, tab, hint, list, m_tabs);
        table->setProperty("card", false);
        m_tabs->addTab(table, tab);
    };
    add(tr("Lots"),
        tr("Purchases. Where a fuel has lots, they say what is left, at which price and content."),
        "fuel.lots");
    add(tr("Tube results"),
        tr("Of a lot, or of the tank where none is named. Station → Measure reads a tube for you."),
        "fuel.tubes");
    add(tr("Mixtures"),
        tr("Two fuels of the shelf mixed, to compare with. Share 0 of a booster: its treat rate."),
        "fuel.mixtures");
    add(tr("Hydrocarbons"),
        tr("Race gasolines and grades with numbers of their own, from their data sheets."),
        "fuel.hydrocarbons");
    m_tabs->addTab(makeComponents(), tr("Components"));
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    constexpr int roomForAFullShelf = 262;
    m_shelf->setMinimumHeight(roomForAFullShelf);
    layout->addWidget(m_shelf, 5);
    layout->addWidget(m_tabs, 4);
    (new Refresh(session, this))->on(Refresh::job | Refresh::units, [this] { refresh(); });
}

QWidget *ShelfPage::makeComponents() {
    auto *page = new QWidget(m_tabs);
    m_components = new ComponentModel(m_session, page);
    m_componentView = new CopyTable(page);
    m_componentView->setModel(m_components);
    m_componentView->setAccessibleName(tr("Components of fuels"));
    m_componentView->setFrameShape(QFrame::NoFrame);
    m_componentView->verticalHeader()->setDefaultSectionSize(23);
    m_componentView->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    auto *row = new QHBoxLayout;
    row->addWidget(
        makeQuiet(tr("Every number of every blend follows from these. Bold: not the shipped value."), page),
        1);
    for (int column = 0; column < m_components->columnCount(); ++column) {
        auto *reset = new QPushButton(
            tr("Shipped %1")
                .arg(m_components->headerData(column, Qt::Horizontal, Qt::DisplayRole).toString().toLower()),
            page);
        reset->setObjectName(QStringLiteral("reset-%1").arg(column));
        connect(reset, &QPushButton::clicked, this, [this, column] { m_components->resetToShipped(column); });
        row->addWidget(reset);
    }
    auto *layout = new QVBoxLayout(page);
    layout->addLayout(row);
    layout->addWidget(m_componentView, 1);
    return page;
}

void ShelfPage::refresh() {
    if (!m_session.hasJob()) return;
    const std::vector<Fuel> shelf = shelfOf(m_session.job(), m_session.today().toStdString());
    m_flags->show(shelfReport(shelf), m_session.units());
    QStringList remarks;
    for (const Fuel &fuel : shelf) {
        QStringList said;
        for (const ShelfFlag &flag : fuel.flags)
            said << text(flag.words);
        remarks << said.join(QLatin1Char('\n'));
    }
    m_shelf->records()->setRemarks(remarks);
}

QString ShelfPage::flagsText() const {
    return m_flags->words();
}

bool ShelfPage::showInput(const QString &link) {
    const QStringList lists{QStringLiteral("fuel.lots"), QStringLiteral("fuel.tubes"),
                            QStringLiteral("fuel.mixtures"), QStringLiteral("fuel.hydrocarbons")};
    if (link == QLatin1String("fuel.shelf")) {
        m_shelf->view()->setFocus();
        return true;
    }
    if (lists.contains(link)) {
        m_tabs->setCurrentIndex(1 + static_cast<int>(lists.indexOf(link))); // behind what must be known
        return true;
    }
    if (!link.startsWith(QLatin1String("fuel.gasoline")) && !link.startsWith(QLatin1String("fuel.ethanol")) &&
        !link.startsWith(QLatin1String("fuel.methanol")))
        return false;
    m_tabs->setCurrentIndex(m_tabs->count() - 1);
    m_componentView->setFocus();
    return true;
}

void ShelfPage::changeEvent(QEvent *event) {
    QWidget::changeEvent(event);
    if (event->type() == QEvent::PaletteChange) refresh();
}

} // namespace wheelwright
