// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/job/job_view.h"

#include "core/base/limits.h"
#include "core/report/sheet_reports.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/views/job/intake_sheet.h"
#include "ui/widgets/card.h"
#include "ui/widgets/least_size.h"
#include "ui/widgets/limit_edit.h"
#include "ui/widgets/page_switch.h"
#include "ui/widgets/part_button.h"
#include "ui/widgets/part_panel.h"
#include "ui/widgets/refresh.h"
#include "ui/widgets/report_view.h"
#include "ui/widgets/steady.h"

#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QStackedLayout>
#include <QVBoxLayout>

namespace wheelwright {
JobView::JobView(Session &session, QWidget *parent) : View(parent), m_session(session) {
    setProperty("helpPage", "job");
    m_stack = new QStackedLayout(this);
    m_stack->addWidget(makeEmptyState());
    m_stack->addWidget(makePage());
    (new Refresh(session, this))
        ->on(Refresh::job | Refresh::units | Refresh::state, [this] { refresh(); })
        .on(Refresh::verdict,
            [this] {
                m_sheet->refresh();
                refreshNext();
            })
        .on(Refresh::content, [this] { m_sheet->recolour(); });
    m_stack->setCurrentIndex(session.hasJob() ? 1 : 0);
}

QWidget *JobView::makeEmptyState() {
    auto *page = new QWidget(this);
    auto *head = new ReportView(tr("Start"), ReportView::Fit::grows, page);
    Report question;
    question.blocks.push_back(Heading{MARKED("job.empty", "Which engine is on the rollers?"), 0});
    head->show(std::move(question), m_session.units());
    auto *body = makeQuiet(
        tr("A job is one engine with all that belongs to it, in one file: hardware, fuels, tables at two "
           "alcohol contents, limits. Wheelwright blends the tables at any content and says what holds "
           "there, and what nobody has judged. Every change is saved as you make it.\n\nThe demo job is a "
           "hill-climb car with injectors "
           "that are too small for its best fuel: open it and look at Verify."),
        page);
    body->setMaximumWidth(560);
    auto *layout = new QVBoxLayout(page);
    layout->setContentsMargins(48, 40, 48, 40);
    layout->setSpacing(14);
    layout->addWidget(head);
    layout->addWidget(body);
    std::vector<QPushButton *> buttons;
    const auto button = [&](const QString &title, const char *name, JobSource from) {
        auto *b = new QPushButton(title, page);
        b->setObjectName(QLatin1String(name));
        b->setProperty("main", from == JobSource::file);
        connect(b, &QPushButton::clicked, this, [this, from] { emit jobWanted(from); });
        layout->addWidget(b);
        buttons.push_back(b);
    };
    button(tr("Open a job…"), "open", JobSource::file);
    button(tr("Start a new job…"), "new", JobSource::fresh);
    button(tr("Open the demo job"), "demo", JobSource::demo);
    giveOneWidth(buttons);
    layout->addStretch(1);
    return page;
}

QWidget *JobView::makePage() {
    auto *page = new QWidget(this);
    auto *layout = new QVBoxLayout(page);
    layout->setContentsMargins(8, 6, 8, 6);
    m_pages = new PageSwitch(page);
    m_pages->addPage(tr("Engine"), makeSheet(), makeNext());
    m_pages->addPage(tr("Limits"), makeLimits());
    layout->addWidget(m_pages);
    return page;
}

QWidget *JobView::makeSheet() {
    auto *page = new QWidget(this);
    m_sheet = new IntakeSheet(m_session, page);
    m_panel = new PartPanel(m_session, page);
    auto *scroll = new QScrollArea(page);
    scroll->setFocusPolicy(Qt::NoFocus); // what is in it takes the keys, and is scrolled to
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setWidget(new LeastSize(m_sheet, m_sheet->minimumSizeHint()));
    connect(m_sheet, &IntakeSheet::chosenChanged, this,
            [this](const QString &part) { m_panel->showPart(part.toStdString()); });
    connect(m_sheet, &IntakeSheet::editWanted, m_panel, &PartPanel::enter);
    connect(m_panel, &PartPanel::left, this, [this] { m_sheet->button(m_panel->part())->setFocus(); });
    auto *layout = new QGridLayout(page);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(scroll, 0, 0);
    layout->addWidget(m_panel, 0, 1);
    layout->setColumnStretch(0, 1);
    return page;
}

// What to do next stands beside the names of the pages: the drawing has all the room below.
QWidget *JobView::makeNext() {
    auto *row = new QWidget(this);
    row->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    m_next = new QLabel(row);
    m_next->setObjectName(QStringLiteral("next"));
    m_next->setProperty("head", true);
    m_go = new QPushButton(row);
    m_go->setObjectName(QStringLiteral("go"));
    m_go->setProperty("main", true);
    connect(m_go, &QPushButton::clicked, this, [this] {
        if (m_nextPart.isEmpty()) return emit stationWanted(QStringLiteral("verify"));
        m_sheet->choose(m_nextPart.toStdString());
        m_panel->enter();
    });
    auto *layout = new QHBoxLayout(row);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(makeStill(m_next, row), 1);
    layout->addWidget(m_go);
    return row;
}

void JobView::addRow(QGridLayout *grid, int row, const QString &title, QWidget *editor, const QString &help) {
    auto *label = new QLabel(title, this);
    label->setBuddy(editor);
    label->setWordWrap(true); // some limits say a whole sentence
    constexpr int room = 400; // the longest in two lines
    label->setMinimumWidth(room);
    label->setToolTip(help);
    editor->setToolTip(help);
    editor->setAccessibleName(title);
    grid->addWidget(label, row, 0);
    grid->addWidget(editor, row, 1);
}

QWidget *JobView::makeLimits() {
    auto *card = makeCard(this);
    auto *grid = new QGridLayout(card);
    grid->setVerticalSpacing(4);
    grid->addWidget(makeQuiet(tr("Every limit is a starting point, not a promise about this engine. Clear a "
                                 "field for the shipped value."),
                              card),
                    1, 0, 1, 3);
    int row = 2;
    for (const LimitDefinition &l : allLimits()) {
        auto *edit = new LimitEdit(m_session, l.id, card);
        auto *origin = makeQuiet(edit->origin(), card);
        origin->setWordWrap(false);
        connect(edit, &LimitEdit::refreshed, origin, [edit, origin] { origin->setText(edit->origin()); });
        m_editors[QStringLiteral("limit:") + text(l.id)] = edit;
        addRow(grid, row, text(l.title), edit, text(l.id));
        edit->setMaximumWidth(110);
        grid->addWidget(origin, row++, 2);
    }
    grid->setColumnStretch(2, 1); // a value stands beside its name, however wide the window is
    grid->setHorizontalSpacing(16);
    m_limits = new QScrollArea(this);
    m_limits->setFocusPolicy(Qt::NoFocus); // what is in it takes the keys, and is scrolled to
    m_limits->setObjectName(QStringLiteral("limits"));
    m_limits->setWidgetResizable(true);
    m_limits->setFrameShape(QFrame::NoFrame);
    m_limits->setWidget(card);
    return m_limits;
}

// The drawing needs its room first.
void JobView::resizeEvent(QResizeEvent *event) {
    constexpr int least = 272, most = 480, share = 4;
    m_panel->setFixedWidth(std::clamp(width() / share + 50, least, most));
    View::resizeEvent(event);
}

QWidget *JobView::editor(const QString &path) const {
    if (const Part *part = partOfPath(path.toStdString(), m_session.job())) m_panel->showPart(part->id);
    if (QWidget *found = m_panel->editor(path)) return found;
    const auto at = m_editors.find(path);
    return at == m_editors.end() ? nullptr : at->second;
}

void JobView::refresh() {
    m_stack->setCurrentIndex(m_session.hasJob() ? 1 : 0);
    m_sheet->refresh();
    refreshNext();
}

void JobView::refreshNext() {
    if (!m_session.hasJob()) return;
    const auto verdict = m_session.verdict();
    const std::vector<PartState> &sheet = m_sheet->states();
    const PartState *next = nextPart(sheet);
    m_nextPart = next
                     ? QString::fromUtf8(next->part->id.data(), static_cast<qsizetype>(next->part->id.size()))
                     : QString();
    const QString words = next      ? text(nextOnSheet(sheet))
                          : verdict ? text(inWords(*verdict))
                                    : tr("Working out what holds on which fuel…");
    m_next->setText(words);
    m_next->setToolTip(words);
    m_go->setText(next ? tr("Show it") : tr("Look at the margins"));
}

bool JobView::showInput(const QString &link) {
    if (const Part *part = partOfPath(link.toStdString(), m_session.job());
        part && isFitted(*part, m_session.job())) {
        m_pages->showPage(m_pages->pages().front());
        m_sheet->choose(part->id);
        return m_panel->showInput(link);
    }
    const auto at = m_editors.find(link);
    if (at == m_editors.end()) return false;
    m_pages->showPage(m_limits);
    m_limits->ensureWidgetVisible(at->second, 0, 120);
    at->second->setFocus();
    if (auto *edit = qobject_cast<QLineEdit *>(at->second)) edit->selectAll();
    return true;
}

const ViewDefinition &jobView() {
    static const ViewDefinition definition{
        "job",
        QT_TRANSLATE_NOOP("view", "Job"),
        ":/icons/job.svg",
        1,
        [](Session &s, QWidget *parent) -> View * { return new JobView(s, parent); },
        {},
        nullptr,
        true};
    return definition;
}

} // namespace wheelwright
