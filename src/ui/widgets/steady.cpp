#include "ui/widgets/steady.h"

#include <QScrollArea>

namespace wheelwright {

QScrollArea *makeSteady(QWidget *texts, int lines, QWidget *parent) {
    auto *area = new QScrollArea(parent);
    area->setFrameShape(QFrame::NoFrame);
    area->setWidgetResizable(true);
    area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    area->setFocusPolicy(Qt::NoFocus); // the texts take the focus where they have links
    area->setWidget(texts);
    const int height = lines * texts->fontMetrics().lineSpacing() + texts->fontMetrics().descent();
    if (lines > 0)
        area->setFixedHeight(height);
    else
        area->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Ignored);
    return area;
}

} // namespace wheelwright
