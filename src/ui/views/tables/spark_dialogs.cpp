// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/tables/spark_dialogs.h"

#include "core/base/error.h"
#include "core/report/spark_reports.h"
#include "core/report/working_report.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/widgets/background_preview.h"
#include "ui/widgets/chart_plot.h"
#include "ui/widgets/report_view.h"
#include "ui/widgets/work_bar.h"

#include <QDialogButtonBox>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QRegularExpression>
#include <QVBoxLayout>

namespace wheelwright {
namespace {

Preview ceilingsOf(const Job &job, const std::vector<double> &contents) {
    const Study study(job);
    std::vector<EstimateTable> tables;
    tables.reserve(contents.size());
    for (const double content : contents)
        tables.push_back(estimateTable(study, content));
    Preview p{sparkEstimateReport(study, tables), withEstimatedCeilings(study, tables)};
    if (*p.job == job) p.job.reset();
    return p;
}

Preview curveOf(const Job &job) {
    Job after = job;
    takeKnockShape(after);
    const Study study(job);
    Preview p{knockShapeReport(study, *knockShares(study)), std::nullopt};
    if (!(after == job)) p.job = std::move(after);
    return p;
}

} // namespace

SparkEstimateDialog::SparkEstimateDialog(Session &session, Makes makes, QWidget *parent)
    : QDialog(parent), m_session(session), m_makes(makes) {
    setWindowTitle(makes == Makes::ceilings ? tr("Estimate ceilings and best spark")
                                            : tr("Weight of spark by the estimated knock limit"));
    setProperty("helpPage", "tables");
    m_contents = new QLineEdit(this);
    m_contents->setObjectName(QStringLiteral("contents"));
    m_contents->setPlaceholderText(tr("such as 10 30 50 85; empty: base, middle and top"));
    m_contents->setAccessibleName(tr("Contents, per cent"));
    m_words = new ReportView(tr("What the estimate says"), ReportView::Fit::fills, this);
    m_words->setMinimumSize(640, makes == Makes::ceilings ? 340 : 180);
    m_chart = new ChartPlot(session, tr("Share of the top table over content"), "tables", this);
    m_chart->setMinimumHeight(250);
    m_chart->setVisible(makes == Makes::curve);
    auto *buttons = new QDialogButtonBox(QDialogButtonBox::Cancel, this);
    m_apply = buttons->addButton(makes == Makes::ceilings ? tr("Put them in") : tr("Take this curve"),
                                 QDialogButtonBox::AcceptRole);
    auto *form = new QFormLayout(this);
    if (makes == Makes::ceilings)
        form->addRow(tr("Contents"), m_contents);
    else
        m_contents->hide();
    form->addRow(m_words);
    if (makes == Makes::curve) form->addRow(m_chart);
    m_preview = new BackgroundPreview(this);
    form->addRow(new WorkBar(
        m_preview->work(), [this] { m_preview->cancel(); }, this));
    form->addRow(buttons);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(m_apply, &QPushButton::clicked, this, &SparkEstimateDialog::apply);
    connect(m_contents, &QLineEdit::editingFinished, this, [this] {
        if (m_contents->text() != m_previewed) preview(); // leaving it alone must not take the button away
    });
    connect(m_preview, &BackgroundPreview::ready, this, &SparkEstimateDialog::showPreview);
    preview();
}

std::vector<double> SparkEstimateDialog::contents() const {
    std::vector<double> contents;
    const QStringList parts =
        m_contents->text().split(QRegularExpression(QStringLiteral("[\\s;%]+")), Qt::SkipEmptyParts);
    for (const QString &part : parts)
        contents.push_back(parse(part.toStdString(), Dimension::content, m_session.units(), "contents"));
    const Calibration &c = m_session.job().calibration;
    if (contents.empty()) contents = {c.baseContent, (c.baseContent + c.topContent) / 2, c.topContent};
    return contents;
}

// Hiding takes the focus from the line, which says so to a dialog that is half gone.
SparkEstimateDialog::~SparkEstimateDialog() {
    m_contents->disconnect(this);
}

void SparkEstimateDialog::preview() {
    m_apply->setEnabled(false);
    m_previewed = m_contents->text();
    try {
        m_preview->start(m_session.jobVersion(),
                         [job = m_session.job(), contents = contents(), makes = m_makes] {
                             return makes == Makes::ceilings ? ceilingsOf(job, contents) : curveOf(job);
                         });
    } catch (const InputError &e) {
        m_preview->forget();
        m_words->say({e.words(), Tone::trouble}, m_session.units());
    }
}

// A chart of the report becomes one of the window's.
void SparkEstimateDialog::showPreview() {
    const Preview result = m_preview->result();
    Report words = result.words;
    if (const auto lines = takeChart(words)) {
        Chart chart{text(lines->xTitle), text(lines->yTitle), Dimension::content, Dimension::none, 1, {}, {}};
        Qt::PenStyle style = Qt::SolidLine;
        for (const ReportChart::Line &line : lines->lines) {
            chart.series.push_back({{}, line.x, line.y, palette().color(QPalette::WindowText), style});
            style = Qt::DashLine;
        }
        m_chart->show(std::move(chart));
    }
    m_words->show(std::move(words), m_session.units());
    m_apply->setEnabled(result.job && !m_session.readOnly());
}

void SparkEstimateDialog::apply() {
    if (m_preview->version() != m_session.jobVersion()) return preview(); // of a job that has changed since
    if (m_session.perform(
            m_makes == Makes::ceilings ? tr("Estimate spark") : tr("Spark curve: estimated knock limit"),
            [&](Job &job) { job = *m_preview->result().job; }, CellOrigin::estimated))
        accept();
}

QString SparkEstimateDialog::words() const {
    return m_words->words();
}

FuelWorthDialog::FuelWorthDialog(Session &session, QWidget *parent) : QDialog(parent) {
    setWindowTitle(tr("What is this fuel worth here?"));
    setProperty("helpPage", "tables");
    m_words = new ReportView(tr("What the fuel is worth"), ReportView::Fit::fills, this);
    m_words->setMinimumSize(480, 460);
    m_working = new ReportView(tr("Working of the number that was chosen"), ReportView::Fit::fills, this);
    m_working->setMinimumSize(400, 460);
    auto *buttons = new QDialogButtonBox(this);
    connect(buttons->addButton(tr("Done"), QDialogButtonBox::RejectRole), &QPushButton::clicked, this,
            &QDialog::reject);
    auto *sides = new QHBoxLayout;
    sides->addWidget(m_words, 5);
    sides->addWidget(m_working, 4);
    auto *layout = new QVBoxLayout(this);
    layout->addLayout(sides, 1);
    layout->addWidget(buttons);
    const UnitChoice &units = session.units();
    connect(m_words, &ReportView::explained, this,
            [this, units](const Explanation &working) { m_working->show(workingReport(working), units); });
    m_working->say({MARKED("fuel_worth.choose", "Choose a number to see its working."), Tone::quiet}, units);
    try {
        m_words->show(fuelWorthReport(session.sharedStudy(), session.place()), units);
    } catch (const InputError &e) {
        m_words->say({e.words(), Tone::trouble}, units);
    }
}

QString FuelWorthDialog::words() const {
    return m_words->words();
}

QString FuelWorthDialog::working() const {
    return m_working->words();
}

} // namespace wheelwright
