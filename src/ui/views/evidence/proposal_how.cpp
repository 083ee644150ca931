// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/evidence/proposal_how.h"

#include "session/session.h"
#include "ui/text.h"
#include "ui/widgets/card.h"

#include <QCheckBox>
#include <QDoubleSpinBox>
#include <QFormLayout>
#include <QFrame>
#include <QLineEdit>

namespace wheelwright {
namespace {

constexpr double percent = 100;

// Its least value stands for what the job says.
QDoubleSpinBox *makeBox(double most, double step, int decimals, const QString &suffix, QWidget *parent) {
    auto *box = new QDoubleSpinBox(parent);
    box->setRange(0, most);
    box->setSingleStep(step);
    box->setDecimals(decimals);
    box->setSuffix(suffix);
    box->setKeyboardTracking(false);
    return box;
}

std::optional<double> given(const QDoubleSpinBox &box, double scale = 1) {
    return box.value() > 0 ? std::optional(box.value() / scale) : std::nullopt;
}

} // namespace

ProposalHow::ProposalHow(Session &session, Proposals &proposals, QWidget *parent)
    : QPushButton(parent), m_session(session), m_proposals(proposals), m_panel(new QFrame(this, Qt::Popup)),
      m_damping(makeBox(percent, 5, 0, tr(" %"), m_panel)),
      m_clamp(makeBox(percent, 1, 1, tr(" %"), m_panel)), m_leastHits(makeBox(1000, 1, 0, {}, m_panel)),
      m_delay(makeBox(2000, 10, 0, tr(" ms"), m_panel)), m_rings(new QSpinBox(m_panel)),
      m_nearest(new QCheckBox(tr("Each sample to its nearest cell alone"), m_panel)) {
    setObjectName(QStringLiteral("how"));
    setToolTip(tr("How it is made, for this look at it: the job's limits stay"));
    QSizePolicy kept = sizePolicy(); // what is below it stays where it is
    kept.setRetainSizeWhenHidden(true);
    setSizePolicy(kept);
    m_panel->setFrameShape(QFrame::StyledPanel);
    m_rings->setRange(0, 3);
    auto *form = new QFormLayout(m_panel);
    // Read out by their names as well; of a spin box it is the field in it that has the focus.
    const auto add = [form](const QString &title, QAbstractSpinBox *box) {
        box->setAccessibleName(title);
        box->findChild<QLineEdit *>()->setAccessibleName(title);
        form->addRow(title, box);
    };
    add(tr("Share of an error that is corrected"), m_damping);
    add(tr("A cell moves at once by, most"), m_clamp);
    add(tr("Samples in a cell, least"), m_leastHits);
    add(tr("Rings of cells around that follow"), m_rings);
    add(tr("λ comes late by"), m_delay);
    form->addRow(m_nearest);
    auto *reset = new QPushButton(tr("As the job says"), m_panel);
    reset->setObjectName(QStringLiteral("asTheJobSays"));
    form->addRow(reset);
    form->addRow(makeQuiet(tr("Drag over cells, or Shift with the arrows, to mark a region:\nit gets one "
                              "correction, by all of its samples. Escape unmarks it."),
                           m_panel));
    m_damping->setObjectName(QStringLiteral("damping"));
    m_clamp->setObjectName(QStringLiteral("clamp"));
    m_leastHits->setObjectName(QStringLiteral("leastHits"));
    m_delay->setObjectName(QStringLiteral("delay"));
    m_rings->setObjectName(QStringLiteral("rings"));
    for (QDoubleSpinBox *box : {m_damping, m_clamp, m_leastHits, m_delay})
        connect(box, &QDoubleSpinBox::valueChanged, this, &ProposalHow::apply);
    connect(m_rings, &QSpinBox::valueChanged, this, &ProposalHow::apply);
    connect(m_nearest, &QCheckBox::toggled, this, &ProposalHow::apply);
    connect(reset, &QPushButton::clicked, this, &ProposalHow::asTheJobSays);
    connect(this, &QPushButton::clicked, this, &ProposalHow::open);
}

void ProposalHow::open() {
    refresh();
    m_panel->adjustSize();
    m_panel->move(mapToGlobal(QPoint(width() - m_panel->width(), height() + 2)));
    m_panel->show();
    m_damping->setFocus();
}

void ProposalHow::refresh() {
    m_filling = true;
    const Proposals::How &how = m_proposals.how();
    const ProposalKind kind = m_proposals.kind();
    const bool fuel = kind == ProposalKind::fuel, joint = kind == ProposalKind::joint,
               spark = kind == ProposalKind::spark;
    setVisible(fuel || joint || spark);
    const auto byJob = [this](std::string_view id, double scale, const char *unit) {
        return tr("as the job says: %1%2")
            .arg(m_session.hasJob() ? limitOf(m_session.job(), id) * scale : 0)
            .arg(QString::fromUtf8(unit));
    };
    m_damping->setSpecialValueText(joint ? tr("all of it") : byJob("evidence.damping", percent, " %"));
    m_clamp->setSpecialValueText(joint ? tr("no bound") : byJob("evidence.clamp", percent, " %"));
    m_leastHits->setSpecialValueText(byJob("evidence.least_hits", 1, ""));
    m_delay->setSpecialValueText(tr("as the job says, else each log"));
    m_damping->setValue(how.damping.value_or(0) * percent);
    m_clamp->setValue(how.clamp.value_or(0) * percent);
    m_leastHits->setValue(how.leastHits.value_or(0));
    m_delay->setValue(how.delayMs.value_or(0));
    m_rings->setValue(how.neighbours);
    m_nearest->setChecked(how.nearest);
    for (QDoubleSpinBox *box : {m_damping, m_clamp, m_delay})
        box->setEnabled(fuel || joint);
    m_leastHits->setEnabled(fuel || spark);
    m_rings->setEnabled(fuel && !how.region);
    m_nearest->setEnabled(fuel);
    setText(inShort());
    m_filling = false;
}

QString ProposalHow::inShort() const {
    Proposals::How how = m_proposals.how();
    how.learned = false;
    how.region.reset();
    if (how == Proposals::How{}) return tr("How: as the job says");
    QStringList said;
    if (how.damping) said << tr("%1 %").arg(*how.damping * percent);
    if (how.clamp) said << tr("± %1 %").arg(*how.clamp * percent);
    if (how.leastHits) said << tr("%n samples", nullptr, static_cast<int>(*how.leastHits));
    if (how.neighbours != 1) said << tr("%n rings", nullptr, how.neighbours);
    if (how.delayMs) said << tr("%1 ms").arg(*how.delayMs);
    if (how.nearest) said << tr("nearest");
    return tr("How: %1").arg(said.join(QStringLiteral(", ")));
}

void ProposalHow::apply() {
    if (m_filling) return;
    Proposals::How how = m_proposals.how();
    how.damping = given(*m_damping, percent);
    how.clamp = given(*m_clamp, percent);
    how.leastHits = given(*m_leastHits);
    how.delayMs = given(*m_delay);
    how.neighbours = m_rings->value();
    how.nearest = m_nearest->isChecked();
    m_proposals.setHow(how);
    setText(inShort());
}

void ProposalHow::asTheJobSays() {
    Proposals::How how;
    how.learned = m_proposals.how().learned;
    how.region = m_proposals.how().region;
    m_proposals.setHow(how);
    refresh();
}

} // namespace wheelwright
