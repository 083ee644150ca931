// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/calibration_dialogs.h"

#include "core/base/error.h"
#include "core/job/revision.h"
#include "core/study/fuel_meaning.h"
#include "core/study/load_axis.h"
#include "session/session.h"
#include "ui/rich_text.h"
#include "ui/text.h"
#include "ui/widgets/background_preview.h"
#include "ui/widgets/card.h"
#include "ui/widgets/work_bar.h"

#include <QComboBox>
#include <QDialogButtonBox>
#include <QFormLayout>
#include <QHeaderView>
#include <QLineEdit>
#include <QPushButton>
#include <QRegularExpression>
#include <QTableWidget>
#include <QTextDocumentFragment>
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

// A difference in the shown unit: without the zero of a gauge or a temperature.
QString shownStep(double step, Dimension d, const UnitChoice &units) {
    return QString::number(toShown(step, d, units) - toShown(0, d, units), 'g', 3) + QLatin1Char(' ') +
           text(unitSymbol(d, units));
}

// Of tables whose unit is known; others as they are.
QString tableStep(const Session &session, const Difference &d) {
    const TableField *f = tableByPath(d.path);
    if (!f) return QString::number(d.worst, 'g', 4);
    return shownStep(d.worst, tableIn(session.job(), f->quantity, f->top).dimension, session.units());
}

QString tableRow(const Session &session, const Difference &d) {
    const TableField *f = tableByPath(d.path);
    if (!f) return QString::number(d.y);
    return shown(d.y, tableIn(session.job(), f->quantity, f->top).yDimension(), session.units());
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
    m_words = new QLabel(this);
    m_words->setWordWrap(true);
    m_words->setMinimumSize(520, 210);
    m_words->setAlignment(Qt::AlignTop);
    auto *buttons = new QDialogButtonBox(QDialogButtonBox::Cancel, this);
    m_apply = buttons->addButton(tr("Convert"), QDialogButtonBox::AcceptRole);
    auto *form = new QFormLayout(this);
    form->addRow(tr("Content enters by"), m_school);
    form->addRow(tr("Levels at, %"), m_contents);
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
        m_words->setText(m_preview->result().html);
        m_apply->setEnabled(m_preview->result().job && !m_session.readOnly());
    });
    preview();
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

Preview previewOf(const Job &job, const Asked &asked, const UnitChoice &units) {
    const auto tr = [](const char *words) { return ConvertDialog::tr(words); };
    const bool otherSchool =
        asked.request.school != job.calibration.school || !asked.request.contents.empty();
    SchoolConversion c = convertSchool(job, asked.request);
    QString html =
        text(definitionOf(asked.request.school).help).toHtmlEscaped() +
        QStringLiteral("<table><tr><td>%1&nbsp;</td><td>%2&nbsp;</td><td>%3&nbsp;</td><td>%4</td></tr>")
            .arg(tr("table"), tr("worst error"), tr("mean"), tr("where"));
    for (const SchoolError &e : c.errors) {
        const TableField field = tableIn(job, e.quantity, false);
        const bool exact = std::abs(e.worst) < 1e-9;
        html +=
            QStringLiteral("<tr><td>%1&nbsp;</td><td><b>%2</b>&nbsp;</td><td>%3&nbsp;</td><td>%4</td></tr>")
                .arg(text(field.title).section(QLatin1Char(','), 0, 0),
                     exact ? tr("exact") : shownStep(e.worst, field.dimension, units),
                     exact ? QString() : shownStep(e.mean, field.dimension, units),
                     exact ? QString()
                           : tr("%1, %2 rpm, %3")
                                 .arg(shown(e.content, Dimension::content, units))
                                 .arg(e.rpm)
                                 .arg(shown(e.y, field.yDimension(), units)));
    }
    html += QStringLiteral("</table>");
    Job after = otherSchool ? std::move(c.job) : job;
    if (asked.meaning != after.calibration.fuelMeaning) {
        MeaningChange m = changeFuelMeaning(after, asked.meaning);
        html += tr("Fuel rewritten: between the cells %1 at worst, %2 on average.")
                    .arg(shown(m.residual.worst, Dimension::ratio, units),
                         shown(m.residual.mean, Dimension::ratio, units));
        after = std::move(m.job);
    }
    if (asked.loadAxis != job.calibration.loadAxis) {
        html += tr("<br>Breakpoints of load are rewritten, exactly; the cells stay.");
        after = changeLoadAxis(after, asked.loadAxis);
    }
    if (asked.boostAxis != job.calibration.boostAxis) {
        html += tr("<br>Boost: each gear begins with the row of full throttle, or full throttle with the "
                   "highest gear's; part throttle is lost.");
        after = changeBoostAxis(after, asked.boostAxis);
    }
    if (after == job) return {html, std::nullopt};
    return {html, std::move(after)};
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
                         [job = m_session.job(), asked = std::move(asked), units = m_session.units()] {
                             return previewOf(job, asked, units);
                         });
    } catch (const InputError &e) {
        m_preview->forget();
        m_words->setText(troubleHtml(text(e.words()).toHtmlEscaped()));
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
    return QTextDocumentFragment::fromHtml(m_words->text()).toPlainText();
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
    m_words =
        makeQuiet(tr("A revision keeps every table and setting of the controller. Marked as sent, guarded "
                     "settings are compared with it in Verify."),
                  this);
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
    connect(&session, &Session::problem, m_words, &QLabel::setText);
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
    if (m_list->currentRow() < 0) m_words->setText(tr("Choose a revision in the list."));
    return m_list->currentRow();
}

void RevisionsDialog::keep(bool sent) {
    const std::string name = m_name->text().trimmed().toStdString(), note = m_note->text().toStdString();
    if (m_session.perform(tr("Keep revision %1").arg(m_name->text()), [&](Job &job) {
            keepRevision(job, name, m_session.now().toStdString(), note, sent);
        }))
        m_words->setText(tr("Kept."));
}

void RevisionsDialog::compare() {
    if (chosen() < 0) return;
    const Revision &r = m_session.job().revisions[static_cast<std::size_t>(m_list->currentRow())];
    try {
        const auto differences = differencesOf(restored(m_session.job(), r), m_session.job());
        QStringList lines;
        for (const Difference &d : differences) {
            QString line = text(d.title).toHtmlEscaped();
            if (d.cells > 0)
                line += tr(": %1 cells, at most %2 at %3 rpm, %4")
                            .arg(d.cells)
                            .arg(tableStep(m_session, d))
                            .arg(d.rpm)
                            .arg(tableRow(m_session, d));
            else
                line +=
                    tr(": %1, was %2")
                        .arg(text(d.after).left(40).toHtmlEscaped(), text(d.before).left(40).toHtmlEscaped());
            if (d.guarded) line = tr("<b>guarded</b> ") + line;
            lines << line;
        }
        m_words->setText(lines.isEmpty() ? tr("Nothing differs.") : lines.join(QStringLiteral("<br>")));
    } catch (const InputError &e) {
        m_words->setText(troubleHtml(text(e.words()).toHtmlEscaped()));
    }
}

void RevisionsDialog::restore() {
    if (chosen() < 0) return;
    const Revision r = m_session.job().revisions[static_cast<std::size_t>(m_list->currentRow())];
    if (m_session.perform(
            tr("Restore revision %1").arg(text(r.name)), [&](Job &job) { job = restored(job, r); },
            std::nullopt)) // it brings the origins of then
        m_words->setText(tr("Restored; undo takes it back."));
}

} // namespace wheelwright
