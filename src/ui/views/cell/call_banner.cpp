// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/cell/call_banner.h"

#include "session/live_seat.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"

#include <QPainter>

namespace wheelwright {

CallBanner::CallBanner(Session &session, LiveSeat &live, QWidget *parent)
    : QWidget(parent), m_session(session), m_live(live) {
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setFixedHeight(sizeHint().height());
}

void CallBanner::refresh() {
    QString words, small;
    bool grave = false;
    const SeatReview &review = m_live.review();
    switch (m_live.hearing()) {
    case LiveSeat::Hearing::off:
        words = tr("Nothing is listened to");
        small = tr("Start an engine to practise with, or listen to a bus, on the page Engine.");
        break;
    case LiveSeat::Hearing::waiting:
        words = tr("Waiting for the engine");
        small = m_live.stateWords();
        break;
    case LiveSeat::Hearing::silent:
        words = tr("NOTHING IS HEARD — lift");
        small = m_live.stateWords();
        grave = true;
        break;
    case LiveSeat::Hearing::lost:
        words = tr("THE BUS IS LOST — lift");
        small = m_live.stateWords();
        grave = true;
        break;
    case LiveSeat::Hearing::hearing:
        if (!review.calls.empty()) {
            const SeatReview::Call &first = review.calls.front();
            words = text(first.rule->call);
            grave = true;
            QStringList more{tr("%1, limit %2")
                                 .arg(shown(first.worst, first.rule->dimension, m_session.units()),
                                      shown(first.limit, first.rule->dimension, m_session.units()))};
            for (std::size_t i = 1; i < review.calls.size(); ++i)
                more << text(review.calls[i].rule->call);
            small = more.join(QStringLiteral(" · "));
        } else if (!m_live.judged()) {
            words = tr("Not judged");
            small = tr("The rules have not been asked for a while.");
        } else {
            words = review.pulling ? tr("Pull") : tr("No rule calls");
            if (!review.notAsked.empty()) {
                QStringList silent;
                for (const WatchRule *r : review.notAsked)
                    silent << text(r->title);
                small = tr("Not judged: %1").arg(silent.join(QStringLiteral(", ")));
            } else {
                small = tr("All rules are asked.");
            }
        }
        break;
    }
    if (words == m_words && small == m_small && grave == m_grave) return;
    m_words = words;
    m_small = small;
    m_grave = grave;
    setAccessibleName(words + QStringLiteral(". ") + small);
    setToolTip(small);
    update();
}

void CallBanner::paintEvent(QPaintEvent *) {
    QPainter p(this);
    const Theme &t = theme();
    const QRectF box = QRectF(rect()).adjusted(1, 1, -1, -1);
    if (m_grave) p.fillRect(box, t.trouble);
    p.setPen(m_grave ? t.textOn(t.trouble) : t.ink);
    p.setFont(sansFont(34, true));
    p.drawText(box.adjusted(12, 0, -12, -20), Qt::AlignLeft | Qt::AlignVCenter,
               p.fontMetrics().elidedText(m_words, Qt::ElideRight, width() - 24));
    p.setFont(sansFont(13));
    if (!m_grave) p.setPen(t.quiet);
    p.drawText(box.adjusted(13, 44, -12, 0), Qt::AlignLeft | Qt::AlignVCenter,
               p.fontMetrics().elidedText(m_small, Qt::ElideRight, width() - 24));
}

} // namespace wheelwright
