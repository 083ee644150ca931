// SPDX-License-Identifier: GPL-3.0-or-later
// Who does not see the window, and who has no mouse: what a reader of the screen is told, and where the keys
// go.
#include "core/tables/table2d.h"
#include "support/dialogs.h"
#include "support/geometry.h"
#include "support/test_window.h"
#include "ui/text.h"
#include "ui/views/tables/table_grid.h"
#include "ui/views/verify/margin_board.h"
#include "ui/widgets/content_ruler.h"
#include "ui/widgets/painted_parts.h"

#include <QAccessible>
#include <QButtonGroup>
#include <private/qguiapplication_p.h>
#include <qpa/qplatformaccessibility.h>
#include <qpa/qplatformintegration.h>

#include <set>

using namespace wheelwright;
using namespace wheelwright::testing;

void wheelwrightResources() {
    Q_INIT_RESOURCE(resources);
}

namespace {

QString told(QAccessibleInterface *of) {
    return of->text(QAccessible::Name);
}

bool ownClass(const QObject *o) {
    return QByteArray(o->metaObject()->className()).startsWith("wheelwright::");
}

// A part and all that is in it: whoever can get the keys has a name, and the tree is one.
void checkTold(QAccessibleInterface *of, QStringList &wrong) {
    const auto *w = qobject_cast<QWidget *>(of->object());
    const QString who = w ? nameOf(w) : told(of);
    if (of->role() == QAccessible::NoRole) wrong << who + QStringLiteral(" has no role");
    if (w && (w->focusPolicy() & Qt::TabFocus) && !w->focusProxy() && told(of).trimmed().isEmpty())
        wrong << who + QStringLiteral(" can have the keys and no name");
    if (w && ownClass(w) && (w->focusPolicy() & Qt::TabFocus) && of->role() == QAccessible::Client)
        wrong << who + QStringLiteral(" can have the keys and says nothing of what it is");
    constexpr int most = 150; // of a large grid the first
    for (int i = 0; i < std::min(of->childCount(), most); ++i) {
        QAccessibleInterface *child = of->child(i);
        if (!child) {
            wrong << who + QStringLiteral(" has a child that is not there");
            continue;
        }
        if (const auto *cw = qobject_cast<QWidget *>(child->object()); cw && !cw->isVisible()) continue;
        if (child->state().invisible) continue;
        if (dynamic_cast<const PaintedParts *>(w) && of->indexOfChild(child) != i)
            wrong << who + QStringLiteral(": a child is not where it says");
        if (!child->object() && dynamic_cast<const PaintedParts *>(w)) {
            if (told(child).trimmed().isEmpty()) wrong << who + QStringLiteral(": a part without a name");
            if (!child->rect().isEmpty() && !of->rect().adjusted(-1, -1, 1, 1).intersects(child->rect()) &&
                of->role() == QAccessible::Table)
                wrong << who + QStringLiteral(": '%1' is outside").arg(told(child));
            continue;
        }
        checkTold(child, wrong);
    }
}

// All that the keys should get to.
QList<QWidget *> wanted(QWidget *in) {
    QList<QWidget *> out;
    for (QWidget *w : in->findChildren<QWidget *>()) {
        if (!w->isVisible() || !w->isEnabled() || (w->focusPolicy() & Qt::TabFocus) != Qt::TabFocus ||
            w->focusProxy())
            continue;
        // Of buttons that exclude each other Tab goes to the one that is down, the arrows to the others.
        const auto *button = qobject_cast<QAbstractButton *>(w);
        if (button && button->group() && button->group()->exclusive() && !button->isChecked()) continue;
        out << w;
    }
    return out;
}

} // namespace

class ReachTest : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase() {
        dressApplication();
        // As if a reader of the screen ran.
        QGuiApplicationPrivate::platformIntegration()->accessibility()->setActive(true);
        QVERIFY(QAccessible::isActive());
    }

    void everythingHasANameAndARole_data() {
        QTest::addColumn<QString>("demo");
        for (const char *demo : {"thistle", "moorhen", "bramble"})
            QTest::newRow(demo) << QString::fromLatin1(demo);
    }

    void everythingHasANameAndARole() {
        QFETCH(QString, demo);
        open(demo);
        QStringList wrong;
        eachPage(m_window->shell, [&](const QString &place, View *view) {
            QStringList here;
            checkTold(QAccessible::queryAccessibleInterface(view), here);
            for (const QString &words : here)
                wrong << place + QStringLiteral(": ") + words;
        });
        checkTold(QAccessible::queryAccessibleInterface(&m_window->shell), wrong);
        COMPARE_NONE(wrong);
    }

    // And what opens over it.
    void everyDialogHasNamesAndRoles() {
        open(QStringLiteral("thistle"));
        QStringList wrong;
        const int seen = eachDialog(*m_window, [&](const QString &name, QDialog &dialog) {
            QStringList here;
            checkTold(QAccessible::queryAccessibleInterface(&dialog), here);
            for (const QString &words : here)
                wrong << name + QStringLiteral(": ") + words;
        });
        QVERIFY(seen >= 12);
        COMPARE_NONE(wrong);
    }

    void tabReachesEverything_data() { everythingHasANameAndARole_data(); }

    void tabReachesEverything() {
        QFETCH(QString, demo);
        open(demo);
        Shell &shell = m_window->shell;
        QStringList wrong;
        eachPage(shell, [&](const QString &place, View *view) {
            const QList<QWidget *> all = wanted(view);
            if (all.isEmpty()) return;
            all.front()->setFocus();
            std::set<QWidget *> been;
            constexpr int most = 900;
            for (int i = 0; i < most && QApplication::focusWidget(); ++i) {
                QWidget *at = QApplication::focusWidget();
                if (!been.insert(at).second && at == all.front()) break;
                constexpr int links = 300; // of a text Tab goes from one to the next
                for (int k = 0; k < links && QApplication::focusWidget() == at; ++k)
                    QTest::keyClick(at, Qt::Key_Tab);
                if (QApplication::focusWidget() == at) {
                    wrong << place + QStringLiteral(": Tab stays in ") + nameOf(at);
                    break;
                }
            }
            for (QWidget *w : all)
                if (!been.contains(w) && w->isVisible())
                    wrong << place + QStringLiteral(": Tab misses ") + nameOf(w);
        });
        COMPARE_NONE(wrong);
    }

    // Buttons that exclude each other: an arrow presses the next one.
    void arrowsGoThroughChoices() {
        open(QStringLiteral("thistle"));
        QStringList wrong;
        int choices = 0;
        for (const ViewDefinition *v : allViews()) {
            m_window->shell.showStation(QLatin1String(v->id));
            View *view = m_window->shell.view(QLatin1String(v->id));
            for (const QButtonGroup *g : view->findChildren<QButtonGroup *>()) {
                QAbstractButton *down = g->checkedButton();
                if (!g->exclusive() || !down || !down->isVisible() || g->buttons().size() < 2) continue;
                ++choices;
                const bool last = down == g->buttons().constLast();
                down->setFocus();
                QTest::keyClick(down, last ? Qt::Key_Left : Qt::Key_Right);
                if (g->checkedButton() == down) QTest::keyClick(down, last ? Qt::Key_Up : Qt::Key_Down);
                if (g->checkedButton() == down)
                    wrong << QLatin1String(v->id) + QStringLiteral(": ") + nameOf(down);
            }
        }
        QVERIFY(choices >= 5);
        COMPARE_NONE(wrong);
    }

    // Cells are found by row and column, say what stands in them, and are chosen as by a click.
    void cellsOfTheGridSpeak() {
        open(QStringLiteral("thistle"));
        Session &session = m_window->session;
        auto *view = m_window->view<View>("tables");
        TableGrid *base = nullptr;
        for (TableGrid *g : view->findChildren<TableGrid *>())
            if (g->side() == TableSide::base) base = g;
        QVERIFY(base);
        QAccessibleInterface *grid = QAccessible::queryAccessibleInterface(base);
        QCOMPARE(grid->role(), QAccessible::Table);
        QAccessibleTableInterface *table = grid->tableInterface();
        QVERIFY(table);
        const Table2D &t = session.tableAt(TableSide::base);
        QCOMPARE(table->columnCount(), static_cast<int>(t.x().size()));
        QCOMPARE(table->rowCount(), static_cast<int>(t.y().size()));
        const TableField field = tableIn(session.job(), session.quantity(), false);
        for (std::size_t y = 0; y < t.y().size(); ++y)
            for (std::size_t x = 0; x < t.x().size(); ++x) {
                QAccessibleInterface *cell = table->cellAt(static_cast<int>(y), static_cast<int>(x));
                QVERIFY(cell && cell->isValid());
                QCOMPARE(told(cell), QStringLiteral("%1, %2: %3")
                                         .arg(shown(t.x()[x], field.x.dimension, session.units()),
                                              shown(t.y()[y], field.y.dimension, session.units()),
                                              shown(t.cell(x, y), field.dimension, session.units())));
                QCOMPARE(cell->tableCellInterface()->columnIndex(), static_cast<int>(x));
                QCOMPARE(cell->tableCellInterface()->rowIndex(), static_cast<int>(y));
                QCOMPARE(cell->parent(), grid);
            }
        QAccessibleInterface *cell = table->cellAt(3, 5);
        // In the middle of its rectangle there is that cell and no other.
        const QPoint middle = cell->rect().center();
        QCOMPARE(told(grid->childAt(middle.x(), middle.y())), told(cell));
        cell->actionInterface()->doAction(QAccessibleActionInterface::pressAction());
        QCOMPARE(session.cell(), (CellIndex{5, 3}));
        QVERIFY(cell->state().selected);
        base->setFocus();
        QVERIFY(cell->state().focused);
        QCOMPARE(told(grid->focusChild()), told(cell));
        QCOMPARE(table->selectedCellCount(), 1);
        // The cursor is read out where it goes.
        QAccessible::installUpdateHandler(note);
        QTest::keyClick(base, Qt::Key_Right);
        settle();
        QAccessible::installUpdateHandler(nullptr);
        QVERIFY2(s_readOut.contains(told(table->cellAt(3, 6))), qPrintable(s_readOut.join(u'|')));
    }

    void marksOfTheBoardsSpeak() {
        open(QStringLiteral("thistle"));
        Session &session = m_window->session;
        auto *view = m_window->view<View>("verify");
        auto *board = view->findChild<MarginBoard *>();
        QAccessibleTableInterface *marks = QAccessible::queryAccessibleInterface(board)->tableInterface();
        const auto v = session.verdict();
        QCOMPARE(marks->rowCount(), static_cast<int>(v->rows.size()));
        QCOMPARE(marks->columnCount(), static_cast<int>(v->contents.size()));
        for (std::size_t row = 0; row < v->rows.size(); ++row)
            for (const std::size_t slice : {std::size_t{0}, v->contents.size() / 2, v->contents.size() - 1}) {
                const QString words = told(marks->cellAt(static_cast<int>(row), static_cast<int>(slice)));
                QVERIFY2(words.startsWith(text(v->rows[row].check->title) + QStringLiteral(": ") +
                                          stateText(v->rows[row].byContent[slice])),
                         qPrintable(words));
            }
        marks->cellAt(2, 40)->actionInterface()->doAction(QAccessibleActionInterface::pressAction());
        QCOMPARE(board->row(), std::size_t{2});
        COMPARE_NEAR(session.content(), v->contents[40], 1e-9);

        // The ruler is a slider with what is marked on it.
        auto *ruler = m_window->shell.findChild<ContentRuler *>();
        QAccessibleInterface *slider = QAccessible::queryAccessibleInterface(ruler);
        QCOMPARE(slider->role(), QAccessible::Slider);
        slider->valueInterface()->setCurrentValue(30);
        COMPARE_NEAR(session.content(), 0.30, 1e-9);
        QCOMPARE(slider->valueInterface()->currentValue().toDouble(), 30.0);
        slider->valueInterface()->setCurrentValue(250);
        COMPARE_NEAR(session.content(), 1.0, 1e-9);
        QStringList said;
        for (int i = 0; i < slider->childCount(); ++i)
            said << told(slider->child(i));
        QVERIFY2(said.contains(QStringLiteral("Base table: E10")), qPrintable(said.join(u'|')));
        QVERIFY(said.filter(QStringLiteral("±")).size() >= 1);
        // A press on a mark looks at its content.
        slider->child(0)->actionInterface()->doAction(QAccessibleActionInterface::pressAction());
        COMPARE_NEAR(session.content(), session.job().calibration.baseContent, 0.005);
    }

    // Every widget that paints its parts can choose each of them, and says so.
    void partsCanBeChosen() {
        open(QStringLiteral("thistle"));
        std::set<QString> seen;
        QStringList wrong;
        eachPage(m_window->shell, [&](const QString &place, View *view) {
            for (QWidget *w : view->findChildren<QWidget *>()) {
                auto *parts = dynamic_cast<PaintedParts *>(w);
                if (!parts || !w->isVisible() || parts->partCount() < 2) continue;
                const QString kind = QString::fromLatin1(w->metaObject()->className());
                if (!seen.insert(kind).second) continue;
                if (parts->chosenPart() < 0) continue; // a list that nothing in is chosen of
                for (const int index : {1, parts->partCount() - 1, 0}) {
                    parts->choosePart(index);
                    settle();
                    if (m_window->shell.station() != place.section(u'/', 0, 0)) break; // it leads elsewhere
                    if (parts->chosenPart() != index)
                        wrong << place + QStringLiteral(": ") + nameOf(w) +
                                     QStringLiteral(" chose %1, not %2").arg(parts->chosenPart()).arg(index);
                }
            }
        });
        QVERIFY2(seen.size() >= 8, qPrintable(QStringList(seen.begin(), seen.end()).join(u' ')));
        COMPARE_NONE(wrong);
    }

  private:
    static void note(QAccessibleEvent *event) {
        if (event->type() == QAccessible::Focus && event->accessibleInterface())
            s_readOut << event->accessibleInterface()->text(QAccessible::Name);
    }

    void open(const QString &demo) {
        m_window.reset();
        m_window = std::make_unique<TestWindow>();
        if (demo == QLatin1String("thistle")) // with something on every page
            m_window->openWithLog(QStringLiteral(SOURCE_DIR "/data/demo/logs/thistle-e62-pulls.csv"),
                                  {{SOURCE_DIR "/data/demo/runs/thistle-01-e10-baseline.csv", {}, {}, {}}});
        else
            m_window->open(demoFile(demo.toLatin1().constData()));
    }

    static inline QStringList s_readOut;
    std::unique_ptr<TestWindow> m_window;
};

int main(int argc, char **argv) {
    QApplication app(argc, argv);
    return run<ReachTest>(argc, argv);
}
#include "reach_test.moc"
