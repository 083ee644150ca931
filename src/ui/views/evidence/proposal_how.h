// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "session/proposals.h"

#include <QPushButton>

class QCheckBox;
class QDoubleSpinBox;
class QFrame;
class QSpinBox;

namespace wheelwright {

class Session;

/// How a proposal is made, where that is not as the job's limits say: for this look at it alone, the job
/// stays. The button says it in short; what can be chosen comes up under it.
class ProposalHow : public QPushButton {
    Q_OBJECT
  public:
    ProposalHow(Session &session, Proposals &proposals, QWidget *parent = nullptr);
    /// Shows what the kind that is looked at asks for; hidden where that is nothing.
    void refresh();
    QFrame &panel() { return *m_panel; }

  public slots:
    void asTheJobSays();

  private:
    void open();
    void apply();
    QString inShort() const;

    Session &m_session;
    Proposals &m_proposals;
    QFrame *m_panel;
    QDoubleSpinBox *m_damping, *m_clamp, *m_leastHits, *m_delay;
    QSpinBox *m_rings;
    QCheckBox *m_nearest;
    bool m_filling = false;
};

} // namespace wheelwright
