// SPDX-License-Identifier: GPL-3.0-or-later
// What the mouse and the keyboard do in a table.
#include "core/job/job_schema.h"
#include "session/cell_editor.h"
#include "ui/text.h"
#include "ui/views/tables/table_grid.h"

#include <QApplication>
#include <QClipboard>
#include <QInputDialog>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QMessageBox>
#include <QPushButton>

#include <algorithm>
#include <utility>

namespace wheelwright {

std::optional<CellIndex> TableGrid::cellAt(QPointF position) const {
    const Table2D &t = shownTable();
    const TableFace::Style l = layoutOf(t);
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
    else {
        if (!event->modifiers().testFlag(Qt::ShiftModifier) && m_session.hasKept()) m_session.forgetKept();
        m_session.setCell(*cell, event->modifiers().testFlag(Qt::ShiftModifier));
    }
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
    // After a pause the nudge was meant as one, and the digits are an entry of their own.
    constexpr qint64 oneMotionMs = 1000;
    const bool atOnce = m_signPressed.isValid() && m_signPressed.elapsed() <= oneMotionMs;
    const QChar pressed = std::exchange(m_lonelySign, QChar());
    const QChar sign = atOnce ? pressed : QChar();
    if (event->matches(QKeySequence::SelectAll)) {
        const Table2D &t = m_session.table();
        m_session.setCell({0, 0});
        m_session.setCell({t.x().size() - 1, t.y().size() - 1}, true);
        return;
    }
    if (moveCursor(event)) return;
    if (event->key() == Qt::Key_Escape && m_session.chosenCells().size() > 1) {
        m_session.forgetKept();
        return;
    }
    const QString typed = event->text();
    const QChar c = typed.isEmpty() ? QChar() : typed.front();
    const bool control = event->modifiers() & (Qt::ControlModifier | Qt::AltModifier | Qt::MetaModifier);
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter || event->key() == Qt::Key_F2)
        return reopenCell();
    if (control || c.isNull()) return QWidget::keyPressEvent(event);
    if ((c.isDigit() || c == u'.' || c == u',') && !sign.isNull()) {
        m_session.undo(); // the nudge was the beginning of "+2"
        beginEntry(sign + typed);
    } else if (c.isDigit() || c == u'.' || c == u',' || c == u'=' || c == u'*') {
        beginEntry(typed);
    } else if (c == u'+' || c == u'-' || c == u'−') {
        const bool first = sign.isNull();
        if (CellEditor(m_session).nudge(c == u'+' ? 1 : -1) && first) m_lonelySign = c == u'+' ? u'+' : u'-';
        m_signPressed.start();
    } else if (c == u'/') {
        CellEditor(m_session).interpolate();
    } else if (c == u'~') {
        CellEditor(m_session).smooth();
    } else if (c == u' ') {
        CellEditor(m_session).toggleLocks();
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
    showShare();
}

// Both ends move when 'now' is edited: which, and how far, is said while it is typed.
void TableGrid::showShare() {
    const QString words =
        m_entry->isVisible() ? CellEditor(m_session).shareOfEntry(m_entry->text()) : QString();
    m_share->setText(words);
    m_share->setVisible(!words.isEmpty());
    m_share->adjustSize();
    const int left = std::clamp(m_entry->x(), 0, std::max(0, width() - m_share->width()));
    const bool below = m_entry->geometry().bottom() + m_share->height() < height();
    m_share->move(left, below ? m_entry->geometry().bottom() + 1 : m_entry->y() - m_share->height() - 1);
    m_share->raise();
}

void TableGrid::editNote() {
    const QString old = CellEditor(m_session).cellNote();
    bool ok = false;
    const QString note = QInputDialog::getText(
        this, tr("Note on the cell"), tr("What is worth remembering here? Nothing takes the note away."),
        QLineEdit::Normal, old, &ok);
    if (ok) CellEditor(m_session).setCellNote(note);
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
    if (keep && !untouched && !typed.trimmed().isEmpty() && !CellEditor(m_session).enterExpression(typed)) {
        m_entry->selectAll(); // a mistake stays on the screen, to be put right
        return;
    }
    m_reopened.clear();
    m_entry->hide();
    m_share->hide();
    setFocus();
}

void TableGrid::copy() {
    m_session.setSide(m_side);
    QApplication::clipboard()->setText(CellEditor(m_session).copyCells());
}

void TableGrid::copyPicture() {
    QApplication::clipboard()->setPixmap(grab());
}

void TableGrid::copyWithAxes() {
    m_session.setSide(m_side);
    QApplication::clipboard()->setText(CellEditor(m_session).copyCells(true));
}

void TableGrid::paste() {
    m_session.setSide(m_side);
    const QString block = QApplication::clipboard()->text();
    if (CellEditor(m_session).pasteCells(block) != CellEditor::PasteResult::choiceNeeded) return;
    QMessageBox ask(QMessageBox::Question, tr("Paste with breakpoints"),
                    tr("The block has breakpoints that this table has not got."), QMessageBox::Cancel, this);
    ask.setInformativeText(tr("Interpolated, the table keeps its breakpoints and changes only inside the "
                              "block. Taken over, the table becomes the block, breakpoints and all."));
    const QPushButton *interpolate = ask.addButton(tr("Interpolate to this table"), QMessageBox::AcceptRole);
    const QPushButton *takeOver = ask.addButton(tr("Take over its breakpoints"), QMessageBox::AcceptRole);
    ask.exec();
    if (ask.clickedButton() == interpolate)
        CellEditor(m_session).pasteCells(block, CellEditor::BlockAxes::interpolate);
    if (ask.clickedButton() == takeOver)
        CellEditor(m_session).pasteCells(block, CellEditor::BlockAxes::takeOver);
}

} // namespace wheelwright
