// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/new_job_dialog.h"

#include "core/base/error.h"
#include "core/study/job_template.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/widgets/card.h"
#include "ui/widgets/report_view.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

namespace wheelwright {
namespace {

constexpr int aspirated = 2; ///< in the list of what the boost comes from

} // namespace

NewJobDialog::NewJobDialog(const Session &session, QWidget *parent)
    : QDialog(parent), m_session(session), m_job(newJob("New job")) {
    setWindowTitle(tr("New job"));
    setProperty("helpPage", "start");
    auto *form = new QFormLayout(this);
    m_name = new QLineEdit(tr("New job"), this);
    m_name->setObjectName(QStringLiteral("name"));
    m_name->selectAll();
    form->addRow(tr("Name"), m_name);
    const auto number = [&](const QString &title, const char *name, Dimension d, double &target) {
        auto *edit = new QLineEdit(d == Dimension::none ? briefText(target, session.units())
                                                        : shown(target, d, session.units()),
                                   this);
        edit->setObjectName(QLatin1String(name));
        edit->setAccessibleName(title);
        form->addRow(title, edit);
        m_entries.push_back({edit, d, &target});
    };
    number(tr("Displacement"), "displacement", Dimension::displacement, m_displacementL);
    number(tr("Cylinders"), "cylinders", Dimension::none, m_cylinders);
    number(tr("Compression ratio"), "compression", Dimension::none, m_compressionRatio);
    number(tr("Rev limit"), "revLimit", Dimension::engineSpeed, m_revLimitRpm);
    number(tr("Torque peak, 0: not known"), "torquePeak", Dimension::engineSpeed, m_torquePeakRpm);
    m_charging = new QComboBox(this);
    m_charging->setObjectName(QStringLiteral("charging"));
    m_charging->addItems({tr("A turbine, which has to spin up"), tr("A blower on the crank, at once"),
                          tr("Nothing: naturally aspirated")});
    m_charging->setAccessibleName(tr("Boost from"));
    form->addRow(tr("Boost from"), m_charging);
    number(tr("Boost wanted on the top fuel"), "boost", Dimension::pressureDifference, m_boostKpa);
    connect(m_charging, &QComboBox::currentIndexChanged, this, [this, boost = m_entries.back().edit] {
        boost->setEnabled(m_charging->currentIndex() != aspirated);
    });
    m_alcohol = new QComboBox(this);
    m_alcohol->addItems({tr("Ethanol"), tr("Methanol")});
    m_alcohol->setAccessibleName(tr("Alcohol"));
    form->addRow(tr("Alcohol"), m_alcohol);
    number(tr("Base fuel holds"), "baseContent", Dimension::content, m_baseContent);
    number(tr("Top fuel holds"), "topContent", Dimension::content, m_topContent);
    number(tr("Injectors, each, at 300 kPa"), "injectors", Dimension::volumeFlow, m_injectorCcMin);
    m_estimate = new QCheckBox(tr("Estimate the tables from this"), this);
    m_estimate->setChecked(true);
    form->addRow(m_estimate);
    m_words = new ReportView(tr("About it"), ReportView::Fit::steady, this, 5);
    m_words->setMinimumWidth(430);
    m_words->say(
        {MARKED("new_job.about",
                "The estimate is modest, from memory and common practice, and every cell is marked as "
                "one. It is not a calibration: check every number before the engine makes load. "
                "Without it the tables are flat."),
         Tone::quiet},
        session.units());
    form->addRow(m_words);
    auto *buttons = new QDialogButtonBox(QDialogButtonBox::Cancel, this);
    buttons->addButton(tr("Make the job…"), QDialogButtonBox::AcceptRole);
    connect(buttons, &QDialogButtonBox::accepted, this, &NewJobDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    form->addRow(buttons);
}

void NewJobDialog::accept() {
    const QString name = m_name->text().trimmed();
    try {
        for (const Entry &e : m_entries)
            *e.target = parse(e.edit->text().toStdString(), e.dimension, m_session.units(),
                              e.edit->accessibleName().toStdString());
        EngineTemplate known;
        known.name = name.toStdString();
        known.displacementL = m_displacementL;
        known.cylinders = m_cylinders;
        known.revLimitRpm = m_revLimitRpm;
        known.torquePeakRpm = m_torquePeakRpm;
        known.boostKpa = m_charging->currentIndex() == aspirated ? 0 : m_boostKpa;
        known.charging = m_charging->currentIndex() == 1 ? Charging::blower : Charging::turbo;
        known.alcohol = m_alcohol->currentIndex() == 1 ? Alcohol::methanol : Alcohol::ethanol;
        known.baseContent = m_baseContent;
        known.topContent = m_topContent;
        known.injectorCcMin = m_injectorCcMin;
        known.compressionRatio = m_compressionRatio;
        known.stated.assign(templateFields.begin(), templateFields.end()); // all of them stand in the form
        m_job = m_estimate->isChecked() ? templateJob(known) : flatJob(known);
        QDialog::accept();
    } catch (const InputError &e) {
        m_words->say({e.words(), Tone::trouble}, m_session.units());
    }
}

} // namespace wheelwright
