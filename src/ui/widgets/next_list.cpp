// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/next_list.h"

#include "core/verify/verdict.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/widgets/refresh.h"

#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include <algorithm>

namespace wheelwright {
namespace {

QLabel *wrapping(QWidget *parent, const char *property) {
    auto *label = new QLabel(parent);
    label->setWordWrap(true);
    label->setProperty(property, true);
    return label;
}

} // namespace

NextList::NextList(Session &session, QWidget *parent) : QWidget(parent), m_session(session) {
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(2, 2, 4, 2);
    layout->setSpacing(10);
    auto *head = wrapping(this, "head");
    head->setText(tr("Next"));
    layout->addWidget(head);
    m_about = wrapping(this, "quiet");
    layout->addWidget(m_about);
    for (Item &item : m_items) {
        item.box = new QWidget(this);
        auto *box = new QVBoxLayout(item.box);
        box->setContentsMargins(0, 0, 0, 0);
        box->setSpacing(3);
        item.find = wrapping(item.box, "head");
        item.unlocks = wrapping(item.box, "quiet");
        item.go = new QPushButton(tr("Go there"), item.box);
        connect(item.go, &QPushButton::clicked, this, [this, &item] { emit placeWanted(item.place); });
        box->addWidget(item.find);
        box->addWidget(item.unlocks);
        box->addWidget(item.go, 0, Qt::AlignLeft);
        layout->addWidget(item.box);
    }
    layout->addStretch(1);
    (new Refresh(session, this))->on(Refresh::verdict, [this] { refresh(); });
}

void NextList::refresh() {
    const auto v = m_session.verdict();
    if (!v)
        m_about->setText(m_session.hasJob() ? tr("Working it out…") : tr("Open a job, or make one."));
    else if (v->next.empty())
        m_about->setText(
            tr("Nothing is missing. Prove what holds with logs, in steps, with cuts set. Select any number "
               "to see how it was worked out."));
    else
        m_about->setText(
            tr("To find out, what answers most first. Select any number to see how it was worked out."));
    for (std::size_t i = 0; i < m_items.size(); ++i) {
        Item &item = m_items[i];
        const bool there = v && i < v->next.size();
        item.box->setVisible(there);
        if (!there) continue;
        const Need &need = *v->next[i];
        QStringList unlocks;
        for (const Verdict::Answer &a : v->answers)
            if (std::ranges::find(a.missing, &need) != a.missing.end()) unlocks << text(a.question->title);
        item.find->setText(text(need.find));
        item.unlocks->setText(unlocks.isEmpty() ? tr("Stands beside the questions.")
                                                : tr("For: %1").arg(unlocks.join(QStringLiteral(", "))));
        item.place = text(need.place);
        item.go->setAccessibleName(text(need.find));
    }
}

QString NextList::words() const {
    QStringList out{m_about->text()};
    for (const Item &item : m_items)
        if (!item.box->isHidden()) out << item.find->text() << item.unlocks->text();
    return out.join(QLatin1Char('\n'));
}

} // namespace wheelwright
