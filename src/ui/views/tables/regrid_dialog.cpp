// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/tables/regrid_dialog.h"

#include "core/base/error.h"
#include "core/report/calibration_reports.h"
#include "session/cell_editor.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/widgets/report_view.h"

#include <QCheckBox>
#include <QDialogButtonBox>
#include <QFormLayout>
#include <QLineEdit>
#include <QPushButton>
#include <QRegularExpression>

namespace wheelwright {

RegridDialog::RegridDialog(Session &session, QWidget *parent) : QDialog(parent), m_session(session) {
    setWindowTitle(tr("Re-grid"));
    setProperty("helpPage", "tables");
    const TableField field = session.frontField();
    const Table2D &table = session.tableAt(session.side());
    const auto line = [&](const Axis &axis, Dimension d) {
        QStringList points;
        for (const double v : axis.points())
            points << QString::number(toShown(v, d, session.units()), 'g', 6);
        auto *edit = new QLineEdit(points.join(QLatin1Char(' ')), this);
        edit->setMinimumWidth(520);
        connect(edit, &QLineEdit::textChanged, this, &RegridDialog::preview);
        return edit;
    };
    m_x = line(table.x(), Dimension::engineSpeed);
    m_x->setObjectName(QStringLiteral("rpm"));
    m_y = line(table.y(), field.yDimension());
    m_y->setObjectName(QStringLiteral("load"));
    m_all = new QCheckBox(tr("All tables of the quantity, so that they share their axes"), this);
    m_all->setChecked(true);
    m_words = new ReportView(tr("What changes"), ReportView::Fit::steady, this, 4);
    auto *buttons = new QDialogButtonBox(QDialogButtonBox::Cancel, this);
    m_apply = buttons->addButton(tr("Re-grid"), QDialogButtonBox::AcceptRole);
    auto *form = new QFormLayout(this);
    form->addRow(tr("rpm"), m_x);
    form->addRow(
        text(field.yTitle()) + QLatin1Char(' ') + text(unitSymbol(field.yDimension(), session.units())), m_y);
    form->addRow(m_all);
    form->addRow(m_words);
    form->addRow(buttons);
    connect(m_all, &QCheckBox::toggled, this, &RegridDialog::preview);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(m_apply, &QPushButton::clicked, this, &RegridDialog::apply);
    preview();
}

Axis RegridDialog::typed(const QLineEdit &edit, Dimension dimension, const char *name) const {
    std::vector<double> points;
    static const QRegularExpression between(QStringLiteral("[\\s;]+"));
    for (const QString &part : edit.text().split(between, Qt::SkipEmptyParts))
        points.push_back(parse(part.toStdString(), dimension, m_session.units(), name));
    return Axis(std::move(points), name);
}

void RegridDialog::preview() {
    m_apply->setEnabled(false);
    const TableField field = m_session.frontField();
    try {
        const Axis x = typed(*m_x, Dimension::engineSpeed, "rpm");
        const Axis y = typed(*m_y, field.yDimension(), "load");
        const Table2D &table = m_session.tableAt(m_session.side());
        const Regridded r = regrid(table, x, y);
        const bool same = x == table.x() && y == table.y();
        m_words->show(regridReport(field, r, same), m_session.units());
        m_apply->setEnabled(!same && !m_session.readOnly());
    } catch (const InputError &e) {
        m_words->say({e.words(), Tone::trouble}, m_session.units());
    }
}

void RegridDialog::apply() {
    const TableField field = m_session.frontField();
    if (CellEditor(m_session).regridTables(typed(*m_x, Dimension::engineSpeed, "rpm"),
                                           typed(*m_y, field.yDimension(), "load"), m_all->isChecked()))
        accept();
}

QString RegridDialog::words() const {
    return m_words->words();
}

} // namespace wheelwright
