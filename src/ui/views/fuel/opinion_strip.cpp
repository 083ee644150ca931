// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/fuel/opinion_strip.h"

#include "core/explain/explain_fuel.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"

#include <QApplication>
#include <QClipboard>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

constexpr int nameWidth = 98, valueWidth = 80, leastButton = 72;

} // namespace

OpinionStrip::OpinionStrip(Session &session, QWidget *parent) : QWidget(parent), m_session(session) {
    setAccessibleName(tr("Opinions on the content"));
    setFocusPolicy(Qt::StrongFocus);
    setFixedHeight(sizeHint().height());
    for (const OpinionSource source : allOpinionSources) {
        auto *button = new QPushButton(tr("Believe"), this);
        button->setToolTip(tr("From here on the tank holds what this says"));
        button->setAccessibleName(tr("Believe: %1").arg(text(opinionTitle(source))));
        connect(button, &QPushButton::clicked, this, [this, source] { believe(source); });
        m_buttons.push_back(button);
        button->ensurePolished();
        m_buttonWidth = std::max({m_buttonWidth, leastButton, button->sizeHint().width()});
    }
}

QPushButton *OpinionStrip::believeButton(OpinionSource source) const {
    return m_buttons[static_cast<std::size_t>(source)];
}

void OpinionStrip::show(const ContentOpinions &opinions) {
    m_opinions = opinions;
    for (const OpinionSource source : allOpinionSources)
        believeButton(source)->setEnabled(opinionBy(m_opinions, source) && !m_session.readOnly());
    update();
}

void OpinionStrip::believe(OpinionSource source) {
    const Opinion *opinion = opinionBy(m_opinions, source);
    if (!opinion) return;
    const TankEvent event = adoption(m_session.job(), *opinion, m_session.now().toStdString());
    m_session.perform(tr("Believe: %1").arg(text(opinionTitle(source))),
                      [&](Job &job) { job.tankEvents.push_back(event); });
}

QRectF OpinionStrip::scaleRect() const {
    return {nameWidth, 0.0, std::max(40.0, width() - nameWidth - valueWidth - m_buttonWidth - 16.0),
            3.0 * rowHeight};
}

std::pair<double, double> OpinionStrip::range() const {
    if (m_opinions.all.empty()) return {0, 1};
    double low = 1, high = 0;
    for (const Opinion &o : m_opinions.all) {
        low = std::min(low, o.content.value - 2 * o.content.sigma);
        high = std::max(high, o.content.value + 2 * o.content.sigma);
    }
    // Whole tens, so that the scale stands still while a reading is typed.
    return {std::clamp(std::floor(low * 10) / 10, 0.0, 0.9), std::clamp(std::ceil(high * 10) / 10, 0.1, 1.0)};
}

void OpinionStrip::paintEvent(QPaintEvent *) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const QRectF scale = scaleRect();
    const auto [low, high] = range();
    const auto x = [&, from = low, to = high](double content) {
        return scale.left() + (std::clamp(content, from, to) - from) / (to - from) * scale.width();
    };
    p.setPen(QPen(theme().line, 1));
    const int first = static_cast<int>(std::lround(low * 10)),
              last = static_cast<int>(std::lround(high * 10));
    p.setFont(sansFont(10));
    for (int tens = first; tens <= last; ++tens) {
        p.setPen(QPen(theme().line, 1));
        p.drawLine(QPointF(x(tens / 10.0), 2), QPointF(x(tens / 10.0), scale.bottom()));
        p.setPen(theme().quiet);
        if (last - first <= 6 || tens % 2 == 0)
            p.drawText(QRectF(x(tens / 10.0) - 20, scale.bottom(), 40, 13), Qt::AlignCenter,
                       QString::number(tens * 10));
    }
    const bool methanol = m_session.job().alcohol == Alcohol::methanol;
    for (std::size_t row = 0; row < allOpinionSources.size(); ++row) {
        const double middle = rowHeight * (static_cast<double>(row) + 0.5);
        const QRectF name(0, middle - 12, nameWidth - 8, 24);
        const Opinion *o = opinionBy(m_opinions, allOpinionSources[row]);
        p.setFont(sansFont(13));
        p.setPen(o ? theme().ink : theme().quiet);
        p.drawText(name, Qt::AlignVCenter | Qt::AlignLeft, text(opinionTitle(allOpinionSources[row])));
        const QRectF value(scale.right() + 10, middle - 12, valueWidth, 24);
        if (!o) {
            p.drawText(value, Qt::AlignVCenter | Qt::AlignLeft, tr("silent"));
            continue;
        }
        const double c = o->content.value, s = o->content.sigma;
        const QColor hue = theme().content(std::clamp(c, 0.0, 1.0));
        p.setPen(QPen(hue, 1.5));
        p.drawLine(QPointF(x(c - 2 * s), middle), QPointF(x(c + 2 * s), middle));
        p.setPen(QPen(hue, 7, Qt::SolidLine, Qt::FlatCap));
        p.drawLine(QPointF(x(c - s), middle), QPointF(std::max(x(c + s), x(c - s) + 1), middle));
        p.setPen(QPen(theme().ink, 2));
        p.drawLine(QPointF(x(c), middle - 8), QPointF(x(c), middle + 8));
        p.setFont(monoFont(14, true));
        p.drawText(value, Qt::AlignVCenter | Qt::AlignLeft,
                   tr("%1 ±%2").arg(text(contentName(c, methanol))).arg(std::lround(s * 100)));
    }
    if (hasFocus()) {
        p.setRenderHint(QPainter::Antialiasing, false);
        p.setPen(QPen(theme().ink, 1, Qt::DotLine));
        p.setBrush(Qt::NoBrush);
        p.drawRect(part(m_row).where.adjusted(0, 1, -2, -2));
    }
}

void OpinionStrip::resizeEvent(QResizeEvent *) {
    for (std::size_t row = 0; row < m_buttons.size(); ++row)
        m_buttons[row]->setGeometry(width() - m_buttonWidth, static_cast<int>(row) * rowHeight, m_buttonWidth,
                                    rowHeight - 1);
}

void OpinionStrip::mousePressEvent(QMouseEvent *event) {
    const auto row = static_cast<int>(std::max(0.0, event->position().y()) / rowHeight);
    if (row < partCount()) choosePart(row);
}

void OpinionStrip::keyPressEvent(QKeyEvent *event) {
    const int key = event->key();
    if (key == Qt::Key_Up || key == Qt::Key_Down) {
        m_row = std::clamp(m_row + (key == Qt::Key_Down ? 1 : -1), 0, partCount() - 1);
        partWasChosen(*this);
        update();
    } else if (key == Qt::Key_Return || key == Qt::Key_Enter) {
        choosePart(m_row);
    } else {
        QWidget::keyPressEvent(event);
    }
}

int OpinionStrip::partCount() const {
    return static_cast<int>(allOpinionSources.size());
}

PaintedPart OpinionStrip::part(int index) const {
    const OpinionSource source = allOpinionSources[static_cast<std::size_t>(index)];
    const Opinion *o = opinionBy(m_opinions, source);
    const QString says =
        o ? tr("%1 ±%2")
                .arg(text(contentName(o->content.value, m_session.job().alcohol == Alcohol::methanol)))
                .arg(std::lround(o->content.sigma * 100))
          : tr("silent");
    return {tr("%1: %2").arg(text(opinionTitle(source)), says),
            QRect(0, index * rowHeight, width() - m_buttonWidth, rowHeight)};
}

void OpinionStrip::choosePart(int index) {
    m_row = index;
    update();
    if (const Opinion *o = opinionBy(m_opinions, allOpinionSources[static_cast<std::size_t>(index)]))
        m_session.explain(explainOpinion(m_session.job(), *o));
}

void OpinionStrip::copy() const {
    QString out;
    for (const Opinion &o : m_opinions.all)
        out += text(opinionTitle(o.source)) + u'\t' +
               shown(o.content.value, Dimension::content, m_session.units()) + u'\t' +
               shown(o.content.sigma, Dimension::contentDifference, m_session.units()) + u'\n';
    QApplication::clipboard()->setText(out);
}

void OpinionStrip::copyPicture() {
    QApplication::clipboard()->setPixmap(grab());
}

} // namespace wheelwright
