// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/runs/run_sheets_page.h"

#include "core/base/error.h"
#include "session/run_book.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/widgets/chart_plot.h"
#include "ui/widgets/refresh.h"
#include "ui/widgets/report_text.h"
#include "ui/widgets/report_view.h"
#include "ui/widgets/work_bar.h"

#include <QApplication>
#include <QButtonGroup>
#include <QClipboard>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QPrintDialog>
#include <QPrinter>
#include <QPushButton>

#include <array>

namespace wheelwright {

RunSheetsPage::RunSheetsPage(Session &session, QWidget *parent)
    : QWidget(parent), m_session(session), m_kinds(new QButtonGroup(this)),
      m_words(new ReportView(tr("Sheet"), ReportView::Fit::fills, this)),
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
    connect(&m_work, &WorkSignals::finished, this, &RunSheetsPage::show);
    for (auto signal : {&RunBook::runsChanged, &RunBook::choiceChanged, &RunBook::viewingChanged})
        connect(&session.runBook(), signal, this, [this] {
            if (isVisible()) start();
        });
    (new Refresh(session, this))->on(Refresh::units, [this] { show(); });
}

QWidget *RunSheetsPage::makeHeadRow() {
    auto *head = new QWidget(this);
    auto *row = new QHBoxLayout(head);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(4);
    const std::array<std::pair<Kind, QString>, 6> titles{{{record, tr("Run sheet")},
                                                          {scatter, tr("Scatter")},
                                                          {contents, tr("Contents")},
                                                          {cams, tr("Cams")},
                                                          {boost, tr("Boost")},
                                                          {dynos, tr("Dynos")}}};
    constexpr std::array names{"record", "scatter", "contents", "cams", "boost", "dynos"};
    for (const auto &[kind, title] : titles) {
        auto *button = new QPushButton(title, head);
        button->setCheckable(true);
        button->setChecked(kind == record);
        button->setObjectName(QStringLiteral("propose.") + QLatin1String(names[kind]));
        m_kinds->addButton(button, kind);
        row->addWidget(button);
    }
    connect(m_kinds, &QButtonGroup::idClicked, this, [this] { start(); });
    row->addStretch(1);
    row->addWidget(new WorkBar(
        m_work, [this] { m_work.cancel(); }, head));
    auto *copyButton = new QPushButton(tr("Copy"), head);
    copyButton->setToolTip(tr("As a table for a spreadsheet"));
    auto *saveButton = new QPushButton(tr("Save…"), head), *printButton = new QPushButton(tr("Print…"), head);
    connect(copyButton, &QPushButton::clicked, this, &RunSheetsPage::copy);
    connect(saveButton, &QPushButton::clicked, this, &RunSheetsPage::save);
    connect(printButton, &QPushButton::clicked, this, &RunSheetsPage::print);
    for (QPushButton *b : {copyButton, saveButton, printButton})
        row->addWidget(b);
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

Report RunSheetsPage::makeSheet(const Job &job, const MeasuredRuns &all, const MeasuredRuns &before,
                                const MeasuredRuns &after, const RunViewing &how, Kind kind) {
    switch (kind) {
    case record:
        return runSheetReport(job, all);
    case scatter: {
        const auto sets = RunDifferenceFinder(job).controlSets(ofOneKind(all));
        return scatterReport(sets, scatterOf(sets, how));
    }
    case contents:
        return contentsReport(contentLadder(job, ofOneKind(all), how), job);
    case cams: {
        if (!before.empty() && !after.empty()) return camReport(camCrossing(before, after, how));
        Report out;
        out.blocks.push_back(Heading{
            MARKED("runs.cam.choose", "Two cams: runs of the low one before, of the high one after"), 0});
        out.blocks.push_back(
            Sentence{MARKED("runs.cam.choose_how", "Choose them by their sides in the table above.")});
        return out;
    }
    case boost: {
        std::vector<BoostShape> shapes;
        for (const auto &r : all)
            shapes.push_back(boostShape(*r, ambientOf(job, r->run)));
        return boostShapesReport(shapes);
    }
    case dynos:
        return dynosReport(dynoFactors(job, all, how));
    }
    return {};
}

void RunSheetsPage::start() {
    m_asked = m_kinds->checkedId();
    const RunBook &book = m_session.runBook();
    m_work.start(m_session.jobVersion(),
                 [job = m_session.job(), all = book.runs(), before = book.measured(RunBook::Side::before),
                  after = book.measured(RunBook::Side::after), how = book.viewing(), kind = kind()](
                     const WorkControl &) { return makeSheet(job, all, before, after, how, kind); });
}

void RunSheetsPage::show() {
    m_report = {};
    if (m_work.result())
        m_report = *m_work.result();
    else if (!m_work.error().isEmpty())
        m_report.blocks.push_back(Sentence{verbatim(m_work.error().toStdString()), Tone::caution});
    Report said = m_report;
    const ReportChart *drawn = nullptr;
    for (const Block &b : m_report.blocks)
        if (const auto *chart = std::get_if<ReportChart>(&b)) drawn = chart;
    std::erase_if(said.blocks, [](const Block &b) { return std::holds_alternative<ReportChart>(b); });
    m_words->show(said, m_session.units());
    m_plot->setVisible(drawn != nullptr);
    if (!drawn) return;
    Chart chart;
    chart.xTitle = text(drawn->xTitle);
    chart.yTitle = text(drawn->yTitle);
    chart.x = drawn->x;
    chart.y = drawn->y;
    for (const ReportChart::Line &l : drawn->lines) {
        ChartSeries s;
        s.x = l.x;
        s.y = l.y;
        s.color = theme().ink;
        if (l.x.size() < 10) s.mark = QCPScatterStyle::ssDisc; // rungs rather than a curve
        chart.series.push_back(std::move(s));
    }
    m_plot->show(std::move(chart));
}

void RunSheetsPage::print() {
    QPrinter printer;
    QPrintDialog dialog(&printer, this);
    dialog.setWindowTitle(tr("Print the sheet"));
    if (dialog.exec() == QDialog::Accepted) paintReport(printer, m_report, m_session.units());
}

void RunSheetsPage::save() {
    const QString path =
        QFileDialog::getSaveFileName(this, tr("Save the sheet"), QStringLiteral("runs.pdf"),
                                     tr("PDF (*.pdf);;HTML page (*.html);;Plain text (*.txt)"));
    if (path.isEmpty()) return;
    try {
        saveReport(path, m_report, m_session.units());
    } catch (const InputError &e) {
        m_session.report(text(e.words()));
    }
}

void RunSheetsPage::copy() const {
    QString out;
    for (const Block &b : m_report.blocks) {
        const auto *grid = std::get_if<Grid>(&b);
        if (!grid) continue;
        QStringList cells;
        for (const Phrase &head : grid->heads)
            cells << text(head);
        out += cells.join(QLatin1Char('\t')) + QLatin1Char('\n');
        for (const auto &row : grid->rows) {
            cells.clear();
            for (const Sentence &s : row)
                cells << text(s.words, m_session.units());
            out += cells.join(QLatin1Char('\t')) + QLatin1Char('\n');
        }
    }
    QApplication::clipboard()->setText(out.isEmpty() ? m_words->words() : out);
}

} // namespace wheelwright
