// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/field_form.h"

#include "core/base/error.h"
#include "core/job/curve_text.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/widgets/card.h"
#include "ui/widgets/refresh.h"

#include <QCheckBox>
#include <QComboBox>
#include <QCoreApplication>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QTimer>

namespace wheelwright {
namespace {

// The shape that decides whether a weight's own points are used; nullptr for other curves.
const Field *shapeFieldOf(const CurveField &c) {
    constexpr std::string_view ending = "weight_points";
    if (!c.path.ends_with(ending)) return nullptr;
    return fieldByPath(c.path.substr(0, c.path.size() - ending.size()) + "weight_shape");
}

} // namespace

FieldForm::FieldForm(Session &session, const QString &title, const std::vector<std::string> &prefixes,
                     const QString &caution, QWidget *parent)
    : QFrame(parent), m_session(session) {
    setProperty("card", true);
    auto *grid = new QGridLayout(this);
    grid->setVerticalSpacing(4);
    grid->setColumnStretch(1, 1);
    grid->addWidget(makeHead(title, this), 0, 0, 1, 2);
    int row = 1;
    for (const std::string &prefix : prefixes) {
        for (const Field &f : allFields()) {
            if (!f.path.starts_with(prefix)) continue;
            QWidget *made = makeEditor(f);
            m_editors[text(f.path)] = made;
            addRow(grid, row++, text(f.title), made, text(f.help));
        }
        for (const CurveField &c : allCurves()) {
            if (!c.path.starts_with(prefix)) continue;
            addCurveRow(grid, row, c);
            row += 2;
        }
    }
    if (!caution.isEmpty()) grid->addWidget(makeQuiet(caution, this), row++, 0, 1, 2);
    grid->setRowStretch(row, 1);
    (new Refresh(session, this))
        ->on(
            Refresh::job | Refresh::units | Refresh::state, [this] { refresh(); }, prefixes);
}

// A curve is long: a line of its own under its label.
void FieldForm::addCurveRow(QGridLayout *grid, int row, const CurveField &c) {
    QWidget *made = makeCurve(c);
    m_editors[text(c.path)] = made;
    addRow(grid, row, text(c.title), made, tr("Points as content: value, with ; between them."));
    QWidget *label = grid->itemAtPosition(row, 0)->widget();
    grid->addWidget(label, row, 0, 1, 2);
    grid->addWidget(made, row + 1, 0, 1, 2);
    m_refreshers.push_back([this, label, made, shape = shapeFieldOf(c)] {
        const bool used = !shape || std::get<std::string>(shape->read(m_session.job())) == "custom";
        label->setVisible(used);
        made->setVisible(used);
    });
}

void FieldForm::refresh() {
    for (const auto &put : m_refreshers)
        put();
}

QWidget *FieldForm::editor(const QString &path) const {
    const auto at = m_editors.find(path);
    return at == m_editors.end() ? nullptr : at->second;
}

bool FieldForm::showInput(const QString &path) {
    QWidget *wanted = editor(path);
    if (!wanted) return false;
    wanted->setFocus();
    if (auto *edit = qobject_cast<QLineEdit *>(wanted)) edit->selectAll();
    return true;
}

void FieldForm::addRow(QGridLayout *grid, int row, const QString &title, QWidget *editor,
                       const QString &help) {
    auto *label = new QLabel(title, this);
    label->setBuddy(editor);
    label->setToolTip(help);
    editor->setToolTip(help);
    editor->setAccessibleName(title);
    grid->addWidget(label, row, 0);
    grid->addWidget(editor, row, 1);
}

QWidget *FieldForm::makeEditor(const Field &f) {
    if (!f.choices.empty()) return makeChoice(f);
    const FieldContent content = f.read(m_session.job());
    if (std::holds_alternative<bool>(content)) return makeFlag(f);
    if (f.path == "notes") return makeNotes(f);
    return std::holds_alternative<std::string>(content) ? makeText(f) : makeNumber(f);
}

QWidget *FieldForm::makeNumber(const Field &f) {
    auto *edit = new QLineEdit(this);
    const auto put = [this, edit, &f] {
        edit->setText(
            text(formatExact(std::get<double>(f.read(m_session.job())), f.dimension, m_session.units())));
        edit->setModified(false);
    };
    m_refreshers.push_back([this, edit, put] {
        edit->setReadOnly(m_session.readOnly());
        put();
    });
    connect(edit, &QLineEdit::editingFinished, this, [this, edit, put, &f] {
        if (!edit->isModified()) return;
        edit->setModified(false);
        try {
            const double v = parse(edit->text().toStdString(), f.dimension, m_session.units(),
                                   text(f.title).toStdString());
            m_session.perform(tr("%1: %2").arg(text(f.title), edit->text()), [&](Job &j) { f.write(j, v); });
        } catch (const InputError &e) {
            m_session.report(text(e.words()));
        }
        put();
    });
    return edit;
}

QWidget *FieldForm::makeText(const Field &f) {
    auto *edit = new QLineEdit(this);
    m_refreshers.push_back([this, edit, &f] {
        edit->setText(text(std::get<std::string>(f.read(m_session.job()))));
        edit->setCursorPosition(0);
        edit->setReadOnly(m_session.readOnly());
    });
    connect(edit, &QLineEdit::editingFinished, this, [this, edit, &f] {
        if (edit->isModified())
            m_session.perform(tr("%1: %2").arg(text(f.title), edit->text()),
                              [&](Job &j) { f.write(j, edit->text().toStdString()); });
        edit->setModified(false);
    });
    return edit;
}

QWidget *FieldForm::makeNotes(const Field &f) {
    auto *edit = new QPlainTextEdit(this);
    edit->setFixedHeight(96);
    edit->setTabChangesFocus(true);
    m_refreshers.push_back([this, edit, &f] {
        const QString now = text(std::get<std::string>(f.read(m_session.job())));
        if (edit->toPlainText() != now && !edit->hasFocus()) edit->setPlainText(now);
        edit->setReadOnly(m_session.readOnly());
    });
    // A note is saved when the typing pauses: a change for every letter would be a step of undo for every
    // letter.
    auto *pause = new QTimer(edit);
    pause->setSingleShot(true);
    pause->setInterval(1200);
    connect(edit, &QPlainTextEdit::textChanged, pause, [edit, pause] {
        if (edit->hasFocus()) pause->start();
    });
    connect(pause, &QTimer::timeout, this, [this, edit, &f] {
        m_session.perform(text(f.title), [&](Job &j) { f.write(j, edit->toPlainText().toStdString()); });
    });
    return edit;
}

QWidget *FieldForm::makeChoice(const Field &f) {
    auto *box = new QComboBox(this);
    box->setSizeAdjustPolicy(
        QComboBox::AdjustToMinimumContentsLengthWithIcon); // forms stand in narrow columns
    constexpr int leastLetters = 12;
    box->setMinimumContentsLength(leastLetters);
    for (std::size_t i = 0; i < f.choices.size(); ++i)
        box->addItem(text(f.choiceTitles[i]), text(f.choices[i]));
    m_refreshers.push_back([this, box, &f] {
        box->setCurrentIndex(box->findData(text(std::get<std::string>(f.read(m_session.job())))));
        // The school is changed by converting, which says what is lost (Edit, Convert school or meaning).
        box->setEnabled(!m_session.readOnly() && f.path != "calibration.school");
    });
    connect(box, &QComboBox::activated, this, [this, box, &f] {
        const std::string id = box->currentData().toString().toStdString();
        m_session.perform(tr("%1: %2").arg(text(f.title), box->currentText()),
                          [&](Job &j) { f.write(j, id); });
        refresh();
    });
    return box;
}

QWidget *FieldForm::makeFlag(const Field &f) {
    auto *box = new QCheckBox(this);
    m_refreshers.push_back([this, box, &f] {
        box->setChecked(std::get<bool>(f.read(m_session.job())));
        box->setEnabled(!m_session.readOnly());
    });
    connect(box, &QCheckBox::clicked, this, [this, &f](bool on) {
        m_session.perform(tr("%1: %2").arg(text(f.title), on ? tr("yes") : tr("no")),
                          [&](Job &j) { f.write(j, on); });
    });
    return box;
}

QWidget *FieldForm::makeCurve(const CurveField &c) {
    auto *edit = new QLineEdit(this);
    const auto put = [this, edit, &c] {
        edit->setText(text(curveToText(c.in(m_session.job()), c, m_session.units())));
        edit->setModified(false);
        edit->setCursorPosition(0);
    };
    m_refreshers.push_back([this, edit, put] {
        edit->setReadOnly(m_session.readOnly());
        put();
    });
    connect(edit, &QLineEdit::editingFinished, this, [this, edit, put, &c] {
        if (!edit->isModified()) return;
        edit->setModified(false);
        try {
            const Curve curve = curveFromText(edit->text().toStdString(), c, m_session.units());
            m_session.perform(text(c.title), [&](Job &j) { c.of(j) = curve; });
        } catch (const InputError &e) {
            m_session.report(text(e.words()));
        }
        put();
    });
    return edit;
}

} // namespace wheelwright
