// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/tables/tables_view.h"

#include "ui/views/tables/spark_dialogs.h"

#include "core/explain/explain_cell.h"
#include "core/job/job_schema.h"
#include "core/proposal/proposed_map.h"
#include "core/report/calibration_reports.h"
#include "core/report/log_reports.h"
#include "core/study/school.h"
#include "core/study/spark_budget.h"
#include "session/evidence.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/views/tables/calibration_dialogs.h"
#include "ui/views/tables/tables_actions.h"
#include "ui/widgets/choice_keys.h"
#include "ui/widgets/refresh.h"
#include "ui/widgets/report_view.h"
#include "ui/widgets/steady.h"

#include <QButtonGroup>
#include <QDialog>
#include <QEvent>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

namespace wheelwright {
namespace {

constexpr std::array sides{TableSide::base, TableSide::now, TableSide::top};
constexpr int gap = 8, drawerGap = 4, budgetWidth = 290;

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
    auto *all = new QHBoxLayout(this);
    all->setContentsMargins(8, 6, 8, 4);
    all->setSpacing(drawerGap);
    m_drawer = new TableDrawer(session, this);
    m_drawer->hide();
    all->addWidget(m_drawer);
    auto *layout = new QVBoxLayout;
    layout->setSpacing(4);
    all->addLayout(layout, 1);
    layout->addLayout(makeHead());
    m_strip = new ExtraStrip(session, this);
    m_strip->hide();
    layout->addWidget(m_strip);
    layout->addWidget(makeBench(), 7);
    layout->addWidget(makeMissing(), 10);
    connect(m_drawer, &TableDrawer::missingChosen, this, &TablesView::showMissing);
    connect(m_drawer, &TableDrawer::tableChosen, this, [this] {
        m_missingKind.reset();
        refresh();
    });
    // Whoever leads to a table, such as Verify, wants to see it.
    connect(&session, &Session::selectionChanged, this, [this] {
        if (!m_missingKind) return;
        m_missingKind.reset();
        m_drawer->lookAt({});
    });
    connect(m_drawer, &TableDrawer::closeWanted, this, [this] {
        chooseDrawer(false);
        toBench();
    });
    connect(m_drawer, &TableDrawer::benchWanted, this, [this] {
        if (!roomy()) showDrawer(false); // it has done its work, and the numbers need the room
        toBench();
    });
    m_tools = new TableTools(session, this);
    layout->addWidget(m_tools);
    connect(m_tools, &TableTools::changed, this, &TablesView::showDifferences);
    connect(m_tools, &TableTools::logsWanted, this, &TablesView::showLogsHere);
    connect(&session.evidence(), &Evidence::coverageChanged, this, [this] {
        if (!isVisible()) return;
        for (TableGrid *grid : m_grids)
            grid->update();
        explainCursor();
    });
    layout->addWidget(makeSlice(), 3);
    (new Refresh(session, this))
        ->on(Refresh::selection | Refresh::job | Refresh::units,
             [this] {
                 refresh();
                 showKnockShape();
             })
        .on(Refresh::content, [this] {
            refreshReadout();
            showDifferences();
            explainCursor();
            refreshBench(); // the budget
        });
}

// What lies on the bench: three tables side by side, or another one and the budget of its spark.
QWidget *TablesView::makeBench() {
    m_bench = new QWidget(this);
    auto *tables = new QHBoxLayout(m_bench);
    tables->setContentsMargins(0, 0, 0, 0);
    tables->setSpacing(gap);
    for (std::size_t i = 0; i < sides.size(); ++i) {
        m_grids[i] = new TableGrid(m_session, sides[i], m_bench);
        tables->addWidget(m_grids[i]);
    }
    m_budget = new ReportView(tr("Spark budget at the cursor"), ReportView::Fit::fills, m_bench);
    m_budget->setFixedWidth(budgetWidth);
    m_budget->hide();
    tables->addStretch(1);
    tables->addWidget(m_budget);
    return m_bench;
}

QWidget *TablesView::makeMissing() {
    m_missing = new QWidget(this);
    m_missing->hide();
    auto *layout = new QVBoxLayout(m_missing);
    layout->setContentsMargins(24, 24, 24, 24);
    m_missingWords = new QLabel(m_missing);
    m_missingWords->setWordWrap(true);
    m_addMissing = new QPushButton(m_missing);
    m_addMissing->setProperty("main", true);
    connect(m_addMissing, &QPushButton::clicked, this, [this] {
        if (m_missingKind) m_drawer->add(*m_missingKind);
    });
    layout->addWidget(m_missingWords);
    layout->addWidget(m_addMissing, 0, Qt::AlignLeft);
    layout->addStretch(1);
    return m_missing;
}

QLayout *TablesView::makeHead() {
    auto *head = m_head = new QHBoxLayout;
    m_drawerButton = new QPushButton(tr("All tables"), this);
    m_drawerButton->setCheckable(true);
    m_drawerButton->setToolTip(tr("Corrections, ceilings, starting, cuts and the four below (Ctrl+T)"));
    connect(m_drawerButton, &QPushButton::clicked, this, &TablesView::chooseDrawer);
    head->addWidget(m_drawerButton);
    head->addSpacing(6);
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
    tabToTheOneDown(*m_quantities);
    connect(m_quantities, &QButtonGroup::idClicked, this, [this](int id) {
        m_missingKind.reset();
        m_drawer->lookAt({});
        m_session.setQuantity(static_cast<CalibratedQuantity>(id));
        refresh();
    });
    m_weight = new QPushButton(this);
    m_weight->setStyleSheet(QStringLiteral("border-style: dashed;")); // a number to ask about, not a choice
    m_weight->setToolTip(tr("Weight of the top table at the content looked at. Press for its working."));
    connect(m_weight, &QPushButton::clicked, this, [this] {
        m_session.explain(explainWeight(m_session.study(), m_session.quantity(), m_session.content()));
    });
    head->addSpacing(8);
    head->addWidget(m_weight);
    head->addStretch(1);
    m_place = new QLabel(this);
    m_place->setProperty("quiet", true);
    m_place->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    constexpr int roomForAPlace = 172;
    head->addWidget(makeStill(m_place, this, roomForAPlace));
    m_readout = new CursorReadout(this);
    head->addWidget(m_readout);
    return head;
}

QWidget *TablesView::makeSlice() {
    m_sliceBox = new QWidget(this);
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
    tabToTheOneDown(*group);
    m_alongRpm->setToolTip(tr("The slice is the row through the cursor"));
    m_alongLoad->setToolTip(tr("The slice is the column through the cursor"));
    m_overContent->setToolTip(tr("The curve by which the tables are blended, to be dragged"));
    m_shapes = {new QPushButton(tr("Own points"), this), new QPushButton(tr("Physical"), this),
                new QPushButton(tr("Straight"), this), new QPushButton(tr("Knock limit…"), this)};
    m_shapes[3]->setToolTip(tr("Of spark: as the estimated knock limit goes, and how that differs"));
    connect(m_shapes[3], &QPushButton::clicked, this,
            [this] { SparkEstimateDialog(m_session, SparkEstimateDialog::Makes::curve, this).exec(); });
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
    auto *slice = new QHBoxLayout(m_sliceBox);
    slice->setContentsMargins(0, 0, 0, 0);
    slice->addLayout(buttons);
    auto *plots = new QVBoxLayout;
    plots->setSpacing(2);
    plots->addLayout(shapes);
    plots->addWidget(m_slice, 1);
    plots->addWidget(m_curve, 1);
    slice->addLayout(plots, 1);
    return m_sliceBox;
}

// Of spark alone there is one.
void TablesView::showKnockShape() {
    const bool spark = m_session.hasJob() && m_session.quantity() == CalibratedQuantity::spark;
    m_shapes[3]->setVisible(m_curve->isVisibleTo(this) && spark);
}

void TablesView::showCurve(bool on) {
    m_curve->setVisible(on);
    m_slice->setVisible(!on);
    for (QPushButton *b : m_shapes)
        b->setVisible(on);
    showKnockShape();
    if (on) m_curve->setFocus();
}

void TablesView::showDifferences() {
    if (!m_session.hasJob() || !isVisible()) return;
    for (std::size_t i = 0; i < sides.size(); ++i) {
        m_grids[i]->setReference(m_tools->reference(sides[i]), m_tools->subject(sides[i]),
                                 m_tools->referenceWords());
        m_grids[i]->setShowsTrust(m_tools->showsTrust());
    }
    shareWidth(); // differences are shorter or longer than values
}

// When logs were at the cursor, the latest first; a click goes there.
void TablesView::showLogsHere() {
    const auto coverage = m_session.evidence().coverage();
    if (!coverage)
        return m_session.report(m_session.job().logs.empty() ? tr("No log has come in yet: see Evidence.")
                                                             : tr("The logs are still being read."));
    const OperatingPoint place = m_session.place();
    const Axis &rpm = coverage->rpm(), &load = coverage->load();
    const std::size_t x = rpm.nearest(place.rpm), y = load.nearest(place.loadKpa);
    const auto logs = m_session.evidence().reviews(); // the visits refer to them
    const auto visits = visitsOf(logs, areaOf(rpm, load, x, y));
    auto *dialog = new QDialog(this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setObjectName(QStringLiteral("logsHere"));
    dialog->setWindowTitle(tr("Logs at this cell"));
    dialog->setProperty("helpPage", "evidence");
    auto *words = new ReportView(tr("Logs at this cell"), ReportView::Fit::fills, dialog);
    Report report = visitsReport(visits, rpm[x], load[y]);
    if (const std::size_t aside = m_session.evidence().laidAside(); aside > 0)
        report.blocks.push_back(Sentence{laidAsideWords(aside), Tone::caution});
    words->show(std::move(report), m_session.units());
    auto *layout = new QVBoxLayout(dialog);
    layout->addWidget(words);
    dialog->resize(460, 420);
    connect(words, &ReportView::linkWanted, this, [this, logs, visits, dialog](const QString &link) {
        const QString before = QStringLiteral("visit:");
        const std::size_t at = link.mid(before.size()).toULong();
        if (!link.startsWith(before) || at >= visits.size()) return;
        m_session.evidence().setMoment(visits[at].log->info().id, visits[at].beginS);
        dialog->close();
        emit stationWanted(QStringLiteral("evidence"));
    });
    dialog->open();
}

void TablesView::keyPressEvent(QKeyEvent *event) {
    if (event->modifiers() == Qt::NoModifier && event->key() == Qt::Key_L) return showLogsHere();
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

void TablesView::showDrawer(bool on) {
    m_drawer->setVisible(on);
    m_drawerButton->setChecked(on);
    refreshReadout();
    shareWidth();
}

void TablesView::chooseDrawer(bool on) {
    m_drawerChosen = on;
    showDrawer(on);
    emit keptChanged();
}

QByteArray TablesView::kept() const {
    return m_drawerChosen ? "drawer" : "";
}

void TablesView::keepFrom(const QByteArray &kept) {
    m_drawerChosen = kept == "drawer";
    showDrawer(m_drawerChosen);
}

void TablesView::toggleDrawer() {
    chooseDrawer(!m_drawer->isVisible());
    if (m_drawer->isVisible())
        m_drawer->beginSearch();
    else
        toBench();
}

// The keyboard goes to what lies there.
void TablesView::toBench() {
    if (m_missingKind) return m_addMissing->setFocus();
    m_grids[m_session.extra() ? 1 : static_cast<std::size_t>(m_session.side())]->setFocus();
}

void TablesView::showMissing(TableKind kind) {
    const TableKindDefinition &d = definitionOf(kind);
    m_missingKind = kind;
    m_drawer->lookAt(kind);
    m_missingWords->setText(
        tr("<h3>%1</h3><p>This job has none. %2</p><p>A new one holds numbers that nobody "
           "has said: they are open until you write over them.</p>")
            .arg(text(d.title).toHtmlEscaped(), text(d.help).toHtmlEscaped()));
    m_addMissing->setText(tr("Add %1").arg(text(d.title).toLower()));
    m_addMissing->setEnabled(!m_session.readOnly());
    refresh();
}

void TablesView::refreshBench() {
    if (!m_session.hasJob()) return;
    const ExtraTable *extra = m_missingKind ? nullptr : m_session.extra();
    const bool shown = !m_missingKind;
    m_missing->setVisible(!shown);
    m_bench->setVisible(shown);
    m_tools->setVisible(shown);
    m_sliceBox->setVisible(shown);
    m_readout->setVisible(shown);
    m_strip->setVisible(extra);
    for (QWidget *w : std::initializer_list<QWidget *>{m_weight, m_grids[0], m_grids[2]})
        w->setVisible(shown && !extra);
    m_overContent->setVisible(shown && !extra);
    if (extra && m_curve->isVisible()) {
        m_alongRpm->setChecked(true);
        showCurve(false);
    }
    const bool budget = extra && definitionOf(extra->kind).dimension == Dimension::sparkAngle;
    m_budget->setVisible(budget);
    if (budget) {
        const OperatingPoint at = m_session.place();
        m_budget->show(budgetReport(sparkBudget(m_session.study(), at), at), m_session.units());
    }
}

void TablesView::refresh() {
    if (!m_session.hasJob()) return;
    const ExtraTable *extra = m_session.extra();
    m_quantities->setExclusive(false); // none of them, while another table lies there
    for (QAbstractButton *b : m_quantities->buttons())
        b->setChecked(!extra && !m_missingKind &&
                      m_quantities->id(b) == static_cast<int>(m_session.quantity()));
    m_quantities->setExclusive(true);
    const TableField field = m_session.frontField();
    m_alongRpm->setText(field.x.key == axes::engineSpeed.key ? tr("over rpm")
                                                             : tr("over %1").arg(text(field.x.title)));
    m_alongLoad->setText(field.y.single() ? tr("one row") : tr("over %1").arg(text(field.y.title)));
    m_alongLoad->setEnabled(!field.y.single());
    refreshBench();
    showDifferences();
    refreshReadout();
    shareWidth();
    explainCursor();
}

void TablesView::showExtraReadout(const ExtraTable &extra) {
    const TableField field = fieldOf(extra);
    const CellIndex cell = m_session.cell();
    const UnitChoice &units = m_session.units();
    const auto along = [&](const TableAxis &axis, double v) {
        return axis.dimension == Dimension::none ? tr("%1 %2").arg(text(axis.title)).arg(v)
                                                 : shown(v, axis.dimension, units);
    };
    QString words = along(field.x, extra.table.x()[cell.x]);
    if (!field.y.single()) words += QStringLiteral(" · ") + along(field.y, extra.table.y()[cell.y]);
    m_place->parentWidget()->setVisible(roomy() && !m_missingKind);
    m_place->setText(words);
    const bool atContent = definitionOf(extra.kind).atContent;
    const std::optional<double> hue = atContent ? std::optional(extra.content) : std::nullopt;
    m_readout->show({QString(), shown(extra.table.cell(cell), field.dimension, units, false), QString()},
                    {hue, hue, hue});
}

void TablesView::refreshReadout() {
    if (!m_session.hasJob()) return;
    if (const ExtraTable *extra = m_session.extra()) return showExtraReadout(*extra);
    const CalibratedQuantity q = m_session.quantity();
    const UnitChoice &units = m_session.units();
    const BlendEnds ends = m_session.study().ends(q, m_session.content());
    const QString weight = fixedText(ends.weight, 3, units);
    const QString beyond = ends.extrapolated ? tr("  extrapolated") : ends.outside ? tr("  held") : QString();
    m_weight->setText(ends.low == ends.high ? tr("one table")
                      : weightInWords()     ? tr("top weighs %1%2").arg(weight, beyond)
                                            : tr("w %1%2").arg(weight, beyond));
    const double rpm = m_session.table().x()[m_session.cell().x],
                 y = m_session.table().y()[m_session.cell().y];
    const TableField field = tableIn(m_session.job(), q, false);
    m_place->parentWidget()->setVisible(roomy() && !m_missingKind); // the headers say it too
    m_place->setText(shown(rpm, Dimension::engineSpeed, units) + QStringLiteral(" · ") +
                     (field.y.dimension == Dimension::none
                          ? tr("%1 %2").arg(text(field.y.title), briefText(y, units))
                          : shown(y, field.y.dimension, units)));
    const double low = ends.low->lookup(rpm, y).value, high = ends.high->lookup(rpm, y).value;
    const std::array values{low, ends.blend(low, high), high};
    const std::array<std::optional<double>, 3> contents{ends.lowContent, m_session.content(),
                                                        ends.highContent};
    std::array<QString, 3> numbers;
    for (std::size_t i = 0; i < values.size(); ++i)
        numbers[i] = shown(values[i], tableIn(m_session.job(), q, false).dimension, units, false);
    m_readout->show(numbers, contents);
}

void TablesView::explainCursor() {
    if (!isVisible() || !m_session.hasJob()) return;
    if (m_missingKind) return m_session.explainNothing();
    if (const ExtraTable *extra = m_session.extra()) {
        m_session.explain(explainExtraCell(m_session.study(), *extra, m_session.content(), m_session.cell()));
        return;
    }
    const CalibratedQuantity q = m_session.quantity();
    if (m_session.side() == TableSide::now) {
        m_session.explain(explainBlendedCell(m_session.study(), q, m_session.content(), m_session.cell(),
                                             m_session.evidence().proof().get()));
        return;
    }
    const bool top = m_session.side() == TableSide::top;
    const Table2D &t = m_session.tableAt(top ? TableSide::top : TableSide::base);
    const Table2D &base = m_session.table();
    const CellIndex here{t.x().nearest(base.x()[m_session.cell().x]),
                         t.y().nearest(base.y()[m_session.cell().y])};
    m_session.explain(explainTableCell(m_session.study(), q, top, m_session.content(), here,
                                       m_session.evidence().proof().get()));
}

int TablesView::besideDrawer() const {
    return width() - (m_drawer->isVisible() ? m_drawer->width() + drawerGap : 0);
}

// By the longest that the button can say, so that it does not change while the content moves.
bool TablesView::weightInWords() const {
    if (!roomy()) return false;
    constexpr int edges = 34; // of the button
    int wanted = edges + m_weight->fontMetrics().horizontalAdvance(
                             tr("top weighs %1%2").arg(QStringLiteral("0.000"), tr("  extrapolated")));
    for (int i = 0; i < m_head->count(); ++i)
        if (QLayoutItem *item = m_head->itemAt(i); item->widget() != m_weight)
            wanted += item->sizeHint().width() + m_head->spacing();
    return besideDrawer() >= wanted;
}

bool TablesView::roomy() const {
    constexpr int forAllWords = 760;
    return besideDrawer() >= forAllWords;
}

// With room for three tables of numbers each gets a third; without, the one in front gets what it needs to be
// read and the other two stand beside it as shades.
void TablesView::shareWidth() {
    const int given = besideDrawer();
    const auto openHeight = [](TableGrid *g) { g->setMaximumHeight(QWIDGETSIZE_MAX); };
    // The four of the engine take all the height there is; another table no more than it needs, at the top.
    m_bench->layout()->setAlignment(m_grids[1], m_session.extra() ? Qt::AlignTop : Qt::Alignment());
    if (m_session.extra()) { // as wide as it can be read well, and no row thicker than needed
        const int room = given - 2 * gap - (m_budget->isVisible() ? budgetWidth + gap : 0);
        const QSize fitting = m_grids[1]->fittingSize();
        m_grids[1]->setFixedWidth(std::max(90, std::min(room, fitting.width())));
        m_grids[1]->setMaximumHeight(fitting.height());
        return;
    }
    openHeight(m_grids[1]);
    int needed = 0;
    for (TableGrid *g : m_grids)
        needed = std::max(needed, g->readableWidth());
    constexpr int margin = 8;
    const int room = given - 2 * margin - 2 * gap;
    const bool all = 3 * needed <= room;
    // Less than that where the numbers in front need the room, and get enough by it.
    const bool slivers = room - needed < 2 * 90 && room - needed >= 2 * TableGrid::sliver;
    const int side = slivers ? TableGrid::sliver : 90;
    for (std::size_t i = 0; i < m_grids.size(); ++i) {
        const bool front = sides[i] == m_session.side();
        const int frontWidth = std::min(room - 2 * side, std::max(needed, room * 64 / 100));
        const int w = all ? room / 3 : front ? frontWidth : (room - frontWidth) / 2;
        m_grids[i]->setFixedWidth(std::max(side, w));
    }
}

void TablesView::showEvent(QShowEvent *event) {
    View::showEvent(event);
    m_slice->refresh();
    m_curve->refresh();
    showKnockShape();
    refresh();
    toBench();
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
        m_missingKind.reset();
        m_drawer->lookAt({});
        m_session.setQuantity(q);
        const std::size_t side = link.endsWith(QStringLiteral(".base"))  ? 0
                                 : link.endsWith(QStringLiteral(".top")) ? 2
                                                                         : 1;
        m_grids[side]->setFocus();
        m_session.setSide(sides[side]);
        return true;
    }
    if (!link.startsWith(QLatin1String("calibration.extras"))) return false;
    if (!showExtra(link.section(QLatin1Char('.'), 2))) {
        showDrawer(true);
        m_drawer->beginSearch();
    }
    return true;
}

// By its name, or by its kind: then the one in use, or what there is to add.
bool TablesView::showExtra(const QString &named) {
    const auto &extras = m_session.job().extras;
    for (std::size_t i = 0; i < extras.size(); ++i)
        if (text(extras[i].name) == named || text(definitionOf(extras[i].kind).id) == named) {
            m_missingKind.reset();
            m_drawer->lookAt({});
            m_session.setExtra(extras.ids()[i]);
            refresh();
            toBench();
            return true;
        }
    for (const TableKindDefinition &d : allTableKinds())
        if (text(d.id) == named) {
            showDrawer(true);
            showMissing(d.kind);
            toBench();
            return true;
        }
    return false;
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
