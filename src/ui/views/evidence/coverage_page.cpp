// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/evidence/coverage_page.h"

#include "core/report/log_reports.h"
#include "session/evidence.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/widgets/refresh.h"
#include "ui/widgets/report_view.h"

#include <QHBoxLayout>
#include <QPainter>

namespace wheelwright {
namespace {

QString stateWords(CoverageState state) {
    switch (state) {
    case CoverageState::never:
        return CoverageMap::tr("never");
    case CoverageState::seen:
        return CoverageMap::tr("seen");
    case CoverageState::proven:
        return CoverageMap::tr("proven");
    }
    return {};
}

} // namespace

CoveragePage::CoveragePage(Session &session, QWidget *parent)
    : QWidget(parent), m_session(session), m_map(new CoverageMap(session, this)),
      m_report(new ReportView(tr("Coverage by content"), ReportView::Fit::fills, this)) {
    setObjectName(QStringLiteral("coverage"));
    constexpr int reportWidth = 264;
    m_report->setFixedWidth(reportWidth);
    auto *layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 6, 0, 0);
    layout->addWidget(m_map, 1);
    layout->addWidget(m_report);
    connect(&session.evidence(), &Evidence::coverageChanged, this, [this] {
        if (isVisible()) refreshReport();
    });
    connect(m_report, &ReportView::explained, this, [this](const Explanation &x) { m_session.explain(x); });
    connect(m_report, &ReportView::linkWanted, this, [this](const QString &link) {
        const QString before = QStringLiteral("band:");
        const std::size_t band = link.mid(before.size()).toULong();
        if (link.startsWith(before) && band + 1 < coverageBands().size())
            m_session.setContent((coverageBands()[band] + coverageBands()[band + 1]) / 2);
    });
    connect(m_map, &CoverageMap::cellWanted, this, [this](double rpm, double load) {
        m_session.goTo({m_session.content(), rpm, load}, m_session.quantity());
        emit tablesWanted();
    });
    (new Refresh(session, this))
        ->on(Refresh::job, [this] { refreshReport(); })
        .on(Refresh::content | Refresh::units, [this] { refresh(); });
}

QString CoveragePage::words() const {
    return m_report->words();
}

void CoveragePage::refreshReport() {
    WorkedReport report;
    const auto coverage = m_session.evidence().coverage();
    if (coverage)
        report = coverageReport(m_session.study(), *coverage);
    else if (m_session.job().logs.empty())
        report.say(MARKED("coverage.empty", "No log has come in yet."));
    else
        report.say(MARKED("coverage.counting", "Counting …"), Tone::quiet);
    m_report->show(std::move(report), m_session.units());
    refresh();
}

void CoveragePage::refresh() {
    const auto coverage = m_session.evidence().coverage();
    if (!coverage) return m_map->show(nullptr, 0, {});
    const std::size_t band = coverage->bandOf(m_session.content());
    m_map->show(coverage, band, reachedCells(m_session.study(), *coverage, m_session.content()));
}

CoverageMap::CoverageMap(Session &session, QWidget *parent)
    : CellMap(session, tr("Where the engine has been"), "evidence", parent) {}

void CoverageMap::show(std::shared_ptr<const Coverage> coverage, std::size_t band,
                       std::vector<bool> reached) {
    m_coverage = std::move(coverage);
    m_band = band;
    m_reached = std::move(reached);
    if (!m_coverage) return setAxes({}, {});
    setAxes(m_coverage->rpm().points(), m_coverage->load().points());
    setAccessibleDescription(words(column(), row()));
}

QString CoverageMap::words(std::size_t x, std::size_t y) const {
    if (!m_coverage) return {};
    const CoverageCell &c = m_coverage->at(x, y, m_band);
    QStringList out{shown(c.rpm, Dimension::engineSpeed, session().units()),
                    shown(c.loadKpa, Dimension::pressure, session().units()),
                    m_reached[y * m_coverage->rpm().size() + x] ? stateWords(m_coverage->state(c))
                                                                : tr("out of reach")};
    if (c.hits > 0) {
        out << tr("%1 samples, %2 of them clean").arg(c.hits, 0, 'f', 0).arg(c.cleanHits, 0, 'f', 0);
        if (c.knockDeg > 0)
            out << tr("knock retard %1").arg(shown(c.knockDeg, Dimension::sparkAngle, session().units()));
        out << tr("last by %1").arg(text(c.lastSeen).left(10));
        if (!c.revision.empty()) out << text(c.revision);
    }
    return out.join(QStringLiteral(", "));
}

QColor CoverageMap::hue() const {
    const std::span<const double> bands = coverageBands();
    return theme().content((bands[m_band] + bands[m_band + 1]) / 2);
}

void CoverageMap::paintHead(QPainter &p) {
    const bool methanol = session().job().alcohol == Alcohol::methanol;
    const std::span<const double> bands = coverageBands();
    p.setPen(hue());
    p.drawText(
        QRectF(box(0, 0).left(), 0, width(), 18), Qt::AlignLeft | Qt::AlignVCenter,
        tr("%1 to %2")
            .arg(text(contentName(bands[m_band], methanol)), text(contentName(bands[m_band + 1], methanol))));
    // The key, by the words themselves.
    p.setFont(sansFont(10));
    double right = width() - 4;
    for (const CoverageState s : {CoverageState::proven, CoverageState::seen, CoverageState::never}) {
        const QString word = stateWords(s);
        right -= p.fontMetrics().horizontalAdvance(word);
        p.setPen(theme().quiet);
        p.drawText(QPointF(right, 13), word);
        right -= 18;
        const QRectF mark(right, 4, 13, 11);
        if (s == CoverageState::proven) p.fillRect(mark, hue());
        if (s == CoverageState::seen) p.fillRect(mark, QBrush(hue(), Qt::Dense5Pattern));
        p.setPen(theme().line);
        p.drawRect(mark);
        right -= 8;
    }
}

void CoverageMap::paintCell(QPainter &p, const QRectF &cell, std::size_t x, std::size_t y) {
    if (!m_reached[indexOf(x, y)]) return;
    const CoverageCell &c = m_coverage->at(x, y, m_band);
    const CoverageState s = m_coverage->state(c);
    constexpr int digits = 3;
    const bool numbers = fits(digits);
    p.fillRect(cell, theme().paper);
    if (s == CoverageState::proven) p.fillRect(cell, hue());
    if (s == CoverageState::seen)
        p.fillRect(cell, QBrush(hue(), numbers ? Qt::Dense7Pattern : Qt::Dense6Pattern));
    p.setPen(theme().line);
    p.drawRect(cell);
    if (!numbers || c.hits < 0.5) return;
    p.setFont(sansFont(10, s == CoverageState::proven));
    p.setPen(s == CoverageState::proven ? theme().textOn(hue()) : theme().ink);
    const QString n = c.hits < 1000  ? QString::number(c.hits, 'f', 0)
                      : c.hits < 1e5 ? QString::number(c.hits / 1000, 'f', 0) + QLatin1Char('k')
                                     : QStringLiteral("…");
    p.drawText(cell, Qt::AlignCenter, n);
}

QString CoverageMap::copied(std::size_t x, std::size_t y) const {
    return stateWords(m_coverage->state(m_coverage->at(x, y, m_band)));
}

} // namespace wheelwright
