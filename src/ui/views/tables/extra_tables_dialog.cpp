// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/tables/extra_tables_dialog.h"

#include "core/base/error.h"
#include "core/report/calibration_reports.h"
#include "core/study/load_axis.h"
#include "core/study/spark_budget.h"
#include "core/tables/cell_expression.h"
#include "core/tables/table_kind.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/widgets/card.h"
#include "ui/widgets/refresh.h"
#include "ui/widgets/report_view.h"

#include <QHeaderView>
#include <QInputDialog>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>

#include <algorithm>

namespace wheelwright {

void ExtraTablesDialog::bringUp(Session &session, QWidget *window, const QString &which) {
    auto *dialog = window->findChild<ExtraTablesDialog *>();
    if (!dialog) {
        dialog = new ExtraTablesDialog(session, window);
        dialog->setAttribute(Qt::WA_DeleteOnClose);
        dialog->show();
    }
    dialog->raise();
    dialog->choose(which);
}

void ExtraTablesDialog::choose(const QString &which) {
    const auto &extras = m_session.job().extras.values();
    for (std::size_t i = 0; i < extras.size(); ++i)
        if (text(extras[i].name) == which || text(definitionOf(extras[i].kind).id) == which)
            return m_list->setCurrentRow(static_cast<int>(i));
}

ExtraTablesDialog::ExtraTablesDialog(Session &session, QWidget *parent)
    : QDialog(parent), m_session(session), m_list(new QListWidget(this)), m_cells(new QTableWidget(this)),
      m_words(makeQuiet({}, this)),
      m_budget(new ReportView(tr("Spark budget at the cursor"), ReportView::Fit::fills, this)) {
    setWindowTitle(tr("Other tables"));
    setProperty("helpPage", "tables");
    resize(1120, 480);
    m_list->setFixedWidth(210);
    m_list->setAccessibleName(tr("Other tables of the controller"));
    m_cells->setAccessibleName(tr("Cells: a number, +2, *1.03"));
    auto *kinds = new QMenu(this);
    for (const TableKindDefinition &d : allTableKinds()) {
        QAction *a = kinds->addAction(text(d.title));
        connect(a, &QAction::triggered, this, [this, kind = d.kind] { add(kind); });
    }
    auto *left = new QVBoxLayout;
    left->addWidget(m_list, 1);
    const auto button = [&](const QString &title, auto act) {
        auto *b = new QPushButton(title, this);
        b->setAutoDefault(false);
        connect(b, &QPushButton::clicked, this, act);
        left->addWidget(b);
        return b;
    };
    button(tr("Add"), [] {})->setMenu(kinds);
    button(tr("Rename…"), [this] { rename(); });
    button(tr("Duplicate"), [this] { duplicate(); });
    button(tr("Take away"), [this] { takeAway(); });
    auto *right = new QVBoxLayout;
    m_words->setMinimumHeight(m_words->fontMetrics().lineSpacing() * 3); // the longest help, at this width
    right->addWidget(m_words);
    addAtContent(right);
    right->addWidget(m_cells, 1);
    auto *layout = new QHBoxLayout(this);
    layout->addLayout(left);
    layout->addLayout(right, 1);
    m_budget->setFixedWidth(290);
    layout->addWidget(m_budget);
    connect(m_list, &QListWidget::currentRowChanged, this, &ExtraTablesDialog::showCells);
    connect(m_cells, &QTableWidget::cellChanged, this, &ExtraTablesDialog::enter);
    // The rows at once, since what is done to them goes by their place.
    connect(&session, &Session::jobChanged, this, [this](const JobChange &change) {
        if (change.touches("calibration.extras")) refresh();
    });
    for (auto signal : {&Session::jobReplaced, &Session::unitsChanged})
        connect(&session, signal, this, &ExtraTablesDialog::refresh);
    (new Refresh(session, this))
        ->on(Refresh::job | Refresh::units | Refresh::content | Refresh::selection, [this] { showBudget(); });
    connect(&session, &Session::problem, m_words, &QLabel::setText);
    refresh();
    m_list->setCurrentRow(0);
}

// What a ceiling was found on, how well it is known, and where its numbers come from.
void ExtraTablesDialog::addAtContent(QVBoxLayout *to) {
    m_atContent = new QWidget(this);
    auto *row = new QHBoxLayout(m_atContent);
    row->setContentsMargins(0, 0, 0, 0);
    const auto entry = [&](const QString &title, auto act) {
        auto *edit = new QLineEdit(m_atContent);
        edit->setAccessibleName(title);
        edit->setFixedWidth(72); // "100 %", and a little air
        auto *label = new QLabel(title, m_atContent);
        label->setBuddy(edit);
        row->addWidget(label);
        row->addWidget(edit);
        connect(edit, &QLineEdit::editingFinished, this, act);
        return edit;
    };
    m_foundAt = entry(tr("Found at"), &ExtraTablesDialog::enterContent);
    m_plusMinus = entry(tr("Known to ±"), &ExtraTablesDialog::enterPlusMinus);
    m_origin = new QPushButton(tr("Cells come from"), m_atContent);
    m_origin->setAutoDefault(false);
    auto *origins = new QMenu(this);
    for (const CellOrigin o :
         {CellOrigin::typed, CellOrigin::knockSeen, CellOrigin::sweep, CellOrigin::estimated})
        connect(origins->addAction(text(definitionOf(o).title)), &QAction::triggered, this,
                [this, o] { sayOrigin(o); });
    m_origin->setMenu(origins);
    row->addWidget(m_origin);
    row->addStretch(1);
    to->addWidget(m_atContent);
}

void ExtraTablesDialog::enterContent() {
    if (m_filling || chosen() < 0) return;
    const auto at = static_cast<std::size_t>(chosen());
    try {
        const double content =
            parse(m_foundAt->text().toStdString(), Dimension::content, m_session.units(), "found at");
        if (content != m_session.job().extras[at].content)
            m_session.perform(
                tr("%1: found at %2").arg(text(m_session.job().extras[at].name), m_foundAt->text()),
                [&](Job &job) { job.extras[at].content = content; });
    } catch (const InputError &e) {
        m_session.report(text(e.words()));
    }
    showCells();
}

void ExtraTablesDialog::enterPlusMinus() {
    if (m_filling || chosen() < 0) return;
    const auto at = static_cast<std::size_t>(chosen());
    try {
        const QString typed = m_plusMinus->text().trimmed();
        const double value = typed.isEmpty() ? 0
                                             : parse(typed.toStdString(), Dimension::sparkAngle,
                                                     m_session.units(), "plus minus");
        if (value != m_session.job().extras[at].plusMinus)
            m_session.perform(tr("%1: known to ± %2").arg(text(m_session.job().extras[at].name), typed),
                              [&](Job &job) { job.extras[at].plusMinus = value; });
    } catch (const InputError &e) {
        m_session.report(text(e.words()));
    }
    showCells();
}

void ExtraTablesDialog::sayOrigin(CellOrigin origin) {
    if (chosen() < 0) return;
    const auto at = static_cast<std::size_t>(chosen());
    const QList<QTableWidgetItem *> items = m_cells->selectedItems();
    if (items.isEmpty()) return m_session.report(tr("Select the cells first."));
    m_session.perform(tr("%1: %n cell(s) %2", nullptr, static_cast<int>(items.size()))
                          .arg(text(m_session.job().extras[at].name), text(definitionOf(origin).title)),
                      [&](Job &job) {
                          for (const QTableWidgetItem *i : items)
                              job.extras[at].table.setOrigin(
                                  {static_cast<std::size_t>(i->column()), static_cast<std::size_t>(i->row())},
                                  origin);
                      });
}

int ExtraTablesDialog::chosen() const {
    const int row = m_list->currentRow();
    return row < static_cast<int>(m_session.job().extras.size()) ? row : -1;
}

void ExtraTablesDialog::refresh() {
    const int row = m_list->currentRow();
    m_filling = true;
    m_list->clear();
    for (const ExtraTable &e : m_session.job().extras)
        m_list->addItem(text(e.name));
    m_filling = false;
    m_list->setCurrentRow(std::min(std::max(row, 0), m_list->count() - 1));
    showCells();
}

// What the engine gets of the spark that is asked for where the cursor stands in the tables.
void ExtraTablesDialog::showBudget() {
    if (!m_session.hasJob()) return m_budget->clear();
    const Job &job = m_session.job();
    const Table2D &table = m_session.table();
    const double rpm = table.x()[m_session.cell().x];
    const double load = m_session.quantity() == CalibratedQuantity::boost
                            ? job.conditions.ambientKpa
                            : loadOfAxis(job, table.y()[m_session.cell().y]);
    const OperatingPoint at{m_session.content(), rpm, load};
    m_budget->show(budgetReport(sparkBudget(m_session.study(), at), at), m_session.units());
}

void ExtraTablesDialog::showCells() {
    if (m_filling) return;
    m_filling = true;
    m_cells->clear();
    m_cells->setRowCount(0);
    m_cells->setColumnCount(0);
    const bool atContent =
        chosen() >= 0 &&
        definitionOf(m_session.job().extras[static_cast<std::size_t>(chosen())].kind).atContent;
    m_atContent->setVisible(atContent);
    if (chosen() < 0) {
        m_words->setText(
            tr("Corrections by temperature, cylinder and content, starting, acceleration, fallback and "
               "ceiling of the spark, solenoid duty, cuts: add those that the controller has."));
    } else {
        const ExtraTable &e = m_session.job().extras[static_cast<std::size_t>(chosen())];
        const TableKindDefinition &d = definitionOf(e.kind);
        const UnitChoice &units = m_session.units();
        m_words->setText(text(d.help) + QLatin1Char(' ') +
                         tr("Across: %1. Down: %2.")
                             .arg(text(d.x.title), d.y.title.empty() ? tr("one row") : text(d.y.title)));
        m_foundAt->setText(shown(e.content, Dimension::content, units));
        m_plusMinus->setText(e.plusMinus > 0 ? shown(e.plusMinus, Dimension::sparkAngle, units) : QString());
        for (QWidget *w : {static_cast<QWidget *>(m_foundAt), static_cast<QWidget *>(m_plusMinus),
                           static_cast<QWidget *>(m_origin)})
            w->setEnabled(!m_session.readOnly());
        m_cells->setColumnCount(static_cast<int>(e.table.x().size()));
        m_cells->setRowCount(static_cast<int>(e.table.y().size()));
        for (int x = 0; x < m_cells->columnCount(); ++x)
            m_cells->setHorizontalHeaderItem(
                x,
                new QTableWidgetItem(shown(e.table.x()[static_cast<std::size_t>(x)], d.x.dimension, units)));
        for (int y = 0; y < m_cells->rowCount(); ++y) {
            m_cells->setVerticalHeaderItem(
                y, new QTableWidgetItem(d.y.title.empty() ? QString()
                                                          : shown(e.table.y()[static_cast<std::size_t>(y)],
                                                                  d.y.dimension, units)));
            for (int x = 0; x < m_cells->columnCount(); ++x) {
                const CellIndex cell{static_cast<std::size_t>(x), static_cast<std::size_t>(y)};
                auto *item = new QTableWidgetItem(shown(e.table.cell(cell), d.dimension, units));
                item->setToolTip(text(definitionOf(e.table.origin(cell)).title));
                // What nobody has said is only there to be written over.
                if (guessed(e.table.origin(cell))) item->setForeground(theme().quiet);
                m_cells->setItem(y, x, item);
            }
        }
        m_cells->resizeColumnsToContents();
        m_cells->setEditTriggers(m_session.readOnly() ? QAbstractItemView::NoEditTriggers
                                                      : QAbstractItemView::AllEditTriggers);
    }
    m_filling = false;
}

void ExtraTablesDialog::enter(int row, int column) {
    const int at = chosen();
    if (m_filling || at < 0) return;
    const auto index = static_cast<std::size_t>(at);
    const ExtraTable e = m_session.job().extras[index];
    const CellIndex cell{static_cast<std::size_t>(column), static_cast<std::size_t>(row)};
    try {
        const CellExpression expression =
            parseCellExpression(m_cells->item(row, column)->text().toStdString(),
                                definitionOf(e.kind).dimension, m_session.units());
        m_session.perform(tr("%1: one cell").arg(text(e.name)), [&](Job &job) {
            job.extras[index].table.setCell(cell, expression.apply(e.table.cell(cell)));
            if (expression.apply(e.table.cell(cell)) == e.table.cell(cell)) // said anew
                job.extras[index].table.setOrigin(cell, CellOrigin::typed);
        });
    } catch (const InputError &error) {
        m_session.report(text(error.words()));
    }
    const QString said = m_words->text();
    showCells(); // the shown number again, also after a refusal
    if (m_session.job().extras[index] == e) m_words->setText(said);
}

std::string ExtraTablesDialog::freeName(const std::string &wanted) const {
    const auto &extras = m_session.job().extras;
    const auto taken = [&](const std::string &name) {
        return std::ranges::find(extras, name, &ExtraTable::name) != extras.end();
    };
    std::string name = wanted;
    for (int i = 2; taken(name); ++i)
        name = wanted + " " + std::to_string(i);
    return name;
}

void ExtraTablesDialog::add(TableKind kind) {
    const std::string name = freeName(text(definitionOf(kind).title).toStdString());
    if (m_session.perform(tr("Add table %1").arg(text(name)),
                          [&](Job &job) { job.extras.push_back(newExtraTable(kind, name)); }))
        m_list->setCurrentRow(m_list->count() - 1);
}

void ExtraTablesDialog::rename() {
    if (chosen() < 0) return;
    const auto at = static_cast<std::size_t>(chosen());
    bool ok = false;
    const QString name = QInputDialog::getText(this, tr("Rename"), tr("Name:"), QLineEdit::Normal,
                                               text(m_session.job().extras[at].name), &ok);
    if (ok)
        m_session.perform(tr("Rename table to %1").arg(name),
                          [&](Job &job) { job.extras[at].name = name.trimmed().toStdString(); });
}

void ExtraTablesDialog::duplicate() {
    if (chosen() < 0) return;
    const auto at = static_cast<std::size_t>(chosen());
    const std::string name = freeName(m_session.job().extras[at].name);
    m_session.perform(tr("Duplicate table %1").arg(text(name)), [&](Job &job) {
        job.extras.push_back(job.extras[at]);
        job.extras.back().name = name;
    });
}

void ExtraTablesDialog::takeAway() {
    if (chosen() < 0) return;
    const auto at = chosen();
    m_session.perform(
        tr("Take away table %1").arg(text(m_session.job().extras[static_cast<std::size_t>(at)].name)),
        [&](Job &job) { job.extras.erase(job.extras.begin() + at); });
}

} // namespace wheelwright
