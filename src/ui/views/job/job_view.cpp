// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/job/job_view.h"

#include "core/base/limits.h"
#include "core/report/calibration_reports.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/widgets/card.h"
#include "ui/widgets/field_form.h"
#include "ui/widgets/limit_edit.h"
#include "ui/widgets/refresh.h"
#include "ui/widgets/report_view.h"

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
        ->on(Refresh::job | Refresh::units | Refresh::state, [this] { refresh(); }, {"limits."})
        .on(Refresh::verdict, [this] { refreshNext(); });
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
    const auto button = [&](const QString &title, const char *name, JobSource from) {
        auto *b = new QPushButton(title, page);
        b->setObjectName(QLatin1String(name));
        b->setProperty("main", from == JobSource::file);
        b->setFixedWidth(220);
        connect(b, &QPushButton::clicked, this, [this, from] { emit jobWanted(from); });
        layout->addWidget(b);
    };
    button(tr("Open a job…"), "open", JobSource::file);
    button(tr("Start a new job…"), "new", JobSource::fresh);
    button(tr("Open the demo job"), "demo", JobSource::demo);
    layout->addStretch(1);
    return page;
}

QWidget *JobView::makePage() {
    auto *page = new QWidget(this);
    auto *columns = new QGridLayout(page);
    columns->setContentsMargins(8, 8, 8, 8);
    columns->setSpacing(8);
    auto *left = new QVBoxLayout, *right = new QVBoxLayout;
    left->addWidget(makeGroup(tr("Engine"), {"name", "engine."}));
    left->addWidget(makeGroup(tr("Injectors"), {"injectors."}));
    left->addWidget(makeGroup(tr("Air"), {"conditions."}));
    left->addWidget(makeGroup(tr("Delivered spark"), {"spark."}));
    left->addWidget(makeGroup(tr("Content sensor"), {"content_sensor."}));
    left->addWidget(makeGroup(tr("Notes"), {"notes"}));
    left->addStretch(1);
    right->addWidget(makeGroup(tr("How content enters"), {"calibration."}));
    right->addWidget(
        makeGroup(tr("Fuel"), {"fuel.alcohol", "fuel_system.", "use."},
                  tr("Fuel vapour burns: earth the container, no ignition source, closed vessels. Follow the "
                     "supplier's safety data sheet and the local fire code.")));
    right->addWidget(makeLimits());
    right->addStretch(1);
    columns->addWidget(makeNext(), 0, 0, 1, 2);
    columns->addLayout(left, 1, 0);
    columns->addLayout(right, 1, 1);
    columns->setColumnStretch(0, 1);
    columns->setColumnStretch(1, 1);
    m_scroll = new QScrollArea(this);
    m_scroll->setWidgetResizable(true);
    m_scroll->setFrameShape(QFrame::NoFrame);
    m_scroll->setWidget(page);
    return m_scroll;
}

QWidget *JobView::makeNext() {
    auto *card = makeCard(this);
    m_next = new ReportView(tr("Next"), ReportView::Fit::steady, card, 6);
    auto *verify = new QPushButton(tr("Look at the margins"), card);
    verify->setProperty("main", true);
    connect(verify, &QPushButton::clicked, this, [this] { emit stationWanted(QStringLiteral("verify")); });
    auto *tables = new QPushButton(tr("Edit the tables"), card);
    connect(tables, &QPushButton::clicked, this, [this] { emit stationWanted(QStringLiteral("tables")); });
    auto *layout = new QGridLayout(card);
    layout->addWidget(m_next, 0, 0, 2, 1);
    layout->addWidget(verify, 0, 1);
    layout->addWidget(tables, 1, 1);
    layout->setColumnStretch(0, 1);
    return card;
}

void JobView::addRow(QGridLayout *grid, int row, const QString &title, QWidget *editor, const QString &help) {
    auto *label = new QLabel(title, this);
    label->setBuddy(editor);
    label->setWordWrap(true); // some limits say a whole sentence
    constexpr int room = 220;
    label->setMinimumWidth(room);
    grid->setColumnStretch(0, 1);
    label->setToolTip(help);
    editor->setToolTip(help);
    editor->setAccessibleName(title);
    grid->addWidget(label, row, 0);
    grid->addWidget(editor, row, 1);
}

FieldForm *JobView::makeGroup(const QString &title, const std::vector<std::string> &prefixes,
                              const QString &caution) {
    auto *form = new FieldForm(m_session, title, prefixes, caution, this);
    m_forms.push_back(form);
    return form;
}

QWidget *JobView::makeLimits() {
    auto *card = makeCard(this);
    auto *grid = new QGridLayout(card);
    grid->setVerticalSpacing(4);
    auto *head = new QLabel(tr("Limits"), card);
    head->setProperty("head", true);
    grid->addWidget(head, 0, 0, 1, 3);
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
    grid->setColumnStretch(0, 1);
    return card;
}

QWidget *JobView::editor(const QString &path) const {
    for (const FieldForm *form : m_forms)
        if (QWidget *found = form->editor(path)) return found;
    const auto at = m_editors.find(path);
    return at == m_editors.end() ? nullptr : at->second;
}

void JobView::refresh() {
    m_stack->setCurrentIndex(m_session.hasJob() ? 1 : 0);
    refreshNext();
}

void JobView::refreshNext() {
    const auto v = m_session.verdict();
    if (!v) {
        m_next->say(MARKED("next.working", "Working out what holds on which fuel…"), m_session.units());
        return;
    }
    m_next->show(nextReport(*v), m_session.units());
}

bool JobView::showInput(const QString &link) {
    QWidget *wanted = editor(link);
    if (!wanted) return false;
    m_scroll->ensureWidgetVisible(wanted, 0, 120);
    wanted->setFocus();
    if (auto *edit = qobject_cast<QLineEdit *>(wanted)) edit->selectAll();
    return true;
}

const ViewDefinition &jobView() {
    static const ViewDefinition definition{
        "job", QT_TRANSLATE_NOOP("view", "Job"), ":/icons/job.svg", 1,
        [](Session &s, QWidget *parent) -> View * { return new JobView(s, parent); }};
    return definition;
}

} // namespace wheelwright
