// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/runs/runs_view.h"

#include "core/base/error.h"
#include "session/evidence.h"
#include "session/run_book.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/views/runs/run_chart.h"
#include "ui/views/runs/run_compare_page.h"
#include "ui/views/runs/run_details_page.h"
#include "ui/views/runs/run_import_dialog.h"
#include "ui/views/runs/run_road_page.h"
#include "ui/views/runs/run_sheets_page.h"
#include "ui/views/runs/run_table_model.h"
#include "ui/widgets/card.h"
#include "ui/widgets/copy_table.h"
#include "ui/widgets/page_switch.h"

#include <QComboBox>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QInputDialog>
#include <QKeyEvent>
#include <QPushButton>
#include <QStackedLayout>

#include <array>
#include <filesystem>

namespace wheelwright {
namespace {

bool takesRuns(const Session &session, const QString &path) {
    const QString suffix = QFileInfo(path).suffix().toLower();
    if (suffix == QLatin1String("wwjob") || suffix == QLatin1String("json") || !session.hasJob())
        return false;
    return RunBook::seemsRuns(std::filesystem::path(path.toStdString()));
}

RunsView *runsViewOf(const ViewContext &context) {
    return qobject_cast<RunsView *>(context.view());
}

// What may be the only thing that differs.
constexpr std::array filterCauses{RunCause::fuel,    RunCause::spark,       RunCause::boost,
                                  RunCause::mixture, RunCause::calibration, RunCause::hardware,
                                  RunCause::dyno};

} // namespace

RunsView::RunsView(Session &session, QWidget *parent)
    : View(parent), m_session(session), m_stack(new QStackedLayout(this)) {
    setProperty("helpPage", "runs");
    m_stack->addWidget(makeEmptyState());
    m_stack->addWidget(makeStation());
    connect(&session.runBook(), &RunBook::runsChanged, this, &RunsView::refresh);
    connect(&session, &Session::jobReplaced, this, [this] {
        m_roadWanted = false;
        refresh();
    });
    connect(&session.evidence(), &Evidence::logsChanged, this, &RunsView::refresh);
    refresh();
}

QWidget *RunsView::makeEmptyState() {
    auto *page = new QWidget(this);
    auto *title = makeHead(tr("Was it really better?"), page);
    auto *body = makeQuiet(
        tr("Drag the files of a dyno onto the window: engine speed with torque or power in any units, with "
           "or without names, several pulls in one file, up and down.\n\nThen runs before a change stand "
           "against runs "
           "after it: the gain at every speed with its ±, told from heat and from the scatter of runs that "
           "are the "
           "same, and a list of all that differs between them. More than one thing that differs, and nobody "
           "can say "
           "which did it."),
        page);
    body->setMaximumWidth(560);
    auto *bring = new QPushButton(tr("Bring in runs…"), page);
    bring->setObjectName(QStringLiteral("firstRuns"));
    bring->setProperty("main", true);
    connect(bring, &QPushButton::clicked, this, &RunsView::chooseFiles);
    auto *layout = new QVBoxLayout(page);
    layout->setContentsMargins(48, 40, 48, 40);
    layout->setSpacing(14);
    layout->addWidget(title);
    auto *log = new QPushButton(tr("Take the pulls of the log"), page),
         *type = new QPushButton(tr("Type a few points…"), page),
         *road = new QPushButton(tr("Estimate it from the road"), page);
    road->setObjectName(QStringLiteral("fromTheRoad"));
    giveOneWidth({bring, log, type, road});
    connect(road, &QPushButton::clicked, this, [this] {
        m_roadWanted = true;
        refresh();
        m_pages->showPage(m_road);
    });
    connect(log, &QPushButton::clicked, this, &RunsView::takeFromLog);
    connect(type, &QPushButton::clicked, this, &RunsView::typePoints);
    layout->addWidget(body);
    for (QPushButton *b : {bring, log, type, road})
        layout->addWidget(b);
    layout->addStretch(1);
    return page;
}

QWidget *RunsView::makeTableRow() {
    auto *row = new QWidget(this);
    auto *layout = new QHBoxLayout(row);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(4);
    auto *bring = new QPushButton(tr("Bring in runs…"), row);
    bring->setObjectName(QStringLiteral("bringRuns"));
    connect(bring, &QPushButton::clicked, this, &RunsView::chooseFiles);
    layout->addWidget(bring);
    m_fromLog = new QPushButton(tr("From the log"), row);
    m_fromLog->setObjectName(QStringLiteral("runsFromLog"));
    m_fromLog->setToolTip(
        tr("Takes the pulls of the log that Evidence looks at, where it has torque or power"));
    connect(m_fromLog, &QPushButton::clicked, this, &RunsView::takeFromLog);
    layout->addWidget(m_fromLog);
    auto *type = new QPushButton(tr("Type…"), row);
    type->setObjectName(QStringLiteral("typeRun"));
    type->setToolTip(tr("A few points of a sheet as a run"));
    connect(type, &QPushButton::clicked, this, &RunsView::typePoints);
    layout->addWidget(type);
    for (const auto &[title, side, name, hint] :
         {std::tuple{tr("Before"), RunBook::Side::before, "sideBefore",
                     tr("The selected runs stand before the change (B)")},
          std::tuple{tr("After"), RunBook::Side::after, "sideAfter",
                     tr("The selected runs stand after it (A)")},
          std::tuple{tr("Neither"), RunBook::Side::none, "sideNone",
                     tr("The selected runs are not compared (N)")}}) {
        auto *button = new QPushButton(title, row);
        button->setObjectName(QLatin1String(name));
        button->setToolTip(hint);
        connect(button, &QPushButton::clicked, this,
                [this, side = side] { setSides(static_cast<int>(side)); });
        layout->addWidget(button);
    }
    layout->addStretch(1);
    m_filter = new QComboBox(row);
    m_filter->setObjectName(QStringLiteral("runFilter"));
    m_filter->setAccessibleName(tr("Which runs are shown"));
    m_filter->addItem(tr("All runs"), -2);
    m_filter->addItem(tr("The same as the selected one"), -1);
    for (const RunCause c : filterCauses)
        m_filter->addItem(tr("The same but for %1").arg(text(Phrase(titleOf(c)))), static_cast<int>(c));
    connect(m_filter, &QComboBox::activated, this, &RunsView::applyFilter);
    layout->addWidget(m_filter);
    m_remove = new QPushButton(tr("Take out"), row);
    m_remove->setObjectName(QStringLiteral("removeRuns"));
    m_remove->setToolTip(tr("Takes the selected runs out of the job; undo brings them back (Delete)"));
    connect(m_remove, &QPushButton::clicked, this, &RunsView::removeSelected);
    layout->addWidget(m_remove);
    return row;
}

QWidget *RunsView::makeStation() {
    auto *page = new QWidget(this);
    m_model = new RunTableModel(m_session, this);
    m_table = new CopyTable(page);
    m_table->setObjectName(QStringLiteral("runTable"));
    m_table->setAccessibleName(tr("Runs"));
    m_table->setModel(m_model);
    m_table->setSelectionBehavior(QAbstractItemView::SelectRows);
    m_table->setAlternatingRowColors(false);
    m_table->verticalHeader()->hide();
    m_table->setWordWrap(false);
    m_table->installEventFilter(this);
    constexpr int rowHeight = 22, tableHeight = 196;
    m_table->verticalHeader()->setDefaultSectionSize(rowHeight);
    m_table->setFixedHeight(tableHeight);
    constexpr std::array<int, RunTableModel::columns> widths{52, 46,  92,  76,  56,  140, 152,
                                                             52, 196, 170, 170, 110, 90};
    for (int c = 0; c < RunTableModel::columns; ++c)
        m_table->setColumnWidth(c, widths[static_cast<std::size_t>(c)]);
    connect(m_table, &CopyTable::removeWanted, this, &RunsView::removeSelected);
    connect(m_table->selectionModel(), &QItemSelectionModel::currentRowChanged, this, &RunsView::rowChosen);
    connect(m_table, &QTableView::clicked, this, [this](const QModelIndex &index) {
        if (index.column() != RunTableModel::side) return;
        RunBook &book = m_session.runBook();
        const std::string id = m_model->idOf(index.row());
        constexpr int sides = 3;
        book.setSide({id}, static_cast<RunBook::Side>((static_cast<int>(book.side(id)) + 1) % sides));
    });
    connect(m_model, &RunTableModel::differencesChanged, this, &RunsView::applyFilter);
    m_pages = new PageSwitch(page);
    m_compare = new RunComparePage(m_session, m_pages);
    m_sheets = new RunSheetsPage(m_session, m_pages);
    m_pages->addPage(tr("Before and after"), m_compare, m_compare->corner());
    m_pages->addPage(tr("Sheets"), m_sheets, m_sheets->corner());
    m_details = new RunDetailsPage(m_session, m_pages);
    m_road = new RunRoadPage(m_session, m_pages);
    m_pages->addPage(tr("Details"), m_details);
    m_pages->addPage(tr("Road"), m_road, m_road->corner());
    connect(m_table->selectionModel(), &QItemSelectionModel::selectionChanged, this, &RunsView::showDetails);
    auto *layout = new QVBoxLayout(page);
    layout->setContentsMargins(6, 6, 6, 6);
    layout->setSpacing(4);
    layout->addWidget(makeTableRow());
    layout->addWidget(m_table);
    layout->addWidget(m_pages, 1);
    return page;
}

void RunsView::refresh() {
    m_stack->setCurrentIndex(m_session.job().runs.empty() && !m_roadWanted ? 0 : 1);
    m_remove->setEnabled(!m_session.readOnly());
    m_fromLog->setEnabled(!m_session.readOnly() && !m_session.evidence().log().empty());
    // The run that was selected stays so, whatever came or went around it.
    const int row = m_model->rowOf(m_model->selected());
    if (row >= 0 && m_table->currentIndex().row() != row) m_table->selectRow(row);
    if (row < 0 && m_model->rowCount() > 0)
        m_table->selectRow(0); // so that there is something to hold against
}

void RunsView::showDetails() {
    m_details->show(selectedIds());
}

void RunsView::rowChosen() {
    const QModelIndex now = m_table->currentIndex();
    if (now.isValid()) m_model->setSelected(m_model->idOf(now.row()));
}

void RunsView::applyFilter() {
    const int wanted = m_filter->currentData().toInt();
    for (int row = 0; row < m_model->rowCount(); ++row) {
        const std::string id = m_model->idOf(row);
        const std::vector<RunCause> &causes = m_model->causesOf(id);
        const bool known = m_model->differencesKnown() && id != m_model->selected();
        const bool shown =
            wanted == -2 || !known ||
            (wanted == -1 ? causes.empty() : causes == std::vector{static_cast<RunCause>(wanted)});
        m_table->setRowHidden(row, !shown);
    }
}

std::vector<std::string> RunsView::selectedIds() const {
    std::vector<std::string> out;
    for (const QModelIndex &index : m_table->selectionModel()->selectedRows())
        if (!m_table->isRowHidden(index.row())) out.push_back(m_model->idOf(index.row()));
    return out;
}

void RunsView::setSides(int side) {
    m_session.runBook().setSide(selectedIds(), static_cast<RunBook::Side>(side));
}

bool RunsView::eventFilter(QObject *watched, QEvent *event) {
    if (watched != m_table || event->type() != QEvent::KeyPress) return View::eventFilter(watched, event);
    const auto *key = static_cast<QKeyEvent *>(event);
    if (key->modifiers() != Qt::NoModifier) return false;
    switch (key->key()) {
    case Qt::Key_B:
        return setSides(static_cast<int>(RunBook::Side::before)), true;
    case Qt::Key_A:
        return setSides(static_cast<int>(RunBook::Side::after)), true;
    case Qt::Key_N:
        return setSides(static_cast<int>(RunBook::Side::none)), true;
    default:
        return false;
    }
}

bool RunsView::showInput(const QString &link) {
    if (link.startsWith(QLatin1String("run:"))) {
        m_table->selectRow(m_model->rowOf(link.section(QLatin1Char(':'), 1).toStdString()));
        return true;
    }
    if (!link.startsWith(QLatin1String("vehicle."))) return false;
    m_roadWanted = true; // also of a job without runs
    refresh();
    m_pages->showPage(m_road);
    return m_road->showInput(link);
}

void RunsView::takeFiles(const QStringList &files) {
    auto *dialog = new RunImportDialog(m_session, files, window());
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    connect(dialog, &RunImportDialog::cameIn, this, [this](const std::vector<std::string> &ids) {
        if (!ids.empty()) m_table->selectRow(m_model->rowOf(ids.front()));
    });
    dialog->open();
}

void RunsView::chooseFiles() {
    const QStringList files = QFileDialog::getOpenFileNames(
        this, tr("Bring in runs"), {}, tr("Runs (*.csv *.tsv *.txt *.dat);;All files (*)"));
    if (!files.isEmpty()) takeFiles(files);
}

void RunsView::takeFromLog() {
    const std::string id = m_session.evidence().log();
    const auto log = m_session.evidence().review(id);
    if (!log || !log->hasSamples()) {
        m_session.report(tr("This log is still being read."));
        return;
    }
    try {
        std::vector<FoundPull> pulls;
        for (const Episode &e : only(log->episodes(), EpisodeKind::pull))
            pulls.push_back(pullFromLog(*log, e));
        RunStatement s;
        s.name = log->info().name;
        s.source = id;
        s.origin = RunOrigin::log;
        s.revision = log->info().revision;
        s.added = m_session.now().toStdString();
        if (log->info().contentBasis == ContentBasis::stated) s.content = log->info().content;
        m_session.perform(tr("Take runs from %1").arg(text(s.name)),
                          [&](Job &job) { addRuns(job, pulls, s); });
    } catch (const InputError &e) {
        m_session.report(text(e.words()));
    }
}

void RunsView::typePoints() {
    const QStringList kinds{tr("Power, kW"), tr("Torque, N·m")};
    bool ok = false;
    const QString kind = QInputDialog::getItem(this, tr("Type a run"),
                                               tr("The second number of each line is"), kinds, 0, false, &ok);
    if (!ok) return;
    const QString points = QInputDialog::getMultiLineText(
        this, tr("Type a run"), tr("Engine speed and %1, a line each").arg(kind.toLower()), {}, &ok);
    if (ok) takePoints(points, kind == kinds.front());
}

void RunsView::takePoints(const QString &points, bool power) {
    try {
        const FoundPull pull = pullFromPoints(pointsFromText(points.toStdString()), power);
        RunStatement s;
        s.name = tr("Typed").toStdString();
        s.origin = RunOrigin::typed;
        s.added = m_session.now().toStdString();
        m_session.perform(tr("Type a run"), [&](Job &job) { addRuns(job, {pull}, s); });
    } catch (const InputError &e) {
        m_session.report(text(e.words()));
    }
}

void RunsView::removeSelected() {
    const std::vector<std::string> ids = selectedIds();
    if (ids.empty() || m_session.readOnly()) return;
    m_session.perform(ids.size() == 1 ? tr("Take out the run") : tr("Take out %1 runs").arg(ids.size()),
                      [&](Job &job) {
                          for (const std::string &id : ids)
                              removeRun(job, id);
                      });
}

const ViewDefinition &runsView() {
    static const ViewDefinition definition{
        .id = "runs",
        .title = QT_TRANSLATE_NOOP("view", "Runs"),
        .icon = ":/icons/runs.svg",
        .position = 8,
        .make = [](Session &s, QWidget *parent) -> View * { return new RunsView(s, parent); },
        .actions = {{QT_TRANSLATE_NOOP("view", "Bring in &runs…"), Qt::CTRL | Qt::SHIFT | Qt::Key_R,
                     [](const ViewContext &c) { runsViewOf(c)->chooseFiles(); }}},
        .takesFile = takesRuns};
    return definition;
}

} // namespace wheelwright
