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

#include <algorithm>

namespace wheelwright {

RegridDialog::RegridDialog(Session &session, QWidget *parent) : QDialog(parent), m_session(session) {
    setWindowTitle(tr("Re-grid"));
    setProperty("helpPage", "tables");
    const TableField field = session.frontField();
    const Table2D &table = front();
    const auto line = [&](const Axis &axis, Dimension d) {
        QStringList points;
        for (const double v : axis.points())
            points << briefText(toShown(v, d, session.units()), session.units());
        auto *edit = new QLineEdit(points.join(QLatin1Char(' ')), this);
        edit->setMinimumWidth(520);
        connect(edit, &QLineEdit::textChanged, this, &RegridDialog::preview);
        return edit;
    };
    m_x = line(table.x(), field.x.dimension);
    m_x->setObjectName(QStringLiteral("across"));
    m_y = line(table.y(), field.y.dimension);
    m_y->setObjectName(QStringLiteral("down"));
    const ExtraTable *extra = session.extra();
    m_all = new QCheckBox(extra ? tr("All tables of this kind, so that they share their axes")
                                : tr("All tables of the quantity, so that they share their axes"),
                          this);
    const bool several =
        !extra || std::ranges::count(session.job().extras, extra->kind, &ExtraTable::kind) > 1;
    m_all->setChecked(several);
    m_words = new ReportView(tr("What changes"), ReportView::Fit::steady, this, 4);
    auto *buttons = new QDialogButtonBox(QDialogButtonBox::Cancel, this);
    m_apply = buttons->addButton(tr("Re-grid"), QDialogButtonBox::AcceptRole);
    auto *form = new QFormLayout(this);
    const auto named = [&](const TableAxis &axis) {
        return text(axis.title) + QLatin1Char(' ') + text(unitSymbol(axis.dimension, session.units()));
    };
    form->addRow(named(field.x), m_x);
    if (field.y.single())
        m_y->hide();
    else
        form->addRow(named(field.y), m_y);
    if (several)
        form->addRow(m_all);
    else
        m_all->hide();
    form->addRow(m_words);
    form->addRow(buttons);
    connect(m_all, &QCheckBox::toggled, this, &RegridDialog::preview);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(m_apply, &QPushButton::clicked, this, &RegridDialog::apply);
    preview();
}

const Table2D &RegridDialog::front() const {
    return m_session.extra() ? m_session.extra()->table : m_session.tableAt(m_session.side());
}

Axis RegridDialog::typed(const QLineEdit &edit, const TableAxis &axis) const {
    const std::string name = axis.single() ? "row" : std::string(axis.key);
    std::vector<double> points;
    static const QRegularExpression between(QStringLiteral("[\\s;]+"));
    for (const QString &part : edit.text().split(between, Qt::SkipEmptyParts))
        points.push_back(parse(part.toStdString(), axis.dimension, m_session.units(), name));
    return Axis(std::move(points), name);
}

void RegridDialog::preview() {
    m_apply->setEnabled(false);
    const TableField field = m_session.frontField();
    try {
        const Axis x = typed(*m_x, field.x), y = typed(*m_y, field.y);
        const Table2D &table = front();
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
    if (CellEditor(m_session).regridTables(typed(*m_x, field.x), typed(*m_y, field.y), m_all->isChecked()))
        accept();
}

QString RegridDialog::words() const {
    return m_words->words();
}

} // namespace wheelwright
