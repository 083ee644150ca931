// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/ladder/ladder_view.h"

#include "core/report/ladder_reports.h"
#include "session/evidence.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/views/ladder/ladder_forecast_page.h"
#include "ui/views/ladder/ladder_page.h"
#include "ui/views/ladder/ladder_remote_page.h"
#include "ui/widgets/card.h"
#include "ui/widgets/field_form.h"
#include "ui/widgets/page_switch.h"
#include "ui/widgets/record_table.h"
#include "ui/widgets/refresh.h"
#include "ui/widgets/report_view.h"
#include "ui/widgets/sheet_buttons.h"

#include <QCoreApplication>
#include <QHBoxLayout>
#include <QVBoxLayout>

namespace wheelwright {

LadderView::LadderView(Session &session, QWidget *parent)
    : View(parent), m_session(session), m_ladder(new LadderPage(session)),
      m_forecast(new LadderForecastPage(session, m_ladder->book())),
      m_remote(new LadderRemotePage(session, m_ladder->book())), m_pages(new PageSwitch(this)) {
    setProperty("helpPage", "ladder");
    m_pages->addPage(tr("Rungs"), m_ladder);
    m_ladder->setObjectName(QStringLiteral("rungs"));
    m_pages->addPage(tr("Forecast"), m_forecast);
    m_forecast->setObjectName(QStringLiteral("forecast"));
    m_goalPage = makeGoal();
    m_pages->addPage(tr("Goal"), m_goalPage);
    m_goalPage->setObjectName(QStringLiteral("goal"));
    m_sheetPage = makeSheet();
    m_pages->addPage(tr("Sheet"), m_sheetPage);
    m_sheetPage->setObjectName(QStringLiteral("sheet"));
    m_pages->addPage(tr("Far away"), m_remote);
    m_remote->setObjectName(QStringLiteral("remote"));
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(8, 6, 8, 6);
    layout->addWidget(m_pages);
    connect(&m_ladder->book(), &LadderBook::changed, this, &LadderView::refreshSheet);
    connect(&session, &Session::unitsChanged, this, &LadderView::refreshSheet);
    connect(m_ladder, &LadderPage::logWanted, this, [this](const std::string &log, double timeS) {
        m_session.evidence().setMoment(log, timeS);
        emit stationWanted(QStringLiteral("evidence"));
    });
}

QWidget *LadderView::makeGoal() {
    auto *page = new LadderGoalPage;
    m_goal = new FieldForm(m_session, tr("What it is to come to"), {"ladder."},
                           tr("What is not stated follows from the tables and the shelf."), page);
    auto *fuels =
        new RecordTable(m_session, tr("Fuels it must run on"),
                        tr("Each has its rung, whatever power has been reached."), "ladder.fuels", page);
    auto *contents = new RecordTable(m_session, tr("Contents of the way up"),
                                     tr("Without any, six from a tenth to seven tenths, and the top."),
                                     "ladder.contents", page);
    auto *passed = makeCard(page);
    m_passed = new ReportView(tr("Rungs passed"), ReportView::Fit::fills, passed);
    auto *rows = new QVBoxLayout(passed);
    rows->addWidget(makeHead(tr("Rungs passed"), passed));
    rows->addWidget(m_passed, 1);
    (new Refresh(m_session, page))
        ->on(Refresh::job | Refresh::units,
             [this] { m_passed->show(passedReport(m_session.job()), m_session.units()); }, {"ladder.passed"});
    auto *lists = new QVBoxLayout;
    lists->addWidget(fuels, 2);
    lists->addWidget(contents, 3);
    auto *top = new QHBoxLayout;
    top->addWidget(m_goal, 3);
    top->addLayout(lists, 3);
    auto *layout = new QVBoxLayout(page);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addLayout(top, 2);
    layout->addWidget(passed, 1);
    return page;
}

QWidget *LadderView::makeSheet() {
    auto *page = new LadderSheetPage;
    auto *card = makeCard(page);
    m_sheet = new ReportView(tr("Ladder as a sheet"), ReportView::Fit::fills, card);
    connect(m_sheet, &ReportView::explained, this, [this](const Explanation &x) { m_session.explain(x); });
    (new QVBoxLayout(card))->addWidget(m_sheet);
    auto *layout = new QVBoxLayout(page);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(card, 1);
    const auto made = [this] {
        const LadderBook::Shown *shown = m_ladder->book().shown();
        return shown ? ladderReport(shown->ladder).report : Report{};
    };
    m_buttons = new SheetButtons(m_session,
                                 {tr("the ladder"), tr("ladder"), made,
                                  [this, made] { return gridsAsText(made(), m_session.units()); },
                                  tr("Copies it as a table")},
                                 page);
    layout->addWidget(m_buttons, 0, Qt::AlignRight);
    return page;
}

void LadderView::refreshSheet() {
    if (const LadderBook::Shown *shown = m_ladder->book().shown())
        m_sheet->show(ladderReport(shown->ladder), m_session.units());
    else
        m_sheet->say(MARKED("ladder.no_job", "Open a job to see the way up."), m_session.units());
}

void LadderView::showEvent(QShowEvent *event) {
    View::showEvent(event);
    m_ladder->book().setWatched(true);
}

void LadderView::hideEvent(QHideEvent *event) {
    View::hideEvent(event);
    m_ladder->book().setWatched(false);
}

QString LadderView::sheet() const {
    return m_sheet->words();
}

bool LadderView::showInput(const QString &link) {
    if (link.startsWith(QLatin1String("rung:"))) {
        m_pages->showPage(m_ladder);
        return true;
    }
    if (link.startsWith(QLatin1String("ladder.fuels")) || link.startsWith(QLatin1String("ladder.contents"))) {
        m_pages->showPage(m_goalPage);
        return true;
    }
    if (!m_goal->editor(link)) return false;
    m_pages->showPage(m_goalPage);
    return m_goal->showInput(link);
}

const ViewDefinition &ladderView() {
    static const ViewDefinition definition{
        "ladder",
        QT_TRANSLATE_NOOP("view", "Ladder"),
        ":/icons/ladder.svg",
        5,
        [](Session &s, QWidget *parent) -> View * { return new LadderView(s, parent); },
        {{QT_TRANSLATE_NOOP("view", "Take back the last rung that was passed"), {}, [](const ViewContext &c) {
              static_cast<LadderView *>(c.view())->page().takeBack();
          }}}};
    return definition;
}

} // namespace wheelwright
