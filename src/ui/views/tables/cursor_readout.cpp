// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/tables/cursor_readout.h"

#include "ui/theme.h"

#include <QPainter>

namespace wheelwright {

CursorReadout::CursorReadout(QWidget *parent) : QWidget(parent) {
    setAccessibleName(tr("Numbers under the cursor: base, now, top"));
    setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Fixed);
}

void CursorReadout::show(const std::array<QString, 3> &numbers,
                         const std::array<std::optional<double>, 3> &contents) {
    m_numbers = numbers;
    m_contents = contents;
    setAccessibleDescription(QStringList(numbers.begin(), numbers.end()).join(QStringLiteral(", ")));
    update();
}

void CursorReadout::paintEvent(QPaintEvent *) {
    QPainter p(this);
    // The row that it stands in may be a little narrower than it would like.
    const int side = width() * 58 / sizeHint().width(), middle = width() - 2 * side;
    const std::array<QRect, 3> boxes{QRect(0, 0, side, height()), QRect(side, 0, middle, height()),
                                     QRect(side + middle, 0, side, height())};
    for (std::size_t i = 0; i < boxes.size(); ++i) {
        p.setPen(m_contents[i] ? theme().content(*m_contents[i]) : theme().ink);
        p.setFont(sansFont(i == 1 ? 26 : 16, i == 1));
        p.drawText(boxes[i], Qt::AlignRight | Qt::AlignVCenter, m_numbers[i]);
    }
}

} // namespace wheelwright
