// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/part_panel.h"

#include "core/report/sheet_reports.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/widgets/card.h"
#include "ui/widgets/field_form.h"
#include "ui/widgets/record_table.h"
#include "ui/widgets/refresh.h"

#include <QGridLayout>
#include <QKeyEvent>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QStackedWidget>
#include <QVBoxLayout>

namespace wheelwright {
namespace {

QString idOf(std::string_view id) {
    return QString::fromUtf8(id.data(), static_cast<qsizetype>(id.size()));
}

} // namespace

PartPanel::PartPanel(Session &session, QWidget *parent)
    : QFrame(parent), m_session(session), m_stack(new QStackedWidget(this)) {
    setProperty("card", true);
    setProperty("helpPage", "job");
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(1, 1, 1, 1);
    layout->addWidget(m_stack);
    (new Refresh(session, this))
        ->on(Refresh::job | Refresh::verdict | Refresh::units | Refresh::state, [this] { refresh(); });
}

PartPanel::Page &PartPanel::pageOf(const Part &part) {
    if (const auto made = m_pages.find(part.id); made != m_pages.end()) return made->second;
    auto *scroll = new QScrollArea(this);
    scroll->setFocusPolicy(Qt::NoFocus); // what is in it takes the keys, and is scrolled to
    auto *body = new QWidget(scroll);
    auto *layout = new QVBoxLayout(body);
    layout->setContentsMargins(10, 8, 10, 8);
    layout->setSpacing(6);
    auto *head = makeHead(text(part.title), body);
    layout->addWidget(head);
    layout->addWidget(makeQuiet(text(part.help), body));
    Page page{scroll, nullptr, makeQuiet({}, body), nullptr, nullptr, {}, {}};
    layout->addWidget(page.state);
    std::vector<std::string> paths;
    for (const std::string_view path : part.fields)
        paths.emplace_back(path);
    page.form = new FieldForm(m_session, {}, paths, text(part.caution), body);
    page.form->setProperty("card", false);
    page.form->layout()->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(page.form);
    page.confirm = new QPushButton(body);
    page.confirm->setObjectName(QStringLiteral("confirm"));
    connect(page.confirm, &QPushButton::clicked, this, [this, &part] {
        m_session.perform(tr("Confirm: %1").arg(text(part.title)), [&](Job &job) { confirmPart(job, part); });
    });
    layout->addWidget(page.confirm, 0, Qt::AlignLeft);
    addInspections(part, page, body);
    if (m_withLists)
        for (const std::string_view path : part.lists) {
            const RecordList &list = *recordListByPath(path);
            auto *table = new RecordTable(m_session, text(list.title), tr("Type into the last row."),
                                          list.path.c_str(), body);
            constexpr int height = 190;
            table->setMinimumHeight(height);
            page.lists[text(list.path)] = table;
            layout->addWidget(table);
        }
    if (part.remove) {
        page.remove = new QPushButton(tr("It is not on this engine"), body);
        page.remove->setObjectName(QStringLiteral("remove"));
        connect(page.remove, &QPushButton::clicked, this, [this, &part] {
            m_session.perform(tr("Take off: %1").arg(text(part.title)),
                              [&](Job &job) { fitPart(job, part, false); });
        });
        layout->addWidget(page.remove, 0, Qt::AlignLeft);
    }
    layout->addStretch(1);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setWidget(body);
    m_stack->addWidget(scroll);
    return m_pages.emplace(part.id, std::move(page)).first->second;
}

void PartPanel::addInspections(const Part &part, Page &page, QWidget *body) {
    if (part.inspections.empty()) return;
    auto *grid = new QGridLayout;
    grid->setVerticalSpacing(3);
    grid->addWidget(makeHead(tr("Looked at"), body), 0, 0, 1, 3);
    int row = 1;
    for (const InspectionItem &item : part.inspections) {
        auto *title = new QLabel(text(item.title), body);
        title->setToolTip(text(item.help));
        auto *help = makeQuiet(text(item.help), body);
        auto *note = new QLineEdit(body);
        note->setObjectName(QStringLiteral("note-") + idOf(item.id));
        note->setPlaceholderText(tr("what was seen"));
        note->setAccessibleName(tr("%1: what was seen").arg(text(item.title)));
        auto *last = makeQuiet({}, body);
        page.lastOf[item.id] = last;
        grid->addWidget(title, row++, 0, 1, 3);
        grid->addWidget(help, row++, 0, 1, 3);
        grid->addWidget(note, row, 0);
        int column = 1;
        for (const bool wrong : {false, true}) {
            auto *button = new QPushButton(wrong ? tr("Wrong") : tr("Good"), body);
            button->setObjectName((wrong ? QStringLiteral("wrong-") : QStringLiteral("good-")) +
                                  idOf(item.id));
            button->setAccessibleName(tr("%1: %2").arg(text(item.title), button->text()));
            connect(button, &QPushButton::clicked, this, [this, &item, wrong, note] {
                mark(item, wrong, note->text().trimmed());
                note->clear();
            });
            button->setStyleSheet(QStringLiteral("padding: 3px 8px;"));
            grid->addWidget(button, row, column++);
        }
        grid->addWidget(last, ++row, 0, 1, 3);
        ++row;
    }
    grid->setColumnStretch(0, 1);
    static_cast<QVBoxLayout *>(body->layout())->addLayout(grid);
}

void PartPanel::mark(const InspectionItem &item, bool wrong, const QString &note) {
    m_session.perform(tr("Looked at: %1").arg(text(item.title)), [&](Job &job) {
        markInspected(job, item.id, m_session.now().toStdString(), wrong, note.toStdString());
    });
}

void PartPanel::showPart(std::string_view id) {
    const Part &part = partById(id);
    m_part = part.id;
    m_stack->setCurrentWidget(pageOf(part).scroll);
    refresh();
}

void PartPanel::refresh() {
    const auto at = m_pages.find(m_part);
    if (at == m_pages.end() || !m_session.hasJob()) return;
    const auto verdict = m_session.verdict();
    const PartState p = partStateOf(partById(m_part), m_session.job(), verdict.get());
    Page &page = at->second;
    page.state->setText(text(partStateWords(p), m_session.units()));
    const auto open = static_cast<int>(unstatedOf(m_session.job(), *p.part));
    page.confirm->setText(open > 0 ? tr("All of these are so (%1 not stated)").arg(open)
                                   : tr("All of these are stated"));
    page.confirm->setEnabled(open > 0 && !m_session.readOnly());
    if (page.remove) page.remove->setEnabled(p.canRemove && !m_session.readOnly());
    for (const InspectionState &i : p.inspections)
        page.lastOf[i.item->id]->setText(text(inspectionWords(i), m_session.units()));
}

void PartPanel::enter() {
    const Part &part = partById(m_part);
    for (const std::string_view path : part.fields)
        if (showInput(text(std::string(path)))) return;
}

bool PartPanel::showInput(const QString &path) {
    const auto at = m_pages.find(m_part);
    if (at == m_pages.end()) return false;
    const Page &page = at->second;
    if (const auto list = page.lists.find(path); list != page.lists.end()) {
        page.scroll->ensureWidgetVisible(list->second);
        list->second->view()->setFocus();
        return true;
    }
    if (!page.form->showInput(path)) return false;
    page.scroll->ensureWidgetVisible(page.form->editor(path), 0, 60);
    return true;
}

QWidget *PartPanel::editor(const QString &path) const {
    for (const auto &[id, page] : m_pages)
        if (QWidget *found = page.form->editor(path)) return found;
    return nullptr;
}

void PartPanel::keyPressEvent(QKeyEvent *event) {
    if (event->key() == Qt::Key_Escape) return emit left();
    QFrame::keyPressEvent(event);
}

} // namespace wheelwright
