// SPDX-License-Identifier: GPL-3.0-or-later
// The menus of the window: every action of the product is in one of them, so that Ctrl+K finds it.
#include "core/verify/verdict.h"
#include "session/session.h"
#include "ui/finder.h"
#include "ui/help_pages.h"
#include "ui/help_window.h"
#include "ui/language.h"
#include "ui/shell.h"
#include "ui/text.h"
#include "ui/text_size.h"
#include "ui/theme.h"
#include "ui/widgets/working_panel.h"

#include <QActionGroup>
#include <QApplication>
#include <QInputDialog>
#include <QMenuBar>
#include <QSettings>
#include <QStackedWidget>
#include <QStatusBar>

#include <algorithm>

namespace wheelwright {
namespace {

void collect(const QMenu *menu, QList<QAction *> &out) {
    for (QAction *a : menu->actions()) {
        if (a->menu())
            collect(a->menu(), out);
        else if (!a->isSeparator())
            out.push_back(a);
    }
}

} // namespace

void Shell::makeMenus() {
    makeFileMenu();
    makeEditMenu();
    makeCalibrationMenu();
    makeViewMenu();
    makeUnitsMenu();
    makeHelpMenu();
}

QList<QAction *> Shell::allActions() const {
    QList<QAction *> out;
    for (QAction *a : menuBar()->actions())
        collect(a->menu(), out);
    return out;
}

void Shell::makeFileMenu() {
    QMenu *file = menuBar()->addMenu(tr("&File"));
    addAction(file, tr("&New job…"), QKeySequence::New, [this] { newJob(); });
    addAction(file, tr("&Open job…"), QKeySequence::Open, [this] { chooseJob(); });
    m_recent = file->addMenu(tr("Open &recent"));
    addAction(file, tr("Read a dama&ged job…"), {}, [this] { salvageJob(); });
    addAction(file, tr("Open the &demo job"), {}, [this] { openDemo(); });
    addAction(file, tr("Open the mechanical demo &job"), {}, [this] { openDemo(QStringLiteral("moorhen")); });
    addAction(file, tr("Open the demo job &without a content sensor"), {},
              [this] { openDemo(QStringLiteral("bramble")); });
    file->addSeparator();
    addAction(file, tr("&Import table, log or job…"), Qt::CTRL | Qt::Key_I, [this] { importFile(); });
    m_needJob << addAction(file, tr("Export the &table in front…"), Qt::CTRL | Qt::Key_E,
                           [this] { exportTable(); })
              << addAction(file, tr("Export the &whole job…"), Qt::CTRL | Qt::SHIFT | Qt::Key_E,
                           [this] { exportJob(); });
    file->addSeparator();
    m_needJob << addAction(file, tr("&Close job"), QKeySequence::Close, [this] { m_session.closeJob(); });
    addAction(file, tr("&Quit"), QKeySequence::Quit, [this] { close(); });
}

void Shell::makeEditMenu() {
    QMenu *edit = menuBar()->addMenu(tr("&Edit"));
    m_undo = addAction(edit, tr("&Undo"), QKeySequence::Undo, [this] { m_session.undo(); });
    m_redo = addAction(edit, tr("&Redo"), QKeySequence::Redo, [this] { m_session.redo(); });
    edit->addSeparator();
    m_needJob << addAction(edit, tr("&Copy"), QKeySequence::Copy, [this] { toFocused("copy"); })
              << addAction(edit, tr("Copy as p&icture"), Qt::CTRL | Qt::SHIFT | Qt::Key_C,
                           [this] { toFocused("copyPicture"); })
              << addAction(edit, tr("Copy with breakpoints"), Qt::CTRL | Qt::SHIFT | Qt::Key_X,
                           [this] { toFocused("copyWithAxes"); })
              << addAction(edit, tr("&Paste"), QKeySequence::Paste, [this] { toFocused("paste"); });
    addViewActions(edit, true);
}

void Shell::makeCalibrationMenu() {
    addViewActions(menuBar()->addMenu(tr("&Calibration")), false);
}

// Those that edit, or the others.
void Shell::addViewActions(QMenu *menu, bool editing) {
    for (const ViewDefinition *v : allViews())
        if (std::ranges::any_of(v->actions, [&](const ViewAction &a) { return a.edits == editing; }))
            addViewActions(menu, *v, editing);
}

void Shell::addViewActions(QMenu *menu, const ViewDefinition &definition, bool editing) {
    if (!menu->isEmpty()) menu->addSeparator();
    const QString id = QString::fromLatin1(definition.id);
    for (const ViewAction &a : definition.actions) {
        if (a.edits != editing) continue;
        m_needJob << addAction(menu, QCoreApplication::translate("view", a.title), a.keys,
                               [this, id, run = a.run] {
                                   run({m_session, this, [this, id] {
                                            showStation(id);
                                            return view(id);
                                        }});
                               });
    }
}

void Shell::makeViewMenu() {
    QMenu *menu = menuBar()->addMenu(tr("&View"));
    for (const ViewDefinition *v : allViews()) {
        const auto key = static_cast<Qt::Key>(Qt::Key_0 + v->position % 10);
        QAction *a = addAction(menu, tr("Go to %1").arg(QCoreApplication::translate("view", v->title)),
                               Qt::ALT | key, [this, id = QString::fromLatin1(v->id)] { showStation(id); });
        if (QLatin1String(v->id) != QLatin1String("job")) m_needJob << a;
    }
    menu->addSeparator();
    const auto lookBy = [this](double by) { m_session.setContent(m_session.content() + by); };
    m_needJob << addAction(menu, tr("Look at 1 % less"), Qt::Key_BracketLeft, [lookBy] { lookBy(-0.01); })
              << addAction(menu, tr("Look at 1 % more"), Qt::Key_BracketRight, [lookBy] { lookBy(0.01); })
              << addAction(menu, tr("Look at 5 % less"), Qt::Key_BraceLeft, [lookBy] { lookBy(-0.05); })
              << addAction(menu, tr("Look at 5 % more"), Qt::Key_BraceRight, [lookBy] { lookBy(0.05); })
              << addAction(menu, tr("Look at the base content"), {},
                           [this] { m_session.setContent(m_session.job().calibration.baseContent); })
              << addAction(menu, tr("Look at the top content"), {},
                           [this] { m_session.setContent(m_session.job().calibration.topContent); });
    menu->addSeparator();
    m_needJob << addAction(menu, tr("Line of work: revisions"), Qt::CTRL | Qt::Key_R,
                           [this] { toggleLine(); });
    addAction(menu, tr("Show or hide the working panel"), Qt::Key_F8, [this] { togglePanel(); });
    const auto text = [this](int percent) { emit textPercentWanted(percent); };
    addAction(menu, tr("Larger text"), QKeySequence(Qt::CTRL | Qt::Key_Plus), [text] {
        text(largerText(textPercent()));
    })->setShortcuts({Qt::CTRL | Qt::Key_Plus, Qt::CTRL | Qt::Key_Equal});
    addAction(menu, tr("Smaller text"), Qt::CTRL | Qt::Key_Minus,
              [text] { text(smallerText(textPercent())); });
    addAction(menu, tr("Text at its usual size"), Qt::CTRL | Qt::Key_0, [text] { text(usualTextPercent); });
    const auto look = [this, menu](const QString &title, const QKeySequence &keys, bool Look::*what) {
        QAction *a = addAction(menu, title, keys, [this, what] {
            Look next = usedLook();
            next.*what = !(next.*what);
            setLook(next);
        });
        a->setCheckable(true);
        a->setChecked(usedLook().*what);
    };
    look(tr("Dark 'shop' theme"), Qt::CTRL | Qt::Key_D, &Look::shop);
    look(tr("High contrast"), {}, &Look::contrast);
    look(tr("Nothing moves by itself"), {}, &Look::still);
    menu->addSeparator();
    auto *languages = new QActionGroup(menu);
    for (const Language &l : allLanguages()) {
        const QString code = QString::fromLatin1(l.code);
        // In its own words, so that who cannot read the others finds it.
        QAction *a =
            addAction(menu, QString::fromUtf8(l.name), {}, [this, code] { emit languageWanted(code); });
        a->setCheckable(true);
        a->setChecked(code == usedLanguage());
        languages->addAction(a);
    }
}

void Shell::makeUnitsMenu() {
    QMenu *menu = menuBar()->addMenu(tr("&Units"));
    UnitChoice units = spokenUnits(m_session.units());
    units.pressureUnit =
        m_settings.value(QStringLiteral("pressureUnit"), QStringLiteral("kpa")).toString().toStdString();
    units.temperatureUnit =
        m_settings.value(QStringLiteral("temperatureUnit"), QStringLiteral("c")).toString().toStdString();
    const QString power = m_settings.value(QStringLiteral("powerUnit")).toString();
    if (power == QLatin1String("hp") || power == QLatin1String("ps")) units.powerUnit = power.toStdString();
    units.mixtureScale =
        static_cast<MixtureScale>(m_settings.value(QStringLiteral("mixtureScale"), 0).toInt());
    units.statedStoichiometry = m_settings.value(QStringLiteral("statedStoichiometry"), 14.7).toDouble();
    m_session.setUnits(units);

    const auto choice = [this](QMenu *to, QActionGroup *group, const QString &title, bool checked,
                               const std::function<void(UnitChoice &)> &change) {
        QAction *a = addAction(to, title, {}, [this, change] {
            UnitChoice next = m_session.units();
            change(next);
            m_session.setUnits(next);
            m_settings.setValue(QStringLiteral("pressureUnit"), text(next.pressureUnit));
            m_settings.setValue(QStringLiteral("temperatureUnit"), text(next.temperatureUnit));
            m_settings.setValue(QStringLiteral("powerUnit"), text(next.powerUnit));
            m_settings.setValue(QStringLiteral("mixtureScale"), static_cast<int>(next.mixtureScale));
            m_settings.setValue(QStringLiteral("statedStoichiometry"), next.statedStoichiometry);
        });
        a->setCheckable(true);
        a->setChecked(checked);
        group->addAction(a);
    };
    auto *pressure = new QActionGroup(this);
    for (const auto &[id, title] :
         {std::pair{"kpa", tr("Pressure in kPa, absolute")},
          std::pair{"bar", tr("Pressure in bar, absolute")},
          std::pair{"psi", tr("Pressure in psi, absolute")}, std::pair{"kpa_g", tr("Pressure in kPa, gauge")},
          std::pair{"bar_g", tr("Pressure in bar, gauge")}, std::pair{"psi_g", tr("Pressure in psi, gauge")}})
        choice(menu, pressure, title, units.pressureUnit == id,
               [id = id](UnitChoice &u) { u.pressureUnit = id; });
    menu->addSeparator();
    auto *temperature = new QActionGroup(this);
    choice(menu, temperature, tr("Temperature in °C"), units.temperatureUnit == "c",
           [](UnitChoice &u) { u.temperatureUnit = "c"; });
    choice(menu, temperature, tr("Temperature in °F"), units.temperatureUnit == "f",
           [](UnitChoice &u) { u.temperatureUnit = "f"; });
    menu->addSeparator();
    auto *powers = new QActionGroup(this);
    for (const auto &[id, title] : {std::pair{"kw", tr("Power in kW, torque in N·m")},
                                    std::pair{"hp", tr("Power in hp, torque in lb·ft")},
                                    std::pair{"ps", tr("Power in PS, torque in N·m")}})
        choice(menu, powers, title, units.powerUnit == id, [id = id](UnitChoice &u) { u.powerUnit = id; });
    menu->addSeparator();
    auto *mixture = new QActionGroup(this);
    const auto scale = [&](const QString &title, MixtureScale s) {
        choice(menu, mixture, title, units.mixtureScale == s, [s](UnitChoice &u) { u.mixtureScale = s; });
    };
    scale(tr("Mixture in λ"), MixtureScale::lambda);
    scale(tr("Mixture in AFR, gasoline scale 14.7"), MixtureScale::gasolineAfr);
    scale(tr("Mixture in AFR, true of the fuel looked at"), MixtureScale::trueAfr);
    choice(menu, mixture, tr("Mixture in AFR, own scale…"), units.mixtureScale == MixtureScale::statedAfr,
           [this](UnitChoice &u) {
               bool ok = false;
               const double v = QInputDialog::getDouble(this, tr("AFR scale"),
                                                        tr("Stoichiometric AFR that the gauge was told:"),
                                                        u.statedStoichiometry, 4, 20, 2, &ok);
               if (!ok) return;
               u.mixtureScale = MixtureScale::statedAfr;
               u.statedStoichiometry = v;
           });
    menu->addSeparator();
    auto *marks = new QActionGroup(this);
    for (const auto &[mark, title] :
         {std::pair{"", tr("Decimal mark as the language has it")}, std::pair{".", tr("Decimal point: 14.7")},
          std::pair{",", tr("Decimal comma: 14,7")}}) {
        QAction *a = addAction(menu, title, {},
                               [this, mark = QString::fromLatin1(mark)] { emit decimalMarkWanted(mark); });
        a->setCheckable(true);
        a->setChecked(usedDecimalMark() == QLatin1String(mark));
        marks->addAction(a);
    }
}

void Shell::makeHelpMenu() {
    QMenu *help = menuBar()->addMenu(tr("&Help"));
    addAction(help, tr("Help on what is under the cursor"), Qt::Key_F1, [this] {
        const QWidget *under = QApplication::widgetAt(QCursor::pos());
        m_help->open(HelpWindow::pageOf(under && isAncestorOf(under) ? under : focusWidget()));
    });
    addAction(help, tr("Tour of the demo in ten stops"), {}, [this] { startTour(); });
    addAction(help, tr("Questions"), {}, [this] { m_help->open(QStringLiteral("tasks")); });
    addAction(help, tr("Words"), {}, [this] { m_help->open(QStringLiteral("glossary")); });
    help->addSeparator();
    addAction(help, tr("Safety"), {}, [this] { m_help->open(QStringLiteral("safety")); });
    addAction(help, tr("Keys"), {}, [this] { m_help->open(QStringLiteral("keys")); });
    addAction(help, tr("Formulas"), {}, [this] { m_help->open(QStringLiteral("formulas")); });
    addAction(help, tr("Where the numbers come from"), {},
              [this] { m_help->open(QStringLiteral("sources")); });
    addAction(help, tr("About Wheelwright"), {}, [this] { m_help->open(QStringLiteral("about")); });
    help->addSeparator();
    addAction(help, tr("Find anything…"), Qt::CTRL | Qt::Key_K, [this] {
        auto *finder = new Finder(findables(), this);
        finder->setAttribute(Qt::WA_DeleteOnClose);
        finder->open();
    });
}

std::vector<Findable> Shell::findables() {
    std::vector<Findable> all;
    for (QAction *a : allActions())
        if (a->isEnabled())
            all.push_back({a->text().remove(QLatin1Char('&')),
                           {},
                           a->shortcut().toString(QKeySequence::NativeText),
                           {},
                           [a] { a->trigger(); }});
    const auto ofJob = findablesOf(
        m_session, [this](const QString &path) { goToInput(path); },
        [this](const QString &id) { goToCheck(id); });
    all.insert(all.end(), ofJob.begin(), ofJob.end());
    for (const HelpSection &s : helpSections()) {
        const QString place = QStringLiteral("%1#%2").arg(s.page).arg(s.heading);
        all.push_back({s.heading == 0 ? s.of : s.of + QStringLiteral(" · ") + s.title,
                       tr("help"),
                       {},
                       s.page + u' ' + s.words,
                       [this, place] { m_help->open(place); }});
    }
    return all;
}

void Shell::goToCheck(const QString &id) {
    showStation(QStringLiteral("verify"));
    const auto verdict = m_session.verdict();
    const Verdict::Row *row = verdict ? findRow(*verdict, id.toStdString()) : nullptr;
    if (!row || !row->outcome.worst().asked) {
        statusBar()->showMessage(tr("Not judged: it needs something that this job does not say."));
        return;
    }
    const WorstPlace place = row->outcome.worst();
    m_session.goTo({place.content, place.rpm, place.loadKpa}, row->check->tables);
    m_session.explain(row->check->explain(verdict->study->evaluation(), place));
}

} // namespace wheelwright
