// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/part_column.h"

#include "session/session.h"
#include "ui/text.h"
#include "ui/widgets/part_button.h"
#include "ui/widgets/part_panel.h"
#include "ui/widgets/refresh.h"

#include <QGridLayout>

#include <algorithm>

namespace wheelwright {

PartColumn::PartColumn(Session &session, const std::vector<std::string_view> &parts, QWidget *parent)
    : QWidget(parent), m_session(session), m_panel(new PartPanel(session, this)) {
    m_panel->leaveOutLists();
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    auto *grid = new QGridLayout;
    grid->setSpacing(2);
    int place = 0;
    for (const std::string_view id : parts) {
        auto *button = new PartButton(partById(id), PartButton::Shape::beside, this);
        connect(button, &PartButton::clicked, this, [this, button] { clicked(button); });
        connect(button, &PartButton::stepWanted, this,
                [this, button](int by) { by > 0 ? focusNextChild() : focusPreviousChild(); });
        grid->addWidget(button, place / 2, place % 2);
        ++place;
        m_buttons.push_back(button);
    }
    layout->addLayout(grid);
    layout->addWidget(m_panel, 1);
    connect(m_panel, &PartPanel::left, this, [this] {
        for (PartButton *b : m_buttons)
            if (b->part().id == m_panel->part()) b->setFocus();
    });
    (new Refresh(session, this))
        ->on(Refresh::job | Refresh::verdict | Refresh::units, [this] { refresh(); })
        .on(Refresh::content, [this] { recolour(); });
    choose(parts.front());
}

void PartColumn::choose(std::string_view part) {
    m_panel->showPart(part);
    for (PartButton *b : m_buttons)
        b->setChosen(b->part().id == part);
}

void PartColumn::clicked(const PartButton *button) {
    const Part &part = button->part();
    if (!button->state().fitted &&
        !m_session.perform(tr("Add: %1").arg(text(part.title)), [&](Job &job) { fitPart(job, part, true); }))
        return;
    choose(part.id);
    m_panel->enter();
}

void PartColumn::refresh() {
    if (!m_session.hasJob()) return;
    const auto verdict = m_session.verdict();
    const std::vector<PartState> sheet = intakeSheet(m_session.job(), verdict.get());
    const GlyphLook look = glyphLook(m_session.job(), m_session.content());
    const PartButton *first = nullptr;
    bool chosenIsHere = false;
    for (PartButton *b : m_buttons) {
        const auto state = std::ranges::find(sheet, &b->part(), &PartState::part);
        const bool here = state != sheet.end() && (state->fitted || state->canFit);
        if (here) b->show(*state, look, m_session.units());
        b->setVisible(here);
        if (here && !first) first = b;
        chosenIsHere |= here && b->part().id == m_panel->part();
    }
    m_panel->setVisible(first != nullptr);
    if (first && !chosenIsHere) choose(first->part().id);
}

void PartColumn::recolour() {
    if (!m_session.hasJob()) return;
    const GlyphLook look = glyphLook(m_session.job(), m_session.content());
    for (PartButton *b : m_buttons)
        b->setLook(look);
}

bool PartColumn::holds(const QString &path) const {
    const Part *part = partOfPath(path.toStdString(), m_session.job());
    return part && m_session.hasJob() && isFitted(*part, m_session.job()) &&
           std::ranges::any_of(m_buttons, [&](const PartButton *b) { return &b->part() == part; });
}

bool PartColumn::showInput(const QString &path) {
    if (!holds(path)) return false;
    choose(partOfPath(path.toStdString(), m_session.job())->id);
    return m_panel->showInput(path);
}

} // namespace wheelwright
