// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/rail.h"

#include "ui/theme.h"
#include "ui/views/view.h"

#include <QCoreApplication>
#include <QPainter>
#include <QToolButton>

#include <algorithm>

namespace wheelwright {
namespace {

constexpr int leastWidth = 88, edge = 4;
constexpr int tall = 68, lowest = 52, square = 36; // of a button with its word, and of one without
constexpr int largePicture = 30, smallPicture = 24, wordHeight = 32;

class RailButton : public QToolButton {
  public:
    RailButton(const ViewDefinition &view, QWidget *parent)
        : QToolButton(parent), m_digit(view.position % 10) {
        setObjectName(QStringLiteral("station-") + QLatin1String(view.id));
        setCheckable(true);
        setAutoExclusive(true);
        setAutoRaise(true);
        setIcon(QIcon(QLatin1String(view.icon)));
        setText(QCoreApplication::translate("view", view.title));
        setAccessibleName(text());
        setToolTip(Rail::tr("%1 (Alt+%2)").arg(text()).arg(m_digit));
    }
    int digit() const { return m_digit; }

  protected:
    void paintEvent(QPaintEvent *event) override {
        QToolButton::paintEvent(event);
        QPainter p(this);
        p.setFont(monoFont(10));
        p.setPen(theme().quiet);
        constexpr int inset = 5;
        p.drawText(rect().adjusted(inset, inset - 2, -inset, -inset), Qt::AlignTop | Qt::AlignRight,
                   QString::number(m_digit));
    }

  private:
    int m_digit;
};

} // namespace

Rail::Rail(QWidget *parent) : QWidget(parent) {
    int widest = leastWidth - 2 * edge;
    for (const ViewDefinition *v : allViews()) {
        auto *button = new RailButton(*v, this);
        button->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
        button->ensurePolished();
        widest = std::max(widest, button->minimumSizeHint().width());
        connect(button, &QToolButton::clicked, this,
                [this, id = QString::fromLatin1(v->id)] { emit stationWanted(id); });
        m_buttons.push_back(button);
    }
    setFixedWidth(widest + 2 * edge);
}

void Rail::show(const QString &station) {
    for (QToolButton *b : m_buttons) {
        const bool here = b->objectName() == QStringLiteral("station-") + station;
        if (here) b->setChecked(true);
        b->setFocusPolicy(here ? Qt::TabFocus : Qt::ClickFocus); // the arrows go to the others
    }
}

void Rail::setJob(bool open) {
    for (QToolButton *b : m_buttons)
        b->setEnabled(open || b->objectName() == QStringLiteral("station-job"));
}

QSize Rail::minimumSizeHint() const {
    const int rows = static_cast<int>(m_buttons.size() + 1) / 2;
    return {width(), rows * square};
}

// As high as the window allows; without room for the words the pictures stand in two columns.
void Rail::resizeEvent(QResizeEvent *) {
    const int count = static_cast<int>(m_buttons.size());
    const int each = std::min(tall, (height() - edge) / count);
    const bool low = each < lowest;
    const int columns = low ? 2 : 1, rowHeight = low ? square : each, gap = low ? 0 : 2;
    const int across = (width() - 2 * edge) / columns;
    const int picture = low ? smallPicture : std::min(largePicture, rowHeight - wordHeight);
    for (int i = 0; i < count; ++i) {
        QToolButton *b = m_buttons[static_cast<std::size_t>(i)];
        b->setToolButtonStyle(low ? Qt::ToolButtonIconOnly : Qt::ToolButtonTextUnderIcon);
        b->setIconSize({picture, picture});
        b->setGeometry(edge + i % columns * across, edge + i / columns * rowHeight, across, rowHeight - gap);
    }
}

} // namespace wheelwright
