#include "ui/views/tables/table_grid.h"

#include "core/job/job_schema.h"
#include "core/tables/cell_trust.h"
#include "core/tables/school.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/widgets/digit_painter.h"

#include <QApplication>
#include <QClipboard>
#include <QInputDialog>
#include <QKeyEvent>
#include <QLineEdit>
#include <QMessageBox>
#include <QPainter>
#include <QPushButton>

#include <algorithm>
#include <cmath>
#include <limits>

namespace wheelwright {
namespace {

constexpr int headerHeight = 18, rowHeaderWidth = 36, titleHeight = 20;
constexpr int smallestFont = 9, largestFont = 15;

} // namespace

TableGrid::TableGrid(Session &session, TableSide side, QWidget *parent)
    : QWidget(parent), m_session(session), m_side(side), m_entry(new QLineEdit(this)) {
    setFocusPolicy(Qt::StrongFocus);
    setProperty("helpPage", "tables");
    setAccessibleName(side == TableSide::base  ? tr("Base table")
                      : side == TableSide::top ? tr("Top table")
                                               : tr("Now table"));
    m_entry->hide();
    m_entry->setFont(monoFont(13));
    m_entry->setAccessibleName(tr("Entry: 14 or =14 sets, +2 adds, *1.03 multiplies"));
    m_entry->installEventFilter(this);
    const auto stale = [this] { refresh(); };
    // Base and top hold the same numbers at every content, unless they are levels of it.
    connect(&session, &Session::contentChanged, this, [this] {
        if (m_side == TableSide::now || definitionOf(m_session.job().calibration.school).levels) refresh();
    });
    connect(&session, &Session::jobChanged, this, stale);
    connect(&session, &Session::jobReplaced, this, stale);
    connect(&session, &Session::unitsChanged, this, stale);
    connect(&session, &Session::selectionChanged, this, stale);
}

void TableGrid::refresh() {
    m_stale = true;
    const Table2D &t = shownTable();
    const CellIndex c = cursorIn(t, m_session.cell());
    setAccessibleDescription(
        tr("%1 rpm, row %2: %3").arg(t.x()[c.x]).arg(t.y()[c.y]).arg(cellText(t.cell(c))));
    update();
}

double TableGrid::contentShown() const {
    if (m_side == TableSide::now) return m_session.content();
    const BlendEnds ends = SchoolModel(m_session.job()).at(m_session.quantity(), m_session.content());
    return m_side == TableSide::base ? ends.lowContent : ends.highContent;
}

const Table2D &TableGrid::shownTable() const {
    if (m_side != TableSide::now) return m_session.tableAt(m_side);
    if (m_stale) m_blended = blendedTable(m_session.job(), m_session.quantity(), m_session.content());
    m_stale = false;
    return m_blended;
}

// The cursor lives on the base table's axes; a top table with other axes shows it at the nearest breakpoints.
CellIndex TableGrid::cursorIn(const Table2D &t, CellIndex cell) const {
    const Table2D &base = m_session.table();
    if (t.x() == base.x() && t.y() == base.y()) return cell;
    return {t.x().nearest(base.x()[cell.x]), t.y().nearest(base.y()[cell.y])};
}

TableGrid::Layout TableGrid::layoutOf(const Table2D &t) const {
    const bool numbers = showsNumbers();
    const double left = numbers ? rowHeaderWidth : 2;
    const double top = titleHeight + (numbers ? headerHeight : 2);
    return {numbers, left, top, (width() - left - 2) / static_cast<double>(t.x().size()),
            (height() - top - 2) / static_cast<double>(t.y().size())};
}

QRect TableGrid::cellRect(const Layout &l, CellIndex cell) {
    // Each edge is rounded from its own index, so that neighbours share it: no seams between cells of uneven
    // pixel widths.
    const auto edge = [](double first, double pitch, std::size_t i) {
        return static_cast<int>(std::round(first + pitch * static_cast<double>(i)));
    };
    return QRect(
        QPoint(edge(l.left, l.cellWidth, cell.x), edge(l.top, l.cellHeight, cell.y)),
        QPoint(edge(l.left, l.cellWidth, cell.x + 1) - 1, edge(l.top, l.cellHeight, cell.y + 1) - 1));
}

double TableGrid::shownValue(const Table2D &t, CellIndex cell) const {
    const double v = t.cell(cell);
    return m_reference ? v - m_reference->lookup(t.x()[cell.x], t.y()[cell.y]).value : v;
}

void TableGrid::setReference(std::optional<Table2D> reference) {
    m_reference = std::move(reference);
    update();
}

void TableGrid::setShowsTrust(bool on) {
    m_showsTrust = on;
    update();
}

QString TableGrid::cellText(double value) const {
    const Dimension d = tableIn(m_session.job(), m_session.quantity(), false).dimension;
    if (m_reference) { // a step, in the unit's size but without its zero
        const double step = toShown(value, d, m_session.units()) - toShown(0, d, m_session.units());
        constexpr double nothing = 5e-4;
        if (std::abs(step) < nothing) return QStringLiteral("·");
        const double size = std::abs(step); // more is told by the hue, less by hue and sign
        QString digits = QString::number(size, 'f', size < 0.1 ? 3 : size < 1 ? 2 : 1);
        if (digits.startsWith(QLatin1String("0."))) digits.remove(0, 1);
        return (step < 0 ? QStringLiteral("−") : QString()) + digits;
    }
    QString s = shown(value, d, m_session.units(), false);
    if (s.startsWith(QLatin1String("0.")))
        s.remove(0, 1); // λ .82: the nought says nothing and costs a column
    return s;
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
                                metrics.horizontalAdvance(QString::number(t.x().last())));
    return rowHeaderWidth + 2 + static_cast<int>(t.x().size()) * (widest + 3);
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
    return cellRect(layoutOf(shownTable()), cell);
}

void TableGrid::paintEvent(QPaintEvent *) {
    QPainter p(this);
    const Table2D &t = shownTable();
    const Layout l = layoutOf(t);
    const QColor hue = theme().content(contentShown());
    const QString name = m_side == TableSide::base  ? tr("base")
                         : m_side == TableSide::top ? tr("top")
                                                    : tr("now");
    p.setFont(sansFont(13, true));
    const QRect title(0, 0, width(), titleHeight);
    p.setPen(hue);
    QString words = name + QStringLiteral("  ") +
                    text(contentName(contentShown(), m_session.job().alcohol == Alcohol::methanol));
    const QString mode = m_reference ? tr("  difference") : m_showsTrust ? tr("  where been") : QString();
    if (p.fontMetrics().horizontalAdvance(words + mode) + static_cast<int>(l.left) <= width()) words += mode;
    p.drawText(title.adjusted(static_cast<int>(l.left), 0, 0, -2), Qt::AlignVCenter | Qt::AlignLeft, words);
    if (hasFocus() || m_entry->hasFocus())
        p.fillRect(
            QRect(static_cast<int>(l.left), titleHeight - 3, width() - static_cast<int>(l.left) - 2, 2), hue);
    if (l.numbers) drawHeaders(p, t, l);
    drawCells(p, t, l);
    drawMarks(p, t, l);
    drawSelection(p, t, l);
}

void TableGrid::drawHeaders(QPainter &p, const Table2D &t, const Layout &l) const {
    const CellIndex cursor = cursorIn(t, m_session.cell());
    const Dimension yDimension = tableIn(m_session.job(), m_session.quantity(), false).yDimension();
    p.setFont(sansFont(smallestFont + (l.cellWidth > 30 ? 1 : 0)));
    for (std::size_t x = 0; x < t.x().size(); ++x) {
        const QRect cell = cellRect(l, {x, 0});
        p.setPen(x == cursor.x ? theme().ink : theme().quiet);
        p.drawText(QRect(cell.left() - 4, titleHeight, cell.width() + 8, headerHeight), Qt::AlignCenter,
                   QString::number(t.x()[x]));
    }
    for (std::size_t y = 0; y < t.y().size(); ++y) {
        const QRect cell = cellRect(l, {0, y});
        p.setPen(y == cursor.y ? theme().ink : theme().quiet);
        const QString label = yDimension == Dimension::none
                                  ? QString::number(t.y()[y])
                                  : shown(t.y()[y], yDimension, m_session.units(), false);
        p.drawText(QRect(0, cell.top(), rowHeaderWidth - 4, cell.height()), Qt::AlignRight | Qt::AlignVCenter,
                   label);
    }
}

void TableGrid::drawCells(QPainter &p, const Table2D &t, const Layout &l) const {
    // One scale for all three tables, so that equal shades are equal numbers.
    double low = std::numeric_limits<double>::max(), most = std::numeric_limits<double>::lowest();
    for (const Table2D *each : tablesOf(m_session.job(), m_session.quantity())) {
        const auto [least, highest] = std::ranges::minmax(each->cells());
        low = std::min(low, least);
        most = std::max(most, highest);
    }
    if (m_reference) { // two hues around blank, as far as the largest step
        most = 0;
        for (std::size_t y = 0; y < t.y().size(); ++y)
            for (std::size_t x = 0; x < t.x().size(); ++x)
                most = std::max(most, std::abs(shownValue(t, {x, y})));
        low = -most;
    }
    if (most == low) { // all alike: blank as a difference, the lightest shade as values
        most += m_reference ? 1 : 0;
        low -= m_reference ? 1 : 0;
    }
    const double span = std::max(most - low, 1e-9);
    constexpr int shades = 64; // a palette, since making a colour costs more than filling a cell
    std::array<QColor, shades> fill, pen;
    for (int i = 0; i < shades; ++i) {
        fill[static_cast<std::size_t>(i)] = m_reference ? theme().difference(2 * i / (shades - 1.0) - 1)
                                                        : theme().shade(contentShown(), i / (shades - 1.0));
        pen[static_cast<std::size_t>(i)] = theme().textOn(fill[static_cast<std::size_t>(i)]);
    }
    // Where been. Solid: a log has corrected it. Hatched: the engine goes there, nothing proves it. Blank: it
    // cannot go there.
    const std::vector<CellTrust> trust =
        m_showsTrust ? trustOf(m_session.job(), m_session.quantity(), m_session.content(),
                               m_side != TableSide::now, m_side == TableSide::top)
                     : std::vector<CellTrust>();
    QColor hatch = theme().paper;
    hatch.setAlpha(150);
    DigitPainter digits(numberFont(t, l.cellWidth, l.cellHeight));
    for (std::size_t y = 0; y < t.y().size(); ++y)
        for (std::size_t x = 0; x < t.x().size(); ++x) {
            const double value = shownValue(t, {x, y});
            const double share = std::clamp((value - low) / span, 0.0, 1.0);
            const auto shade = static_cast<std::size_t>(share * (shades - 1) + 0.5);
            const QRect cell = cellRect(l, {x, y});
            const QRect inside = l.numbers ? cell.adjusted(0, 0, -1, -1) : cell;
            const CellTrust trusted = trust.empty() ? CellTrust::proven : trust[y * t.x().size() + x];
            if (trusted == CellTrust::never) {
                p.fillRect(inside, theme().paper);
                continue;
            }
            p.fillRect(inside, fill[shade]);
            if (trusted == CellTrust::inferred) p.fillRect(inside, QBrush(hatch, Qt::BDiagPattern));
            if (l.numbers) digits.add(cell, cellText(value), pen[shade]);
        }
    digits.draw(p);
}

// Locked: a bar under the number. Noted: a dot.
void TableGrid::drawMarks(QPainter &p, const Table2D &t, const Layout &l) const {
    const Job &job = m_session.job();
    if (job.cellMarks.empty()) return;
    p.setRenderHint(QPainter::Antialiasing);
    for (const bool high : {false, true}) {
        if (m_side != TableSide::now && high != (m_side == TableSide::top)) continue;
        const std::string path = endPath(job, m_session.quantity(), m_session.content(), high);
        for (const CellMark &m : job.cellMarks) {
            if (m.table != path) continue;
            const CellIndex i{t.x().nearest(m.rpm), t.y().nearest(m.y)};
            if (t.x()[i.x] != m.rpm || t.y()[i.y] != m.y) continue;
            const QRect cell = cellRect(l, i);
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

QRect TableGrid::chosenRect(const Table2D &t, const Layout &l, CellIndex cell) const {
    return cellRect(l, cursorIn(t, cell));
}

void TableGrid::drawSelection(QPainter &p, const Table2D &t, const Layout &l) const {
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
    const QRect at = cellRect(l, cursor);
    if (l.numbers) {
        p.setPen(QPen(theme().paper, 1));
        p.drawRect(at.adjusted(2, 2, -3, -3));
        return;
    }
    // No room for numbers: a cross-hair and the one number that matters.
    p.setPen(QPen(theme().ink, 1));
    p.drawLine(at.center().x(), static_cast<int>(l.top), at.center().x(), height() - 2);
    p.drawLine(static_cast<int>(l.left), at.center().y(), width() - 2, at.center().y());
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

std::optional<CellIndex> TableGrid::cellAt(QPointF position) const {
    const Table2D &t = shownTable();
    const Layout l = layoutOf(t);
    const double x = (position.x() - l.left) / l.cellWidth, y = (position.y() - l.top) / l.cellHeight;
    if (x < 0 || y < 0 || x >= static_cast<double>(t.x().size()) || y >= static_cast<double>(t.y().size()))
        return std::nullopt;
    const CellIndex here{static_cast<std::size_t>(x), static_cast<std::size_t>(y)};
    const Table2D &base = m_session.table();
    return CellIndex{base.x().nearest(t.x()[here.x]), base.y().nearest(t.y()[here.y])};
}

void TableGrid::mousePressEvent(QMouseEvent *event) {
    endEntry(false);
    m_lonelySign = {};
    const auto cell = cellAt(event->position());
    if (!cell) return;
    if (event->modifiers().testFlag(Qt::ControlModifier))
        m_session.addCell(*cell);
    else
        m_session.setCell(*cell, event->modifiers().testFlag(Qt::ShiftModifier));
}

void TableGrid::mouseMoveEvent(QMouseEvent *event) {
    if (!event->buttons().testFlag(Qt::LeftButton)) return;
    if (const auto cell = cellAt(event->position())) m_session.setCell(*cell, true);
}

void TableGrid::mouseDoubleClickEvent(QMouseEvent *event) {
    if (cellAt(event->position())) reopenCell();
}

void TableGrid::focusInEvent(QFocusEvent *event) {
    m_session.setSide(m_side);
    QWidget::focusInEvent(event);
    update();
}

void TableGrid::focusOutEvent(QFocusEvent *event) {
    m_lonelySign = {};
    QWidget::focusOutEvent(event);
    update();
}

bool TableGrid::moveCursor(QKeyEvent *event) {
    const CellIndex c = m_session.cell();
    const Table2D &t = m_session.table();
    const bool far = event->modifiers().testFlag(Qt::ControlModifier);
    const std::size_t lastX = t.x().size() - 1, lastY = t.y().size() - 1;
    CellIndex to = c;
    switch (event->key()) {
    case Qt::Key_Left:
        to.x = far ? 0 : c.x - (c.x > 0);
        break;
    case Qt::Key_Right:
        to.x = far ? lastX : std::min(c.x + 1, lastX);
        break;
    case Qt::Key_Up:
        to.y = far ? 0 : c.y - (c.y > 0);
        break;
    case Qt::Key_Down:
        to.y = far ? lastY : std::min(c.y + 1, lastY);
        break;
    case Qt::Key_Home:
        to.x = 0;
        to.y = far ? 0 : c.y;
        break;
    case Qt::Key_End:
        to.x = lastX;
        to.y = far ? lastY : c.y;
        break;
    default:
        return false;
    }
    m_session.setCell(to, event->modifiers().testFlag(Qt::ShiftModifier));
    return true;
}

void TableGrid::keyPressEvent(QKeyEvent *event) {
    const QChar sign = std::exchange(m_lonelySign, QChar());
    if (event->matches(QKeySequence::SelectAll)) {
        const Table2D &t = m_session.table();
        m_session.setCell({0, 0});
        m_session.setCell({t.x().size() - 1, t.y().size() - 1}, true);
        return;
    }
    if (moveCursor(event)) return;
    if (event->key() == Qt::Key_Escape && m_session.chosenCells().size() > 1) {
        m_session.setCell(m_session.cell());
        return;
    }
    const QString typed = event->text();
    const QChar c = typed.isEmpty() ? QChar() : typed.front();
    const bool control = event->modifiers() & (Qt::ControlModifier | Qt::AltModifier | Qt::MetaModifier);
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter || event->key() == Qt::Key_F2) {
        reopenCell();
    } else if (control || c.isNull()) {
        QWidget::keyPressEvent(event);
    } else if ((c.isDigit() || c == u'.' || c == u',') && !sign.isNull()) {
        m_session.undo(); // the nudge was the beginning of "+2"
        beginEntry(sign + typed);
    } else if (c.isDigit() || c == u'.' || c == u',' || c == u'=' || c == u'*') {
        beginEntry(typed);
    } else if (c == u'+' || c == u'-' || c == u'−') {
        const bool first = sign.isNull();
        if (m_session.nudge(c == u'+' ? 1 : -1) && first) m_lonelySign = c == u'+' ? u'+' : u'-';
    } else if (c == u'/') {
        m_session.interpolate();
    } else if (c == u'~') {
        m_session.smooth();
    } else if (c == u' ') {
        m_session.toggleLocks();
    } else if (c.toLower() == u'k') {
        m_session.keepSelection();
    } else if (c.toLower() == u'n') {
        editNote();
    } else {
        QWidget::keyPressEvent(event);
    }
}

void TableGrid::beginEntry(const QString &typed) {
    const QRect cell = cellRect(cursorIn(shownTable(), m_session.cell()));
    constexpr int entryWidth = 110, entryHeight = 28;
    m_entry->setGeometry(std::clamp(cell.left(), 0, std::max(0, width() - entryWidth)),
                         std::clamp(cell.bottom() + 2, 0, std::max(0, height() - entryHeight)), entryWidth,
                         entryHeight);
    m_entry->setText(typed);
    m_entry->setToolTip(tr("14 or =14 sets, +2 adds, -2 takes away, *1.03 multiplies. A unit may follow."));
    m_entry->show();
    m_entry->setFocus();
}

void TableGrid::editNote() {
    const QString old = m_session.cellNote();
    bool ok = false;
    const QString note = QInputDialog::getText(
        this, tr("Note on the cell"), tr("What is worth remembering here? Nothing takes the note away."),
        QLineEdit::Normal, old, &ok);
    if (ok) m_session.setCellNote(note);
}

void TableGrid::reopenCell() {
    const Table2D &t = shownTable();
    const std::optional<Table2D> reference = std::exchange(m_reference, std::nullopt);
    const QString value = cellText(t.cell(cursorIn(t, m_session.cell()))); // also while differences are shown
    m_reference = reference;
    beginEntry(value);
    m_entry->selectAll(); // typing replaces the old number
    m_reopened = m_entry->text();
}

// A line edit passes Return on to its parent after it has used it, which would open the cell again.
bool TableGrid::eventFilter(QObject *watched, QEvent *event) {
    if (watched == m_entry && event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent *>(event)->key();
        if (key == Qt::Key_Return || key == Qt::Key_Enter || key == Qt::Key_Escape) {
            endEntry(key != Qt::Key_Escape);
            return true;
        }
    }
    return QWidget::eventFilter(watched, event);
}

void TableGrid::endEntry(bool keep) {
    if (!m_entry->isVisible()) return;
    const QString typed = m_entry->text();
    // The old number as shown is rounded; leaving it alone must not round the cell.
    const bool untouched = !m_reopened.isEmpty() && typed == m_reopened;
    if (keep && !untouched && !typed.trimmed().isEmpty() && !m_session.enterExpression(typed)) {
        m_entry->selectAll(); // a mistake stays on the screen, to be put right
        return;
    }
    m_reopened.clear();
    m_entry->hide();
    setFocus();
}

void TableGrid::copy() {
    m_session.setSide(m_side);
    QApplication::clipboard()->setText(m_session.copyCells());
}

void TableGrid::copyPicture() {
    QApplication::clipboard()->setPixmap(grab());
}

void TableGrid::copyWithAxes() {
    m_session.setSide(m_side);
    QApplication::clipboard()->setText(m_session.copyCells(true));
}

void TableGrid::paste() {
    m_session.setSide(m_side);
    const QString block = QApplication::clipboard()->text();
    if (m_session.pasteCells(block) != Session::PasteResult::choiceNeeded) return;
    QMessageBox ask(QMessageBox::Question, tr("Paste with axes"),
                    tr("The block has breakpoints that this table has not got."), QMessageBox::Cancel, this);
    ask.setInformativeText(tr("Interpolated, the table keeps its breakpoints and changes only inside the "
                              "block. Taken over, the table becomes the block, axes and all."));
    const QPushButton *interpolate = ask.addButton(tr("Interpolate to this table"), QMessageBox::AcceptRole);
    const QPushButton *takeOver = ask.addButton(tr("Take over its axes"), QMessageBox::AcceptRole);
    ask.exec();
    if (ask.clickedButton() == interpolate) m_session.pasteCells(block, Session::BlockAxes::interpolate);
    if (ask.clickedButton() == takeOver) m_session.pasteCells(block, Session::BlockAxes::takeOver);
}

} // namespace wheelwright
