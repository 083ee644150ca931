// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/flow/flow_page.h"

#include "core/base/error.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/widgets/card.h"
#include "ui/widgets/field_form.h"
#include "ui/widgets/record_table.h"
#include "ui/widgets/refresh.h"

#include <QScrollArea>
#include <QTabWidget>
#include <QTextBrowser>
#include <QUrl>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

namespace wheelwright {

QString bigHtml(const QString &body) {
    return QStringLiteral("<span style='font-size:20px'><b>%1</b></span>").arg(body);
}

QString rowHtml(const QStringList &cells, bool head) {
    QString out = QStringLiteral("<tr>");
    for (const QString &c : cells)
        out += QStringLiteral("<td style='padding:1px 10px 1px 0'>%1</td>").arg(head ? quietHtml(c) : c);
    return out + QStringLiteral("</tr>");
}

QString decimals(double v, int digits) {
    return QString::number(v, 'f', digits);
}

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
    m_words = new QTextBrowser(card);
    m_words->setFrameShape(QFrame::NoFrame);
    m_words->setOpenLinks(false);
    m_words->setAccessibleName(tr("What follows from it"));
    connect(m_words, &QTextBrowser::anchorClicked, this,
            [this](const QUrl &link) { follow(link.toString()); });
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
        say(troubleHtml(text(e.words()).toHtmlEscaped()));
    }
}

void FlowPage::say(const QString &html) {
    m_links = std::move(m_nextLinks);
    m_nextLinks.clear();
    m_words->setHtml(html);
}

QString FlowPage::words() const {
    return m_words->toPlainText();
}

QString FlowPage::working(std::function<Explanation()> explain, const QString &body) {
    m_nextLinks.push_back(std::move(explain));
    return QStringLiteral("<a href='working:%1' style='color:%2; text-decoration:none'>%3</a>")
        .arg(m_nextLinks.size() - 1)
        .arg(theme().ink.name(), body);
}

QString FlowPage::working(const Verdict::Row &row, const QString &body) {
    const std::string_view id = row.check->id;
    return working(
        [this, id] {
            const Verdict::Row *r = this->row(id);
            return r ? r->check->explain(m_session.verdict()->study->evaluation(), placeNow(*r))
                     : Explanation{};
        },
        body);
}

void FlowPage::follow(const QString &link) {
    const auto at = static_cast<std::size_t>(link.section(QLatin1Char(':'), 1).toUInt());
    if (at >= m_links.size()) return;
    const auto explain = m_links[at]; // explaining may say something else
    m_session.explain(explain());
}

const Verdict::Row *FlowPage::row(std::string_view check) const {
    const auto verdict = m_session.verdict();
    if (!verdict) return nullptr;
    for (const Verdict::Row &r : verdict->rows)
        if (r.check->id == check) return &r;
    return nullptr;
}

const WorstPlace &FlowPage::placeNow(const Verdict::Row &row) const {
    return *std::ranges::min_element(row.outcome.byContent, {}, [this](const WorstPlace &p) {
        return std::abs(p.content - m_session.content());
    });
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
