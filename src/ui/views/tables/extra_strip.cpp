// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/tables/extra_strip.h"

#include "core/base/error.h"
#include "core/tables/table_kind.h"
#include "ui/text.h"
#include "ui/widgets/card.h"
#include "ui/widgets/refresh.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>

namespace wheelwright {

ExtraStrip::ExtraStrip(Session &session, QWidget *parent)
    : QWidget(parent), m_session(session), m_words(makeQuiet({}, this)), m_atContent(new QWidget(this)) {
    auto *layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    m_words->setMinimumHeight(m_words->fontMetrics().lineSpacing() * 2); // the longest help, at this width
    m_words->setAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    layout->addWidget(m_words, 1);
    auto *row = new QHBoxLayout(m_atContent);
    row->setContentsMargins(0, 0, 0, 0);
    const auto entry = [&](const QString &title, auto act) {
        auto *edit = new QLineEdit(m_atContent);
        edit->setAccessibleName(title);
        edit->setFixedWidth(72); // "100 %", and a little air
        auto *label = new QLabel(title, m_atContent);
        label->setBuddy(edit);
        row->addWidget(label);
        row->addWidget(edit);
        connect(edit, &QLineEdit::editingFinished, this, act);
        return edit;
    };
    m_foundAt = entry(tr("Found at"), &ExtraStrip::enterContent);
    m_plusMinus = entry(tr("Known to ±"), &ExtraStrip::enterPlusMinus);
    m_plusMinus->setToolTip(tr("Empty: not stated"));
    m_origin = new QPushButton(tr("Cells come from"), m_atContent);
    auto *origins = new QMenu(this);
    for (const CellOrigin o :
         {CellOrigin::typed, CellOrigin::knockSeen, CellOrigin::sweep, CellOrigin::estimated})
        connect(origins->addAction(text(definitionOf(o).title)), &QAction::triggered, this,
                [this, o] { sayOrigin(o); });
    m_origin->setMenu(origins);
    row->addWidget(m_origin);
    layout->addWidget(m_atContent);
    (new Refresh(session, this))
        ->on(Refresh::job | Refresh::units | Refresh::selection | Refresh::state, [this] { refresh(); });
}

void ExtraStrip::refresh() {
    const ExtraTable *extra = m_session.hasJob() ? m_session.extra() : nullptr;
    if (!extra) return;
    const TableKindDefinition &d = definitionOf(extra->kind);
    const UnitChoice &units = m_session.units();
    m_words->setText(text(d.help) + QLatin1Char(' ') +
                     (d.y.single() ? tr("Across: %1.").arg(text(d.x.title))
                                   : tr("Across: %1. Down: %2.").arg(text(d.x.title), text(d.y.title))));
    m_atContent->setVisible(d.atContent);
    // What is being typed stays.
    if (!m_foundAt->hasFocus() || !m_foundAt->isModified())
        m_foundAt->setText(shown(extra->content, Dimension::content, units));
    if (!m_plusMinus->hasFocus() || !m_plusMinus->isModified())
        m_plusMinus->setText(extra->plusMinus > 0 ? shown(extra->plusMinus, d.dimension, units) : QString());
    for (QWidget *w : {static_cast<QWidget *>(m_foundAt), static_cast<QWidget *>(m_plusMinus),
                       static_cast<QWidget *>(m_origin)})
        w->setEnabled(!m_session.readOnly());
}

// One number of the table on the bench; what cannot be read is said, and the old one is there again.
void ExtraStrip::enter(const QLineEdit &typed, const QString &what, double ExtraTable::*member,
                       Dimension dimension) {
    const ExtraTable *extra = m_session.extra();
    if (!extra) return;
    try {
        const QString words = typed.text().trimmed();
        const bool none = words.isEmpty() && member == &ExtraTable::plusMinus;
        const double value =
            none ? 0 : parse(words.toStdString(), dimension, m_session.units(), what.toStdString());
        const RecordId id = *m_session.extraId();
        // As shown it is rounded: leaving it alone must not round what is kept.
        if (typed.isModified() && value != extra->*member)
            m_session.perform(tr("%1: %2 %3").arg(text(extra->name), what, none ? tr("not stated") : words),
                              [&](Job &job) { job.extras[job.extras.placeOf(id)].*member = value; });
    } catch (const InputError &e) {
        m_session.report(text(e.words()));
    }
    m_foundAt->setModified(false);
    m_plusMinus->setModified(false);
    refresh();
}

void ExtraStrip::enterContent() {
    enter(*m_foundAt, tr("found at"), &ExtraTable::content, Dimension::content);
}

void ExtraStrip::enterPlusMinus() {
    if (const ExtraTable *extra = m_session.extra())
        enter(*m_plusMinus, tr("known to ±"), &ExtraTable::plusMinus, definitionOf(extra->kind).dimension);
}

void ExtraStrip::sayOrigin(CellOrigin origin) {
    const ExtraTable *extra = m_session.extra();
    if (!extra) return;
    const CellSet cells = m_session.chosenCells();
    const QString name = text(extra->name), said = text(definitionOf(origin).title);
    m_session.perform(cells.size() == 1 ? tr("%1: a cell %2").arg(name, said)
                                        : tr("%1: %2 cells %3").arg(name).arg(cells.size()).arg(said),
                      [&](Job &job) {
                          Table2D &table = m_session.frontIn(job);
                          for (const CellIndex &cell : cells)
                              table.setOrigin(cell, origin);
                      });
}

} // namespace wheelwright
