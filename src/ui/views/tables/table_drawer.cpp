// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/tables/table_drawer.h"

#include "core/job/job_schema.h"
#include "core/job/named_tables.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/widgets/refresh.h"
#include "ui/widgets/verdict_mark.h"

#include <QHBoxLayout>
#include <QIcon>
#include <QInputDialog>
#include <QKeyEvent>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QVBoxLayout>

#include <algorithm>

namespace wheelwright {
namespace {

constexpr int markSize = 14;

bool anyGuess(const Table2D &table) {
    return std::ranges::any_of(table.origins(), guessed);
}

} // namespace

TableDrawer::TableDrawer(Session &session, QWidget *parent)
    : QWidget(parent), m_session(session), m_search(new QLineEdit(this)), m_list(new QListWidget(this)) {
    setProperty("helpPage", "tables");
    setFixedWidth(232);
    m_search->setPlaceholderText(tr("A few letters of a table"));
    m_search->setAccessibleName(tr("Find a table"));
    m_search->setClearButtonEnabled(true);
    m_search->installEventFilter(this);
    m_list->setAccessibleName(tr("All tables of the controller"));
    m_list->setIconSize({markSize, markSize});
    m_list->installEventFilter(this);
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 4, 0);
    layout->setSpacing(4);
    layout->addWidget(m_search);
    layout->addWidget(m_list, 1);
    auto *buttons = new QHBoxLayout;
    buttons->setSpacing(4);
    const auto button = [&](const QString &title, const QString &help, auto act) {
        auto *b = new QPushButton(title, this);
        b->setToolTip(help);
        b->setStyleSheet(QStringLiteral("padding: 4px 6px;"));
        connect(b, &QPushButton::clicked, this, act);
        buttons->addWidget(b);
        return b;
    };
    m_rename = button(tr("Rename…"), tr("Another name for the table on the bench"), [this] { rename(); });
    m_duplicate = button(tr("Duplicate"), tr("The same table once more, to be changed for another fuel"),
                         [this] { duplicate(); });
    m_takeAway =
        button(tr("Take away"), tr("The job forgets the table; undo brings it back"), [this] { takeAway(); });
    layout->addLayout(buttons);
    connect(m_search, &QLineEdit::textChanged, this, &TableDrawer::filter);
    connect(m_list, &QListWidget::currentItemChanged, this, [this](const QListWidgetItem *item) {
        if (!m_filling) choose(item);
    });
    connect(m_list, &QListWidget::itemClicked, this, &TableDrawer::choose); // the one that is chosen already
    (new Refresh(session, this))
        ->on(Refresh::job | Refresh::verdict | Refresh::units, [this] { fill(); })
        .on(Refresh::selection, [this] { showChosen(); });
}

void TableDrawer::beginSearch() {
    m_search->setFocus();
    m_search->selectAll();
}

void TableDrawer::lookAt(std::optional<TableKind> missing) {
    m_missing = missing;
    showChosen();
}

void TableDrawer::addHead(const QString &title) {
    auto *item = new QListWidgetItem(title, m_list);
    item->setFlags(Qt::NoItemFlags);
    item->setFont(sansFont(12, true));
    item->setForeground(theme().quiet);
}

void TableDrawer::addEntry(const QString &title, Entry entry, std::optional<CheckState> mark,
                           const QString &why) {
    auto *item =
        new QListWidgetItem(QIcon(verdictPicture(mark, markSize, devicePixelRatioF())), title, m_list);
    item->setData(Qt::UserRole, static_cast<int>(m_entries.size()));
    item->setToolTip(why);
    item->setData(Qt::AccessibleTextRole, why.isEmpty() ? title : title + QStringLiteral(": ") + why);
    if (std::holds_alternative<TableKind>(entry)) item->setForeground(theme().quiet);
    m_entries.push_back(entry);
}

namespace {

QString whyMarked(const TroubledPlace &trouble) {
    return TableDrawer::tr("%1: %2").arg(text(trouble.check->title), stateText(trouble.state));
}

} // namespace

void TableDrawer::addQuantity(CalibratedQuantity q, const std::vector<TroubledPlace> &troubles) {
    const TroubledPlace *trouble = troubleOf(troubles, q);
    const auto tables = tablesOf(m_session.job(), q);
    const bool guess = std::ranges::any_of(tables, [](const Table2D *t) { return anyGuess(*t); });
    const auto mark = trouble ? std::optional(trouble->state)
                      : guess ? std::optional(CheckState::notJudged)
                              : std::nullopt;
    addEntry(text(quantityTitle(q)), q, mark,
             trouble ? whyMarked(*trouble)
             : guess ? tr("Nobody has said all of its numbers.")
                     : QString());
}

void TableDrawer::addExtra(std::size_t place, const std::vector<TroubledPlace> &troubles) {
    const Job &job = m_session.job();
    const ExtraTable &extra = job.extras[place];
    QString title = text(extra.name);
    if (definitionOf(extra.kind).atContent)
        title += QStringLiteral("  ") + text(contentName(extra.content, job.alcohol == Alcohol::methanol));
    const TroubledPlace *trouble = troubleOf(troubles, extra);
    const bool guess = anyGuess(extra.table);
    const auto mark = trouble ? std::optional(trouble->state)
                      : guess ? std::optional(CheckState::notJudged)
                              : std::nullopt;
    addEntry(title, job.extras.ids()[place], mark,
             trouble ? whyMarked(*trouble)
             : guess ? tr("Nobody has said all of its numbers.")
                     : text(definitionOf(extra.kind).help));
}

void TableDrawer::fill() {
    const int scrolled = m_list->currentRow();
    m_filling = true;
    m_list->clear();
    m_entries.clear();
    if (m_session.hasJob()) {
        const Job &job = m_session.job();
        const auto troubles =
            m_session.verdict() ? troubledPlaces(*m_session.verdict()) : std::vector<TroubledPlace>();
        addHead(tr("Of the engine"));
        for (const CalibratedQuantity q : allQuantities)
            addQuantity(q, troubles);
        for (const TableGroup group : allTableGroups) {
            addHead(text(titleOf(group)));
            for (const TableKindDefinition &kind : allTableKinds()) {
                if (groupOf(kind.kind) != group) continue;
                bool has = false;
                for (std::size_t i = 0; i < job.extras.size(); ++i)
                    if (job.extras[i].kind == kind.kind) {
                        has = true;
                        addExtra(i, troubles);
                    }
                if (!has)
                    addEntry(tr("no %1").arg(text(kind.title).toLower()), kind.kind, std::nullopt,
                             text(kind.help));
            }
        }
    }
    m_filling = false;
    if (scrolled >= 0 && scrolled < m_list->count()) m_list->scrollToItem(m_list->item(scrolled));
    filter();
    showChosen();
}

// All typed words, anywhere in the name or the group; a head stays while anything under it does.
void TableDrawer::filter() {
    const QStringList parts = m_search->text().split(QLatin1Char(' '), Qt::SkipEmptyParts);
    QListWidgetItem *head = nullptr;
    for (int i = 0; i < m_list->count(); ++i) {
        QListWidgetItem *item = m_list->item(i);
        if (!entryOf(item)) {
            head = item;
            head->setHidden(true);
            continue;
        }
        const QString words = item->text() + QLatin1Char(' ') + (head ? head->text() : QString());
        const bool found = std::ranges::all_of(
            parts, [&](const QString &part) { return words.contains(part, Qt::CaseInsensitive); });
        item->setHidden(!found);
        if (found && head) head->setHidden(false);
    }
}

std::optional<TableDrawer::Entry> TableDrawer::entryOf(const QListWidgetItem *item) const {
    if (!item || !item->data(Qt::UserRole).isValid()) return std::nullopt;
    return m_entries[static_cast<std::size_t>(item->data(Qt::UserRole).toInt())];
}

void TableDrawer::choose(const QListWidgetItem *item) {
    const auto entry = entryOf(item);
    if (!entry) return;
    if (const auto *kind = std::get_if<TableKind>(&*entry)) {
        m_missing = *kind;
        emit missingChosen(*kind);
        return;
    }
    m_missing.reset();
    if (const auto *quantity = std::get_if<CalibratedQuantity>(&*entry))
        m_session.setQuantity(*quantity);
    else
        m_session.setExtra(std::get<RecordId>(*entry));
    emit tableChosen();
}

void TableDrawer::showChosen() {
    const bool extra = m_session.hasJob() && m_session.extra() && !m_missing;
    for (QPushButton *b : {m_rename, m_duplicate, m_takeAway})
        b->setEnabled(extra && !m_session.readOnly());
    if (!m_session.hasJob()) return;
    const Entry front = m_missing             ? Entry(*m_missing)
                        : m_session.extraId() ? Entry(*m_session.extraId())
                                              : Entry(m_session.quantity());
    m_filling = true;
    for (int i = 0; i < m_list->count(); ++i)
        if (entryOf(m_list->item(i)) == front) m_list->setCurrentRow(i);
    m_filling = false;
}

std::string TableDrawer::freeName(const std::string &wanted) const {
    const auto &extras = m_session.job().extras.values();
    std::string name = wanted;
    for (int i = 2; std::ranges::find(extras, name, &ExtraTable::name) != extras.end(); ++i)
        name = wanted + " " + std::to_string(i);
    return name;
}

void TableDrawer::add(TableKind kind) {
    const std::string name = freeName(text(definitionOf(kind).title).toStdString());
    if (!m_session.perform(tr("Add table %1").arg(text(name)),
                           [&](Job &job) { job.extras.push_back(newExtraTable(kind, name)); }))
        return;
    m_missing.reset();
    m_session.setExtra(m_session.job().extras.ids().back());
    emit tableChosen();
}

void TableDrawer::rename() {
    const ExtraTable *extra = m_session.extra();
    if (!extra) return m_session.report(tr("Put one of the other tables on the bench first."));
    bool ok = false;
    const QString name =
        QInputDialog::getText(this, tr("Rename"), tr("Name:"), QLineEdit::Normal, text(extra->name), &ok);
    const RecordId id = *m_session.extraId();
    if (ok && name.trimmed() != text(extra->name))
        m_session.perform(tr("Rename table to %1").arg(name.trimmed()), [&](Job &job) {
            renameExtra(job, job.extras.placeOf(id), name.trimmed().toStdString());
        });
}

void TableDrawer::duplicate() {
    const ExtraTable *extra = m_session.extra();
    if (!extra) return m_session.report(tr("Put one of the other tables on the bench first."));
    ExtraTable copy = *extra;
    copy.name = freeName(copy.name);
    if (m_session.perform(
            tr("Duplicate table %1").arg(text(extra->name)), [&](Job &job) { job.extras.push_back(copy); },
            std::nullopt))
        m_session.setExtra(m_session.job().extras.ids().back());
}

void TableDrawer::takeAway() {
    const ExtraTable *extra = m_session.extra();
    if (!extra) return m_session.report(tr("Put one of the other tables on the bench first."));
    const RecordId id = *m_session.extraId();
    m_session.perform(tr("Take away table %1").arg(text(extra->name)),
                      [&](Job &job) { removeExtra(job, job.extras.placeOf(id)); });
}

bool TableDrawer::eventFilter(QObject *watched, QEvent *event) {
    if (event->type() != QEvent::KeyPress) return QWidget::eventFilter(watched, event);
    const int key = static_cast<QKeyEvent *>(event)->key();
    const bool enter = key == Qt::Key_Return || key == Qt::Key_Enter;
    if (watched == m_search && (enter || key == Qt::Key_Down)) {
        for (int i = 0; i < m_list->count(); ++i) // the first that is found
            if (!m_list->item(i)->isHidden() && entryOf(m_list->item(i))) {
                m_list->setCurrentRow(i);
                break;
            }
        if (!enter) m_list->setFocus();
    }
    if (enter) {
        emit benchWanted();
        return true;
    }
    if (key == Qt::Key_Escape) {
        if (m_search->text().isEmpty())
            emit closeWanted();
        else
            m_search->clear();
        return true;
    }
    if (watched == m_list && key == Qt::Key_Delete) {
        if (m_session.extra() && !m_missing) takeAway();
        return true;
    }
    return QWidget::eventFilter(watched, event);
}

} // namespace wheelwright
