// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/evidence/proposals_page.h"

#include "core/report/proposal_reports.h"
#include "session/evidence.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/views/evidence/proposal_how.h"
#include "ui/widgets/card.h"
#include "ui/widgets/chart_plot.h"
#include "ui/widgets/choice_keys.h"
#include "ui/widgets/refresh.h"
#include "ui/widgets/report_view.h"
#include "ui/widgets/work_bar.h"
#include "ui/widgets/wrap_row.h"

#include <QButtonGroup>
#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QPainter>
#include <QPushButton>

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

constexpr std::size_t mostVisits = 12;

bool isDifference(ProposalKind kind) {
    return kind != ProposalKind::ceilings;
}

} // namespace

ProposalsPage::ProposalsPage(Session &session, QWidget *parent)
    : QWidget(parent), m_session(session), m_proposals(session), m_kinds(new QButtonGroup(this)),
      m_how(new ProposalHow(session, m_proposals, this)), m_shown(new QComboBox(this)),
      m_learned(new QCheckBox(tr("Go by what all logs have taught"), this)), m_help(makeQuiet({}, this)),
      m_map(new ProposedCells(session, this)),
      m_curve(new ChartPlot(session, tr("Learned over content"), "evidence", this)), m_words(nullptr),
      m_cell(nullptr), m_take(nullptr), m_goTo(nullptr) {
    setObjectName(QStringLiteral("proposals"));
    constexpr int curveHeight = 150;
    m_curve->setFixedHeight(curveHeight);
    auto *left = new QVBoxLayout;
    left->setSpacing(4);
    left->addWidget(m_map, 1);
    left->addWidget(m_curve);
    auto *below = new QHBoxLayout;
    below->addLayout(left, 1);
    below->addWidget(makeSide());
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 6, 0, 0);
    layout->setSpacing(4);
    layout->addWidget(makeHeadRow());
    auto *second = new QHBoxLayout;
    second->addWidget(m_help, 1);
    second->addWidget(m_learned);
    second->addWidget(m_shown);
    second->addWidget(m_how);
    m_shown->addItems({tr("What changes"), tr("λ error now"), tr("λ error then")});
    m_shown->setAccessibleName(tr("What the cells show"));
    m_shown->setObjectName(QStringLiteral("shown"));
    connect(m_shown, &QComboBox::currentIndexChanged, this,
            [this](int at) { m_map->setShown(static_cast<ProposedCells::Shown>(at)); });
    layout->addLayout(second);
    layout->addLayout(below, 1);
    QWidget *before = m_kinds->buttons().constLast();
    for (QWidget *next : {static_cast<QWidget *>(m_learned), static_cast<QWidget *>(m_shown),
                          static_cast<QWidget *>(m_how), static_cast<QWidget *>(m_map)}) {
        setTabOrder(before, next);
        before = next;
    }
    connect(&m_proposals, &Proposals::changed, this, [this] {
        if (isVisible()) refresh();
    });
    connect(m_map, &CellMap::chosen, this, [this] {
        refreshCell();
        showChart();
    });
    connect(m_map, &CellMap::markedChanged, this, &ProposalsPage::setRegion);
    (new Refresh(session, this))
        ->on(Refresh::job | Refresh::units, [this] { refresh(); })
        .on(Refresh::content, [this] { refreshState(); });
}

QWidget *ProposalsPage::makeHeadRow() {
    auto *row = new QWidget(this);
    auto *layout = new WrapRow(row);
    for (const ProposalKindDefinition &d : allProposalKinds()) {
        auto *button = new QPushButton(text(d.title), row);
        button->setCheckable(true);
        button->setChecked(d.kind == m_proposals.kind());
        button->setToolTip(text(d.help));
        button->setObjectName(QStringLiteral("propose.") + text(d.id));
        m_kinds->addButton(button, static_cast<int>(d.kind));
        layout->addWidget(button);
    }
    tabToTheOneDown(*m_kinds);
    connect(m_kinds, &QButtonGroup::idClicked, this,
            [this](int id) { setKind(static_cast<ProposalKind>(id)); });
    m_learned->setToolTip(tr("The search goes to the spark that all logs together say a cell stands, less a "
                             "degree, where that is known to a degree; without it by steps alone"));
    connect(m_learned, &QCheckBox::toggled, this, [this](bool learned) {
        Proposals::How how = m_proposals.how();
        how.learned = learned;
        m_proposals.setHow(how);
    });
    return row;
}

QWidget *ProposalsPage::makeSide() {
    auto *side = new QWidget(this);
    constexpr int sideWidth = 300;
    side->setFixedWidth(sideWidth);
    m_words = new ReportView(tr("What the logs propose"), ReportView::Fit::fills, side);
    m_cell = new ReportView(tr("The cell"), ReportView::Fit::fills, side);
    m_goTo = new QPushButton(tr("In the tables"), side);
    m_take = new QPushButton(tr("Take it"), side);
    m_take->setObjectName(QStringLiteral("takeProposal"));
    m_take->setProperty("main", true);
    auto *buttons = new QHBoxLayout;
    buttons->addWidget(m_goTo);
    buttons->addWidget(m_take, 1);
    auto *layout = new QVBoxLayout(side);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(4);
    layout->addWidget(m_words, 1);
    layout->addWidget(m_cell, 1);
    layout->addWidget(new WorkBar(
        m_proposals.work(), [this] { m_proposals.cancel(); }, side));
    layout->addLayout(buttons);
    connect(m_take, &QPushButton::clicked, this, &ProposalsPage::take);
    connect(m_goTo, &QPushButton::clicked, this, [this] {
        const ProposedMap *map = m_map->shownMap();
        if (!map) return;
        const bool fuel = map->kind == ProposalKind::fuel || map->kind == ProposalKind::joint;
        m_session.goTo({map->content, map->rpm[m_map->column()], map->loadKpa[m_map->row()]},
                       fuel ? CalibratedQuantity::fuel : CalibratedQuantity::spark);
        emit tablesWanted();
    });
    connect(m_cell, &ReportView::explained, this, [this](const Explanation &x) { m_session.explain(x); });
    connect(m_cell, &ReportView::linkWanted, this, [this](const QString &link) {
        const QString before = QStringLiteral("visit:");
        const std::size_t at = link.mid(before.size()).toULong();
        if (!link.startsWith(before) || at >= m_visits.size()) return;
        m_session.evidence().setMoment(m_visits[at].log->info().id, m_visits[at].beginS);
        emit stripWanted();
    });
    return side;
}

void ProposalsPage::showEvent(QShowEvent *event) {
    QWidget::showEvent(event);
    m_proposals.setWatched(true);
    refresh();
}

void ProposalsPage::hideEvent(QHideEvent *event) {
    QWidget::hideEvent(event);
    m_proposals.setWatched(false);
}

void ProposalsPage::setKind(ProposalKind kind) {
    m_kinds->button(static_cast<int>(kind))->setChecked(true);
    m_map->setMarking(kind == ProposalKind::fuel);
    m_proposals.setKind(kind);
}

// A marked rectangle gets one correction.
void ProposalsPage::setRegion() {
    Proposals::How how = m_proposals.how();
    how.region.reset();
    const ProposedMap *map = m_map->shownMap();
    if (const auto &cells = m_map->marked(); cells && map)
        how.region = FuelRegion{map->rpm[cells->left], map->rpm[cells->right], map->loadKpa[cells->top],
                                map->loadKpa[cells->bottom]};
    m_proposals.setHow(how);
    m_how->refresh();
}

QString ProposalsPage::words() const {
    return m_words->words();
}

QString ProposalsPage::cellWords() const {
    return m_cell->words();
}

// While the content is dragged only this: the cells stay as they were worked out, and say so.
void ProposalsPage::refreshState() {
    const bool current = m_proposals.current();
    m_take->setEnabled(current && m_proposals.map()->job && !m_session.readOnly());
    m_map->setCurrent(current);
}

void ProposalsPage::refresh() {
    const ProposedMap *map = m_proposals.map();
    m_help->setText(text(definitionOf(m_proposals.kind()).help));
    m_learned->setVisible(m_proposals.kind() == ProposalKind::spark);
    m_shown->setVisible(m_proposals.kind() == ProposalKind::fuel ||
                        m_proposals.kind() == ProposalKind::joint);
    m_how->refresh();
    refreshState();
    m_goTo->setEnabled(map != nullptr);
    if (!map) {
        m_map->show(nullptr);
        showChart();
        Report report;
        if (!m_proposals.trouble().isEmpty())
            report.blocks.push_back(Sentence{verbatim(m_proposals.trouble().toStdString()), Tone::caution});
        else if (m_proposals.work().running())
            report.blocks.push_back(Sentence{MARKED("proposal.working", "Working it out …"), Tone::quiet});
        else if (!m_session.evidence().allRead())
            report.blocks.push_back(
                Sentence{MARKED("proposal.reading", "The logs are still being read."), Tone::quiet});
        else
            report.blocks.push_back(Sentence{MARKED("proposal.stopped", "Nothing has been worked out.")});
        m_words->show(std::move(report), m_session.units());
        refreshCell();
        return;
    }
    m_take->setText(map->takes == 0                       ? tr("Nothing to take")
                    : map->kind == ProposalKind::ceilings ? tr("Take these ceilings")
                    : map->kind == ProposalKind::sweep
                        ? tr("Note best spark")
                        : tr("Change %n cells", nullptr, static_cast<int>(map->takes)));
    m_map->show(std::make_shared<const ProposedMap>(*map));
    showChart();
    m_words->show(proposalReport(*map), m_session.units());
    refreshCell();
}

void ProposalsPage::showChart() {
    const ProposedMap *map = m_map->shownMap();
    const std::optional<std::size_t> swept =
        map && !map->cells.empty() ? map->cells[m_map->row() * map->rpm.size() + m_map->column()].sweep
                                   : std::nullopt;
    m_curve->setVisible(map && (!map->curve.empty() || !map->sweeps.empty()));
    if (swept)
        showSweep(map->sweeps[*swept]);
    else if (map && !map->curve.empty())
        showCurve(*map);
    else
        m_curve->show({});
}

// The points, the curve through them, and where it is at its best, with its interval.
void ProposalsPage::showSweep(const LoggedSweep &of) {
    const SparkSweep &s = of.sweep;
    Chart chart;
    chart.xTitle = tr("spark");
    chart.yTitle = tr("torque at one speed");
    chart.x = Dimension::sparkAngle;
    chart.y = Dimension::ratio;
    ChartSeries points, curve, best;
    const double whole = s.bestDeg ? s.at(*s.bestDeg) : s.at(s.points.back().sparkDeg);
    points.line = Qt::NoPen;
    points.mark = QCPScatterStyle::ssDisc;
    points.color = theme().ink;
    for (const SweepPoint &p : s.points) {
        points.x.push_back(p.sparkDeg);
        points.y.push_back(p.power / whole);
    }
    constexpr int steps = 60;
    curve.color = theme().content(of.content);
    const double from = points.x.front(), to = std::max(points.x.back(), s.highDeg.value_or(points.x.back()));
    for (int i = 0; i <= steps; ++i) {
        curve.x.push_back(from + (to - from) * i / steps);
        curve.y.push_back(s.at(curve.x.back()) / whole);
    }
    const double low = std::min(std::ranges::min(points.y), std::ranges::min(curve.y));
    const auto upright = [&](double deg, const QString &name, Qt::PenStyle line) {
        ChartSeries u;
        u.name = name;
        u.color = theme().quiet;
        u.line = line;
        u.width = 1;
        u.x = {deg, deg};
        u.y = {low, 1};
        chart.series.push_back(std::move(u));
    };
    chart.series.push_back(std::move(curve));
    chart.series.push_back(std::move(points));
    if (s.bestDeg) upright(*s.bestDeg, tr("best"), Qt::SolidLine);
    if (s.lowDeg) {
        upright(*s.lowDeg, {}, Qt::DashLine);
        upright(*s.highDeg, {}, Qt::DashLine);
    }
    if (s.leastDeg) upright(*s.leastDeg, tr("99.5 %"), Qt::DotLine);
    m_curve->show(std::move(chart));
}

void ProposalsPage::showCurve(const ProposedMap &map) {
    Chart chart;
    chart.xTitle = tr("content");
    chart.yTitle = tr("fuel on top");
    chart.x = Dimension::content;
    chart.y = Dimension::ratio;
    // What is known in one piece; what is not told apart is left open.
    ChartSeries known;
    const auto put = [&] {
        if (!known.x.empty()) chart.series.push_back(known);
        known.x.clear();
        known.y.clear();
        known.band.clear();
    };
    ChartSeries unknown;
    unknown.line = Qt::NoPen;
    unknown.mark = QCPScatterStyle::ssCross;
    unknown.color = theme().quiet;
    for (const ProposedMap::Node &n : map.curve) {
        known.color = theme().ink;
        if (!n.known) {
            put();
            unknown.x.push_back(n.content);
            unknown.y.push_back(0);
            continue;
        }
        known.x.push_back(n.content);
        known.y.push_back(n.value);
        known.band.push_back(n.plusMinus);
    }
    put();
    if (!unknown.x.empty()) {
        unknown.name = tr("not told apart");
        chart.series.push_back(std::move(unknown));
    }
    m_curve->show(std::move(chart));
}

void ProposalsPage::refreshCell() {
    const ProposedMap *map = m_map->shownMap();
    m_visits.clear();
    m_reviews.clear();
    if (!map) {
        m_cell->show(Report{}, m_session.units());
        return;
    }
    for (const auto &r : m_session.evidence().reviews())
        if (r->hasSamples()) m_reviews.push_back(r);
    const std::size_t x = m_map->column(), y = m_map->row();
    if (map->rpm.size() > 1 && map->loadKpa.size() > 1)
        m_visits = visitsOf(m_reviews, areaOf(Axis(map->rpm), Axis(map->loadKpa), x, y));
    // Those near the content that is looked at first, and not more than can be read.
    std::ranges::stable_sort(m_visits, {}, [&](const CellVisit &v) {
        constexpr double apart = 0.05;
        return v.content == v.content ? std::floor(std::abs(v.content - map->content) / apart) : 1e9;
    });
    if (m_visits.size() > mostVisits) m_visits.resize(mostVisits);
    m_cell->show(proposedCellReport(*map, y * map->rpm.size() + x, m_visits), m_session.units());
}

void ProposalsPage::take() {
    m_proposals.take();
}

ProposedCells::ProposedCells(Session &session, QWidget *parent)
    : CellMap(session, tr("What the logs propose, by cell"), "evidence", parent) {}

void ProposedCells::setCurrent(bool current) {
    if (current == m_current) return;
    m_current = current;
    update();
}

void ProposedCells::setShown(Shown shown) {
    m_shown = shown;
    update();
}

bool ProposedCells::showsErrors() const {
    return m_map->dimension == Dimension::ratio && m_shown != Shown::change;
}

double ProposedCells::valueOf(const ProposedCell &c) const {
    if (!showsErrors()) return c.change;
    return m_shown == Shown::errorNow ? c.errorNow : c.errorThen;
}

void ProposedCells::show(std::shared_ptr<const ProposedMap> map) {
    const bool first = !m_map || !map || m_map->kind != map->kind;
    m_map = std::move(map);
    if (!m_map) return setAxes({}, {});
    m_most = 0;
    m_least = 1e9;
    for (const ProposedCell &c : m_map->cells) {
        // Errors now and then and what changes: shaded alike, so that one can be held against the other.
        for (const double v : {c.change, c.errorNow, c.errorThen})
            if (v == v) m_most = std::max(m_most, isDifference(m_map->kind) ? std::abs(v) : v);
        if (c.change == c.change) m_least = std::min(m_least, c.change);
    }
    // A per cent, or a degree, is never shown as if it were a great deal; and one wild cell leaves the rest.
    if (isDifference(m_map->kind))
        m_most =
            m_map->dimension == Dimension::ratio ? std::clamp(m_most, 0.04, 0.15) : std::max(m_most, 3.0);
    setAxes(m_map->rpm, m_map->loadKpa);
    if (!first) return;
    // The cursor begins where most is said.
    std::size_t best = 0;
    for (std::size_t i = 0; i < m_map->cells.size(); ++i)
        if (m_map->cells[i].hits > m_map->cells[best].hits) best = i;
    if (!m_map->rpm.empty()) choose(best % m_map->rpm.size(), best / m_map->rpm.size());
}

// What changes a little is not shown as nothing.
bool ProposedCells::roundsToNothing(double change) {
    constexpr double half = 0.5;
    return std::abs(change) < half;
}

// Where there is no room for tenths a small change is its direction alone.
QString ProposedCells::fewDigits(const ProposedCell &c) const {
    const QString n = number(c, false);
    return isDifference(m_map->kind) && n.contains(QLatin1Char('.')) ? n.first(1) : n;
}

QString ProposedCells::number(const ProposedCell &c, bool tenths) const {
    const double value = valueOf(c);
    if (!(value == value)) return {};
    constexpr double percent = 100;
    const double v = m_map->dimension == Dimension::ratio ? value * percent : value;
    if (isDifference(m_map->kind))
        return tenths || roundsToNothing(v) ? QString::asprintf("%+.1f", v) : QString::asprintf("%+.0f", v);
    return QString::number(v, 'f', tenths ? 1 : 0);
}

QString ProposedCells::words(std::size_t x, std::size_t y) const {
    if (!m_map) return {};
    const ProposedCell &c = m_map->cells[indexOf(x, y)];
    QStringList out{shown(c.rpm, Dimension::engineSpeed, session().units()),
                    shown(c.loadKpa, Dimension::pressure, session().units()), text(inWords(c.state))};
    if (const double v = valueOf(c); v == v)
        out << number(c) +
                   (m_map->dimension == Dimension::ratio ? QStringLiteral(" %") : QStringLiteral("°"));
    for (const Phrase &p : c.said)
        out << text(p, session().units());
    return out.join(QStringLiteral(", "));
}

QString ProposedCells::copied(std::size_t x, std::size_t y) const {
    return number(m_map->cells[indexOf(x, y)]);
}

void ProposedCells::paintHead(QPainter &p) {
    const bool methanol = session().job().alcohol == Alcohol::methanol;
    p.setPen(theme().content(m_map->content));
    QString head = tr("At %1").arg(text(contentName(m_map->content, methanol)));
    if (showsErrors())
        head += m_shown == Shown::errorNow ? tr(", λ over its target now, per cent")
                                           : tr(", λ over its target then, per cent");
    else if (m_map->dimension == Dimension::ratio)
        head += tr(", fuel in per cent of what it gets");
    else if (m_map->kind == ProposalKind::spark)
        head += tr(", degrees more or less");
    else if (m_map->kind == ProposalKind::sweep)
        head += tr(", degrees to 99.5 % of the power");
    else
        head += tr(", degrees that it stands");
    if (!m_current) head += tr(" · being worked out again");
    const QFont headFont = p.font();
    const QColor headColour = p.pen().color();
    double right = width() - 4;
    // In the room that the key leaves: it says what the hues are.
    const auto drawHead = [&] {
        p.setFont(headFont);
        p.setPen(headColour);
        const double left = box(0, 0).left();
        p.drawText(QRectF(left, 0, right - left, 18), Qt::AlignLeft | Qt::AlignVCenter,
                   p.fontMetrics().elidedText(head, Qt::ElideRight, static_cast<int>(right - left)));
    };
    if (!isDifference(m_map->kind)) return drawHead();
    p.setFont(sansFont(10));
    const bool errors = showsErrors();
    for (const auto &[word, step] :
         {std::pair{errors ? tr("lean") : tr("more"), 0.7}, {errors ? tr("rich") : tr("less"), -0.7}}) {
        right -= p.fontMetrics().horizontalAdvance(word);
        p.setPen(theme().quiet);
        p.drawText(QPointF(right, 13), word);
        right -= 16;
        p.fillRect(QRectF(right, 4, 12, 11), theme().difference(step));
        right -= 8;
    }
    drawHead();
}

QBrush ProposedCells::fill(const ProposedCell &c) const {
    if (isDifference(m_map->kind)) return theme().difference(std::clamp(valueOf(c) / m_most, -1.0, 1.0));
    return theme().shade(m_map->content, 0.15 + 0.7 * (c.change - m_least) / std::max(1.0, m_most - m_least));
}

void ProposedCells::paintCell(QPainter &p, const QRectF &cell, std::size_t x, std::size_t y) {
    using S = ProposedState;
    const ProposedCell &c = m_map->cells[indexOf(x, y)];
    p.fillRect(cell, theme().paper);
    // Errors are measured wherever samples are, whatever becomes of the cell.
    const bool errors = showsErrors(), known = valueOf(c) == valueOf(c);
    const bool said = known && (errors || (c.state != S::nothing && c.state != S::notSeparable));
    QColor under = theme().paper;
    if (said && (errors || c.state != S::kept || !isDifference(m_map->kind))) {
        const QBrush brush = fill(c);
        under = brush.color();
        if (c.state == S::inferred && !errors) {
            p.fillRect(cell, QBrush(under, Qt::Dense4Pattern));
            under = theme().paper;
        } else {
            p.fillRect(cell, brush);
        }
    }
    p.setPen(theme().line);
    p.setBrush(Qt::NoBrush);
    p.drawRect(cell);
    if (c.state == S::notSeparable && !errors) p.fillRect(cell, QBrush(theme().quiet, Qt::BDiagPattern));
    if (c.state == S::refused && !errors) {
        p.setPen(QPen(theme().trouble, 1.5));
        p.drawLine(cell.topLeft(), cell.bottomRight());
        p.drawLine(cell.topRight(), cell.bottomLeft());
    }
    if (c.state == S::knocks) {
        const double side = std::min(cell.width(), cell.height()) / 3;
        const QPointF corner = cell.topRight();
        p.setPen(Qt::NoPen);
        p.setBrush(theme().trouble);
        p.drawPolygon(QPolygonF{corner, corner - QPointF(side, 0), corner + QPointF(0, side)});
        p.setBrush(Qt::NoBrush);
    }
    constexpr int digits = 4, least = 2;
    if (!fits(least)) return;
    const bool room = fits(digits);
    const QString n = c.state == S::kept && isDifference(m_map->kind) && !errors ? QStringLiteral("·")
                      : !said                                                    ? QString()
                      : room                                                     ? number(c, true)
                                                                                 : fewDigits(c);
    p.setFont(monoFont(room ? 10 : 9, c.state == S::knocks));
    p.setPen(under == theme().paper ? theme().ink : theme().textOn(under));
    p.drawText(cell, Qt::AlignCenter, n);
    // How many steps of the search it has behind it.
    constexpr double roomForSteps = 22;
    if (m_map->kind == ProposalKind::spark && c.steps > 0 && cell.height() >= roomForSteps) {
        p.setFont(monoFont(8));
        p.drawText(cell.adjusted(2, 1, 0, 0), Qt::AlignLeft | Qt::AlignTop, QString::number(c.steps));
    }
}

} // namespace wheelwright
