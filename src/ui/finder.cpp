// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/finder.h"

#include "core/base/limits.h"
#include "core/job/named_tables.h"
#include "core/verify/check.h"
#include "session/session.h"
#include "ui/text.h"

#include <QKeyEvent>
#include <QLineEdit>
#include <QListWidget>
#include <QVBoxLayout>

#include <algorithm>

namespace wheelwright {
namespace {

// All typed words, in any order, anywhere in the name or what else it is found by.
bool matches(const Findable &f, const QStringList &parts) {
    return std::ranges::all_of(parts, [&](const QString &p) {
        return f.title.contains(p, Qt::CaseInsensitive) || f.kind.contains(p, Qt::CaseInsensitive) ||
               f.words.contains(p, Qt::CaseInsensitive);
    });
}

} // namespace

std::vector<Findable> findablesOf(const Session &session, const std::function<void(const QString &)> &to,
                                  const std::function<void(const QString &)> &check) {
    std::vector<Findable> all;
    if (!session.hasJob()) return all;
    const Job &job = session.job();
    const UnitChoice &units = session.units();
    const auto place = [&](const QString &title, const QString &kind, const QString &path) {
        all.push_back({title, kind, {}, path, [to, path] { to(path); }});
    };
    for (const TableField &t : allTables())
        place(text(t.title, units), Finder::tr("table"), text(t.path));
    for (const ExtraTable &e : job.extras)
        place(text(e.name), Finder::tr("table"), QStringLiteral("calibration.extras.") + text(e.name));
    for (const Check *c : allChecks())
        all.push_back(
            {text(c->title), Finder::tr("check"), {}, text(c->id), [check, id = text(c->id)] { check(id); }});
    for (const Field &f : allFields())
        place(text(f.title, units), Finder::tr("field"), text(f.path));
    for (const CurveField &c : allCurves())
        place(text(c.title, units), Finder::tr("curve"), text(c.path));
    for (const LimitDefinition &l : allLimits())
        place(text(l.title), Finder::tr("limit"), QStringLiteral("limit:") + text(l.id));
    for (const ShelfEntry &f : job.shelf)
        place(text(f.name), Finder::tr("fuel"), QStringLiteral("fuel.shelf"));
    for (const Revision &r : job.revisions)
        place(text(r.name), Finder::tr("revision"), QStringLiteral("revision:") + text(r.name));
    return all;
}

Finder::Finder(std::vector<Findable> all, QWidget *parent)
    : QDialog(parent), m_all(std::move(all)), m_typed(new QLineEdit(this)), m_list(new QListWidget(this)) {
    setWindowTitle(tr("Find anything"));
    setObjectName(QStringLiteral("finder"));
    resize(560, 400);
    m_typed->setPlaceholderText(
        tr("A few letters: an action, a table, a field, a check, a limit, a fuel, help"));
    m_typed->setAccessibleName(tr("Find anything"));
    m_list->setAccessibleName(tr("Found"));
    m_typed->installEventFilter(this);
    auto *layout = new QVBoxLayout(this);
    layout->addWidget(m_typed);
    layout->addWidget(m_list);
    connect(m_typed, &QLineEdit::textChanged, this, &Finder::filter);
    connect(m_typed, &QLineEdit::returnPressed, this, &Finder::run);
    connect(m_list, &QListWidget::itemActivated, this, &Finder::run);
    filter({});
}

void Finder::filter(const QString &typed) {
    const QStringList parts = typed.split(QLatin1Char(' '), Qt::SkipEmptyParts);
    m_list->clear();
    // What is called so before what only speaks of it.
    std::vector<std::size_t> called, spoken;
    for (std::size_t i = 0; i < m_all.size(); ++i) {
        const Findable &f = m_all[i];
        if ((parts.isEmpty() && !f.kind.isEmpty()) || !matches(f, parts)) continue;
        (matches({f.title, f.kind, {}, {}, {}}, parts) ? called : spoken).push_back(i);
    }
    if (!parts.isEmpty())
        std::stable_partition(called.begin(), called.end(), [&](std::size_t i) {
            return m_all[i].title.startsWith(parts.first(), Qt::CaseInsensitive);
        });
    called.insert(called.end(), spoken.begin(), spoken.end());
    for (const std::size_t i : called) {
        const Findable &f = m_all[i];
        QString line = f.title;
        if (!f.kind.isEmpty()) line += QStringLiteral("    ") + f.kind;
        if (!f.keys.isEmpty()) line += QStringLiteral("    ") + f.keys;
        auto *item = new QListWidgetItem(line, m_list);
        item->setData(Qt::UserRole, static_cast<int>(i));
    }
    if (m_list->count() == 0) {
        auto *none = new QListWidgetItem(tr("Nothing of that name"), m_list);
        none->setFlags(Qt::NoItemFlags);
        return;
    }
    m_list->setCurrentRow(0);
}

void Finder::run() {
    const QListWidgetItem *item = m_list->currentItem();
    if (!item || !(item->flags() & Qt::ItemIsEnabled)) return;
    const std::function<void()> run = m_all[static_cast<std::size_t>(item->data(Qt::UserRole).toInt())].run;
    accept();
    run();
}

bool Finder::eventFilter(QObject *watched, QEvent *event) {
    if (watched == m_typed && event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent *>(event)->key();
        if (key == Qt::Key_Down || key == Qt::Key_Up) {
            const int step = key == Qt::Key_Down ? 1 : -1;
            m_list->setCurrentRow(
                std::clamp(m_list->currentRow() + step, 0, std::max(0, m_list->count() - 1)));
            return true;
        }
    }
    return QDialog::eventFilter(watched, event);
}

} // namespace wheelwright
