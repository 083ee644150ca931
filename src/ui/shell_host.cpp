// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/shell_host.h"

#include "ui/language.h"
#include "ui/text_size.h"
#include "ui/theme.h"

#include <QApplication>
#include <QSettings>
#include <QStatusBar>

namespace wheelwright {
namespace {

const QString keptAs = QStringLiteral("textPercent"), languageKeptAs = QStringLiteral("language"),
              markKeptAs = QStringLiteral("decimalMark");

} // namespace

ShellHost::ShellHost(Session &session, QSettings &settings) : m_session(session), m_settings(settings) {
    wheelwright::setTextPercent(m_settings.value(keptAs, usualTextPercent).toInt());
    useLanguage(m_settings.value(languageKeptAs).toString());
    useDecimalMark(m_settings.value(markKeptAs).toString());
    make();
}

ShellHost::~ShellHost() = default;

void ShellHost::make() {
    useTheme(usedLook()); // in fonts of this size
    m_shell = std::make_unique<Shell>(m_session, m_settings);
    // Queued: the menu that asks goes with the window.
    connect(m_shell.get(), &Shell::textPercentWanted, this, &ShellHost::setTextPercent, Qt::QueuedConnection);
    connect(m_shell.get(), &Shell::languageWanted, this, &ShellHost::setLanguage, Qt::QueuedConnection);
    connect(m_shell.get(), &Shell::decimalMarkWanted, this, &ShellHost::setDecimalMark, Qt::QueuedConnection);
}

void ShellHost::setTextPercent(int percent) {
    remake([&] {
        wheelwright::setTextPercent(percent);
        m_settings.setValue(keptAs, textPercent());
    });
    m_shell->statusBar()->showMessage(tr("Text at %1 %").arg(textPercent()));
    emit shellReplaced();
}

void ShellHost::setLanguage(const QString &code) {
    remake([&] {
        useLanguage(code);
        m_settings.setValue(languageKeptAs, usedLanguage());
    });
    emit shellReplaced();
}

void ShellHost::setDecimalMark(const QString &mark) {
    remake([&] {
        useDecimalMark(mark);
        m_settings.setValue(markKeptAs, usedDecimalMark());
    });
    emit shellReplaced();
}

void ShellHost::remake(const std::function<void()> &change) {
    const double before = windowScale();
    if (QWidget *typing = QApplication::focusWidget())
        typing->clearFocus(); // what was typed is taken, as by going to another field
    const Shell::Place place = m_shell->place();
    const bool shown = m_shell->isVisible();
    const Qt::WindowStates states = m_shell->windowState();
    const QRect was = m_shell->geometry();
    const bool quits = QApplication::quitOnLastWindowClosed();
    QApplication::setQuitOnLastWindowClosed(false); // for the moment without one
    m_shell.reset();
    change();
    make();
    const double smaller = before / windowScale();
    m_shell->setGeometry(
        QRect((QPointF(was.topLeft()) * smaller).toPoint(), (QSizeF(was.size()) * smaller).toSize()));
    m_shell->goTo(place);
    m_shell->setWindowState(states);
    if (shown) {
        m_shell->show();
        m_shell->activateWindow(); // the keys go on where they were
    }
    QApplication::setQuitOnLastWindowClosed(quits);
}

} // namespace wheelwright
