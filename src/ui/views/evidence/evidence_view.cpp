// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/evidence/evidence_view.h"

#include "core/base/error.h"
#include "session/evidence.h"
#include "session/log_arrival.h"
#include "session/run_book.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/views/evidence/cleaning_page.h"
#include "ui/views/evidence/coverage_page.h"
#include "ui/views/evidence/hindsight_page.h"
#include "ui/views/evidence/log_import_dialog.h"
#include "ui/views/evidence/log_slips.h"
#include "ui/views/evidence/proposals_page.h"
#include "ui/views/evidence/pulls_page.h"
#include "ui/views/evidence/strip_page.h"
#include "ui/views/evidence/time_strip.h"
#include "ui/widgets/card.h"
#include "ui/widgets/page_switch.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QPushButton>
#include <QScrollArea>
#include <QStackedLayout>

namespace wheelwright {
namespace {

const QString tablesStation = QStringLiteral("tables");

bool takesLog(const Session &session, const QString &path) {
    const QString suffix = QFileInfo(path).suffix().toLower();
    if (suffix == QLatin1String("wwjob") || suffix == QLatin1String("json") || !session.hasJob())
        return false;
    return !RunBook::seemsRuns(path.toStdString()) && LogArrival::seemsALog(path.toStdString());
}

EvidenceView *viewOf(const ViewContext &context) {
    return qobject_cast<EvidenceView *>(context.view());
}

} // namespace

EvidenceView::EvidenceView(Session &session, QWidget *parent)
    : View(parent), m_session(session), m_stack(new QStackedLayout(this)) {
    setProperty("helpPage", "evidence");
    m_stack->addWidget(makeEmptyState());
    m_stack->addWidget(makeStation());
    for (auto signal : {&Evidence::logsChanged, &Evidence::reviewsChanged})
        connect(&session.evidence(), signal, this, &EvidenceView::refresh);
    refresh();
}

QWidget *EvidenceView::makeEmptyState() {
    auto *page = new QWidget(this);
    auto *title = makeHead(tr("What does the log say?"), page);
    auto *body = makeQuiet(tr("Drag a log onto the window: delimited text of any shape, or a measurement "
                              "file of the open format MDF 4. "
                              "You see what its columns are taken for before it comes in, and are asked what "
                              "only you can know.\n\nThen "
                              "pulls, holds and idle are found by themselves, sixteen rules look for lean "
                              "mixture, knock, overboost, sagging "
                              "fuel, a return line that runs dry and the rest, and the tables learn where "
                              "the engine has been. The samples "
                              "are kept in the job's own file."),
                           page);
    body->setMaximumWidth(560);
    auto *bring = new QPushButton(tr("Bring in a log…"), page);
    bring->setProperty("main", true);
    giveOneWidth({bring});
    connect(bring, &QPushButton::clicked, this, &EvidenceView::chooseFiles);
    auto *layout = new QVBoxLayout(page);
    layout->setContentsMargins(48, 40, 48, 40);
    layout->setSpacing(14);
    layout->addWidget(title);
    layout->addWidget(body);
    layout->addWidget(bring);
    layout->addStretch(1);
    return page;
}

QWidget *EvidenceView::makeStation() {
    auto *page = new QWidget(this);
    m_slips = new LogSlips(m_session, page);
    auto *scroll = new QScrollArea(page);
    scroll->setFocusPolicy(Qt::NoFocus); // what is in it takes the keys, and is scrolled to
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto *inside = new QWidget(scroll);
    auto *pile = new QVBoxLayout(inside);
    pile->setContentsMargins(0, 0, 0, 0);
    pile->addWidget(m_slips);
    pile->addStretch(1);
    scroll->setWidget(inside);
    auto *bring = new QPushButton(tr("Bring in a log…"), page);
    bring->setObjectName(QStringLiteral("bringLog"));
    m_state = new QPushButton(tr("State its content…"), page);
    m_state->setToolTip(tr("Says what fuel this log ran on; it is believed over the log's own channel"));
    m_remove = new QPushButton(tr("Take it out"), page);
    m_remove->setObjectName(QStringLiteral("removeLog"));
    m_remove->setToolTip(tr("Takes the log out of the job; undo brings it back until the job is closed"));
    connect(bring, &QPushButton::clicked, this, &EvidenceView::chooseFiles);
    connect(m_state, &QPushButton::clicked, this, &EvidenceView::stateContent);
    connect(m_remove, &QPushButton::clicked, this, &EvidenceView::removeLog);
    connect(m_slips, &LogSlips::removeWanted, this, &EvidenceView::removeLog);
    auto *side = new QWidget(page);
    constexpr int sideWidth = 170;
    giveOneWidth({bring, m_state, m_remove}, sideWidth);
    side->setFixedWidth(bring->width());
    auto *left = new QVBoxLayout(side);
    left->setContentsMargins(0, 0, 0, 0);
    left->setSpacing(4);
    left->addWidget(scroll, 1);
    for (QPushButton *b : {bring, m_state, m_remove})
        left->addWidget(b);

    m_pages = new PageSwitch(page);
    m_strip = new StripPage(m_session, m_pages);
    m_strip->setObjectName(QStringLiteral("strip"));
    m_pulls = new PullsPage(m_session, m_pages);
    m_cleaning = new CleaningPage(m_session, m_pages);
    m_coverage = new CoveragePage(m_session, m_pages);
    m_pages->addPage(tr("Strip"), m_strip);
    m_pages->addPage(tr("Two stretches"), m_pulls);
    m_pages->addPage(tr("Cleaning"), m_cleaning);
    m_pages->addPage(tr("Where been"), m_coverage);
    m_proposals = new ProposalsPage(m_session, m_pages);
    m_pages->addPage(tr("Proposals"), m_proposals);
    m_hindsight = new HindsightPage(m_session, m_pages);
    m_pages->addPage(tr("In hindsight"), m_hindsight);
    connect(m_strip, &StripPage::tablesWanted, this, [this] { emit stationWanted(tablesStation); });
    connect(m_coverage, &CoveragePage::tablesWanted, this, [this] { emit stationWanted(tablesStation); });
    connect(m_proposals, &ProposalsPage::tablesWanted, this, [this] { emit stationWanted(tablesStation); });
    connect(m_hindsight, &HindsightPage::stripWanted, this, [this] { m_pages->showPage(m_strip); });
    connect(m_proposals, &ProposalsPage::stripWanted, this, [this] { m_pages->showPage(m_strip); });
    auto *layout = new QHBoxLayout(page);
    layout->setContentsMargins(6, 6, 6, 6);
    layout->setSpacing(8);
    layout->addWidget(side);
    layout->addWidget(m_pages, 1);
    return page;
}

void EvidenceView::refresh() {
    m_stack->setCurrentIndex(m_session.job().logs.empty() ? 0 : 1);
    const bool can = !m_session.readOnly() && !m_session.evidence().log().empty();
    m_remove->setEnabled(can);
    m_state->setEnabled(can);
}

bool EvidenceView::showInput(const QString &link) {
    if (link.startsWith(QLatin1String("log:"))) {
        m_session.evidence().setLog(link.section(QLatin1Char(':'), 1).toStdString());
        m_pages->showPage(m_pages->pages().front());
        return true;
    }
    for (const QString &filter : {QStringLiteral("limits.clean."), QStringLiteral("limits.evidence.delay.")})
        if (link.startsWith(filter)) {
            auto *edit = findChild<QWidget *>(link.mid(QStringLiteral("limits.").size()));
            if (!edit) return false;
            m_pages->showPage(m_cleaning);
            edit->setFocus();
            return true;
        }
    return false;
}

void EvidenceView::showProposals() {
    if (!m_session.job().logs.empty()) m_pages->showPage(m_proposals);
}

void EvidenceView::takeFiles(const QStringList &files) {
    auto *dialog = new LogImportDialog(m_session, files, window());
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    connect(&dialog->arrival(), &LogArrival::cameIn, this, [this](const std::string &id) {
        m_session.evidence().setLog(id);
        m_pages->showPage(m_strip);
    });
    dialog->open();
}

void EvidenceView::chooseFiles() {
    const QStringList files = QFileDialog::getOpenFileNames(
        this, tr("Bring in logs"), {},
        tr("Logs (*.csv *.tsv *.txt *.log *.dat *.mf4 *.mdf *.mdf4);;All files (*)"));
    if (!files.isEmpty()) takeFiles(files);
}

void EvidenceView::removeLog() {
    const LogInfo *info = logById(m_session.job(), m_session.evidence().log());
    if (!info) return;
    const std::string id = info->id;
    m_session.perform(tr("Take out %1").arg(text(info->name)),
                      [&](Job &job) { wheelwright::removeLog(job, id); });
}

void EvidenceView::stateContent() {
    const LogInfo *info = logById(m_session.job(), m_session.evidence().log());
    if (!info) return;
    const std::string id = info->id;
    const QString name = text(info->name);
    bool ok = false;
    const QString typed =
        QInputDialog::getText(this, tr("Content of %1").arg(name),
                              tr("Alcohol content of its fuel. It is believed over the log's own channel, "
                                 "also where that moves. Empty: as "
                                 "the log says."),
                              QLineEdit::Normal,
                              info->contentBasis == ContentBasis::stated
                                  ? shown(info->content, Dimension::content, m_session.units())
                                  : QString(),
                              &ok);
    if (!ok) return;
    try {
        if (typed.trimmed().isEmpty()) {
            m_session.perform(tr("Content of %1: as the log says").arg(name),
                              [&](Job &job) { wheelwright::unstateContent(job, id); });
        } else {
            const double v =
                parse(typed.toStdString(), Dimension::content, m_session.units(), name.toStdString());
            m_session.perform(tr("Content of %1: %2").arg(name, typed),
                              [&](Job &job) { wheelwright::stateContent(job, id, v); });
        }
    } catch (const InputError &e) {
        m_session.report(text(e.words()));
    }
}

const ViewDefinition &evidenceView() {
    static const ViewDefinition definition{
        .id = "evidence",
        .title = QT_TRANSLATE_NOOP("view", "Evidence"),
        .icon = ":/icons/evidence.svg",
        .position = 7,
        .make = [](Session &s, QWidget *parent) -> View * { return new EvidenceView(s, parent); },
        .actions = {{QT_TRANSLATE_NOOP("view", "Bring in a &log…"), Qt::CTRL | Qt::Key_L,
                     [](const ViewContext &c) { viewOf(c)->chooseFiles(); }},
                    {QT_TRANSLATE_NOOP("view", "What logs &propose for the tables"),
                     Qt::CTRL | Qt::SHIFT | Qt::Key_L,
                     [](const ViewContext &c) { viewOf(c)->showProposals(); }},
                    {QT_TRANSLATE_NOOP("view", "State the content of this log…"),
                     {},
                     [](const ViewContext &c) { viewOf(c)->stateContent(); }},
                    {QT_TRANSLATE_NOOP("view", "Take this log out"),
                     {},
                     [](const ViewContext &c) { viewOf(c)->removeLog(); },
                     true}},
        .takesFile = takesLog};
    return definition;
}

} // namespace wheelwright
