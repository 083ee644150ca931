// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/runs/run_sheets_page.h"

#include "session/evidence.h"
#include "session/run_book.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/widgets/chart_plot.h"
#include "ui/widgets/choice_keys.h"
#include "ui/widgets/refresh.h"
#include "ui/widgets/report_view.h"
#include "ui/widgets/sheet_buttons.h"
#include "ui/widgets/work_bar.h"
#include "ui/widgets/wrap_row.h"

#include <QButtonGroup>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QPushButton>
#include <QSpinBox>

#include <array>

namespace wheelwright {

RunSheetsPage::RunSheetsPage(Session &session, QWidget *parent)
    : QWidget(parent), m_session(session), m_kinds(new QButtonGroup(this)), m_over(new QComboBox(this)),
      m_rpm(new QSpinBox(this)), m_words(new ReportView(tr("Sheet"), ReportView::Fit::fills, this)),
      m_plot(new ChartPlot(session, tr("Chart of the sheet"), "runs", this)) {
    setObjectName(QStringLiteral("runSheets"));
    m_plot->hide(); // until a sheet has a chart
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 6, 0, 0);
    layout->setSpacing(4);
    layout->addWidget(makeHeadRow());
    auto *beside = new QHBoxLayout;
    beside->addWidget(m_words, 3);
    beside->addWidget(m_plot, 2);
    layout->addLayout(beside, 1);
    m_corner = new SheetButtons(m_session,
                                {tr("the sheet"), QStringLiteral("runs"), [this] { return m_report.report; },
                                 [this] {
                                     const QString grids = gridsAsText(m_report.report, m_session.units());
                                     return grids.isEmpty() ? m_words->words() : grids;
                                 },
                                 tr("As a table for a spreadsheet")},
                                this);
    connect(&m_work, &WorkSignals::finished, this, &RunSheetsPage::show);
    for (auto signal : {&RunBook::runsChanged, &RunBook::choiceChanged, &RunBook::viewingChanged})
        connect(&session.runBook(), signal, this, [this] {
            if (isVisible()) start();
        });
    connect(m_words, &ReportView::explained, this, [this](const Explanation &x) { m_session.explain(x); });
    (new Refresh(session, this))->on(Refresh::units, [this] { show(); });
}

QWidget *RunSheetsPage::makeHeadRow() {
    auto *head = new QWidget(this);
    auto *row = new WrapRow(head);
    const std::array<std::pair<Kind, QString>, 7> titles{{{record, tr("Run sheet")},
                                                          {scatter, tr("Scatter")},
                                                          {contents, tr("Contents")},
                                                          {sweep, tr("Sweep")},
                                                          {cams, tr("Cams")},
                                                          {boost, tr("Boost")},
                                                          {dynos, tr("Dynos")}}};
    constexpr std::array names{"record", "scatter", "contents", "sweep", "cams", "boost", "dynos"};
    for (const auto &[kind, title] : titles) {
        auto *button = new QPushButton(title, head);
        button->setCheckable(true);
        button->setChecked(kind == record);
        button->setObjectName(QStringLiteral("propose.") + QLatin1String(names[kind]));
        m_kinds->addButton(button, kind);
        row->addWidget(button);
    }
    tabToTheOneDown(*m_kinds);
    connect(m_kinds, &QButtonGroup::idClicked, this, [this] { start(); });
    m_over->setObjectName(QStringLiteral("sweepOver"));
    m_over->setAccessibleName(tr("Sweep over"));
    for (const SweepOver over : {SweepOver::spark, SweepOver::content, SweepOver::lambda, SweepOver::boost})
        m_over->addItem(tr("over %1").arg(text(titleOf(over))), static_cast<int>(over));
    connect(m_over, &QComboBox::activated, this, [this] { start(); });
    row->addWidget(m_over);
    constexpr int slowest = 500, fastest = 30'000, usual = 5000, step = 100;
    m_rpm->setObjectName(QStringLiteral("sweepRpm"));
    m_rpm->setAccessibleName(tr("Speed of the sweep"));
    m_rpm->findChild<QLineEdit *>()->setAccessibleName(tr("Speed of the sweep"));
    m_rpm->setRange(slowest, fastest);
    m_rpm->setValue(usual);
    m_rpm->setSingleStep(step);
    m_rpm->setSuffix(tr(" rpm"));
    connect(m_rpm, &QSpinBox::valueChanged, this, [this] { start(); });
    row->addWidget(m_rpm);
    auto *work = new WorkBar(
        m_work, [this] { m_work.cancel(); }, head);
    row->addWidget(work);
    row->setAlignment(work, Qt::AlignRight);
    return head;
}

void RunSheetsPage::showEvent(QShowEvent *event) {
    QWidget::showEvent(event);
    start();
}

void RunSheetsPage::setKind(Kind kind) {
    m_kinds->button(kind)->setChecked(true);
    start();
}

RunSheetsPage::Kind RunSheetsPage::kind() const {
    return static_cast<Kind>(m_kinds->checkedId());
}

QString RunSheetsPage::words() const {
    return m_words->words();
}

bool RunSheetsPage::current() const {
    return m_asked == m_kinds->checkedId() && !m_work.running() &&
           m_work.version() == m_session.jobVersion() && !m_session.runBook().reading();
}

WorkedReport RunSheetsPage::makeCams(const Asked &a) {
    if (!a.before.empty() && !a.after.empty()) {
        std::vector<LambdaAtSwitch> switches;
        for (const auto &log : a.logs)
            for (LambdaAtSwitch &s : lambdaAtSwitches(*log)) {
                s.log = log->info().name;
                switches.push_back(std::move(s));
            }
        return camReport(camCrossing(a.before, a.after, a.how), switches,
                         camCautions(a.job, a.before, a.after, false));
    }
    WorkedReport out;
    out.report.blocks.push_back(
        Heading{MARKED("runs.cam.choose", "Two cams: runs of the low one before, of the high one after"), 0});
    out.say(MARKED("runs.cam.choose_how", "Choose them by their sides in the table above."));
    return out;
}

// Over the chosen runs of both sides; where too few are chosen, over all of one kind.
WorkedReport RunSheetsPage::makeSweep(const Asked &a) {
    MeasuredRuns runs = a.before;
    runs.insert(runs.end(), a.after.begin(), a.after.end());
    constexpr std::size_t fewest = 3;
    if (runs.size() < fewest) runs = ofOneKind(a.all);
    return runSweepReport(sweepOf(runs, a.over, a.rpm, a.how), a.over, a.rpm,
                          alsoDiffering(a.job, runs, a.over));
}

WorkedReport RunSheetsPage::makeSheet(const Asked &a) {
    switch (a.kind) {
    case record:
        return runSheetReport(a.job, a.all);
    case scatter: {
        const auto sets = RunDifferenceFinder(a.job).controlSets(ofOneKind(a.all));
        return scatterReport(sets, scatterOf(sets, a.how));
    }
    case contents:
        return contentsReport(contentLadder(a.job, ofOneKind(a.all), a.how), a.job);
    case sweep:
        return makeSweep(a);
    case cams:
        return makeCams(a);
    case boost: {
        std::vector<BoostShape> shapes;
        for (const auto &r : a.all)
            shapes.push_back(boostShape(*r, ambientOf(a.job, r->run)));
        return boostShapesReport(shapes);
    }
    case dynos:
        return dynosReport(dynoFactors(a.job, a.all, a.how));
    }
    return {};
}

void RunSheetsPage::start() {
    m_asked = m_kinds->checkedId();
    for (QWidget *w : {static_cast<QWidget *>(m_over), static_cast<QWidget *>(m_rpm)})
        w->setEnabled(kind() == sweep);
    const RunBook &book = m_session.runBook();
    Asked a{m_session.job(),
            book.runs(),
            book.measured(RunBook::Side::before),
            book.measured(RunBook::Side::after),
            {},
            book.viewing(),
            kind(),
            static_cast<SweepOver>(m_over->currentData().toInt()),
            static_cast<double>(m_rpm->value())};
    for (const auto &log : m_session.evidence().reviews())
        if (log->hasSamples()) a.logs.push_back(log);
    m_work.start(m_session.jobVersion(), [a = std::move(a)](const WorkControl &) { return makeSheet(a); });
}

void RunSheetsPage::show() {
    m_report = {};
    if (m_work.result())
        m_report = *m_work.result();
    else if (!m_work.error().isEmpty())
        m_report.say(verbatim(m_work.error().toStdString()), Tone::caution);
    WorkedReport said = m_report;
    const std::optional<ReportChart> drawn = takeChart(said.report);
    m_words->show(std::move(said), m_session.units());
    m_plot->setVisible(drawn.has_value());
    if (drawn) m_plot->show(chartOf(*drawn));
}

} // namespace wheelwright
