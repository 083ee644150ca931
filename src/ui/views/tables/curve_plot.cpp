// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/tables/curve_plot.h"

#include "core/base/error.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/widgets/plot_style.h"
#include "ui/widgets/refresh.h"

#include <QApplication>
#include <QClipboard>
#include <QKeyEvent>
#include <QLineEdit>
#include <QRegularExpression>
#include <QShortcut>

#include <cmath>

namespace wheelwright {
namespace {

constexpr double percent = 100;

void fill(QCPGraph &graph, const std::vector<CurvePoint> &points) {
    QVector<double> x, y;
    for (const CurvePoint &p : points) {
        x.push_back(p.content * percent);
        y.push_back(p.value);
    }
    graph.setData(x, y, true);
}

} // namespace

CurvePlot::CurvePlot(Session &session, QWidget *parent) : QCustomPlot(parent), m_session(session) {
    setProperty("helpPage", "tables");
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Curve over content"));
    setToolTip(
        tr("Drag a point. Double click adds one, Delete takes it away. Arrows choose and move; digits or "
           "Enter type its numbers."));
    m_entry = new QLineEdit(this);
    m_entry->setObjectName(QStringLiteral("pointEntry"));
    m_entry->setAccessibleName(tr("Numbers of the chosen point"));
    m_entry->setToolTip(tr("A number: what stands there. Two: the content, and what stands there"));
    m_entry->hide();
    // As shortcuts, since a line lets Return go on to the chart, which would open it again.
    const auto onKey = [this](Qt::Key key, const std::function<void()> &run) {
        connect(new QShortcut(QKeySequence(key), m_entry, nullptr, nullptr, Qt::WidgetShortcut),
                &QShortcut::activated, this, run);
    };
    onKey(Qt::Key_Return, [this] { takeEntry(); });
    onKey(Qt::Key_Enter, [this] { takeEntry(); });
    onKey(Qt::Key_Escape, [this] {
        m_entry->hide();
        setFocus();
    });
    m_below = new QCPItemRect(this);
    m_above = new QCPItemRect(this);
    m_physical = addGraph();
    m_straight = addGraph();
    m_used = addGraph();
    m_evidence = addGraph();
    m_points = addGraph();
    m_chosenPoint = addGraph();
    m_here = new QCPItemStraightLine(this);
    m_words = new QCPItemText(this);
    m_words->position->setType(QCPItemPosition::ptAxisRectRatio);
    m_words->position->setCoords(0.985, 0.97); // weights rise: the lower right is free
    m_words->setPositionAlignment(Qt::AlignRight | Qt::AlignBottom);
    m_words->setTextAlignment(Qt::AlignLeft);
    axisRect()->setAutoMargins(QCP::msNone);
    axisRect()->setMargins(QMargins(52, 8, 14, 34));
    restyle();
    (new Refresh(session, this))
        ->on(Refresh::selection | Refresh::job, [this] { refresh(); })
        .on(Refresh::content, [this] { moveContent(); });
}

void CurvePlot::restyle() {
    stylePlot(*this);
    m_physical->setPen(QPen(theme().quiet, 1, Qt::DashLine));
    m_straight->setPen(QPen(theme().quiet, 1, Qt::DotLine));
    m_used->setPen(QPen(theme().ink, 3));
    for (QCPGraph *dots : {m_evidence, m_points, m_chosenPoint})
        dots->setLineStyle(QCPGraph::lsNone);
    m_evidence->setScatterStyle(
        QCPScatterStyle(QCPScatterStyle::ssDisc, theme().content(1), theme().content(1), 8));
    m_points->setScatterStyle(QCPScatterStyle(QCPScatterStyle::ssSquare, theme().ink, theme().paper, 10));
    m_chosenPoint->setScatterStyle(QCPScatterStyle(QCPScatterStyle::ssSquare, theme().ink, theme().ink, 12));
    QColor wash = theme().quiet;
    wash.setAlpha(30);
    for (QCPItemRect *r : {m_below, m_above}) {
        r->setPen(Qt::NoPen);
        r->setBrush(wash);
        r->topLeft->setTypeY(QCPItemPosition::ptAxisRectRatio);
        r->bottomRight->setTypeY(QCPItemPosition::ptAxisRectRatio);
    }
    m_words->setColor(theme().quiet);
    m_words->setFont(sansFont(12));
    if (m_session.hasJob()) refresh();
}

void CurvePlot::refresh() {
    if (!m_session.hasJob() || !isVisible() || m_dragging) return;
    draw(contentCurve(m_session.job(), m_session.quantity()));
}

void CurvePlot::draw(const std::optional<ContentCurve> &curve) {
    const bool any = curve.has_value();
    for (QCPGraph *g : {m_physical, m_straight, m_used, m_evidence, m_points, m_chosenPoint})
        g->setVisible(any);
    m_below->setVisible(any);
    m_above->setVisible(any);
    if (!any) {
        m_shownPoints.clear();
        m_words->setText(tr("This school has no curve: it holds the tables of each content."));
        replot(QCustomPlot::rpQueuedReplot);
        return;
    }
    fill(*m_physical, curve->physical);
    fill(*m_straight, curve->straight);
    fill(*m_used, curve->used);
    fill(*m_evidence, curve->evidence);
    fill(*m_points, curve->points);
    m_shownPoints = curve->points;
    if (m_chosen >= static_cast<int>(m_shownPoints.size())) m_chosen = -1;
    fill(*m_chosenPoint, m_chosen < 0 ? std::vector<CurvePoint>()
                                      : std::vector{m_shownPoints[static_cast<std::size_t>(m_chosen)]});
    m_below->topLeft->setCoords(0, 0);
    m_below->bottomRight->setCoords(curve->lowContent * percent, 1);
    m_above->topLeft->setCoords(curve->highContent * percent, 0);
    m_above->bottomRight->setCoords(percent, 1);
    double low = curve->correction ? 0.95 : -0.05, high = 1.05;
    for (const auto *points : {&curve->used, &curve->points, &curve->evidence})
        for (const CurvePoint &p : *points) {
            low = std::min(low, p.value - 0.03);
            high = std::max(high, p.value + 0.03);
        }
    xAxis->setRange(0, percent);
    yAxis->setRange(low, high);
    tickAs(*xAxis, Dimension::content, m_session.units());
    yAxis->setLabel(curve->correction ? tr("c(E)") : tr("top weighs"));
    QString words = curve->correction ? tr("dashed: the fuel model alone")
                                      : tr("dashed: physical default · dotted: straight in volume per cent");
    words += curve->evidence.empty() ? tr("\nnothing was measured for this curve yet")
                                     : tr("\ndots: measured fuel need");
    if (curve->points.empty()) words += tr("\n'Own points' makes it a curve to drag");
    if (!curve->correction)
        words += curve->extrapolates ? tr("\nshaded: extrapolated, not calibrated")
                                     : tr("\nshaded: held, not calibrated");
    m_words->setText(words);
    moveContent();
}

void CurvePlot::moveContent() {
    m_here->point1->setCoords(m_session.content() * percent, 0);
    m_here->point2->setCoords(m_session.content() * percent, 1);
    m_here->setPen(QPen(theme().content(m_session.content()), 2));
    if (isVisible()) replot(QCustomPlot::rpQueuedReplot);
}

QPointF CurvePlot::pixelOf(CurvePoint p) const {
    return {xAxis->coordToPixel(p.content * percent), yAxis->coordToPixel(p.value)};
}

CurvePoint CurvePlot::pointFrom(QPointF position) const {
    return {xAxis->pixelToCoord(position.x()) / percent, yAxis->pixelToCoord(position.y())};
}

int CurvePlot::pointAt(QPointF position) const {
    constexpr double reach = 12; // pixels
    int best = -1;
    double least = reach;
    for (std::size_t i = 0; i < m_shownPoints.size(); ++i) {
        const QPointF d = pixelOf(m_shownPoints[i]) - position;
        const double distance = std::hypot(d.x(), d.y());
        if (distance >= least) continue;
        least = distance;
        best = static_cast<int>(i);
    }
    return best;
}

bool CurvePlot::change(const QString &what, const std::function<void(Job &)> &edit) {
    const QString quantity = text(quantityId(m_session.quantity()));
    return m_session.perform(tr("%1 curve: %2").arg(quantity, what), edit);
}

void CurvePlot::mousePressEvent(QMouseEvent *event) {
    m_chosen = pointAt(event->position());
    m_dragging = m_chosen >= 0 && event->button() == Qt::LeftButton && !m_session.readOnly();
    m_preview.reset();
    if (!m_dragging) refresh();
}

void CurvePlot::mouseMoveEvent(QMouseEvent *event) {
    if (!m_dragging) return;
    try {
        Job preview = m_session.job();
        moveCurvePoint(preview, m_session.quantity(), static_cast<std::size_t>(m_chosen),
                       pointFrom(event->position()));
        draw(contentCurve(preview, m_session.quantity()));
        m_preview = std::move(preview);
    } catch (const InputError &) {
        m_dragging = false; // an end of the curve stays where it is
        refresh();
    }
}

void CurvePlot::mouseReleaseEvent(QMouseEvent *) {
    if (!m_dragging) return;
    m_dragging = false;
    if (m_preview) {
        const Job after = std::move(*m_preview);
        m_preview.reset();
        change(tr("point moved"), [&](Job &job) { job.calibration = after.calibration; });
    }
    refresh();
}

void CurvePlot::mouseDoubleClickEvent(QMouseEvent *event) {
    const double content = pointFrom(event->position()).content;
    change(tr("point added"), [&](Job &job) { addCurvePoint(job, m_session.quantity(), content); });
}

void CurvePlot::beginEntry(const QString &typed) {
    if (m_session.readOnly()) return;
    constexpr int entryWidth = 120, entryHeight = 28, above = 8;
    const QPointF at = pixelOf(m_shownPoints[static_cast<std::size_t>(m_chosen)]);
    m_entry->setGeometry(
        std::clamp(static_cast<int>(at.x()) - entryWidth / 2, 0, std::max(0, width() - entryWidth)),
        std::clamp(static_cast<int>(at.y()) - entryHeight - above, 0, std::max(0, height() - entryHeight)),
        entryWidth, entryHeight);
    m_entry->setText(typed);
    m_entry->show();
    m_entry->setFocus();
}

// What cannot be read, or may not stand there, is said, and the entry stays open.
void CurvePlot::takeEntry() {
    const QStringList parts =
        m_entry->text().split(QRegularExpression(QStringLiteral("[\\s;]+")), Qt::SkipEmptyParts);
    CurvePoint to = m_shownPoints[static_cast<std::size_t>(m_chosen)];
    try {
        if (parts.isEmpty() || parts.size() > 2)
            throw InputError("point", MARKED("expected.point", "a number, or a content and a number"),
                             "'" + m_entry->text().toStdString() + "'");
        if (parts.size() == 2)
            to.content = parse(parts[0].toStdString(), Dimension::content, m_session.units(), "content");
        to.value = parse(parts.back().toStdString(), Dimension::none, m_session.units(), "point");
        // A drag is held between its neighbours; a number that was typed is taken as it is, or not at all.
        Job preview = m_session.job();
        moveCurvePoint(preview, m_session.quantity(), static_cast<std::size_t>(m_chosen), to);
        const CurvePoint held =
            contentCurve(preview, m_session.quantity())->points.at(static_cast<std::size_t>(m_chosen));
        constexpr double same = 1e-9;
        if (std::abs(held.content - to.content) > same || std::abs(held.value - to.value) > same)
            throw InputError("point",
                             Phrase{MARKED("expected.between_neighbours",
                                           "a place between its neighbours, such as {0} and {1}"),
                                    {{held.content, Dimension::content}, {held.value, Dimension::none}}},
                             "'" + m_entry->text().toStdString() + "'");
    } catch (const InputError &e) {
        return m_session.report(text(e.words()));
    }
    if (!change(tr("point moved"), [&](Job &job) {
            moveCurvePoint(job, m_session.quantity(), static_cast<std::size_t>(m_chosen), to);
        }))
        return;
    m_entry->hide();
    setFocus();
}

void CurvePlot::keyPressEvent(QKeyEvent *event) {
    const int count = static_cast<int>(m_shownPoints.size());
    const bool along = event->modifiers().testFlag(Qt::ControlModifier);
    const auto move = [&](double content, double value) {
        if (m_chosen < 0) return;
        const CurvePoint p = m_shownPoints[static_cast<std::size_t>(m_chosen)];
        change(tr("point moved"), [&](Job &job) {
            moveCurvePoint(job, m_session.quantity(), static_cast<std::size_t>(m_chosen),
                           {p.content + content, p.value + value});
        });
    };
    constexpr double step = 0.01;
    switch (event->key()) {
    case Qt::Key_Left:
    case Qt::Key_Right: {
        const int by = event->key() == Qt::Key_Left ? -1 : 1;
        if (along) return move(by * step, 0);
        if (count > 0) m_chosen = std::clamp(m_chosen + by, 0, count - 1);
        return refresh();
    }
    case Qt::Key_Up:
        return move(0, step);
    case Qt::Key_Down:
        return move(0, -step);
    case Qt::Key_Insert:
        change(tr("point added"),
               [&](Job &job) { addCurvePoint(job, m_session.quantity(), m_session.content()); });
        return;
    case Qt::Key_Delete:
    case Qt::Key_Backspace:
        if (m_chosen >= 0)
            change(tr("point taken away"), [&](Job &job) {
                removeCurvePoint(job, m_session.quantity(), static_cast<std::size_t>(m_chosen));
            });
        return;
    case Qt::Key_Return:
    case Qt::Key_Enter:
    case Qt::Key_F2:
        if (m_chosen >= 0) {
            const CurvePoint p = m_shownPoints[static_cast<std::size_t>(m_chosen)];
            beginEntry(shown(p.content, Dimension::content, m_session.units()) + u' ' +
                       exactText(p.value, m_session.units()));
            m_entry->selectAll();
        }
        return;
    default:
        if (const QString typed = event->text();
            m_chosen >= 0 && !typed.isEmpty() && (typed[0].isDigit() || typed[0] == u'.' || typed[0] == u','))
            return beginEntry(typed);
        QCustomPlot::keyPressEvent(event);
    }
}

void CurvePlot::copy() {
    const auto curve = contentCurve(m_session.job(), m_session.quantity());
    if (!curve) return;
    QString out = tr("content, %\tused\tphysical\n");
    for (std::size_t i = 0; i < curve->used.size(); ++i)
        out += briefText(curve->used[i].content * percent, m_session.units()) + QLatin1Char('\t') +
               exactText(curve->used[i].value, m_session.units()) + QLatin1Char('\t') +
               exactText(curve->physical[i].value, m_session.units()) + QLatin1Char('\n');
    QApplication::clipboard()->setText(out);
}

void CurvePlot::copyPicture() {
    QApplication::clipboard()->setPixmap(toPixmap());
}

int CurvePlot::partCount() const {
    return static_cast<int>(m_shownPoints.size());
}

PaintedPart CurvePlot::part(int index) const {
    const CurvePoint &p = m_shownPoints[static_cast<std::size_t>(index)];
    constexpr int reach = 7;
    return {tr("%1: %2").arg(shown(p.content, Dimension::content, m_session.units()),
                             briefText(p.value, m_session.units())),
            QRect(pixelOf(p).toPoint() - QPoint(reach, reach), QSize(2 * reach, 2 * reach))};
}

int CurvePlot::chosenPart() const {
    return m_chosen;
}

void CurvePlot::choosePart(int index) {
    m_chosen = index;
    refresh();
    partWasChosen(*this);
}

} // namespace wheelwright
