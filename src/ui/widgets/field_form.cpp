// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/field_form.h"

#include "core/base/error.h"
#include "core/intake/sheet.h"
#include "core/job/statements.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/widgets/card.h"
#include "ui/widgets/curve_chart.h"
#include "ui/widgets/refresh.h"

#include <QCheckBox>
#include <QComboBox>
#include <QCoreApplication>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QStyle>
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
    grid->setColumnStretch(0, 2); // a title wraps only where the form is narrow
    grid->setColumnStretch(1, 3);
    if (!title.isEmpty()) grid->addWidget(makeHead(title, this), 0, 0, 1, 2);
    int row = 1;
    for (const std::string &prefix : prefixes) {
        for (const Field &f : allFields()) {
            if (!f.path.starts_with(prefix)) continue;
            QWidget *made = makeEditor(f);
            m_editors[text(f.path)] = made;
            m_refreshers.push_back(
                [this, made, &f] { showKnowledge(made, knowledgeOf(m_session.job(), f.path)); });
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
    std::vector<std::string> paths = prefixes;
    paths.emplace_back("stated");
    (new Refresh(session, this))
        ->on(
            Refresh::job | Refresh::units | Refresh::state, [this] { refresh(); }, paths);
}

// A curve is wide: its chart stands under its label.
void FieldForm::addCurveRow(QGridLayout *grid, int row, const CurveField &c) {
    QWidget *made = new CurveChart(m_session, c, this);
    m_editors[text(c.path)] = made;
    addRow(grid, row, text(c.title), made, {});
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

// What nobody has said looks so, and says what would say it.
void FieldForm::showKnowledge(QWidget *editor, Knowledge known) {
    const QString key = text(knowledgeKey(known));
    // A colour of the text would make the word in an empty one too pale to read.
    const auto *edit = qobject_cast<QLineEdit *>(editor);
    const bool empty = edit && edit->text().isEmpty();
    if (editor->property("known").toString() == key && editor->property("empty").toBool() == empty) return;
    editor->setProperty("known", key);
    editor->setProperty("empty", empty);
    editor->style()->unpolish(editor); // a property of the style sheet is read once
    editor->style()->polish(editor);
}

// What is typed is stated, also where it is what stood there.
void FieldForm::write(const Field &f, const QString &what, const FieldContent &content) {
    m_session.perform(what, [&](Job &job) {
        f.write(job, content);
        state(job, f.path);
    });
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
    label->setWordWrap(true); // these forms stand in narrow columns
    constexpr int least = 96;
    editor->setMinimumWidth(least);
    label->setMinimumWidth(least);
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
    edit->setPlaceholderText(text(f.zero)); // nothing typed is 0, and 0 is no number here
    const auto put = [this, edit, &f] {
        const double value = std::get<double>(f.read(m_session.job()));
        const bool nothing = value == 0 && !f.zero.empty();
        edit->setText(nothing ? QString() : text(formatExact(value, f.dimension, m_session.units())));
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
            const bool nothing = edit->text().trimmed().isEmpty() && !f.zero.empty();
            const double v = nothing ? 0
                                     : parse(edit->text().toStdString(), f.dimension, m_session.units(),
                                             text(f.title).toStdString());
            write(f, tr("%1: %2").arg(text(f.title), nothing ? text(f.zero) : edit->text()), v);
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
            write(f, tr("%1: %2").arg(text(f.title), edit->text()), edit->text().toStdString());
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
    connect(pause, &QTimer::timeout, this,
            [this, edit, &f] { write(f, text(f.title), edit->toPlainText().toStdString()); });
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
        write(f, tr("%1: %2").arg(text(f.title), box->currentText()), id);
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
        write(f, tr("%1: %2").arg(text(f.title), on ? tr("yes") : tr("no")), on);
    });
    return box;
}

} // namespace wheelwright
