// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/log_review.h"
#include "session/proposals.h"
#include "ui/widgets/cell_map.h"

#include <QWidget>

#include <memory>
#include <vector>

class QButtonGroup;
class QCheckBox;
class QComboBox;
class QLabel;
class QPushButton;

namespace wheelwright {

class ChartPlot;
class ProposalHow;
class ProposedCells;
class ReportView;
class Session;

/// What the tables should become by the logs: the difference cell by cell, each with its samples, what is
/// predicted, and one step that takes all of it.
class ProposalsPage : public QWidget {
    Q_OBJECT
  public:
    explicit ProposalsPage(Session &session, QWidget *parent = nullptr);
    Proposals &proposals() { return m_proposals; }
    ProposedCells &map() { return *m_map; }
    ChartPlot &curve() { return *m_curve; }
    ProposalHow &how() { return *m_how; }
    QString words() const;     ///< of the proposal
    QString cellWords() const; ///< of the cell at the cursor
    void setKind(ProposalKind kind);

  public slots:
    void take();

  signals:
    void stripWanted(); ///< the moment of a sample has been chosen
    void tablesWanted();

  protected:
    void showEvent(QShowEvent *event) override;
    void hideEvent(QHideEvent *event) override;

  private:
    QWidget *makeHeadRow();
    QWidget *makeSide();
    void refresh();
    void refreshState();
    void refreshCell();
    void showChart();
    void showCurve(const ProposedMap &map);
    void showSweep(const LoggedSweep &sweep);
    void setRegion();

    Session &m_session;
    Proposals m_proposals;
    QButtonGroup *m_kinds;
    ProposalHow *m_how;
    QComboBox *m_shown;
    QCheckBox *m_learned;
    QLabel *m_help;
    ProposedCells *m_map;
    ChartPlot *m_curve;
    ReportView *m_words, *m_cell;
    QPushButton *m_take, *m_goTo;
    std::vector<std::shared_ptr<const LogReview>> m_reviews; ///< what the visits refer to
    std::vector<CellVisit> m_visits;
};

/// The cells of a proposal: what each would change by, in the two hues of differences; of ceilings what it
/// stands, in the hue of the content. Dotted: inferred; hatched: samples do not tell it apart; crossed:
/// refused; a corner: it knocked.
class ProposedCells : public CellMap {
    Q_OBJECT
  public:
    explicit ProposedCells(Session &session, QWidget *parent = nullptr);
    /// The number as it stands in a narrow cell, in whole steps; of a small change its direction alone.
    QString fewDigits(const ProposedCell &cell) const;
    void show(std::shared_ptr<const ProposedMap> map);
    /// What stands in the cells of fuel: what they change by, or how far λ is off, now or then.
    enum class Shown { change, errorNow, errorThen };
    void setShown(Shown shown);
    void setCurrent(bool current); ///< not: it is being worked out again, and says so
    const ProposedMap *shownMap() const { return m_map.get(); }
    QString words(std::size_t x, std::size_t y) const override;

  protected:
    void paintHead(QPainter &painter) override;
    void paintCell(QPainter &painter, const QRectF &cell, std::size_t x, std::size_t y) override;
    QString copied(std::size_t x, std::size_t y) const override;

  private:
    double valueOf(const ProposedCell &cell) const;
    bool showsErrors() const;
    QString number(const ProposedCell &cell, bool tenths = true) const;
    static bool roundsToNothing(double change);
    QBrush fill(const ProposedCell &cell) const;

    std::shared_ptr<const ProposedMap> m_map;
    bool m_current = true;
    Shown m_shown = Shown::change;
    double m_most = 1, m_least = 0; ///< of what is shaded
};

} // namespace wheelwright
