// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/ladder/preflight_list.h"

#include "core/ladder/preflight.h"
#include "core/ladder/rung.h"
#include "session/session.h"
#include "ui/text.h"

#include <algorithm>

namespace wheelwright {

PreflightList::PreflightList(Session &session, QWidget *parent) : QListWidget(parent), m_session(session) {
    setAccessibleName(tr("Before the first start"));
    setFrameShape(QFrame::NoFrame);
    setWordWrap(true);
    constexpr int apart = 3;
    setSpacing(apart);
    for (const PreflightItem &item : allPreflightItems()) {
        auto *line = new QListWidgetItem(text(item.title) + QLatin1Char('\n') + text(item.help), this);
        line->setData(Qt::UserRole,
                      QString::fromUtf8(item.id.data(), static_cast<qsizetype>(item.id.size())));
        line->setToolTip(text(item.help));
    }
    refresh();
    connect(this, &QListWidget::itemChanged, this, [this](QListWidgetItem *line) {
        if (m_filling) return;
        if (line->checkState() == Qt::Checked) emit looked(line->data(Qt::UserRole).toString());
        refresh(); // undo takes a look away, a click does not
    });
}

void PreflightList::refresh() {
    m_filling = true;
    const std::string rung(rungKindKey(RungKind::preflight));
    for (int i = 0; i < count(); ++i) {
        const std::string id = item(i)->data(Qt::UserRole).toString().toStdString();
        const bool done = std::ranges::any_of(m_session.job().ladderLooks.values(), [&](const RungLook &l) {
            return l.rung == rung && l.gate == id;
        });
        item(i)->setCheckState(done ? Qt::Checked : Qt::Unchecked);
    }
    m_filling = false;
}

} // namespace wheelwright
