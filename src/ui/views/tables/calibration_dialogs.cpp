// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/tables/calibration_dialogs.h"

#include "core/base/error.h"
#include "core/report/calibration_reports.h"
#include "core/study/load_axis.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/widgets/background_preview.h"
#include "ui/widgets/card.h"
#include "ui/widgets/report_view.h"
#include "ui/widgets/work_bar.h"

#include <QComboBox>
#include <QDialogButtonBox>
#include <QFormLayout>
#include <QHeaderView>
#include <QLineEdit>
#include <QPushButton>
#include <QRegularExpression>
#include <QTableWidget>
#include <QVBoxLayout>

#include <cmath>

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
    m_words->setMinimumSize(520, 220);
    auto *buttons = new QDialogButtonBox(QDialogButtonBox::Cancel, this);
    m_apply = buttons->addButton(tr("Convert"), QDialogButtonBox::AcceptRole);
    auto *form = new QFormLayout(this);
    form->addRow(tr("Content enters by"), m_school);
    form->addRow(tr("Levels at"), m_contents);
    form->addRow(tr("Fuel tables hold"), m_meaning);
    form->addRow(tr("Load is"), m_loadAxis);
    form->addRow(tr("Boost goes by"), m_boostAxis);
    form->addRow(m_words);
    form->addRow(buttons);
    connect(m_loadAxis, &QComboBox::currentIndexChanged, this, &ConvertDialog::preview);
    connect(m_boostAxis, &QComboBox::currentIndexChanged, this, &ConvertDialog::preview);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(m_apply, &QPushButton::clicked, this, &ConvertDialog::convert);
    connect(m_school, &QComboBox::currentIndexChanged, this, &ConvertDialog::preview);
    connect(m_meaning, &QComboBox::currentIndexChanged, this, &ConvertDialog::preview);
    connect(m_contents, &QLineEdit::editingFinished, this, &ConvertDialog::preview);
    m_preview = new BackgroundPreview(this);
    form->insertRow(form->rowCount() - 1, new WorkBar(
                                              m_preview->work(), [this] { m_preview->cancel(); }, this));
    connect(m_preview, &BackgroundPreview::ready, this, [this] {
        m_words->show(m_preview->result().words, m_session.units());
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
    Preview preview{conversionReport(job, loss), std::nullopt};
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

RevisionsDialog::RevisionsDialog(Session &session, QWidget *parent) : QDialog(parent), m_session(session) {
    setWindowTitle(tr("Revisions"));
    setProperty("helpPage", "tables");
    resize(620, 460);
    m_list = new QTableWidget(0, 4, this);
    m_list->setHorizontalHeaderLabels({tr("Revision"), tr("When"), tr("Sent"), tr("Note")});
    m_list->horizontalHeader()->setStretchLastSection(true);
    m_list->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    m_list->verticalHeader()->hide();
    m_list->setSelectionBehavior(QAbstractItemView::SelectRows);
    m_list->setSelectionMode(QAbstractItemView::SingleSelection);
    m_list->setEditTriggers(QAbstractItemView::NoEditTriggers);
    m_list->setAccessibleName(tr("Revisions that were kept"));
    m_name = new QLineEdit(this);
    m_name->setObjectName(QStringLiteral("name"));
    m_note = new QLineEdit(this);
    m_words = new ReportView(tr("About it"), ReportView::Fit::steady, this, 6);
    m_words->say(
        {MARKED("revisions.about", "A revision keeps every table and setting of the controller. Marked "
                                   "as sent, guarded settings are compared with it in Verify."),
         Tone::quiet},
        session.units());
    auto *form = new QFormLayout;
    form->addRow(tr("Name"), m_name);
    form->addRow(tr("Note"), m_note);
    auto *row = new QHBoxLayout;
    const auto button = [&](const QString &title, const char *name, auto act) {
        auto *b = new QPushButton(title, this);
        b->setObjectName(QLatin1String(name));
        connect(b, &QPushButton::clicked, this, act);
        row->addWidget(b);
    };
    button(tr("Keep"), "keep", [this] { keep(false); });
    button(tr("Keep as sent"), "keepSent", [this] { keep(true); });
    button(tr("Compare with now"), "compare", [this] { compare(); });
    button(tr("Restore"), "restore", [this] { restore(); });
    auto *layout = new QVBoxLayout(this);
    layout->addLayout(form);
    layout->addWidget(m_list, 1);
    layout->addLayout(row);
    layout->addWidget(m_words);
    // At once, since what is done to a revision goes by its row.
    connect(&session, &Session::jobChanged, this, [this](const JobChange &change) {
        if (change.touches("revisions")) refresh();
    });
    connect(&session, &Session::problem, this, [this](const QString &sentence) {
        m_words->say({verbatim(sentence.toStdString()), Tone::trouble}, m_session.units());
    });
    refresh();
}

void RevisionsDialog::refresh() {
    const auto &revisions = m_session.job().revisions;
    m_list->setRowCount(static_cast<int>(revisions.size()));
    for (int i = 0; i < m_list->rowCount(); ++i) {
        const Revision &r = revisions[static_cast<std::size_t>(i)];
        const QStringList cells{text(r.name), text(r.at), r.sent ? tr("sent") : QString(), text(r.note)};
        for (int c = 0; c < cells.size(); ++c)
            m_list->setItem(i, c, new QTableWidgetItem(cells[c]));
    }
}

int RevisionsDialog::chosen() const {
    if (m_list->currentRow() < 0)
        m_words->say(MARKED("revisions.choose", "Choose a revision in the list."), m_session.units());
    return m_list->currentRow();
}

void RevisionsDialog::keep(bool sent) {
    const std::string name = m_name->text().trimmed().toStdString(), note = m_note->text().toStdString();
    if (m_session.perform(tr("Keep revision %1").arg(m_name->text()), [&](Job &job) {
            keepRevision(job, name, m_session.now().toStdString(), note, sent);
        }))
        m_words->say(MARKED("revisions.kept", "Kept."), m_session.units());
}

void RevisionsDialog::compare() {
    if (chosen() < 0) return;
    const Revision &r = m_session.job().revisions[static_cast<std::size_t>(m_list->currentRow())];
    try {
        m_words->show(
            differencesReport(m_session.job(), differencesOf(restored(m_session.job(), r), m_session.job())),
            m_session.units());
    } catch (const InputError &e) {
        m_words->say({e.words(), Tone::trouble}, m_session.units());
    }
}

void RevisionsDialog::restore() {
    if (chosen() < 0) return;
    const auto place = static_cast<std::size_t>(m_list->currentRow());
    const std::string name = m_session.job().revisions[place].name;
    if (m_session.perform(
            tr("Restore revision %1").arg(text(name)), [&](Job &job) { job = takenBack(job, place); },
            std::nullopt)) // it brings the origins of then
        m_words->say(MARKED("revisions.restored", "Restored; undo takes it back."), m_session.units());
}

} // namespace wheelwright
