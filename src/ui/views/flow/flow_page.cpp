// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/flow/flow_page.h"

#include "core/base/error.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/widgets/card.h"
#include "ui/widgets/field_form.h"
#include "ui/widgets/record_table.h"
#include "ui/widgets/refresh.h"
#include "ui/widgets/report_view.h"

#include <QScrollArea>
#include <QTabWidget>
#include <QVBoxLayout>

namespace wheelwright {

FlowPage::FlowPage(Session &session, const char *id, const QString &title,
                   const std::vector<std::string> &prefixes, QWidget *parent)
    : QWidget(parent), m_session(session), m_refresh(new Refresh(session, this)) {
    m_refresh->on(Refresh::job | Refresh::units | Refresh::verdict,
                  [this] { guarded([this] { refresh(); }); });
    setObjectName(QLatin1String(id));
    auto *layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    if (!prefixes.empty()) {
        m_form = new FieldForm(session, title, prefixes, {}, this);
        auto *scroll = new QScrollArea(this);
        scroll->setWidgetResizable(true);
        scroll->setWidget(m_form);
        constexpr int formWidth = 344;
        scroll->setFixedWidth(formWidth);
        scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
        layout->addWidget(scroll);
    }
    auto *card = makeCard(this);
    m_card = new QVBoxLayout(card);
    m_words = new ReportView(tr("What follows from it"), ReportView::Fit::fills, card);
    connect(m_words, &ReportView::explained, this, [this](const Explanation &x) { m_session.explain(x); });
    m_card->addWidget(m_words);
    m_tabs = new QTabWidget(this);
    m_tabs->hide();
    auto *right = new QVBoxLayout;
    right->addWidget(card, 6);
    right->addWidget(m_tabs, 6);
    layout->addLayout(right, 1);
}

void FlowPage::addTab(QWidget *widget, const QString &name) {
    m_tabs->addTab(widget, name);
    m_tabs->show();
}

void FlowPage::addList(const char *path, const QString &name) {
    auto *table = new RecordTable(m_session, name, tr("Type into the last row."), path, this);
    table->setProperty("card", false);
    m_lists.push_back({path, table});
    addTab(table, name);
}

void FlowPage::followContent() {
    followContent([this] { refresh(); });
}

void FlowPage::followContent(std::function<void()> speak) {
    m_refresh->on(Refresh::content, [this, speak = std::move(speak)] { guarded(speak); });
}

void FlowPage::guarded(const std::function<void()> &work) {
    if (!m_session.hasJob()) return;
    try {
        work();
    } catch (const InputError &e) {
        say(Sentence{e.words(), Tone::trouble});
    }
}

void FlowPage::say(WorkedReport report) {
    m_words->show(std::move(report), m_session.units());
}

void FlowPage::say(Sentence sentence) {
    m_words->say(std::move(sentence), m_session.units());
}

QString FlowPage::words() const {
    return m_words->words();
}

FlowLook FlowPage::look() const {
    return {m_session.sharedStudy(), m_session.verdict(), m_session.content()};
}

bool FlowPage::showInput(const QString &link) {
    for (const List &list : m_lists)
        if (text(list.path) == link) {
            emit wanted();
            m_tabs->setCurrentWidget(list.table);
            return true;
        }
    if (!m_form || !m_form->editor(link) ||
        link.startsWith(QLatin1String("injectors."))) // those stand in Job
        return false;
    emit wanted();
    return m_form->showInput(link);
}

} // namespace wheelwright
