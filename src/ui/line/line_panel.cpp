// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/line/line_panel.h"

#include "core/report/work_line_reports.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/widgets/card.h"
#include "ui/widgets/report_view.h"

#include <QEvent>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QScrollBar>
#include <QVBoxLayout>

#include <algorithm>

namespace wheelwright {
namespace {

constexpr int detailWidth = 330;

} // namespace

LinePanel::LinePanel(Session &session, QWidget *over)
    : QFrame(over), m_session(session), m_drawing(new LineDrawing(session)), m_scroll(new QScrollArea(this)) {
    setObjectName(QStringLiteral("lineOfWork"));
    setProperty("card", true);
    setProperty("helpPage", "revisions");
    setAutoFillBackground(true);
    m_scroll->setWidget(m_drawing);
    m_scroll->setFrameShape(QFrame::NoFrame);
    m_scroll->setFocusPolicy(Qt::NoFocus);
    m_scroll->setWidgetResizable(true);
    m_scroll->setFocusPolicy(Qt::NoFocus);
    auto *middle = new QHBoxLayout;
    middle->addWidget(m_scroll, 1);
    middle->addWidget(makeDetail());
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 6, 8, 8);
    layout->setSpacing(4);
    layout->addWidget(makeKeep());
    m_empty =
        makeQuiet(tr("Nothing is kept yet. Keep what is there before the first change, so that there is "
                     "something to go back to; then keep again whenever it runs better."),
                  this);
    layout->addWidget(m_empty);
    layout->addLayout(middle, 1);
    connect(m_drawing, &LineDrawing::chosenChanged, this, &LinePanel::showChosen);
    connect(m_drawing, &LineDrawing::opened, this, &LinePanel::compare);
    connect(m_words, &ReportView::linkWanted, this, &LinePanel::placeWanted);
    connect(&m_work, &WorkSignals::finished, this, &LinePanel::take);
    connect(&session, &Session::jobChanged, this, &LinePanel::work);
    connect(&session, &Session::jobReplaced, this, [this] {
        m_work.forget();
        m_shown = {};
        hide();
        work();
    });
    connect(&session, &Session::unitsChanged, this, [this] {
        m_drawing->update();
        showChosen();
    });
    over->installEventFilter(this);
    hide();
    work();
}

// What is done most often stands above the line: keep what is there now.
QWidget *LinePanel::makeKeep() {
    auto *row = new QWidget(this);
    auto *layout = new QHBoxLayout(row);
    layout->setContentsMargins(0, 0, 0, 0);
    m_keepName = new QLineEdit(row);
    m_keepName->setObjectName(QStringLiteral("keepName"));
    m_keepName->setPlaceholderText(tr("A name for what is there now"));
    m_keepName->setAccessibleName(m_keepName->placeholderText());
    m_keepNote = new QLineEdit(row);
    m_keepNote->setObjectName(QStringLiteral("keepNote"));
    m_keepNote->setPlaceholderText(tr("Why, in a few words"));
    m_keepNote->setAccessibleName(m_keepNote->placeholderText());
    auto *keep = new QPushButton(tr("Keep"), row);
    keep->setObjectName(QStringLiteral("keep"));
    keep->setProperty("main", true);
    keep->setToolTip(tr("Every table and setting of the controller, under this name"));
    auto *close = new QPushButton(tr("Close"), row);
    close->setToolTip(tr("Esc, or Ctrl+R again"));
    layout->addWidget(makeHead(tr("Line of work"), row));
    layout->addSpacing(12);
    layout->addWidget(m_keepName, 2);
    layout->addWidget(m_keepNote, 3);
    layout->addWidget(keep);
    layout->addSpacing(12);
    layout->addWidget(close);
    connect(keep, &QPushButton::clicked, this, &LinePanel::keep);
    connect(m_keepName, &QLineEdit::returnPressed, this, &LinePanel::keep);
    connect(m_keepNote, &QLineEdit::returnPressed, this, &LinePanel::keep);
    connect(close, &QPushButton::clicked, this, &QWidget::hide);
    return row;
}

QWidget *LinePanel::makeDetail() {
    auto *box = new QWidget(this);
    box->setFixedWidth(detailWidth);
    auto *layout = new QVBoxLayout(box);
    layout->setContentsMargins(8, 0, 0, 0);
    layout->setSpacing(4);
    m_name = new QLineEdit(box);
    m_name->setObjectName(QStringLiteral("name"));
    m_name->setAccessibleName(tr("Name of the chosen revision"));
    m_note = new QLineEdit(box);
    m_note->setObjectName(QStringLiteral("note"));
    m_note->setPlaceholderText(tr("Note"));
    m_note->setAccessibleName(tr("Note on the chosen revision"));
    m_words = new ReportView(tr("About the chosen mark"), ReportView::Fit::fills, box);
    auto *names = new QHBoxLayout;
    names->addWidget(m_name, 2);
    names->addWidget(m_note, 3);
    layout->addLayout(names);
    layout->addWidget(m_words, 1);
    auto *grid = new QGridLayout;
    grid->setSpacing(4);
    const auto button = [&](const QString &title, const char *name, const QString &tip, int row, int column) {
        auto *b = new QPushButton(title, box);
        b->setObjectName(QLatin1String(name));
        b->setToolTip(tip);
        grid->addWidget(b, row, column);
        return b;
    };
    m_compare = button(tr("Compare"), "compare",
                       tr("In Tables: two that are chosen with Shift, or this one against now"), 0, 0);
    m_takeBack = button(tr("Take back"), "takeBack", tr("The tables and settings become these again"), 0, 1);
    m_remove = button(tr("Remove"), "remove", tr("What was made from it stays"), 0, 2);
    m_sent =
        button(tr("Sent"), "sent", tr("The controller has it: guarded settings are held against it"), 1, 0);
    m_cameBack = button(tr("Came back"), "cameBack",
                        tr("It was read back from the controller, and is the same"), 1, 1);
    m_released = button(tr("Released"), "released", tr("It was handed over to be driven"), 1, 2);
    for (QPushButton *b : {m_sent, m_cameBack, m_released})
        b->setCheckable(true);
    layout->addLayout(grid);
    connect(m_compare, &QPushButton::clicked, this, &LinePanel::compare);
    connect(m_takeBack, &QPushButton::clicked, this, &LinePanel::takeBack);
    connect(m_name, &QLineEdit::editingFinished, this, &LinePanel::rename);
    connect(m_note, &QLineEdit::editingFinished, this, &LinePanel::setNote);
    connect(m_remove, &QPushButton::clicked, this, [this] {
        mark(tr("Remove revision %1"), [](Job &job, std::size_t at) { removeRevision(job, at); });
    });
    connect(m_sent, &QPushButton::clicked, this, [this](bool on) {
        mark(on ? tr("Revision %1 was sent") : tr("Revision %1 was not sent"),
             [on](Job &job, std::size_t at) { job.revisions[at].sent = on; });
    });
    connect(m_cameBack, &QPushButton::clicked, this, [this](bool on) {
        const std::string when = on ? m_session.now().toStdString() : std::string();
        mark(on ? tr("Revision %1 came back") : tr("Revision %1 did not come back"),
             [when](Job &job, std::size_t at) { job.revisions[at].cameBack = when; });
    });
    connect(m_released, &QPushButton::clicked, this, [this](bool on) {
        const std::string when = on ? m_session.now().toStdString() : std::string();
        mark(on ? tr("Revision %1 is released") : tr("Revision %1 is not released"),
             [when](Job &job, std::size_t at) { job.revisions[at].released = when; });
    });
    return box;
}

bool LinePanel::eventFilter(QObject *watched, QEvent *event) {
    if (watched == parentWidget() && event->type() == QEvent::Resize) place();
    return QFrame::eventFilter(watched, event);
}

void LinePanel::place() {
    const QSize room = parentWidget()->size();
    const int height = std::min(std::max(minimumSizeHint().height(), sizeHint().height()), room.height());
    setGeometry(0, room.height() - height, room.width(), height);
    raise();
}

void LinePanel::open(const QString &revision) {
    m_wanted = revision;
    place();
    show();
    m_drawing->setFocus();
    work();
}

// Each revision is a whole calibration: they are read and compared beside the window's thread, and all of
// them only while somebody looks.
void LinePanel::work() {
    if (!m_session.hasJob()) {
        m_shown = {};
        m_drawing->show(nullptr, nullptr);
        return;
    }
    m_work.start(m_session.jobVersion(), [job = std::make_shared<const Job>(m_session.job()),
                                          whole = isVisible()](const WorkControl &) {
        const auto changes = whole ? ChangesOf::all : ChangesOf::now;
        return Worked{job, std::make_shared<const WorkLine>(workLineOf(*job, changes)), whole};
    });
}

bool LinePanel::isCurrent() const {
    return m_shown.line && m_version == m_session.jobVersion();
}

void LinePanel::take() {
    const Worked *worked = m_work.result();
    if (!worked || m_work.version() != m_session.jobVersion()) return;
    saySince(*worked);
    if (!worked->whole) return;
    m_shown = *worked;
    m_version = m_work.version();
    m_empty->setVisible(m_shown.job->revisions.empty());
    const QScrollBar *along = m_scroll->horizontalScrollBar();
    const bool atEnd = along->value() == along->maximum();
    m_drawing->show(m_shown.job, m_shown.line);
    place();
    for (std::size_t i = 0; i < m_shown.line->marks.size(); ++i)
        if (!m_wanted.isEmpty() && text(nameOf(*m_shown.job, m_shown.line->marks[i])) == m_wanted)
            m_drawing->choose(i);
    if (atEnd && m_wanted.isEmpty()) // now is at the end
        m_scroll->ensureVisible(m_drawing->sizeHint().width(), 0);
    m_wanted.clear();
}

void LinePanel::saySince(const Worked &worked) {
    const auto now = std::ranges::find(worked.line->marks, true, &WorkMark::now);
    const std::vector<Revision> &all = worked.job->revisions.values();
    QStringList words;
    if (now->revision)
        words << tr("Revision %1").arg(text(all[*now->revision].name));
    else if (now->from)
        words << tr("From %1").arg(text(nameOf(*worked.job, worked.line->marks[*now->from])));
    else
        words << tr("No revision kept");
    std::size_t cells = 0, settings = 0;
    if (!now->revision)
        for (const Difference &d : now->changed) {
            cells += d.cells;
            settings += d.cells == 0 ? 1 : 0;
        }
    if (cells > 0) words << (cells == 1 ? tr("1 cell since") : tr("%1 cells since").arg(cells));
    if (settings > 0)
        words << (settings == 1 ? tr("1 setting since") : tr("%1 settings since").arg(settings));
    m_since = words.join(QStringLiteral(" · "));
    emit sinceChanged();
}

std::optional<std::size_t> LinePanel::revision() const {
    if (!m_drawing->chosen() || !isCurrent()) return std::nullopt;
    return m_shown.line->marks[*m_drawing->chosen()].revision;
}

void LinePanel::showChosen() {
    const auto chosen = m_drawing->chosen();
    if (!m_shown.line || !chosen) return;
    const WorkMark &mark = m_shown.line->marks[*chosen];
    const Revision *r = mark.revision ? &m_shown.job->revisions.values()[*mark.revision] : nullptr;
    for (QWidget *w :
         std::initializer_list<QWidget *>{m_name, m_note, m_sent, m_cameBack, m_released, m_remove})
        w->setEnabled(r);
    m_takeBack->setEnabled(r && !mark.now);
    m_name->setText(r ? text(r->name) : tr("Now"));
    m_name->setCursorPosition(0); // its beginning is seen
    m_note->setText(r ? text(r->note) : QString());
    m_note->setCursorPosition(0); // its beginning is seen
    m_sent->setChecked(r && r->sent);
    m_cameBack->setChecked(r && !r->cameBack.empty());
    m_released->setChecked(r && !r->released.empty());
    m_compare->setEnabled(m_drawing->second() || r || mark.from);
    Report words = workMarkReport(*m_shown.job, *m_shown.line, *chosen);
    words.title = {}; // it stands in the field above
    if (mark.now) {
        Report stray = strayWorkReport(*m_shown.job, *m_shown.line);
        if (!stray.blocks.empty()) words.blocks.push_back(Heading{stray.title, 3});
        std::ranges::move(stray.blocks, std::back_inserter(words.blocks));
    }
    m_words->show(std::move(words), m_session.units());
    if (const QRect at = m_drawing->rectOf(*chosen); isVisible())
        m_scroll->ensureVisible(at.center().x(), 0, at.width() / 2, 0);
}

void LinePanel::keep() {
    const std::string name = m_keepName->text().trimmed().toStdString(),
                      note = m_keepNote->text().trimmed().toStdString();
    if (!m_session.perform(tr("Keep revision %1").arg(text(name)), [&](Job &job) {
            keepRevision(job, name, m_session.now().toStdString(), note, false);
        }))
        return m_keepName->setFocus();
    m_keepName->clear();
    m_keepNote->clear();
}

// Two that are chosen, the one that was kept first as what is held against; one alone against now, and now
// against what it was made from.
void LinePanel::compare() {
    if (!m_shown.line || !m_drawing->chosen()) return;
    const auto nameAt = [this](std::size_t at) -> std::string {
        const auto place = m_shown.line->marks[at].revision;
        return place ? m_shown.job->revisions.values()[*place].name : std::string();
    };
    const std::size_t chosen = *m_drawing->chosen();
    const WorkMark &mark = m_shown.line->marks[chosen];
    Session::Comparison pair;
    if (const auto second = m_drawing->second()) {
        pair = {nameAt(std::min(chosen, *second)), nameAt(std::max(chosen, *second))};
    } else if (!mark.now) {
        pair = {nameAt(chosen), {}};
    } else if (mark.from) {
        pair = {nameAt(*mark.from), {}};
    } else {
        return;
    }
    m_session.compare(pair);
    emit tablesWanted();
}

void LinePanel::takeBack() {
    const auto place = revision();
    if (!place) return;
    m_session.perform(
        tr("Take back revision %1").arg(text(m_session.job().revisions.values()[*place].name)),
        [&](Job &job) { job = takenBack(job, *place); }, std::nullopt); // it brings the origins of then
}

void LinePanel::mark(const QString &what, const std::function<void(Job &, std::size_t)> &change) {
    const auto place = revision();
    if (!place) return;
    if (!m_session.perform(what.arg(text(m_session.job().revisions.values()[*place].name)),
                           [&](Job &job) { change(job, *place); }))
        showChosen();
}

void LinePanel::rename() {
    const auto place = revision();
    if (!place) return;
    const std::string name = m_name->text().trimmed().toStdString();
    if (name != m_session.job().revisions.values()[*place].name)
        mark(tr("Rename revision %1"), [&](Job &job, std::size_t at) { renameRevision(job, at, name); });
}

void LinePanel::setNote() {
    const auto place = revision();
    if (!place) return;
    const std::string note = m_note->text().trimmed().toStdString();
    if (note != m_session.job().revisions.values()[*place].note)
        mark(tr("Note on revision %1"), [&](Job &job, std::size_t at) { job.revisions[at].note = note; });
}

void LinePanel::keyPressEvent(QKeyEvent *event) {
    if (event->key() == Qt::Key_Escape)
        hide();
    else
        QFrame::keyPressEvent(event);
}

} // namespace wheelwright
