// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/tables/calibration_dialogs.h"

#include "core/base/error.h"
#include "core/report/calibration_reports.h"
#include "core/study/load_axis.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/widgets/background_preview.h"
#include "ui/widgets/card.h"
#include "ui/widgets/chart_plot.h"
#include "ui/widgets/report_view.h"
#include "ui/widgets/work_bar.h"

#include <QComboBox>
#include <QDialogButtonBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QPushButton>
#include <QRegularExpression>
#include <QVBoxLayout>

namespace wheelwright {
namespace {

QComboBox *choiceOf(const char *path, const FieldContent &now, QWidget *parent) {
    const Field &field = *fieldByPath(path);
    auto *box = new QComboBox(parent);
    for (std::size_t i = 0; i < field.choices.size(); ++i)
        box->addItem(text(field.choiceTitles[i]), text(field.choices[i]));
    box->setCurrentIndex(box->findData(text(std::get<std::string>(now))));
    box->setAccessibleName(text(field.title));
    return box;
}

} // namespace

ConvertDialog::ConvertDialog(Session &session, QWidget *parent) : QDialog(parent), m_session(session) {
    setWindowTitle(tr("Convert the calibration"));
    setProperty("helpPage", "tables");
    const Job &job = session.job();
    m_school = choiceOf("calibration.school", fieldByPath("calibration.school")->read(job), this);
    m_meaning =
        choiceOf("calibration.fuel_meaning", fieldByPath("calibration.fuel_meaning")->read(job), this);
    m_loadAxis = choiceOf("calibration.load_axis", fieldByPath("calibration.load_axis")->read(job), this);
    m_boostAxis = choiceOf("calibration.boost_axis", fieldByPath("calibration.boost_axis")->read(job), this);
    m_contents = new QLineEdit(this);
    m_contents->setPlaceholderText(tr("such as 10 30 50 85; empty: five of them"));
    m_contents->setAccessibleName(tr("Contents of the levels, per cent"));
    m_words = new ReportView(tr("What is lost"), ReportView::Fit::fills, this);
    auto *buttons = new QDialogButtonBox(QDialogButtonBox::Cancel, this);
    m_apply = buttons->addButton(tr("Convert"), QDialogButtonBox::AcceptRole);
    auto *form = new QFormLayout;
    form->addRow(tr("Content enters by"), m_school);
    form->addRow(tr("Levels at"), m_contents);
    form->addRow(QString(),
                 makeQuiet(tr("A level is a whole set of tables, made for one content. A stack blends the "
                              "two levels around what is in the tank; files for windows use the one "
                              "whose window it is in."),
                           this));
    form->addRow(tr("Fuel tables hold"), m_meaning);
    form->addRow(tr("Load is"), m_loadAxis);
    form->addRow(tr("Boost goes by"), m_boostAxis);
    form->addRow(m_words);
    m_words->setMinimumSize(440, 180);
    auto *charts = new QVBoxLayout;
    charts->addWidget(makeHead(tr("What is lost over content"), this));
    charts->addWidget(
        makeQuiet(tr("New less old: heavy the worst cell, light the mean size; points are levels."), this));
    for (std::size_t i = 0; i < calibratedQuantityCount; ++i) {
        auto *plot = new ChartPlot(session, tr("What is lost over content"), "tables", this);
        plot->setMinimumSize(380, 118);
        charts->addWidget(plot, 1);
        m_charts.push_back(plot);
    }
    m_exact = makeQuiet(tr("Nothing: every table is exact at every content."), this);
    charts->addWidget(m_exact);
    charts->addStretch(0);
    auto *sides = new QHBoxLayout;
    sides->addLayout(form, 1);
    sides->addLayout(charts, 1);
    auto *all = new QVBoxLayout(this);
    all->addLayout(sides, 1);
    all->addWidget(buttons);
    connect(m_loadAxis, &QComboBox::currentIndexChanged, this, &ConvertDialog::preview);
    connect(m_boostAxis, &QComboBox::currentIndexChanged, this, &ConvertDialog::preview);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(m_apply, &QPushButton::clicked, this, &ConvertDialog::convert);
    connect(m_school, &QComboBox::currentIndexChanged, this, &ConvertDialog::preview);
    connect(m_meaning, &QComboBox::currentIndexChanged, this, &ConvertDialog::preview);
    connect(m_contents, &QLineEdit::editingFinished, this, &ConvertDialog::preview);
    m_preview = new BackgroundPreview(this);
    form->addRow(new WorkBar(
        m_preview->work(), [this] { m_preview->cancel(); }, this));
    connect(m_preview, &BackgroundPreview::ready, this, [this] {
        m_words->show(m_preview->result().words, m_session.units());
        showCharts();
        m_apply->setEnabled(m_preview->result().job && !m_session.readOnly());
    });
    preview();
}

// Hiding takes the focus from the line, which says so to a dialog that is half gone.
ConvertDialog::~ConvertDialog() {
    m_contents->disconnect(this);
}

SchoolRequest ConvertDialog::typed() const {
    SchoolRequest request;
    request.school = static_cast<School>(m_school->currentIndex());
    const QStringList parts =
        m_contents->text().split(QRegularExpression(QStringLiteral("[\\s;%]+")), Qt::SkipEmptyParts);
    for (const QString &part : parts)
        request.contents.push_back(
            parse(part.toStdString(), Dimension::content, m_session.units(), "contents"));
    return request;
}

// The fuel model is made for true VE.
FuelMeaning ConvertDialog::meaningFor(School school) const {
    return school == School::fuelModel ? FuelMeaning::trueVe
                                       : static_cast<FuelMeaning>(m_meaning->currentIndex());
}

namespace {

/// All that the window asks for.
struct Asked {
    SchoolRequest request;
    FuelMeaning meaning;
    LoadAxis loadAxis;
    BoostAxis boostAxis;
};

Preview previewOf(const Job &job, const Asked &asked) {
    const bool otherSchool =
        asked.request.school != job.calibration.school || !asked.request.contents.empty();
    SchoolConversion c = convertSchool(job, asked.request);
    ConversionLoss loss{asked.request.school, std::move(c.errors)};
    for (const ContentLevel &level : c.job.calibration.levels)
        loss.levels.push_back(level.content);
    Job after = job;
    if (otherSchool) after = std::move(c.job);
    if (asked.meaning != after.calibration.fuelMeaning) {
        MeaningChange m = changeFuelMeaning(after, asked.meaning);
        loss.fuel = m.residual;
        after = std::move(m.job);
    }
    loss.loadAxis = asked.loadAxis != job.calibration.loadAxis;
    if (loss.loadAxis) after = changeLoadAxis(after, asked.loadAxis);
    loss.boostAxis = asked.boostAxis != job.calibration.boostAxis;
    if (loss.boostAxis) after = changeBoostAxis(after, asked.boostAxis);
    Preview preview{conversionReport(job, loss), std::nullopt, conversionCharts(job, loss)};
    if (!(after == job)) preview.job = std::move(after);
    return preview;
}

} // namespace

void ConvertDialog::preview() {
    m_apply->setEnabled(false);
    try {
        Asked asked{typed(), meaningFor(typed().school), static_cast<LoadAxis>(m_loadAxis->currentIndex()),
                    static_cast<BoostAxis>(m_boostAxis->currentIndex())};
        m_contents->setEnabled(definitionOf(asked.request.school).levels);
        m_meaning->setEnabled(asked.request.school != School::fuelModel);
        m_preview->start(m_session.jobVersion(),
                         [job = m_session.job(), asked = std::move(asked)] { return previewOf(job, asked); });
    } catch (const InputError &e) {
        m_preview->forget();
        m_words->say({e.words(), Tone::trouble}, m_session.units());
    }
}

void ConvertDialog::showCharts() {
    const std::vector<ReportChart> charts = m_preview->result().charts;
    for (std::size_t i = 0; i < m_charts.size(); ++i) {
        m_charts[i]->setVisible(i < charts.size());
        if (i < charts.size()) m_charts[i]->show(chartOf(charts[i]));
    }
    m_exact->setVisible(charts.empty());
}

void ConvertDialog::convert() {
    if (m_preview->version() != m_session.jobVersion()) return preview(); // of a job that has changed since
    if (m_session.perform(
            tr("Convert: %1").arg(m_school->currentText()), [&](Job &job) { job = *m_preview->result().job; },
            CellOrigin::model))
        accept();
}

QString ConvertDialog::words() const {
    return m_words->words();
}

} // namespace wheelwright
