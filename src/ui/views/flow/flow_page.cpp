// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/flow/flow_page.h"

#include "core/base/error.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/widgets/card.h"
#include "ui/widgets/part_column.h"
#include "ui/widgets/record_table.h"
#include "ui/widgets/refresh.h"
#include "ui/widgets/report_view.h"

#include <QTabWidget>
#include <QVBoxLayout>

#include <algorithm>
#include <array>

namespace wheelwright {

FlowPage::FlowPage(Session &session, const char *id, const std::vector<std::string_view> &parts,
                   QWidget *parent)
    : QWidget(parent), m_session(session), m_refresh(new Refresh(session, this)) {
    m_refresh->on(Refresh::job | Refresh::units | Refresh::verdict,
                  [this] { guarded([this] { refresh(); }); });
    setObjectName(QLatin1String(id));
    auto *layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    if (!parts.empty()) {
        m_parts = new PartColumn(session, parts, this);
        constexpr int columnWidth = 344;
        m_parts->setFixedWidth(columnWidth);
        layout->addWidget(m_parts);
    }
    auto *card = makeCard(this);
    m_card = new QVBoxLayout(card);
    m_words = new ReportView(tr("What follows from it"), ReportView::Fit::fills, card);
    connect(m_words, &ReportView::explained, this, [this](const Explanation &x) { m_session.explain(x); });
    m_card->addWidget(m_words);
    m_tabs = new QTabWidget(this);
    m_tabs->hide();
    auto *right = new QVBoxLayout;
    right->addWidget(card, 4);
    right->addWidget(m_tabs, 8);
    layout->addLayout(right, 1);
}

void FlowPage::addTab(QWidget *widget, const QString &name) {
    m_tabs->addTab(widget, name);
    m_tabs->show();
}

void FlowPage::showTab(QWidget *widget, bool shown) {
    m_tabs->setTabVisible(m_tabs->indexOf(widget), shown);
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
    // What the station is about is changed where its effect is seen; the rest of a part on the drawing.
    constexpr std::array own{"supply.", "boost.", "aux.", "mechanical."};
    const auto isOwn = [&](const char *prefix) { return link.startsWith(QLatin1String(prefix)); };
    if (!m_parts || std::ranges::none_of(own, isOwn) || !m_parts->holds(link)) return false;
    emit wanted();
    return m_parts->showInput(link);
}

} // namespace wheelwright
