// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/record_form.h"

#include "core/base/error.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/widgets/card.h"
#include "ui/widgets/record_words.h"
#include "ui/widgets/refresh.h"

#include <QApplication>
#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QTimer>

#include <algorithm>

namespace wheelwright {
namespace {

const RecordField &fieldOf(const RecordList &list, const std::string &key) {
    return *std::ranges::find(list.fields, key, &RecordField::key);
}

} // namespace

RecordForm::RecordForm(Session &session, const char *list, const QString &title,
                       const std::vector<std::string> &keys, std::vector<std::string> atLength,
                       QWidget *parent)
    : QFrame(parent), m_session(session), m_list(*recordListByPath(list)), m_atLength(std::move(atLength)) {
    setProperty("card", true);
    auto *grid = new QGridLayout(this);
    grid->setVerticalSpacing(3);
    grid->setColumnStretch(1, 1);
    grid->addWidget(makeHead(title, this), 0, 0, 1, 2);
    int row = 1;
    for (const std::string &key : keys) {
        const RecordField &f = fieldOf(m_list, key);
        QWidget *made = makeEditor(f);
        m_editors[key] = made;
        auto *label = new QLabel(text(f.title), this);
        label->setBuddy(made);
        for (QWidget *w : {static_cast<QWidget *>(label), made})
            w->setToolTip(text(f.help));
        made->setAccessibleName(text(f.title));
        made->setObjectName(text(key));
        grid->addWidget(label, row, 0, this->atLength(f) ? Qt::AlignTop : Qt::Alignment());
        grid->addWidget(made, row++, 1);
    }
    grid->setRowStretch(row, 1);
    (new Refresh(session, this))
        ->on(Refresh::job | Refresh::units | Refresh::state, [this] { refresh(); }, {m_list.path});
}

void RecordForm::show(std::vector<std::size_t> records) {
    if (records == m_records) return refresh();
    save(); // what is half typed belongs to those that were there
    m_records = std::move(records);
    refresh();
}

void RecordForm::save() {
    for (const auto &write : m_savers)
        write();
}

void RecordForm::alsoSets(const std::string &key, const std::string &other, FieldContent content) {
    m_also.emplace(key, std::pair{other, std::move(content)});
}

QWidget *RecordForm::editor(const std::string &key) const {
    const auto at = m_editors.find(key);
    return at == m_editors.end() ? nullptr : at->second;
}

bool RecordForm::atLength(const RecordField &f) const {
    return std::ranges::find(m_atLength, f.key) != m_atLength.end();
}

bool RecordForm::editable() const {
    return !m_session.readOnly() && !m_records.empty();
}

std::optional<FieldContent> RecordForm::common(const RecordField &f) const {
    std::optional<FieldContent> out;
    for (const std::size_t r : m_records) {
        if (r >= m_list.size(m_session.job())) return std::nullopt; // gone, and nobody has said so yet
        FieldContent here = f.read(m_session.job(), r);
        if (out && *out != here) return std::nullopt;
        out = std::move(here);
    }
    return out;
}

void RecordForm::refresh() {
    for (const auto &put : m_refreshers)
        put();
}

void RecordForm::set(const RecordField &f, const FieldContent &content) {
    try {
        for (const std::size_t r : m_records)
            validate(m_list, f, r, content);
        m_session.perform(QStringLiteral("%1: %2").arg(text(m_list.title), text(f.title)), [&](Job &job) {
            const auto [from, to] = m_also.equal_range(f.key);
            for (const std::size_t r : m_records) {
                f.write(job, r, content);
                for (auto also = from; also != to; ++also)
                    fieldOf(m_list, also->second.first).write(job, r, also->second.second);
            }
        });
    } catch (const InputError &e) {
        m_session.report(text(e.words()));
    }
    refresh();
}

QWidget *RecordForm::makeEditor(const RecordField &f) {
    if (!f.choices.empty() || !f.refersTo.empty()) return makeChoice(f);
    if (atLength(f)) return makeLines(f);
    Job blank;
    m_list.resize(blank, 1);
    return std::holds_alternative<bool>(f.read(blank, 0)) ? makeFlag(f) : makeLine(f);
}

QWidget *RecordForm::makeLine(const RecordField &f) {
    auto *edit = new QLineEdit(this);
    m_refreshers.push_back([this, edit, &f] {
        const auto content = common(f);
        edit->setReadOnly(!editable());
        edit->setEnabled(!m_records.empty());
        if (edit->hasFocus() && edit->isModified()) return; // somebody is typing, and something else came in
        edit->setPlaceholderText(!content && !m_records.empty() ? tr("they differ") : QString());
        edit->setText(content ? shownContent(f, *content, m_session.units()) : QString());
        edit->setCursorPosition(0);
        edit->setModified(false);
    });
    connect(edit, &QLineEdit::editingFinished, this, [this, edit, &f] {
        if (!edit->isModified() || !editable()) return;
        edit->setModified(false);
        try {
            set(f, typedContent(m_list, f, edit->text().trimmed(), m_session.units()));
        } catch (const InputError &e) {
            m_session.report(text(e.words()));
            refresh();
        }
    });
    return edit;
}

// Saved when the typing pauses: a change for every letter would be a step of undo for every letter.
QWidget *RecordForm::makeLines(const RecordField &f) {
    auto *edit = new QPlainTextEdit(this);
    constexpr int height = 64, pauseMs = 1200;
    edit->setFixedHeight(height);
    edit->setTabChangesFocus(true);
    auto *pause = new QTimer(edit);
    pause->setSingleShot(true);
    pause->setInterval(pauseMs);
    m_refreshers.push_back([this, edit, pause, &f] {
        const auto content = common(f);
        edit->setReadOnly(!editable());
        edit->setEnabled(!m_records.empty());
        const QString now = content ? text(std::get<std::string>(*content)) : QString();
        if (edit->toPlainText() == now || pause->isActive()) return;
        const QSignalBlocker quiet(edit);
        edit->setPlainText(now);
    });
    connect(edit, &QPlainTextEdit::textChanged, pause, [this, pause] {
        if (editable()) pause->start();
    });
    const auto write = [this, edit, pause, &f] {
        if (!pause->isActive()) return;
        pause->stop();
        set(f, edit->toPlainText().toStdString());
    };
    m_savers.emplace_back(write);
    connect(pause, &QTimer::timeout, this, [this, edit, &f] { set(f, edit->toPlainText().toStdString()); });
    connect(qApp, &QApplication::focusChanged, edit, [edit, write](const QWidget *old, const QWidget *) {
        if (old == edit) write();
    });
    return edit;
}

QWidget *RecordForm::makeChoice(const RecordField &f) {
    auto *box = new QComboBox(this);
    box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    constexpr int leastLetters = 12;
    box->setMinimumContentsLength(leastLetters);
    m_refreshers.push_back([this, box, &f] {
        box->clear();
        if (f.refersTo.empty()) {
            for (std::size_t i = 0; i < f.choices.size(); ++i)
                box->addItem(text(f.choiceTitles[i]), text(f.choices[i]));
        } else {
            box->addItem(QString(), QString());
            for (const std::string &name : namesIn(m_session.job(), f.refersTo))
                box->addItem(text(name), text(name));
        }
        const auto content = common(f);
        box->setCurrentIndex(content ? box->findData(text(std::get<std::string>(*content))) : -1);
        box->setEnabled(editable());
    });
    connect(box, &QComboBox::activated, this,
            [this, box, &f] { set(f, box->currentData().toString().toStdString()); });
    return box;
}

QWidget *RecordForm::makeFlag(const RecordField &f) {
    auto *box = new QCheckBox(this);
    m_refreshers.push_back([this, box, &f] {
        const auto content = common(f);
        box->setChecked(content && std::get<bool>(*content));
        box->setEnabled(editable());
    });
    connect(box, &QCheckBox::clicked, this, [this, &f](bool on) { set(f, on); });
    return box;
}

} // namespace wheelwright
