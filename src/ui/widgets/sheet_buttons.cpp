// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/sheet_buttons.h"

#include "core/base/error.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/widgets/report_text.h"

#include <QApplication>
#include <QClipboard>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QPrintDialog>
#include <QPrinter>
#include <QPushButton>

namespace wheelwright {

SheetButtons::SheetButtons(Session &session, Sheet sheet, QWidget *parent)
    : QWidget(parent), m_session(session), m_sheet(std::move(sheet)) {
    setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Fixed);
    auto *row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(4);
    const auto add = [&](const QString &title, const char *name, const QString &hint, auto slot) {
        auto *button = new QPushButton(title, this);
        button->setObjectName(QLatin1String(name));
        button->setToolTip(hint);
        button->setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Fixed); // a word is read whole or not at all
        connect(button, &QPushButton::clicked, this, slot);
        row->addWidget(button);
    };
    add(tr("Copy"), "copySheet", m_sheet.copyHint, &SheetButtons::copy);
    add(tr("Save…"), "saveSheet", tr("As PDF, HTML page or plain text"), &SheetButtons::save);
    add(tr("Print…"), "printSheet", {}, &SheetButtons::print);
}

void SheetButtons::copy() const {
    QApplication::clipboard()->setText(m_sheet.copied());
}

void SheetButtons::save() {
    const QString path = QFileDialog::getSaveFileName(
        this, tr("Save %1").arg(m_sheet.title), m_sheet.fileName + QStringLiteral(".pdf"),
        tr("PDF (*.pdf);;HTML page (*.html);;Plain text (*.txt)"));
    if (path.isEmpty()) return;
    try {
        saveReport(path, m_sheet.made(), m_session.units());
    } catch (const InputError &e) {
        m_session.report(text(e.words()));
    }
}

void SheetButtons::print() {
    QPrinter printer;
    QPrintDialog dialog(&printer, this);
    dialog.setWindowTitle(tr("Print %1").arg(m_sheet.title));
    if (dialog.exec() == QDialog::Accepted) printReport(printer, m_sheet.made(), m_session.units());
}

QString gridsAsText(const Report &report, const UnitChoice &units) {
    QString out;
    const auto line = [&out](const QStringList &cells) {
        out += cells.join(QLatin1Char('\t')) + QLatin1Char('\n');
    };
    for (const Block &b : report.blocks) {
        const auto *grid = std::get_if<Grid>(&b);
        if (!grid) continue;
        QStringList cells;
        for (const Phrase &head : grid->heads)
            cells << text(head);
        line(cells);
        for (const auto &row : grid->rows) {
            cells.clear();
            for (const Sentence &s : row)
                cells << text(s.words, units);
            line(cells);
        }
    }
    return out;
}

} // namespace wheelwright
