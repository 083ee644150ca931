// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/flow/injector_change_dialog.h"

#include "core/base/error.h"
#include "core/base/unit.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/views/flow/flow_page.h"
#include "ui/widgets/background_preview.h"
#include "ui/widgets/work_bar.h"

#include <QDialogButtonBox>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTextDocumentFragment>

namespace wheelwright {

InjectorChangeDialog::InjectorChangeDialog(Session &session, QWidget *parent)
    : QDialog(parent), m_session(session), m_words(new QLabel(this)) {
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
    m_words->setWordWrap(true);
    m_words->setMinimumSize(420, 190);
    m_words->setAlignment(Qt::AlignTop);
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
        m_words->setText(m_preview->result().html);
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

namespace {

Preview previewOf(const Job &job, const NewInjectors &typed, const UnitChoice &units) {
    const auto tr = [](const char *text) { return InjectorChangeDialog::tr(text); };
    InjectorChange c = changeInjectors(job, typed);
    const auto ratio = [&](double v) { return shown(v, Dimension::ratio, units); };
    const auto ms = [&](double v) { return shown(v, Dimension::duration, units); };
    QString html = tr("Worst duty over all contents: %1, now %2.")
                       .arg(bigHtml(ratio(c.dutyAfter)), ratio(c.dutyBefore)) +
                   QStringLiteral("<br>") +
                   tr("Shortest pulse: %1, now %2.").arg(ms(c.shortestAfterMs), ms(c.shortestBeforeMs));
    if (!c.shortestLinear)
        html +=
            QStringLiteral("<br>") + troubleHtml(tr("That is under their linear flow: idle will wander."));
    html += QStringLiteral("<br>") +
            (c.rescaled
                 ? tr("The fuel tables hold pulse widths: every cell is rescaled. What remains between the "
                      "cells: %1 at worst (%2, %3), %4 on average.")
                       .arg(ratio(c.residual.worst), shown(c.residual.rpm, Dimension::engineSpeed, units),
                            shown(c.residual.loadKpa, Dimension::pressure, units), ratio(c.residual.mean))
                 : tr("The fuel tables stay as they are: what they hold does not depend on the injectors. "
                      "Tell the controller the new flow and dead time. One that knows only a "
                      "required-fuel constant: multiply that by %1.")
                       .arg(decimals(c.requiredFuelFactor, 4)));
    html += QStringLiteral("<br>") +
            quietHtml(tr("Measured set and dead-time table belong to the old ones and go. Check lambda at "
                         "idle, cruise and low boost before a pull."));
    return {html, std::move(c.job)};
}

} // namespace

void InjectorChangeDialog::preview() {
    m_apply->setEnabled(false);
    try {
        m_preview->start(m_session.jobVersion(),
                         [job = m_session.job(), n = typed(), units = m_session.units()] {
                             return previewOf(job, n, units);
                         });
    } catch (const InputError &e) {
        m_preview->forget();
        m_words->setText(troubleHtml(text(e.words()).toHtmlEscaped()));
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
    return QTextDocumentFragment::fromHtml(m_words->text()).toPlainText();
}

} // namespace wheelwright
