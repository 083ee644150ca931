// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/tables/table_tools.h"

#include "core/base/error.h"
#include "core/job/revision.h"
#include "session/cell_editor.h"
#include "ui/text.h"
#include "ui/widgets/refresh.h"
#include "ui/widgets/steady.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

#include <algorithm>

namespace wheelwright {
namespace {

const QString values = QStringLiteral("values"), low = QStringLiteral("low"), high = QStringLiteral("high"),
              fuelPrefix = QStringLiteral("fuel:"), revisionPrefix = QStringLiteral("revision:"),
              tablePrefix = QStringLiteral("table:"), comparison = QStringLiteral("comparison");

std::optional<Table2D> tableNamed(const Job &job, const std::string &name) {
    const auto at = std::ranges::find(job.extras.values(), name, &ExtraTable::name);
    return at == job.extras.end() ? std::nullopt : std::optional(at->table);
}

} // namespace

TableTools::TableTools(Session &session, QWidget *parent) : QWidget(parent), m_session(session) {
    auto *layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(6);
    m_shows = new QComboBox(this);
    m_shows->setAccessibleName(tr("What the tables show"));
    m_shows->setToolTip(tr("Values, or their difference to another fuel or revision (D)"));
    m_shows->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    m_shows->setMinimumContentsLength(17);
    m_trust = new QPushButton(tr("Where been"), this);
    m_trust->setCheckable(true);
    m_trust->setToolTip(tr("Solid: a log has proven or corrected the cell. Dotted: a log has been there. "
                           "Hatched: the engine goes "
                           "there, nothing proves it. Blank: the engine cannot get there. (W)"));
    auto *logs = new QPushButton(tr("Logs here"), this);
    logs->setObjectName(QStringLiteral("logsHere"));
    logs->setToolTip(tr("When logs were at this cell, and what they say of it (L)"));
    connect(logs, &QPushButton::clicked, this, &TableTools::logsWanted);
    m_search = new QLineEdit(this);
    m_search->setPlaceholderText(tr("Find:  > 22"));
    m_search->setAccessibleName(tr("Find cells and select them"));
    m_search->setToolTip(
        tr("> 22 above 180 kPa, >= 20 below 3000 rpm, = 14. Return selects what is found. (Ctrl+F)"));
    m_search->setMinimumWidth(165);
    m_search->setMaximumWidth(300);
    m_cell = new QLabel(this);
    m_cell->setProperty("quiet", true);
    layout->addWidget(m_shows);
    layout->addWidget(m_trust);
    layout->addWidget(logs);
    layout->addWidget(m_search);
    layout->addWidget(makeStill(m_cell, this), 1); // what it says may be long
    connect(m_shows, &QComboBox::activated, this, [this] {
        if (m_shows->currentData() != values) m_lastReference = m_shows->currentData().toString();
        if (m_shows->currentData() != comparison && m_session.comparison()) m_session.compare({});
        emit changed();
    });
    connect(&session, &Session::comparisonChanged, this, &TableTools::showComparison);
    connect(m_trust, &QPushButton::toggled, this, &TableTools::changed);
    connect(m_search, &QLineEdit::returnPressed, this, [this] {
        if (m_session.selectWhere(m_search->text())) emit changed();
        parentWidget()->setFocus();
    });
    (new Refresh(session, this))
        ->on(Refresh::job, [this] { refresh(); }, {"fuel.", "revisions", "calibration."})
        .on(Refresh::selection | Refresh::content, [this] {
            if (m_filledFor != m_session.extraId()) return refresh(); // other tables to hold it against
            refreshCell();
        });
}

void TableTools::refresh() {
    m_revisions.clear();
    const auto isKept = [this](const std::string &name) {
        return name.empty() || std::ranges::find(m_session.job().revisions, name, &Revision::name) !=
                                   m_session.job().revisions.end();
    };
    if (const auto pair = m_session.comparison(); pair && (!isKept(pair->first) || !isKept(pair->second)))
        return m_session.compare({}); // which comes back here
    fillReferences();
    refreshCell();
    emit changed();
}

void TableTools::fillReferences() {
    // Two may be compared before anybody has seen the tables.
    const QString kept =
        m_shows->count() == 0 && m_session.comparison() ? comparison : m_shows->currentData().toString();
    m_filledFor = m_session.extraId();
    m_shows->clear();
    m_shows->addItem(tr("values"), values);
    if (!m_session.hasJob()) return;
    const Job &job = m_session.job();
    if (!m_session.extra()) {
        m_shows->addItem(tr("less the base table"), low);
        m_shows->addItem(tr("less the top table"), high);
        for (const ShelfEntry &fuel : job.shelf) {
            const double content = job.alcohol == Alcohol::methanol ? fuel.methanol : fuel.ethanol;
            m_shows->addItem(tr("less what %1 gets").arg(text(fuel.name)),
                             fuelPrefix + QString::number(content, 'g', QLocale::FloatingPointShortest));
        }
    } else {
        for (const ExtraTable &e : job.extras) // the fuels beside each other
            if (e.kind == m_session.extra()->kind && e.name != m_session.extra()->name)
                m_shows->addItem(tr("less %1").arg(text(e.name)), tablePrefix + text(e.name));
    }
    if (const auto &pair = m_session.comparison())
        m_shows->addItem(
            tr("%1 less %2").arg(pair->second.empty() ? tr("now") : text(pair->second), text(pair->first)),
            comparison);
    for (const Revision &r : job.revisions)
        m_shows->addItem(tr("less revision %1").arg(text(r.name)), revisionPrefix + text(r.name));
    m_shows->setCurrentIndex(std::max(0, m_shows->findData(kept)));
}

const Study *TableTools::revision(const QString &name) {
    const auto [at, fresh] = m_revisions.try_emplace(name);
    if (!fresh) return at->second.get();
    for (const Revision &r : m_session.job().revisions)
        if (text(r.name) == name) {
            try {
                at->second = std::make_unique<const Study>(restored(m_session.job(), r));
            } catch (const InputError &e) {
                m_session.report(text(e.words()));
            }
        }
    return at->second.get();
}

// What a revision has in place of the table in front; it may not have had one.
std::optional<Table2D> TableTools::tableOf(const QString &name, TableSide side) {
    const Study *then = revision(name);
    if (!then) return std::nullopt;
    const CalibratedQuantity q = m_session.quantity();
    if (m_session.extra()) return tableNamed(then->job(), m_session.extra()->name);
    if (side == TableSide::now) return then->blended(q, m_session.content());
    return endTable(then->job(), q, m_session.content(), side == TableSide::top);
}

std::optional<Table2D> TableTools::subject(TableSide side) {
    if (m_shows->currentData() != comparison || !m_session.looksBack()) return std::nullopt;
    return tableOf(text(m_session.comparison()->second), side);
}

std::optional<Table2D> TableTools::reference(TableSide side) {
    const QString chosen = m_shows->currentData().toString();
    if (!m_session.hasJob() || chosen == values || chosen.isEmpty()) return std::nullopt;
    const CalibratedQuantity q = m_session.quantity();
    if (chosen == comparison) return tableOf(text(m_session.comparison()->first), side);
    if (chosen.startsWith(revisionPrefix)) return tableOf(chosen.mid(revisionPrefix.size()), side);
    if (m_session.extra()) return tableNamed(m_session.job(), chosen.mid(tablePrefix.size()).toStdString());
    if (chosen == low || chosen == high)
        return m_session.tableAt(chosen == high ? TableSide::top : TableSide::base);
    if (chosen.startsWith(fuelPrefix))
        return m_session.study().blended(q, chosen.mid(fuelPrefix.size()).toDouble());
    return std::nullopt;
}

QString TableTools::referenceWords() const {
    return m_shows->currentData() == values ? QString() : m_shows->currentText();
}

// What the line of work has chosen is shown at once.
void TableTools::showComparison() {
    fillReferences();
    if (m_session.comparison()) m_shows->setCurrentIndex(m_shows->findData(comparison));
    emit changed();
}

bool TableTools::showsTrust() const {
    return m_trust->isChecked();
}

void TableTools::toggleDifference() {
    const bool isValues = m_shows->currentData() == values;
    const int last = m_shows->findData(m_lastReference.isEmpty() ? low : m_lastReference);
    m_shows->setCurrentIndex(isValues ? std::max(0, last) : 0);
    if (m_session.comparison()) return m_session.compare({}); // values again, and they can be edited
    emit changed();
}

void TableTools::toggleTrust() {
    m_trust->toggle();
}

void TableTools::beginSearch() {
    m_search->setFocus();
    m_search->selectAll();
}

// Where the number comes from, and what was noted.
void TableTools::refreshCell() {
    if (!m_session.hasJob()) return m_cell->clear();
    const Job &job = m_session.job();
    const std::size_t chosen = m_session.chosenCells().size();
    QString words = chosen > 1 ? tr("%1 cells selected").arg(chosen) : QString();
    if (chosen == 1 && !m_session.frontIsBlend()) {
        const Table2D &t = m_session.extra() ? m_session.extra()->table : m_session.tableAt(m_session.side());
        const CellIndex c = m_session.inFront(t, m_session.cell());
        words = tr("origin: %1").arg(text(definitionOf(t.origin(c)).title));
        if (locksOf(job, m_session.frontPaths().front(), t)[c.y * t.x().size() + c.x])
            words += tr(" · locked");
    }
    if (const QString note = CellEditor(m_session).cellNote(); chosen == 1 && !note.isEmpty())
        words += (words.isEmpty() ? QString() : QStringLiteral(" · ")) + tr("note: %1").arg(note);
    m_cell->setText(words);
    m_cell->setToolTip(words);
}

} // namespace wheelwright
