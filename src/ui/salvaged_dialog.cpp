// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/salvaged_dialog.h"

#include "ui/widgets/card.h"

#include <QDialogButtonBox>
#include <QPlainTextEdit>
#include <QVBoxLayout>

namespace wheelwright {

SalvagedDialog::SalvagedDialog(const QStringList &lost, const QString &file, QWidget *parent)
    : QDialog(parent) {
    setWindowTitle(tr("Read from a damaged job"));
    setProperty("helpPage", "job");
    constexpr int wide = 640, high = 420;
    resize(wide, high);
    auto *words = makeQuiet(
        tr("%1 holds what could be read; the damaged file is as it was. Look through the numbers that "
           "stand in place of what is lost before anything runs with them: what is gone counts as not known, "
           "what may be wrong as estimated, until you say part by part in Job that it is so. Samples of logs "
           "are not read: bring the logs in again.")
            .arg(file),
        this);
    auto *list = new QPlainTextEdit(
        lost.empty() ? tr("Nothing: all of it could be read.") : lost.join(QLatin1Char('\n')), this);
    list->setReadOnly(true);
    list->setAccessibleName(tr("What is lost"));
    auto *buttons = new QDialogButtonBox(QDialogButtonBox::Close, this);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    auto *layout = new QVBoxLayout(this);
    layout->addWidget(makeHead(tr("What is lost"), this));
    layout->addWidget(words);
    layout->addWidget(list, 1);
    layout->addWidget(buttons);
}

} // namespace wheelwright
