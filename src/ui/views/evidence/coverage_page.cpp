// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/evidence/coverage_page.h"

#include "core/report/log_reports.h"
#include "session/evidence.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/widgets/refresh.h"
#include "ui/widgets/report_view.h"

#include <QApplication>
#include <QClipboard>
#include <QHBoxLayout>
#include <QHelpEvent>
#include <QKeyEvent>
#include <QPainter>
#include <QToolTip>

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

constexpr int mapHead = 36, mapSide = 46;

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
    Report report;
    const auto coverage = m_session.evidence().coverage();
    if (coverage)
        report = coverageReport(m_session.study(), *coverage);
    else if (m_session.job().logs.empty())
        report.blocks.push_back(Sentence{MARKED("coverage.empty", "No log has come in yet.")});
    else
        report.blocks.push_back(Sentence{MARKED("coverage.counting", "Counting …"), Tone::quiet});
    m_report->show(std::move(report), m_session.units());
    refresh();
}

void CoveragePage::refresh() {
    const auto coverage = m_session.evidence().coverage();
    if (!coverage) return m_map->show(nullptr, 0, {});
    const std::size_t band = coverage->bandOf(m_session.content());
    m_map->show(coverage, band, reachedCells(m_session.study(), *coverage, m_session.content()));
}

CoverageMap::CoverageMap(Session &session, QWidget *parent) : QWidget(parent), m_session(session) {
    setFocusPolicy(Qt::StrongFocus);
    setProperty("helpPage", "evidence");
    setAccessibleName(tr("Where the engine has been"));
}

void CoverageMap::show(std::shared_ptr<const Coverage> coverage, std::size_t band,
                       std::vector<bool> reached) {
    m_coverage = std::move(coverage);
    m_band = band;
    m_reached = std::move(reached);
    if (m_coverage) {
        m_x = std::min(m_x, m_coverage->rpm().size() - 1);
        m_y = std::min(m_y, m_coverage->load().size() - 1);
        setAccessibleDescription(words(m_x, m_y));
    }
    update();
}

QRectF CoverageMap::box(std::size_t x, std::size_t y) const {
    const double w = (width() - mapSide) / static_cast<double>(m_coverage->rpm().size());
    const double h = (height() - mapHead) / static_cast<double>(m_coverage->load().size());
    return {mapSide + static_cast<double>(x) * w, mapHead + static_cast<double>(y) * h, w, h};
}

QString CoverageMap::words(std::size_t x, std::size_t y) const {
    if (!m_coverage) return {};
    const CoverageCell &c = m_coverage->at(x, y, m_band);
    QStringList out{shown(c.rpm, Dimension::engineSpeed, m_session.units()),
                    shown(c.loadKpa, Dimension::pressure, m_session.units()),
                    m_reached[y * m_coverage->rpm().size() + x] ? stateWords(m_coverage->state(c))
                                                                : tr("out of reach")};
    if (c.hits > 0) {
        out << tr("%1 samples, %2 of them clean").arg(c.hits, 0, 'f', 0).arg(c.cleanHits, 0, 'f', 0);
        if (c.knockDeg > 0)
            out << tr("knock retard %1").arg(shown(c.knockDeg, Dimension::sparkAngle, m_session.units()));
        out << tr("last by %1").arg(text(c.lastSeen).left(10));
        if (!c.revision.empty()) out << text(c.revision);
    }
    return out.join(QStringLiteral(", "));
}

void CoverageMap::paintEvent(QPaintEvent *) {
    QPainter p(this);
    p.fillRect(rect(), theme().raised);
    if (!m_coverage) return;
    const bool methanol = m_session.job().alcohol == Alcohol::methanol;
    const std::span<const double> bands = coverageBands();
    const double content = (bands[m_band] + bands[m_band + 1]) / 2;
    const QColor hue = theme().content(content);
    p.setFont(sansFont(12, true));
    p.setPen(hue);
    p.drawText(
        QRectF(mapSide, 0, width() - mapSide, 18), Qt::AlignLeft | Qt::AlignVCenter,
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
        if (s == CoverageState::proven) p.fillRect(mark, hue);
        if (s == CoverageState::seen) p.fillRect(mark, QBrush(hue, Qt::Dense5Pattern));
        p.setPen(theme().line);
        p.drawRect(mark);
        right -= 8;
    }
    const QRectF first = box(0, 0);
    p.setFont(monoFont(10));
    p.setPen(theme().quiet);
    const auto every = static_cast<std::size_t>(std::max(1.0, std::ceil(36 / first.width())));
    for (std::size_t x = 0; x < m_coverage->rpm().size(); x += every)
        p.drawText(QRectF(box(x, 0).left(), 18, first.width() * static_cast<double>(every), mapHead - 18),
                   Qt::AlignLeft | Qt::AlignVCenter, QString::number(m_coverage->rpm()[x], 'f', 0));
    const auto everyRow = static_cast<std::size_t>(std::max(1.0, std::ceil(13 / first.height())));
    for (std::size_t y = 0; y < m_coverage->load().size(); y += everyRow)
        p.drawText(QRectF(0, box(0, y).top(), mapSide - 5, first.height()), Qt::AlignRight | Qt::AlignVCenter,
                   shown(m_coverage->load()[y], Dimension::pressure, m_session.units(), false));
    const bool numbers = first.width() >= 17 && first.height() >= 12;
    for (std::size_t y = 0; y < m_coverage->load().size(); ++y)
        for (std::size_t x = 0; x < m_coverage->rpm().size(); ++x) {
            if (!m_reached[y * m_coverage->rpm().size() + x]) continue;
            const CoverageCell &c = m_coverage->at(x, y, m_band);
            const QRectF cell = box(x, y);
            const CoverageState s = m_coverage->state(c);
            p.fillRect(cell, theme().paper);
            if (s == CoverageState::proven) p.fillRect(cell, hue);
            if (s == CoverageState::seen)
                p.fillRect(cell, QBrush(hue, numbers ? Qt::Dense7Pattern : Qt::Dense6Pattern));
            p.setPen(theme().line);
            p.drawRect(cell);
            if (!numbers || c.hits < 0.5) continue;
            p.setFont(sansFont(10, s == CoverageState::proven));
            p.setPen(s == CoverageState::proven ? theme().textOn(hue) : theme().ink);
            const QString n = c.hits < 1000  ? QString::number(c.hits, 'f', 0)
                              : c.hits < 1e5 ? QString::number(c.hits / 1000, 'f', 0) + QLatin1Char('k')
                                             : QStringLiteral("…");
            p.drawText(cell, Qt::AlignCenter, n);
        }
    p.setPen(QPen(theme().ink, hasFocus() ? 2 : 1));
    p.drawRect(box(m_x, m_y));
}

bool CoverageMap::cellAt(QPointF position, std::size_t &x, std::size_t &y) const {
    if (!m_coverage) return false;
    const QRectF first = box(0, 0);
    const double column = (position.x() - mapSide) / first.width(),
                 row = (position.y() - mapHead) / first.height();
    if (column < 0 || row < 0 || column >= static_cast<double>(m_coverage->rpm().size()) ||
        row >= static_cast<double>(m_coverage->load().size()))
        return false;
    x = static_cast<std::size_t>(column);
    y = static_cast<std::size_t>(row);
    return true;
}

void CoverageMap::choose(std::size_t x, std::size_t y) {
    m_x = x;
    m_y = y;
    setAccessibleDescription(words(x, y));
    update();
}

void CoverageMap::mousePressEvent(QMouseEvent *event) {
    std::size_t x = 0, y = 0;
    if (!cellAt(event->position(), x, y)) return;
    choose(x, y);
    emit cellWanted(m_coverage->rpm()[x], m_coverage->load()[y]);
}

void CoverageMap::keyPressEvent(QKeyEvent *event) {
    if (!m_coverage) return QWidget::keyPressEvent(event);
    switch (event->key()) {
    case Qt::Key_Left:
        return choose(m_x > 0 ? m_x - 1 : 0, m_y);
    case Qt::Key_Right:
        return choose(std::min(m_x + 1, m_coverage->rpm().size() - 1), m_y);
    case Qt::Key_Up:
        return choose(m_x, m_y > 0 ? m_y - 1 : 0);
    case Qt::Key_Down:
        return choose(m_x, std::min(m_y + 1, m_coverage->load().size() - 1));
    case Qt::Key_Return:
    case Qt::Key_Enter:
        emit cellWanted(m_coverage->rpm()[m_x], m_coverage->load()[m_y]);
        return;
    default:
        QWidget::keyPressEvent(event);
    }
}

bool CoverageMap::event(QEvent *event) {
    if (event->type() != QEvent::ToolTip) return QWidget::event(event);
    const auto *help = static_cast<QHelpEvent *>(event);
    std::size_t x = 0, y = 0;
    if (cellAt(QPointF(help->pos()), x, y)) QToolTip::showText(help->globalPos(), words(x, y), this);
    return true;
}

void CoverageMap::copy() const {
    if (!m_coverage) return;
    QString out = tr("load / rpm");
    for (const double rpm : m_coverage->rpm().points())
        out += QStringLiteral("\t%1").arg(rpm);
    for (std::size_t y = 0; y < m_coverage->load().size(); ++y) {
        out +=
            QLatin1Char('\n') + shown(m_coverage->load()[y], Dimension::pressure, m_session.units(), false);
        for (std::size_t x = 0; x < m_coverage->rpm().size(); ++x)
            out += QLatin1Char('\t') + stateWords(m_coverage->state(m_coverage->at(x, y, m_band)));
    }
    QApplication::clipboard()->setText(out + QLatin1Char('\n'));
}

void CoverageMap::copyPicture() {
    QApplication::clipboard()->setPixmap(grab());
}

} // namespace wheelwright
