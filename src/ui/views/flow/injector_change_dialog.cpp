// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/flow/injector_change_dialog.h"

#include "core/base/error.h"
#include "core/base/unit.h"
#include "core/report/calibration_reports.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/widgets/background_preview.h"
#include "ui/widgets/report_view.h"
#include "ui/widgets/work_bar.h"

#include <QDialogButtonBox>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

namespace wheelwright {

InjectorChangeDialog::InjectorChangeDialog(Session &session, QWidget *parent)
    : QDialog(parent), m_session(session),
      m_words(new ReportView(tr("What becomes of it"), ReportView::Fit::fills, this)) {
    setWindowTitle(tr("Change injectors"));
    setProperty("helpPage", "flow");
    new QFormLayout(this);
    const Injectors &inj = session.job().injectors;
    addEntry(tr("Flow of one"), "flow", Dimension::volumeFlow, &NewInjectors::flowCcMin, inj.flowCcMin);
    addEntry(tr("Rated at"), "rated", Dimension::pressureDifference, &NewInjectors::ratedPressureKpa,
             inj.ratedPressureKpa);
    addEntry(tr("Dead time"), "dead", Dimension::duration, &NewInjectors::deadTimeMs, inj.deadTimeMs);
    addEntry(tr("Linear from (0: not stated)"), "linear", Dimension::duration, &NewInjectors::linearMinMs, 0);
    addEntry(tr("Rated with fluid of (0: fuel)"), "fluid", Dimension::density, &NewInjectors::testFluidKgM3,
             0);
    m_words->setMinimumSize(420, 200);
    auto *form = static_cast<QFormLayout *>(layout());
    form->addRow(m_words);
    auto *buttons = new QDialogButtonBox(QDialogButtonBox::Cancel, this);
    m_apply = buttons->addButton(tr("Change them"), QDialogButtonBox::AcceptRole);
    form->addRow(buttons);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(m_apply, &QPushButton::clicked, this, &InjectorChangeDialog::change);
    m_preview = new BackgroundPreview(this);
    form->insertRow(form->rowCount() - 1, new WorkBar(
                                              m_preview->work(), [this] { m_preview->cancel(); }, this));
    connect(m_preview, &BackgroundPreview::ready, this, [this] {
        m_words->show(m_preview->result().words, m_session.units());
        m_apply->setEnabled(m_preview->result().job && !m_session.readOnly());
    });
    preview();
}

void InjectorChangeDialog::addEntry(const QString &title, const char *name, Dimension dimension,
                                    double NewInjectors::*member, double start) {
    auto *edit = new QLineEdit(shown(start, dimension, m_session.units()), this);
    edit->setObjectName(QLatin1String(name));
    edit->setAccessibleName(title);
    static_cast<QFormLayout *>(layout())->addRow(title, edit);
    m_entries.push_back({edit, dimension, member});
    connect(edit, &QLineEdit::textChanged, this, &InjectorChangeDialog::preview);
}

NewInjectors InjectorChangeDialog::typed() const {
    NewInjectors n;
    for (const Entry &e : m_entries)
        n.*e.member = parse(e.edit->text().toStdString(), e.dimension, m_session.units(),
                            e.edit->accessibleName().toStdString());
    return n;
}

void InjectorChangeDialog::preview() {
    m_apply->setEnabled(false);
    try {
        m_preview->start(m_session.jobVersion(), [job = m_session.job(), n = typed()] {
            InjectorChange c = changeInjectors(job, n);
            Report words = injectorChangeReport(c);
            return Preview{std::move(words), std::move(c.job)};
        });
    } catch (const InputError &e) {
        m_preview->forget();
        m_words->say({e.words(), Tone::trouble}, m_session.units());
    }
}

void InjectorChangeDialog::change() {
    const NewInjectors n = typed();
    if (m_preview->version() != m_session.jobVersion()) return preview(); // of a job that has changed since
    if (m_session.perform(
            tr("Change injectors to %1").arg(shown(n.flowCcMin, Dimension::volumeFlow, m_session.units())),
            [&](Job &job) { job = *m_preview->result().job; }, CellOrigin::model))
        accept();
}

QString InjectorChangeDialog::words() const {
    return m_words->words();
}

} // namespace wheelwright
