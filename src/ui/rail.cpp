// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/rail.h"

#include "ui/theme.h"
#include "ui/views/view.h"

#include <QCoreApplication>
#include <QGridLayout>
#include <QPainter>
#include <QToolButton>

namespace wheelwright {
namespace {

constexpr int railWidth = 84, edge = 6;

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
    setFixedWidth(railWidth);
    for (const ViewDefinition *v : allViews()) {
        auto *button = new RailButton(*v, this);
        connect(button, &QToolButton::clicked, this,
                [this, id = QString::fromLatin1(v->id)] { emit stationWanted(id); });
        m_buttons.push_back(button);
    }
    setLow(false);
}

void Rail::show(const QString &station) {
    for (QToolButton *b : m_buttons)
        if (b->objectName() == QStringLiteral("station-") + station) b->setChecked(true);
}

void Rail::setJob(bool open) {
    for (QToolButton *b : m_buttons)
        b->setEnabled(open || b->objectName() == QStringLiteral("station-job"));
}

void Rail::setLow(bool low) {
    if (low == m_low) return;
    m_low = low;
    delete layout();
    auto *grid = new QGridLayout(this);
    grid->setContentsMargins(edge, low ? 2 : 8, edge, low ? 2 : 8);
    grid->setSpacing(low ? 0 : 6);
    const int columns = low ? 2 : 1;
    constexpr int tall = 64, square = 36, picture = 30, smallPicture = 24;
    for (int i = 0; i < static_cast<int>(m_buttons.size()); ++i) {
        QToolButton *b = m_buttons[static_cast<std::size_t>(i)];
        b->setToolButtonStyle(low ? Qt::ToolButtonIconOnly : Qt::ToolButtonTextUnderIcon);
        b->setIconSize(low ? QSize(smallPicture, smallPicture) : QSize(picture, picture));
        b->setFixedSize((railWidth - 2 * edge) / columns, low ? square : tall);
        grid->addWidget(b, i / columns, i % columns);
    }
    grid->setRowStretch(grid->rowCount(), 1);
}

} // namespace wheelwright
