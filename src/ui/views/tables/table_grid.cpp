// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/tables/table_grid.h"

#include "core/job/job_schema.h"
#include "core/study/cell_trust.h"
#include "core/study/load_axis.h"
#include "core/study/school.h"
#include "core/tables/table_kind.h"
#include "session/evidence.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/widgets/digit_painter.h"
#include "ui/widgets/refresh.h"

#include <QLabel>
#include <QLineEdit>
#include <QPainter>

#include <algorithm>
#include <cmath>
#include <limits>

namespace wheelwright {
namespace {

constexpr int headerHeight = 18, rowHeaderWidth = 36, titleHeight = 20;
constexpr int smallestFont = 9, largestFont = 15;
constexpr int roomForATag = 60; // width; a narrower table only shades

// λ .82: the nought says nothing and costs a column.
QString withoutNought(const QString &digits) {
    return digits.size() > 1 && digits[0] == u'0' && !digits[1].isDigit() ? digits.mid(1) : digits;
}

} // namespace

TableGrid::TableGrid(Session &session, TableSide side, QWidget *parent)
    : QWidget(parent), m_session(session), m_side(side), m_entry(new QLineEdit(this)),
      m_share(new QLabel(this)) {
    setFocusPolicy(Qt::StrongFocus);
    setAttribute(Qt::WA_OpaquePaintEvent); // or all that lies under it is painted first
    setProperty("helpPage", "tables");
    setAccessibleName(spokenName());
    m_entry->hide();
    m_share->hide();
    m_share->setAutoFillBackground(true);
    m_share->setMargin(3);
    m_share->setAccessibleName(tr("What the entry does to both tables"));
    connect(m_entry, &QLineEdit::textChanged, this, &TableGrid::showShare);
    m_entry->setFont(monoFont(13));
    m_entry->setAccessibleName(tr("Entry: 14 or =14 sets, +2 adds, *1.03 multiplies"));
    m_entry->installEventFilter(this);
    connect(&session.evidence(), &Evidence::momentChanged, this, qOverload<>(&QWidget::update));
    (new Refresh(session, this))
        ->on(Refresh::job | Refresh::units | Refresh::selection, [this] { refresh(); })
        .on(Refresh::content, [this] {
            // Base and top hold the same numbers at every content, unless they are levels of it.
            if (m_side == TableSide::now || definitionOf(m_session.job().calibration.school).levels)
                refresh();
        });
}

void TableGrid::refresh() {
    const Table2D &t = shownTable();
    const CellIndex c = cursorIn(t, m_session.cell());
    setAccessibleName(spokenName());
    setAccessibleDescription(cellWords(t, c));
    partWasChosen(*this);
    update();
}

QString TableGrid::spokenName() const {
    return showsExtra()                ? text(m_session.extra()->name)
           : m_side == TableSide::base ? tr("Base table")
           : m_side == TableSide::top  ? tr("Top table")
                                       : tr("Now table");
}

bool TableGrid::showsExtra() const {
    return m_side == TableSide::now && m_session.extra();
}

TableField TableGrid::field() const {
    return showsExtra() ? fieldOf(*m_session.extra()) : tableIn(m_session.job(), m_session.quantity(), false);
}

QColor TableGrid::shadeOf(double magnitude) const {
    const std::optional<double> content = contentShown();
    return content ? theme().shade(*content, magnitude) : theme().plainShade(magnitude);
}

QString TableGrid::acrossText(double v, const TableField &f) const {
    return f.x.dimension == Dimension::engineSpeed || f.x.dimension == Dimension::none
               ? briefText(v, m_session.units())
               : shown(v, f.x.dimension, m_session.units(), false);
}

std::optional<double> TableGrid::contentShown() const {
    if (showsExtra()) {
        const ExtraTable &extra = *m_session.extra();
        return definitionOf(extra.kind).atContent ? std::optional(extra.content) : std::nullopt;
    }
    if (m_side == TableSide::now) return m_session.content();
    const BlendEnds ends = m_session.study().ends(m_session.quantity(), m_session.content());
    return m_side == TableSide::base ? ends.lowContent : ends.highContent;
}

const Table2D &TableGrid::shownTable() const {
    if (m_side != TableSide::now) return m_session.tableAt(m_side);
    if (showsExtra()) return m_session.extra()->table;
    const Shown now{m_session.jobVersion(), m_session.quantity(), {}, m_session.content()};
    if (!m_blended || m_blendedOf != now) {
        m_blended = m_session.study().blended(m_session.quantity(), m_session.content());
        m_blendedOf = now;
    }
    return *m_blended;
}

// The cursor lives on the base table's axes; a top table with other axes shows it at the nearest breakpoints.
CellIndex TableGrid::cursorIn(const Table2D &t, CellIndex cell) const {
    const Table2D &base = m_session.table();
    if (t.x() == base.x() && t.y() == base.y()) return cell;
    return {t.x().nearest(base.x()[cell.x]), t.y().nearest(base.y()[cell.y])};
}

TableFace::Style TableGrid::layoutOf(const Table2D &t) const {
    TableFace::Style l;
    l.numbers = showsNumbers();
    l.columns = t.x().size();
    l.rows = t.y().size();
    l.left = l.numbers ? rowHeaderWidth : 2;
    l.top = titleHeight + (l.numbers ? headerHeight : 2);
    l.cellWidth = (width() - l.left - 2) / static_cast<double>(l.columns);
    l.cellHeight = (height() - l.top - 2) / static_cast<double>(l.rows);
    return l;
}

double TableGrid::shownValue(const Table2D &t, CellIndex cell) const {
    const double x = t.x()[cell.x], y = t.y()[cell.y];
    const double v = m_subject ? m_subject->lookup(x, y).value : t.cell(cell);
    return m_reference ? v - m_reference->lookup(x, y).value : v;
}

void TableGrid::setReference(std::optional<Table2D> reference, std::optional<Table2D> subject,
                             const QString &words) {
    if (reference == m_reference && subject == m_subject && words == m_referenceWords) return;
    m_referenceWords = words;
    m_reference = std::move(reference);
    m_subject = std::move(subject);
    ++m_referenceCount;
    update();
}

void TableGrid::setShowsTrust(bool on) {
    if (on == m_showsTrust) return;
    m_showsTrust = on;
    update();
}

QString TableGrid::cellText(double value) const {
    const Dimension d = showsExtra() ? definitionOf(m_session.extra()->kind).dimension
                                     : tableIn(m_session.job(), m_session.quantity(), false).dimension;
    if (m_reference) { // a step, in the unit's size but without its zero
        const double step = toShown(value, d, m_session.units()) - toShown(0, d, m_session.units());
        constexpr double nothing = 5e-4;
        if (std::abs(step) < nothing) return QStringLiteral("·");
        const double size = std::abs(step); // more is told by the hue, less by hue and sign
        const QString digits = fixedText(size, size < 0.1 ? 3 : size < 1 ? 2 : 1, m_session.units());
        return (step < 0 ? QStringLiteral("−") : QString()) + withoutNought(digits);
    }
    return withoutNought(shown(value, d, m_session.units(), false));
}

// The longest of what the cells say.
QString TableGrid::widestText(const Table2D &t) const {
    QString widest;
    if (!m_reference) {
        const auto [least, most] = std::ranges::minmax(t.cells());
        return cellText(least).size() > cellText(most).size() ? cellText(least) : cellText(most);
    }
    for (std::size_t y = 0; y < t.y().size(); ++y)
        for (std::size_t x = 0; x < t.x().size(); ++x)
            if (const QString here = cellText(shownValue(t, {x, y})); here.size() > widest.size())
                widest = here;
    return widest;
}

int TableGrid::readableWidth() const {
    const Table2D &t = shownTable();
    const QFontMetrics metrics(sansFont(smallestFont));
    const int widest = std::max(metrics.horizontalAdvance(widestText(t)),
                                metrics.horizontalAdvance(acrossText(t.x().last(), field())));
    return rowHeaderWidth + 2 + static_cast<int>(t.x().size()) * (widest + 3);
}

QSize TableGrid::fittingSize() const {
    const Table2D &t = shownTable();
    constexpr int cellWidth = 84, cellHeight = 36;
    return {rowHeaderWidth + 4 + static_cast<int>(t.x().size()) * cellWidth,
            titleHeight + headerHeight + 4 + static_cast<int>(t.y().size()) * cellHeight};
}

bool TableGrid::showsNumbers() const {
    return width() >= readableWidth();
}

QFont TableGrid::numberFont(const Table2D &t, double cellWidth, double cellHeight) const {
    const QString longest = widestText(t);
    for (int size = largestFont; size > smallestFont; --size) {
        const QFontMetrics metrics(sansFont(size));
        if (metrics.horizontalAdvance(longest) + 4 <= cellWidth && metrics.height() <= cellHeight + 2)
            return sansFont(size);
    }
    return sansFont(smallestFont);
}

QRect TableGrid::cellRect(CellIndex cell) const {
    return TableFace::cellRect(layoutOf(shownTable()), cell);
}

void TableGrid::paintEvent(QPaintEvent *) {
    QPainter p(this);
    const Table2D &t = shownTable();
    const TableFace::Style l = layoutOf(t);
    p.drawPixmap(0, 0, pictureOf(t, l));
    const std::optional<double> content = contentShown();
    const QColor hue = content ? theme().content(*content) : theme().ink;
    p.setFont(sansFont(13, true));
    const QRect title(0, 0, width(), titleHeight);
    p.setPen(hue);
    QString words = titleWords();
    const QString mode = m_reference    ? QStringLiteral("  ") + m_referenceWords
                         : m_showsTrust ? tr("  where been")
                                        : QString();
    const int room = width() - static_cast<int>(l.left) - p.fontMetrics().horizontalAdvance(words);
    const int least = p.fontMetrics().averageCharWidth() * 8; // fewer letters of a name say nothing
    if (room >= std::min(least, p.fontMetrics().horizontalAdvance(mode)))
        words += p.fontMetrics().elidedText(mode, Qt::ElideRight, room);
    if (width() > roomForATag)
        p.drawText(title.adjusted(static_cast<int>(l.left), 0, 0, -2), Qt::AlignVCenter | Qt::AlignLeft,
                   words);
    if (hasFocus() || m_entry->hasFocus())
        p.fillRect(
            QRect(static_cast<int>(l.left), titleHeight - 3, width() - static_cast<int>(l.left) - 2, 2), hue);
    if (l.numbers) drawHeaders(p, t, l);
    drawMarks(p, t, l);
    drawTrail(p, t, l);
    drawSelection(p, t, l);
}

// Where the episode at the moment of the log ran through the table, and where it is at that moment.
void TableGrid::drawTrail(QPainter &p, const Table2D &t, const TableFace::Style &l) const {
    const Evidence &evidence = m_session.evidence();
    const auto review = evidence.review(evidence.log());
    const auto sample = evidence.sampleNow();
    if (!evidence.momentChosen() || !review || !sample || !overLoad() || t.x().size() < 2 || t.y().size() < 2)
        return;
    const LogTrace &log = review->trace();
    const auto placeOf = [&](std::size_t i) -> std::optional<QPointF> {
        const double rpm = log.at(ChannelRole::rpm, i), load = log.at(ChannelRole::map, i);
        if (rpm != rpm || load != load) return std::nullopt;
        const AxisPosition x = t.x().locate(rpm), y = t.y().locate(axisOfLoad(m_session.job(), load));
        const QPointF a = QRectF(TableFace::cellRect(l, {x.cell, y.cell})).center();
        const QPointF b = QRectF(TableFace::cellRect(l, {x.cell + 1, y.cell + 1})).center();
        return QPointF(a.x() + (b.x() - a.x()) * x.t, a.y() + (b.y() - a.y()) * y.t);
    };
    p.save();
    p.setRenderHint(QPainter::Antialiasing);
    if (const Episode *e = evidence.episodeNow()) {
        QPolygonF trail;
        const std::size_t stride = std::max<std::size_t>(1, (e->to - e->from) / 500);
        for (std::size_t i = e->from; i <= e->to; i += stride)
            if (const auto at = placeOf(i)) trail << *at;
        p.setPen(QPen(theme().paper, 4));
        p.drawPolyline(trail);
        p.setPen(QPen(theme().ink, 1.6));
        p.drawPolyline(trail);
    }
    if (const auto at = placeOf(*sample)) {
        p.setPen(QPen(theme().paper, 4));
        p.setBrush(Qt::NoBrush);
        p.drawEllipse(*at, 7, 7);
        p.setPen(QPen(theme().ink, 2));
        p.drawEllipse(*at, 7, 7);
    }
    p.restore();
}

bool TableGrid::overLoad() const {
    if (showsExtra()) {
        const TableKindDefinition &kind = definitionOf(m_session.extra()->kind);
        return kind.x.key == axes::engineSpeed.key && kind.y.key == axes::load.key;
    }
    return m_session.quantity() != CalibratedQuantity::boost;
}

QString TableGrid::titleWords() const {
    const auto named = [this](double content) {
        return text(contentName(content, m_session.job().alcohol == Alcohol::methanol));
    };
    if (showsExtra()) {
        const ExtraTable &extra = *m_session.extra();
        const TableKindDefinition &kind = definitionOf(extra.kind);
        if (!kind.atContent) return text(extra.name);
        const QString known =
            extra.plusMinus > 0
                ? QStringLiteral("  ± ") + shown(extra.plusMinus, kind.dimension, m_session.units())
                : QString();
        return text(extra.name) + QStringLiteral("  ") + named(extra.content) + known;
    }
    const QString name = m_side == TableSide::base  ? tr("base")
                         : m_side == TableSide::top ? tr("top")
                         : m_subject                ? tr("blend") // of another revision
                                                    : tr("now");
    return name + QStringLiteral("  ") + named(*contentShown());
}

void TableGrid::drawHeaders(QPainter &p, const Table2D &t, const TableFace::Style &l) const {
    const CellIndex cursor = cursorIn(t, m_session.cell());
    const TableField f = field();
    const Dimension yDimension = f.y.dimension;
    const bool contentDown = f.y.key == axes::content.key;
    DigitPainter digits(sansFont(smallestFont + (l.cellWidth > 30 ? 1 : 0)));
    const auto ink = [](bool here) { return here ? theme().ink : theme().quiet; };
    for (std::size_t x = 0; x < t.x().size(); ++x) {
        const QRect cell = TableFace::cellRect(l, {x, 0});
        digits.add(QRect(cell.left() - 4, titleHeight, cell.width() + 8, headerHeight),
                   acrossText(t.x()[x], f),
                   f.x.key == axes::content.key ? theme().content(t.x()[x]) : ink(x == cursor.x));
    }
    for (std::size_t y = 0; y < t.y().size() && !f.y.single(); ++y) {
        const QRect cell = TableFace::cellRect(l, {0, y});
        const QString label = yDimension == Dimension::none
                                  ? briefText(t.y()[y], m_session.units())
                                  : shown(t.y()[y], yDimension, m_session.units(), false);
        digits.add(QRect(0, cell.top(), rowHeaderWidth - 4, cell.height()), label,
                   contentDown ? theme().content(t.y()[y]) : ink(y == cursor.y), Qt::AlignRight);
    }
    digits.draw(p);
}

// One scale for all three tables, so that equal shades are equal numbers; differences shade in two hues
// around blank, as far as the largest step.
std::pair<double, double> TableGrid::scaleOf(const Table2D &t) const {
    double low = std::numeric_limits<double>::max(), most = std::numeric_limits<double>::lowest();
    if (m_reference) {
        most = 0;
        for (std::size_t y = 0; y < t.y().size(); ++y)
            for (std::size_t x = 0; x < t.x().size(); ++x)
                most = std::max(most, std::abs(shownValue(t, {x, y})));
        low = -most;
    } else {
        const auto include = [&](const Table2D &each) {
            const auto [least, highest] = std::ranges::minmax(each.cells());
            low = std::min(low, least);
            most = std::max(most, highest);
        };
        if (showsExtra()) { // those of one kind at several contents share it too
            for (const ExtraTable &e : m_session.job().extras)
                if (e.kind == m_session.extra()->kind) include(e.table);
        } else {
            for (const Table2D *each : tablesOf(m_session.job(), m_session.quantity()))
                include(*each);
        }
    }
    if (most == low) { // all alike: blank as a difference, the lightest shade as values
        most += m_reference ? 1 : 0;
        low -= m_reference ? 1 : 0;
    }
    return {low, std::max(most - low, 1e-9)};
}

const QPixmap &TableGrid::pictureOf(const Table2D &t, TableFace::Style style) {
    const std::shared_ptr<const Proof> proof =
        m_showsTrust ? m_session.evidence().proof() : nullptr; // what another would draw
    const Pictured now{{m_session.jobVersion(), m_session.quantity(),
                        showsExtra() ? m_session.extraId() : std::nullopt, m_session.content()},
                       m_session.units(),
                       size(),
                       devicePixelRatioF(),
                       theme().paper,
                       m_showsTrust,
                       proof.get(),
                       m_referenceCount};
    if (m_pictured == now) return m_face.picture();
    m_pictured = now;
    style.size = size();
    style.pixelRatio = devicePixelRatioF();
    style.paper = theme().paper;
    style.quiet = theme().quiet;
    style.font = numberFont(t, style.cellWidth, style.cellHeight);
    for (int i = 0; i < TableFace::shades; ++i) {
        const double share = i / (TableFace::shades - 1.0);
        QColor &fill = style.fill[static_cast<std::size_t>(i)];
        fill = m_reference ? theme().difference(2 * share - 1) : shadeOf(share);
        style.pen[static_cast<std::size_t>(i)] = theme().textOn(fill);
    }
    const auto [low, span] = scaleOf(t);
    const std::vector<CellTrust> trust =
        !m_showsTrust ? std::vector<CellTrust>()
        : showsExtra()
            ? trustIn(m_session.study(), *m_session.extra(), m_session.content())
            : Provenance(m_session.study(), m_session.quantity(), m_session.content(), endOf(m_side))
                  .trust(proof.get(), contentShown());
    const bool anyAssumed = std::ranges::find(t.origins(), CellOrigin::assumed) != t.origins().end();
    std::vector<TableFace::Cell> cells(t.cells().size());
    for (std::size_t i = 0; i < cells.size(); ++i) {
        const double value = shownValue(t, {i % style.columns, i / style.columns});
        const double share = std::clamp((value - low) / span, 0.0, 1.0);
        cells[i].shade = static_cast<int>(std::lround(share * (TableFace::shades - 1)));
        if (!trust.empty()) cells[i].trust = trust[i];
        cells[i].open = anyAssumed && !m_reference && t.origins()[i] == CellOrigin::assumed;
        if (style.numbers) cells[i].text = cellText(value);
    }
    return m_face.picture(style, std::move(cells));
}

// How many steps the search for spark has behind it: a grain each along the upper edge, from the right; one
// line of them once it has found.
void TableGrid::drawSearch(QPainter &p, const Table2D &t, const TableFace::Style &l) const {
    const Job &job = m_session.job();
    if (showsExtra() || m_session.quantity() != CalibratedQuantity::spark || job.sparkSearches.empty() ||
        !l.numbers)
        return;
    constexpr double halfBand = 0.05;
    constexpr int grain = 2, apart = 4;
    const double content = contentShown().value_or(m_session.content());
    for (const SparkSearch &s : job.sparkSearches.values()) {
        const CellIndex i{t.x().nearest(s.rpm), t.y().nearest(axisOfLoad(job, s.loadKpa))};
        if (t.x()[i.x] != s.rpm || std::abs(s.content - content) > halfBand) continue;
        const QRect cell = TableFace::cellRect(l, i);
        const int most = std::max(1, (cell.width() - apart) / apart);
        const int steps = std::clamp(static_cast<int>(s.steps), 1, most);
        const int right = cell.right() - apart;
        if (s.phase == SearchPhase::done)
            p.fillRect(QRect(right - (steps - 1) * apart, cell.top() + 1, (steps - 1) * apart + grain, grain),
                       theme().ink);
        else
            for (int k = 0; k < steps; ++k)
                p.fillRect(QRect(right - k * apart, cell.top() + 1, grain, grain), theme().ink);
    }
}

// Locked: a bar under the number. Noted: a dot.
void TableGrid::drawMarks(QPainter &p, const Table2D &t, const TableFace::Style &l) const {
    drawSearch(p, t, l);
    const Job &job = m_session.job();
    if (job.cellMarks.empty()) return;
    p.setRenderHint(QPainter::Antialiasing);
    std::vector<std::string> paths;
    if (showsExtra()) paths = {field().path};
    for (const bool high : {false, true})
        if (!showsExtra() && (m_side == TableSide::now || high == (m_side == TableSide::top)))
            paths.push_back(endPath(job, m_session.quantity(), m_session.content(), high));
    for (const std::string &path : paths) {
        for (const CellMark &m : job.cellMarks) {
            if (m.table != path) continue;
            const CellIndex i{t.x().nearest(m.rpm), t.y().nearest(m.y)};
            if (t.x()[i.x] != m.rpm || t.y()[i.y] != m.y) continue;
            const QRect cell = TableFace::cellRect(l, i);
            if (m.locked)
                p.fillRect(QRect(cell.left() + 2, cell.bottom() - 2, cell.width() - 5, 2), theme().ink);
            if (m.note.empty()) continue;
            p.setPen(QPen(theme().paper, 1));
            p.setBrush(theme().ink);
            p.drawEllipse(QPointF(cell.left() + 4.5, cell.top() + 4.5), 3, 3);
        }
    }
    p.setRenderHint(QPainter::Antialiasing, false);
}

QRect TableGrid::chosenRect(const Table2D &t, const TableFace::Style &l, CellIndex cell) const {
    return TableFace::cellRect(l, cursorIn(t, cell));
}

void TableGrid::drawSelection(QPainter &p, const Table2D &t, const TableFace::Style &l) const {
    const CellRange range = m_session.selection();
    p.setPen(QPen(theme().ink, 2));
    p.setBrush(Qt::NoBrush);
    if (m_session.hasKept()) { // any shape: its outline, edge by edge
        const CellSet chosen = m_session.chosenCells();
        const auto has = [&](std::size_t x, std::size_t y) {
            return std::ranges::binary_search(chosen, CellIndex{x, y});
        };
        for (const CellIndex &i : chosen) {
            const QRect r = chosenRect(t, l, i).adjusted(0, 0, -1, -1);
            if (i.x == 0 || !has(i.x - 1, i.y)) p.drawLine(r.topLeft(), r.bottomLeft());
            if (!has(i.x + 1, i.y)) p.drawLine(r.topRight(), r.bottomRight());
            if (i.y == 0 || !has(i.x, i.y - 1)) p.drawLine(r.topLeft(), r.topRight());
            if (!has(i.x, i.y + 1)) p.drawLine(r.bottomLeft(), r.bottomRight());
        }
    } else {
        const QRect from = chosenRect(t, l, range.from), to = chosenRect(t, l, range.to);
        p.drawRect(from.united(to).adjusted(0, 0, -1, -1));
    }
    const CellIndex cursor = cursorIn(t, m_session.cell());
    const QRect at = TableFace::cellRect(l, cursor);
    if (l.numbers) {
        p.setPen(QPen(theme().paper, 1));
        p.drawRect(at.adjusted(2, 2, -3, -3));
        return;
    }
    // No room for numbers: a cross-hair and the one number that matters.
    p.setPen(QPen(theme().ink, 1));
    p.drawLine(at.center().x(), static_cast<int>(l.top), at.center().x(), height() - 2);
    p.drawLine(static_cast<int>(l.left), at.center().y(), width() - 2, at.center().y());
    if (width() < roomForATag) return;
    p.setFont(sansFont(17, true));
    const QString value = cellText(shownValue(t, cursor));
    const QFontMetrics metrics(p.font());
    QRect tag(0, 0, metrics.horizontalAdvance(value) + 12, metrics.height() + 4);
    tag.moveTo(at.center().x() < width() / 2 ? at.right() + 6 : at.left() - tag.width() - 6,
               at.center().y() < height() / 2 ? at.bottom() + 6 : at.top() - tag.height() - 6);
    p.setBrush(theme().raised);
    p.drawRect(tag);
    p.drawText(tag, Qt::AlignCenter, value);
}

} // namespace wheelwright
