// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "ui/views/view.h"

class QPushButton;
class QStackedLayout;

namespace wheelwright {

class CleaningPage;
class CoveragePage;
class HindsightPage;
class LogSlips;
class PageSwitch;
class ProposalsPage;
class PullsPage;
class StripPage;

/// The logs as slips, and what the one that is looked at says: its strip with what was found, two stretches
/// over one another, what the cleaning takes, where all logs have been, what the tables should become, and
/// what became of it.
class EvidenceView : public View {
    Q_OBJECT
  public:
    explicit EvidenceView(Session &session, QWidget *parent = nullptr);
    bool showInput(const QString &link) override;
    void takeFiles(const QStringList &files) override;

    void chooseFiles();
    void removeLog();
    void stateContent();
    LogSlips &slips() { return *m_slips; }
    StripPage &strip() { return *m_strip; }
    CleaningPage &cleaning() { return *m_cleaning; }
    CoveragePage &coverage() { return *m_coverage; }
    PullsPage &pulls() { return *m_pulls; }
    ProposalsPage &proposals() { return *m_proposals; }
    HindsightPage &hindsight() { return *m_hindsight; }
    void showProposals();
    PageSwitch &pages() { return *m_pages; }

  private:
    QWidget *makeEmptyState();
    QWidget *makeStation();
    void refresh();

    Session &m_session;
    QStackedLayout *m_stack;
    LogSlips *m_slips = nullptr;
    StripPage *m_strip = nullptr;
    CleaningPage *m_cleaning = nullptr;
    CoveragePage *m_coverage = nullptr;
    PullsPage *m_pulls = nullptr;
    ProposalsPage *m_proposals = nullptr;
    HindsightPage *m_hindsight = nullptr;
    PageSwitch *m_pages = nullptr;
    QPushButton *m_remove = nullptr, *m_state = nullptr;
};

} // namespace wheelwright
