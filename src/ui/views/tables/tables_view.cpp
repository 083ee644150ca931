// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/tables/tables_view.h"

#include "core/explain/explain_cell.h"
#include "core/job/job_schema.h"
#include "core/study/school.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/views/tables/calibration_dialogs.h"
#include "ui/views/tables/extra_tables_dialog.h"
#include "ui/views/tables/tables_actions.h"
#include "ui/widgets/refresh.h"
#include "ui/widgets/steady.h"

#include <QButtonGroup>
#include <QEvent>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

namespace wheelwright {
namespace {

constexpr std::array sides{TableSide::base, TableSide::now, TableSide::top};

QString shortTitle(CalibratedQuantity q) {
    switch (q) {
    case CalibratedQuantity::fuel:
        return TablesView::tr("Fuel");
    case CalibratedQuantity::spark:
        return TablesView::tr("Spark");
    case CalibratedQuantity::boost:
        return TablesView::tr("Boost");
    case CalibratedQuantity::lambda:
        break;
    }
    return TablesView::tr("Lambda");
}

} // namespace

TablesView::TablesView(Session &session, QWidget *parent) : View(parent), m_session(session) {
    setProperty("helpPage", "tables");
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(8, 6, 8, 4);
    layout->setSpacing(4);
    layout->addLayout(makeHead());
    auto *tables = new QHBoxLayout;
    tables->setSpacing(8);
    for (std::size_t i = 0; i < sides.size(); ++i) {
        m_grids[i] = new TableGrid(session, sides[i], this);
        tables->addWidget(m_grids[i]);
    }
    layout->addLayout(tables, 7);
    m_tools = new TableTools(session, this);
    layout->addWidget(m_tools);
    connect(m_tools, &TableTools::changed, this, &TablesView::showDifferences);
    layout->addLayout(makeSlice(), 3);
    (new Refresh(session, this))
        ->on(Refresh::selection | Refresh::job | Refresh::units, [this] { refresh(); })
        .on(Refresh::content, [this] {
            refreshReadout();
            showDifferences();
            explainCursor();
        });
}

QLayout *TablesView::makeHead() {
    auto *head = new QHBoxLayout;
    m_quantities = new QButtonGroup(this);
    m_quantities->setExclusive(true);
    for (CalibratedQuantity q : allQuantities) {
        auto *button = new QPushButton(shortTitle(q), this);
        button->setCheckable(true);
        const auto id = static_cast<int>(q);
        button->setShortcut(QKeySequence(Qt::CTRL | static_cast<Qt::Key>(Qt::Key_1 + id)));
        button->setToolTip(tr("%1 tables (Ctrl+%2)").arg(shortTitle(q)).arg(id + 1));
        m_quantities->addButton(button, id);
        head->addWidget(button);
    }
    connect(m_quantities, &QButtonGroup::idClicked, this,
            [this](int id) { m_session.setQuantity(static_cast<CalibratedQuantity>(id)); });
    m_weight = new QPushButton(this);
    m_weight->setStyleSheet(QStringLiteral("border-style: dashed;")); // a number to ask about, not a choice
    m_weight->setToolTip(tr("Weight of the top table at the content looked at. Press for its working."));
    connect(m_weight, &QPushButton::clicked, this, [this] {
        m_session.explain(explainWeight(m_session.study(), m_session.quantity(), m_session.content()));
    });
    head->addSpacing(18);
    head->addWidget(m_weight);
    head->addStretch(1);
    m_place = new QLabel(this);
    m_place->setProperty("quiet", true);
    m_place->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    constexpr int roomForAPlace = 190;
    head->addWidget(makeStill(m_place, this, roomForAPlace));
    m_readout = new CursorReadout(this);
    head->addWidget(m_readout);
    return head;
}

QLayout *TablesView::makeSlice() {
    auto *buttons = new QVBoxLayout;
    buttons->setSpacing(4);
    m_alongRpm = new QPushButton(tr("over rpm"), this);
    m_alongLoad = new QPushButton(tr("over load"), this);
    auto *group = new QButtonGroup(this);
    m_overContent = new QPushButton(tr("by content"), this);
    for (QPushButton *b : {m_alongRpm, m_alongLoad, m_overContent}) {
        b->setCheckable(true);
        group->addButton(b);
        buttons->addWidget(b);
    }
    m_alongRpm->setChecked(true);
    m_alongRpm->setToolTip(tr("The slice is the row through the cursor"));
    m_alongLoad->setToolTip(tr("The slice is the column through the cursor"));
    m_overContent->setToolTip(tr("The curve by which the tables are blended, to be dragged"));
    m_shapes = {new QPushButton(tr("Own points"), this), new QPushButton(tr("Physical"), this),
                new QPushButton(tr("Straight"), this)};
    m_shapes[0]->setToolTip(tr("Makes the curve points of your own, where it stands now"));
    m_shapes[1]->setToolTip(tr("The default again; of the fuel model's correction: 1 everywhere"));
    m_shapes[2]->setToolTip(tr("The classic straight line in volume per cent"));
    const auto shape = [this](std::size_t button, const QString &what, auto change) {
        connect(m_shapes[button], &QPushButton::clicked, this, [this, what, change] {
            m_session.perform(tr("%1 curve: %2").arg(shortTitle(m_session.quantity()), what),
                              [&](Job &job) { change(job, m_session.quantity()); });
        });
    };
    shape(0, tr("own points"), [](Job &job, CalibratedQuantity q) { makeOwnCurve(job, q); });
    shape(1, tr("physical"),
          [](Job &job, CalibratedQuantity q) { resetCurve(job, q, WeightShape::physical); });
    shape(2, tr("straight"),
          [](Job &job, CalibratedQuantity q) { resetCurve(job, q, WeightShape::straight); });
    buttons->addStretch(1);
    auto *shapes = new QHBoxLayout;
    shapes->addStretch(1);
    for (QPushButton *b : m_shapes) {
        shapes->addWidget(b);
        b->hide();
    }
    m_slice = new SlicePlot(m_session, this);
    m_curve = new CurvePlot(m_session, this);
    m_curve->hide();
    connect(m_alongRpm, &QPushButton::clicked, this, [this] {
        showCurve(false);
        m_slice->setAlongRpm(true);
    });
    connect(m_alongLoad, &QPushButton::clicked, this, [this] {
        showCurve(false);
        m_slice->setAlongRpm(false);
    });
    connect(m_overContent, &QPushButton::clicked, this, [this] { showCurve(true); });
    auto *slice = new QHBoxLayout;
    slice->addLayout(buttons);
    auto *plots = new QVBoxLayout;
    plots->setSpacing(2);
    plots->addLayout(shapes);
    plots->addWidget(m_slice, 1);
    plots->addWidget(m_curve, 1);
    slice->addLayout(plots, 1);
    return slice;
}

void TablesView::showCurve(bool on) {
    m_curve->setVisible(on);
    m_slice->setVisible(!on);
    for (QPushButton *b : m_shapes)
        b->setVisible(on);
    if (on) m_curve->setFocus();
}

void TablesView::showDifferences() {
    if (!m_session.hasJob() || !isVisible()) return;
    for (std::size_t i = 0; i < sides.size(); ++i) {
        m_grids[i]->setReference(m_tools->reference(sides[i]));
        m_grids[i]->setShowsTrust(m_tools->showsTrust());
    }
    shareWidth(); // differences are shorter or longer than values
}

void TablesView::keyPressEvent(QKeyEvent *event) {
    if (event->modifiers() == Qt::NoModifier && event->key() == Qt::Key_D) return toggleDifference();
    if (event->modifiers() == Qt::NoModifier && event->key() == Qt::Key_W) return toggleTrust();
    View::keyPressEvent(event);
}

void TablesView::beginSearch() {
    m_tools->beginSearch();
}

void TablesView::toggleDifference() {
    m_tools->toggleDifference();
}

void TablesView::toggleTrust() {
    m_tools->toggleTrust();
}

void TablesView::refresh() {
    m_quantities->button(static_cast<int>(m_session.quantity()))->setChecked(true);
    m_alongLoad->setText(
        tr("over %1").arg(text(tableIn(m_session.job(), m_session.quantity(), false).yTitle())));
    showDifferences();
    refreshReadout();
    shareWidth();
    explainCursor();
}

void TablesView::refreshReadout() {
    if (!m_session.hasJob()) return;
    const CalibratedQuantity q = m_session.quantity();
    const UnitChoice &units = m_session.units();
    const BlendEnds ends = m_session.study().ends(q, m_session.content());
    m_weight->setText(ends.low == ends.high ? tr("one table")
                                            : tr("top weighs %1%2")
                                                  .arg(QString::number(ends.weight, 'f', 3),
                                                       ends.extrapolated ? tr("  extrapolated")
                                                       : ends.outside    ? tr("  held")
                                                                         : QString()));
    const double rpm = m_session.table().x()[m_session.cell().x],
                 y = m_session.table().y()[m_session.cell().y];
    const TableField field = tableIn(m_session.job(), q, false);
    constexpr int roomForThePlace = 760;
    m_place->parentWidget()->setVisible(width() >= roomForThePlace); // the headers say it too
    m_place->setText(shown(rpm, Dimension::engineSpeed, units) + QStringLiteral(" · ") +
                     (field.yDimension() == Dimension::none ? tr("%1 %2").arg(text(field.yTitle())).arg(y)
                                                            : shown(y, field.yDimension(), units)));
    const double low = ends.low->lookup(rpm, y).value, high = ends.high->lookup(rpm, y).value;
    const std::array values{low, ends.blend(low, high), high};
    const std::array contents{ends.lowContent, m_session.content(), ends.highContent};
    std::array<QString, 3> numbers;
    for (std::size_t i = 0; i < values.size(); ++i)
        numbers[i] = shown(values[i], tableIn(m_session.job(), q, false).dimension, units, false);
    m_readout->show(numbers, contents);
}

void TablesView::explainCursor() {
    if (!isVisible() || !m_session.hasJob()) return;
    const CalibratedQuantity q = m_session.quantity();
    if (m_session.side() == TableSide::now) {
        m_session.explain(explainBlendedCell(m_session.study(), q, m_session.content(), m_session.cell()));
        return;
    }
    const bool top = m_session.side() == TableSide::top;
    const Table2D &t = m_session.tableAt(top ? TableSide::top : TableSide::base);
    const Table2D &base = m_session.table();
    const CellIndex here{t.x().nearest(base.x()[m_session.cell().x]),
                         t.y().nearest(base.y()[m_session.cell().y])};
    m_session.explain(explainTableCell(m_session.study(), q, top, m_session.content(), here));
}

// With room for three tables of numbers each gets a third; without, the one in front gets what it needs to be
// read and the other two stand beside it as shades.
void TablesView::shareWidth() {
    int needed = 0;
    for (TableGrid *g : m_grids)
        needed = std::max(needed, g->readableWidth());
    constexpr int gap = 8, margin = 8;
    const int room = width() - 2 * margin - 2 * gap;
    const bool all = 3 * needed <= room;
    for (std::size_t i = 0; i < m_grids.size(); ++i) {
        const bool front = sides[i] == m_session.side();
        const int frontWidth = std::min(room - 2 * 90, std::max(needed, room * 64 / 100));
        const int w = all ? room / 3 : front ? frontWidth : (room - frontWidth) / 2;
        m_grids[i]->setFixedWidth(std::max(90, w));
    }
}

void TablesView::showEvent(QShowEvent *event) {
    View::showEvent(event);
    m_slice->refresh();
    m_curve->refresh();
    refresh();
    m_grids[static_cast<std::size_t>(m_session.side())]->setFocus();
}

void TablesView::resizeEvent(QResizeEvent *event) {
    View::resizeEvent(event);
    refreshReadout();
    shareWidth();
}

void TablesView::changeEvent(QEvent *event) {
    View::changeEvent(event);
    if (event->type() == QEvent::PaletteChange) {
        m_slice->restyle();
        m_curve->restyle();
        refreshReadout();
    }
}

bool TablesView::showInput(const QString &link) {
    for (CalibratedQuantity q : allQuantities) {
        const QString stem = QStringLiteral("calibration.") + text(quantityId(q));
        if (link != stem && link != stem + QStringLiteral(".base") && link != stem + QStringLiteral(".top"))
            continue;
        m_session.setQuantity(q);
        const std::size_t side = link.endsWith(QStringLiteral(".base"))  ? 0
                                 : link.endsWith(QStringLiteral(".top")) ? 2
                                                                         : 1;
        m_grids[side]->setFocus();
        m_session.setSide(sides[side]);
        return true;
    }
    if (link == QLatin1String("revisions")) {
        RevisionsDialog(m_session, window()).exec();
        return true;
    }
    if (!link.startsWith(QLatin1String("calibration.extras"))) return false;
    ExtraTablesDialog::bringUp(m_session, window(), link.section(QLatin1Char('.'), 2));
    return true;
}

const ViewDefinition &tablesView() {
    static const ViewDefinition definition{
        "tables",
        QT_TRANSLATE_NOOP("view", "Tables"),
        ":/icons/tables.svg",
        4,
        [](Session &s, QWidget *parent) -> View * { return new TablesView(s, parent); },
        tablesActions()};
    return definition;
}

} // namespace wheelwright
