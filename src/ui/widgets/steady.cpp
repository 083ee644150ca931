// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/steady.h"

#include <QEvent>
#include <QLabel>
#include <QPainter>
#include <QScrollArea>

#include <algorithm>

namespace wheelwright {
namespace {

// As high as its lines where the window has the room, and less in a small window; never by its text.
class SteadyArea : public QScrollArea {
  public:
    SteadyArea(int lines, QWidget *parent) : QScrollArea(parent), m_lines(lines) {}
    QSize sizeHint() const override { return {QScrollArea::sizeHint().width(), heightOf(m_lines)}; }
    QSize minimumSizeHint() const override {
        constexpr int least = 3;
        return {QScrollArea::minimumSizeHint().width(), heightOf(std::min(least, m_lines))};
    }

  private:
    int heightOf(int lines) const {
        const QFontMetrics metrics = widget() ? widget()->fontMetrics() : fontMetrics();
        constexpr int slack = 6; // a first line that is larger, space between paragraphs
        return lines * metrics.lineSpacing() + metrics.descent() + slack;
    }
    int m_lines;
};

class StillLine : public QWidget {
  public:
    StillLine(QLabel *line, int width, QWidget *parent) : QWidget(parent), m_line(line), m_width(width) {
        line->setParent(this); // in no layout
        line->setProperty("elides", true);
        line->installEventFilter(this);
        setSizePolicy(width > 0 ? QSizePolicy::Fixed : QSizePolicy::Ignored, QSizePolicy::Fixed);
    }
    QSize sizeHint() const override { return {m_width, m_line->fontMetrics().lineSpacing() + 4}; }
    QSize minimumSizeHint() const override { return {std::max(m_width, 60), sizeHint().height()}; }

  private:
    void resizeEvent(QResizeEvent *) override { m_line->setGeometry(rect()); }
    // What does not fit ends with dots rather than in the middle of a letter.
    bool eventFilter(QObject *watched, QEvent *event) override {
        const bool fits = m_line->textFormat() == Qt::RichText || Qt::mightBeRichText(m_line->text()) ||
                          m_line->fontMetrics().horizontalAdvance(m_line->text()) <= width();
        if (watched != m_line || event->type() != QEvent::Paint || fits)
            return QWidget::eventFilter(watched, event);
        QPainter p(m_line);
        p.setFont(m_line->font());
        p.setPen(m_line->palette().color(m_line->foregroundRole()));
        p.drawText(m_line->rect(), static_cast<int>(m_line->alignment()),
                   m_line->fontMetrics().elidedText(m_line->text(), Qt::ElideRight, width()));
        return true;
    }

    QLabel *m_line;
    int m_width;
};

} // namespace

QWidget *makeStill(QLabel *line, QWidget *parent, int width) {
    return new StillLine(line, width, parent);
}

QScrollArea *makeSteady(QWidget *texts, int lines, QWidget *parent) {
    QScrollArea *area = lines > 0 ? new SteadyArea(lines, parent) : new QScrollArea(parent);
    area->setFrameShape(QFrame::NoFrame);
    area->setWidgetResizable(true);
    area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    area->setFocusPolicy(Qt::NoFocus); // the texts take the focus where they have links
    area->setWidget(texts);
    area->setSizePolicy(QSizePolicy::Expanding, lines > 0 ? QSizePolicy::Maximum : QSizePolicy::Ignored);
    return area;
}

} // namespace wheelwright
