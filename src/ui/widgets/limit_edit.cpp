// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/limit_edit.h"

#include "core/base/error.h"
#include "core/base/limits.h"
#include "core/job/job.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/widgets/refresh.h"

namespace wheelwright {

LimitEdit::LimitEdit(Session &session, std::string_view id, QWidget *parent)
    : QLineEdit(parent), m_session(session), m_limit(limitById(id)) {
    setAccessibleName(wheelwright::text(m_limit.title));
    setToolTip(wheelwright::text(m_limit.id));
    connect(this, &QLineEdit::editingFinished, this, &LimitEdit::finish);
    (new Refresh(session, this))
        ->on(Refresh::job | Refresh::units | Refresh::state, [this] { refresh(); }, {"limits."});
    refresh();
}

// A field with the focus finishes its entry when it goes: there is nobody left to take it.
LimitEdit::~LimitEdit() {
    disconnect(this, &QLineEdit::editingFinished, this, nullptr);
}

QString LimitEdit::origin() const {
    return wheelwright::text(limitOrigin(m_session.job().limits, m_limit.id));
}

void LimitEdit::refresh() {
    const QString shown = wheelwright::text(
        formatExact(limitOf(m_session.job(), m_limit.id), m_limit.dimension, m_session.units()));
    if (shown != QLineEdit::text()) setText(shown); // the same again would only drop what is selected
    setModified(false);
    setReadOnly(m_session.readOnly());
    emit refreshed();
}

void LimitEdit::finish() {
    if (!isModified()) return;
    setModified(false);
    const std::string id(m_limit.id);
    try {
        if (QLineEdit::text().trimmed().isEmpty()) {
            m_session.perform(tr("%1: shipped").arg(wheelwright::text(m_limit.title)),
                              [&](Job &j) { j.limits.erase(id); });
        } else {
            const double v = parse(QLineEdit::text().toStdString(), m_limit.dimension, m_session.units(),
                                   wheelwright::text(m_limit.title).toStdString());
            m_session.perform(tr("%1: %2").arg(wheelwright::text(m_limit.title), QLineEdit::text()),
                              [&](Job &j) { j.limits[id] = v; });
        }
    } catch (const InputError &e) {
        m_session.report(wheelwright::text(e.words()));
    }
    refresh();
}

} // namespace wheelwright
