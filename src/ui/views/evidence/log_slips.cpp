// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/evidence/log_slips.h"

#include "session/evidence.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"

#include <QFileInfo>
#include <QHelpEvent>
#include <QKeyEvent>
#include <QPainter>
#include <QToolTip>

#include <cmath>

namespace wheelwright {
namespace {

constexpr int slipHeight = 54, slipGap = 6, hueWidth = 8;

QString lengthText(const LogInfo &info) {
    constexpr int perMinute = 60;
    const long long s = std::llround(info.endS - info.beginS);
    return QStringLiteral("%1:%2").arg(s / perMinute).arg(s % perMinute, 2, 10, QLatin1Char('0'));
}

} // namespace

LogSlips::LogSlips(Session &session, QWidget *parent) : QWidget(parent), m_session(session) {
    setFocusPolicy(Qt::StrongFocus);
    setProperty("helpPage", "evidence");
    setAccessibleName(tr("Logs"));
    setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Preferred);
    for (auto signal : {&Evidence::logsChanged, &Evidence::reviewsChanged})
        connect(&session.evidence(), signal, this, &LogSlips::refresh);
    refresh();
}

void LogSlips::refresh() {
    updateGeometry();
    setMinimumHeight(sizeHint().height());
    setAccessibleDescription(count() > 0 ? words(chosen()) : tr("None"));
    update();
}

std::size_t LogSlips::count() const {
    return m_session.job().logs.size();
}

const LogInfo &LogSlips::at(std::size_t slip) const {
    return m_session.job().logs.values()[count() - 1 - slip];
}

std::size_t LogSlips::chosen() const {
    for (std::size_t i = 0; i < count(); ++i)
        if (at(i).id == m_session.evidence().log()) return i;
    return 0;
}

QSize LogSlips::sizeHint() const {
    return {164, static_cast<int>(count()) * (slipHeight + slipGap) + slipGap};
}

QRect LogSlips::slipRect(std::size_t slip) const {
    return {2, slipGap + static_cast<int>(slip) * (slipHeight + slipGap), width() - 4, slipHeight};
}

QString LogSlips::words(std::size_t slip) const {
    const LogInfo &info = at(slip);
    const bool methanol = m_session.job().alcohol == Alcohol::methanol;
    QStringList out{text(info.name), info.contentBasis == ContentBasis::none
                                         ? tr("content not known")
                                         : text(contentName(info.content, methanol))};
    out << tr("%1 min").arg(lengthText(info));
    const auto review = m_session.evidence().review(info.id);
    if (review) {
        const LogFindings &findings = review->findings();
        const std::size_t found = findings.found.size(), open = findings.notAsked.size();
        out << (found > 0 ? tr("%1 found").arg(found) : tr("nothing found"));
        if (open > 0) out << tr("%1 rules not asked").arg(open);
        if (!findings.silent.empty()) out << tr("channels silent in a pull");
        if (review->content().known && !review->content().usable()) out << tr("content not settled");
    } else if (const QString trouble = m_session.evidence().trouble(info.id); !trouble.isEmpty()) {
        out << trouble;
    } else {
        out << tr("being read");
    }
    if (!info.note.empty()) out << text(info.note);
    return out.join(QStringLiteral(", "));
}

void LogSlips::paintEvent(QPaintEvent *) {
    QPainter p(this);
    const bool methanol = m_session.job().alcohol == Alcohol::methanol;
    for (std::size_t i = 0; i < count(); ++i) {
        const LogInfo &info = at(i);
        const QRect box = slipRect(i);
        const bool chosenOne = info.id == m_session.evidence().log();
        const bool known = info.contentBasis != ContentBasis::none;
        p.fillRect(box, theme().raised);
        p.setPen(QPen(chosenOne ? theme().ink : theme().line, chosenOne ? 2 : 1));
        p.drawRect(box.adjusted(0, 0, -1, -1));
        const QRect edge(box.left(), box.top(), hueWidth, box.height());
        if (known)
            p.fillRect(edge, theme().content(info.content));
        else
            p.fillRect(edge, QBrush(theme().quiet, Qt::BDiagPattern)); // nobody knows
        const QRect words = box.adjusted(hueWidth + 6, 4, -6, -4);
        p.setPen(theme().ink);
        p.setFont(sansFont(12, chosenOne));
        const QString name = QFileInfo(text(info.name)).completeBaseName();
        p.drawText(words, Qt::AlignLeft | Qt::AlignTop,
                   p.fontMetrics().elidedText(name, Qt::ElideMiddle, words.width()));
        p.setFont(monoFont(12, true));
        p.drawText(words, Qt::AlignLeft | Qt::AlignBottom,
                   known ? text(contentName(info.content, methanol)) : QStringLiteral("?"));
        p.setFont(sansFont(11));
        p.setPen(theme().quiet);
        p.drawText(words.adjusted(42, 0, 0, 0), Qt::AlignLeft | Qt::AlignBottom, lengthText(info));
        const auto review = m_session.evidence().review(info.id);
        if (!review) {
            p.drawText(words, Qt::AlignRight | Qt::AlignBottom,
                       m_session.evidence().trouble(info.id).isEmpty() ? QStringLiteral("…")
                                                                       : tr("unreadable"));
            continue;
        }
        if (review->content().known && !review->content().usable()) {
            p.setPen(theme().heed);
            p.drawText(words.adjusted(78, 0, 0, 0), Qt::AlignLeft | Qt::AlignBottom, QStringLiteral("~"));
        }
        const std::size_t found = review->findings().found.size();
        if (found == 0 && !review->findings().allAsked()) continue; // not asked is not clean
        const QString number = QString::number(found);
        const int w = p.fontMetrics().horizontalAdvance(number);
        if (found == 0) {
            p.setPen(theme().quiet);
            p.drawText(words, Qt::AlignRight | Qt::AlignBottom, tr("clean"));
            continue;
        }
        p.setPen(theme().trouble);
        p.drawText(words, Qt::AlignRight | Qt::AlignBottom, number);
        p.setRenderHint(QPainter::Antialiasing);
        p.setBrush(theme().trouble);
        p.setPen(Qt::NoPen);
        const double x = words.right() - w - 10, y = words.bottom() - 3;
        p.drawPolygon(QPolygonF({{x - 5, y}, {x + 5, y}, {x, y - 9}}));
        p.setRenderHint(QPainter::Antialiasing, false);
        p.setBrush(Qt::NoBrush);
    }
    if (hasFocus() && count() > 0) {
        p.setPen(QPen(theme().ink, 1, Qt::DotLine));
        p.drawRect(slipRect(chosen()).adjusted(3, 3, -4, -4));
    }
}

void LogSlips::choose(std::size_t slip) {
    if (slip < count()) m_session.evidence().setLog(at(slip).id);
}

void LogSlips::mousePressEvent(QMouseEvent *event) {
    for (std::size_t i = 0; i < count(); ++i)
        if (slipRect(i).contains(event->position().toPoint())) return choose(i);
}

void LogSlips::keyPressEvent(QKeyEvent *event) {
    const std::size_t now = chosen();
    switch (event->key()) {
    case Qt::Key_Up:
        return choose(now > 0 ? now - 1 : 0);
    case Qt::Key_Down:
        return choose(now + 1);
    case Qt::Key_Delete:
        emit removeWanted();
        return;
    default:
        QWidget::keyPressEvent(event);
    }
}

bool LogSlips::event(QEvent *event) {
    if (event->type() != QEvent::ToolTip) return QWidget::event(event);
    const auto *help = static_cast<QHelpEvent *>(event);
    for (std::size_t i = 0; i < count(); ++i)
        if (slipRect(i).contains(help->pos())) QToolTip::showText(help->globalPos(), words(i), this);
    return true;
}

int LogSlips::partCount() const {
    return m_session.hasJob() ? static_cast<int>(count()) : 0;
}

PaintedPart LogSlips::part(int index) const {
    return {words(static_cast<std::size_t>(index)), slipRect(static_cast<std::size_t>(index))};
}

int LogSlips::chosenPart() const {
    return partCount() > 0 ? static_cast<int>(chosen()) : -1;
}

void LogSlips::choosePart(int index) {
    choose(static_cast<std::size_t>(index));
}

} // namespace wheelwright
