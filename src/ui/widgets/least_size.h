// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QWidget>

namespace wheelwright {

/// Holds a content at the size it is given, and asks for no more than the content's least. A scroll area that
/// held the content itself would ask for all the height that wrapped texts could take at this width, and
/// scroll a window in which everything fits.
class LeastSize : public QWidget {
  public:
    /// enough: a size in which the content is known to work, though its pages ask for a little more.
    LeastSize(QWidget *content, QSize enough) : m_content(content), m_enough(enough) {
        content->setParent(this);
    }
    QSize minimumSizeHint() const override { return m_content->minimumSizeHint().boundedTo(m_enough); }
    QSize sizeHint() const override { return m_content->sizeHint(); }

  protected:
    void resizeEvent(QResizeEvent *) override { m_content->setGeometry(rect()); }
    bool event(QEvent *event) override {
        if (event->type() == QEvent::LayoutRequest) updateGeometry(); // what the content needs has changed
        return QWidget::event(event);
    }

  private:
    QWidget *m_content;
    QSize m_enough;
};

} // namespace wheelwright
