// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/evidence/log_import_dialog.h"

#include "core/base/error.h"
#include "core/evidence/channel_map.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/views/evidence/column_model.h"
#include "ui/widgets/card.h"
#include "ui/widgets/copy_table.h"
#include "ui/widgets/work_bar.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFileDialog>
#include <QFileInfo>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QInputDialog>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QStandardPaths>

namespace wheelwright {
namespace {

// What users have confirmed before is theirs, whatever job it was for.
std::filesystem::path mapFolder() {
    return (QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + QStringLiteral("/maps"))
        .toStdString();
}

QString delimiterName(char c) {
    switch (c) {
    case '\t':
        return LogImportDialog::tr("tabs");
    case ' ':
        return LogImportDialog::tr("blanks");
    case ',':
        return LogImportDialog::tr("commas");
    case ';':
        return LogImportDialog::tr("semicolons");
    default:
        return LogImportDialog::tr("'%1'").arg(QLatin1Char(c));
    }
}

} // namespace

LogImportDialog::LogImportDialog(Session &session, const QStringList &files, QWidget *parent)
    : QDialog(parent), m_session(session), m_files(files), m_arrival(session, mapFolder()),
      m_columns(new ColumnModel(session, this)), m_name(new QLabel(this)), m_form(makeQuiet({}, this)),
      m_question(new QLabel(this)), m_trouble(new QLabel(this)), m_answers(new QHBoxLayout),
      m_questionBox(makeCard(this)), m_textForm(new QWidget(this)), m_delimiter(new QComboBox(this)),
      m_decimal(new QComboBox(this)), m_revision(new QComboBox(this)), m_content(new QLineEdit(this)),
      m_note(new QLineEdit(this)), m_partly(new QCheckBox(tr("Take what can be read"), this)),
      m_table(new CopyTable(this)), m_rows(new QPlainTextEdit(this)), m_bring(nullptr), m_save(nullptr),
      m_load(nullptr), m_skip(nullptr) {
    setObjectName(QStringLiteral("logImport"));
    setWindowTitle(tr("Bring in a log"));
    setProperty("helpPage", "evidence");
    resize(940, 660);
    m_trouble->setWordWrap(true);
    m_trouble->setTextInteractionFlags(Qt::TextSelectableByMouse);
    m_table->setModel(m_columns);
    m_table->setItemDelegate(new ColumnDelegate(m_table));
    m_table->setAccessibleName(tr("Columns of the file"));
    m_table->setEditTriggers(QAbstractItemView::AllEditTriggers);
    m_table->setSelectionBehavior(QAbstractItemView::SelectRows);
    m_table->verticalHeader()->hide();
    m_table->verticalHeader()->setDefaultSectionSize(27);
    const std::array widths{170, 160, 80, 110, 66, 190, 110};
    for (int i = 0; i < ColumnModel::columns; ++i)
        m_table->setColumnWidth(i, widths[static_cast<std::size_t>(i)]);
    m_table->horizontalHeader()->setStretchLastSection(true);
    m_rows->setReadOnly(true);
    m_rows->setLineWrapMode(QPlainTextEdit::NoWrap);
    m_rows->setFont(monoFont(11));
    m_rows->setFixedHeight(76);
    m_rows->setAccessibleName(tr("First rows of the file"));
    auto *layout = new QVBoxLayout(this);
    layout->setSpacing(6);
    layout->addWidget(makeHead());
    layout->addWidget(makeStatements());
    layout->addWidget(m_table, 1);
    layout->addWidget(makeQuestion());
    layout->addWidget(m_rows);
    layout->addWidget(m_trouble);
    layout->addLayout(makeButtons());
    connect(&m_arrival, &LogArrival::looked, this, &LogImportDialog::showPreview);
    connect(&m_arrival, &LogArrival::refused, this, &LogImportDialog::saySo);
    connect(&m_arrival, &LogArrival::stopped, this,
            [this] { saySo(tr("Stopped. Nothing was brought in.")); });
    connect(&m_arrival, &LogArrival::cameIn, this, &LogImportDialog::next);
    connect(&session, &Session::problem, this, &LogImportDialog::saySo); // the window's notice lies behind
    connect(m_columns, &QAbstractItemModel::dataChanged, this, &LogImportDialog::showQuestion);
    connect(m_table->selectionModel(), &QItemSelectionModel::currentRowChanged, this,
            &LogImportDialog::showQuestion);
    lookAgain();
}

QWidget *LogImportDialog::makeHead() {
    auto *head = new QWidget(this);
    auto *layout = new QHBoxLayout(head);
    layout->setContentsMargins(0, 0, 0, 0);
    m_name->setProperty("head", true);
    layout->addWidget(m_name);
    layout->addWidget(m_form, 1);
    auto *form = new QHBoxLayout(m_textForm);
    form->setContentsMargins(0, 0, 0, 0);
    const auto add = [&](QComboBox *box, const QString &title,
                         std::initializer_list<std::pair<QString, QString>> items) {
        auto *label = new QLabel(title, m_textForm);
        label->setBuddy(box);
        for (const auto &[words, value] : items)
            box->addItem(words, value);
        form->addWidget(label);
        form->addWidget(box);
        connect(box, &QComboBox::activated, this, &LogImportDialog::lookAgain);
    };
    add(m_delimiter, tr("Columns by"),
        {{tr("as recognised"), {}},
         {tr("comma"), QStringLiteral(",")},
         {tr("semicolon"), QStringLiteral(";")},
         {tr("tabs"), QStringLiteral("\t")},
         {tr("blanks"), QStringLiteral(" ")}});
    add(m_decimal, tr("decimal"),
        {{tr("as recognised"), {}}, {tr("point"), QStringLiteral(".")}, {tr("comma"), QStringLiteral(",")}});
    layout->addWidget(m_textForm);
    return head;
}

QWidget *LogImportDialog::makeStatements() {
    auto *box = new QWidget(this);
    auto *layout = new QHBoxLayout(box);
    layout->setContentsMargins(0, 0, 0, 0);
    const auto add = [&](const QString &title, QWidget *field, int stretch, const QString &help) {
        auto *label = new QLabel(title, box);
        label->setBuddy(field);
        field->setAccessibleName(title);
        field->setToolTip(help);
        layout->addWidget(label);
        layout->addWidget(field, stretch);
    };
    m_revision->addItem(tr("the calibration as it is"), QString());
    for (const Revision &r : m_session.job().revisions)
        m_revision->addItem(text(r.name), text(r.name));
    m_revision->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    m_revision->setMinimumContentsLength(16);
    m_content->setObjectName(QStringLiteral("content"));
    m_content->setPlaceholderText(tr("as the log says"));
    m_note->setObjectName(QStringLiteral("note"));
    add(tr("It ran with"), m_revision, 1, tr("Tables that the log is held against"));
    add(tr("Content"), m_content, 0,
        tr("Alcohol content of its fuel, where no channel reads it, or where you know better: it is believed "
           "over "
           "the channel"));
    add(tr("Note"), m_note, 1, tr("Anything worth remembering"));
    connect(m_content, &QLineEdit::textEdited, this, [this] {
        try {
            m_columns->setSurroundings(surroundingsIn(m_session.study(), content()));
        } catch (const InputError &) {
            // Half typed: said when it is brought in.
        }
    });
    return box;
}

QWidget *LogImportDialog::makeQuestion() {
    auto *layout = new QHBoxLayout(m_questionBox);
    layout->setContentsMargins(8, 4, 8, 4);
    m_question->setWordWrap(true);
    m_question->setObjectName(QStringLiteral("question"));
    layout->addWidget(m_question, 1);
    layout->addLayout(m_answers);
    m_questionBox->setMinimumHeight(44);
    return m_questionBox;
}

QLayout *LogImportDialog::makeButtons() {
    auto *layout = new QHBoxLayout;
    m_save = new QPushButton(tr("Keep this map…"), this);
    m_save->setToolTip(
        tr("Writes what the columns are to a JSON file, for somebody else or the command line"));
    m_load = new QPushButton(tr("Use a map…"), this);
    auto *worked = new QPushButton(tr("Work one out…"), this);
    worked->setToolTip(tr("A channel that the file has not got, from those that it has"));
    connect(worked, &QPushButton::clicked, this, &LogImportDialog::addWorked);
    m_bring = new QPushButton(tr("Bring it in"), this);
    m_bring->setObjectName(QStringLiteral("bring"));
    m_bring->setProperty("main", true);
    m_bring->setDefault(true);
    m_skip = new QPushButton(tr("Not this one"), this);
    m_skip->setVisible(m_files.size() > 1);
    auto *close = new QPushButton(tr("Cancel"), this);
    close->setObjectName(QStringLiteral("cancel"));
    connect(m_save, &QPushButton::clicked, this, &LogImportDialog::saveMap);
    connect(m_load, &QPushButton::clicked, this, &LogImportDialog::loadMap);
    connect(m_bring, &QPushButton::clicked, this, &LogImportDialog::bring);
    connect(m_skip, &QPushButton::clicked, this, &LogImportDialog::next);
    connect(close, &QPushButton::clicked, this, &LogImportDialog::reject);
    connect(m_partly, &QCheckBox::toggled, this, &LogImportDialog::lookAgain);
    m_partly->setToolTip(tr("What comes before the first place that cannot be read"));
    layout->addWidget(m_save);
    layout->addWidget(m_load);
    layout->addWidget(worked);
    layout->addWidget(m_partly);
    layout->addWidget(new WorkBar(
                          m_arrival.bringing(), [this] { m_arrival.cancel(); }, this),
                      1);
    layout->addWidget(m_skip);
    layout->addWidget(close);
    layout->addWidget(m_bring);
    for (auto signal : {&WorkSignals::finished, &WorkSignals::stopped})
        for (WorkSignals *work : {&m_arrival.looking(), &m_arrival.bringing()})
            connect(work, signal, this, &LogImportDialog::showState);
    return layout;
}

void LogImportDialog::lookAgain() {
    const auto chosen = [](const QComboBox *box) -> std::optional<char> {
        const QString value = box->currentData().toString();
        if (value.isEmpty()) return std::nullopt;
        return value.front().toLatin1();
    };
    m_trouble->clear();
    m_name->setText(QFileInfo(m_files.front()).fileName());
    m_arrival.look(m_files.front().toStdString(), chosen(m_delimiter), chosen(m_decimal),
                   m_partly->isChecked());
    showState();
}

void LogImportDialog::showPreview() {
    const LogPreview &preview = *m_arrival.preview();
    const LogLayout &layout = preview.layout;
    m_columns->show(preview, surroundingsIn(m_session.study()));
    m_textForm->setVisible(layout.delimiter != 0);
    QString form = layout.delimiter != 0 ? tr("%1 columns parted by %2, decimal %3, rows from line %4.")
                                               .arg(layout.columns.size())
                                               .arg(delimiterName(layout.delimiter),
                                                    layout.decimal == ',' ? tr("comma") : tr("point"))
                                               .arg(layout.firstLine)
                                         : tr("%1 channels.").arg(layout.columns.size());
    if (preview.remembered) form += QLatin1Char(' ') + tr("Read as you confirmed it before.");
    if (m_files.size() > 1) form += QLatin1Char(' ') + tr("%1 more to come.").arg(m_files.size() - 1);
    m_form->setText(form);
    QStringList rows;
    for (const auto &row : layout.firstRows) {
        QStringList cells;
        for (const std::string &cell : row)
            cells << text(cell);
        rows << cells.join(layout.delimiter == 0 ? QStringLiteral("  ")
                                                 : QString(QLatin1Char(layout.delimiter)));
    }
    m_rows->setPlainText(rows.join(QLatin1Char('\n')));
    m_rows->setVisible(!rows.isEmpty());
    showQuestion();
    showState();
}

// The first that is open; else what the selected column could be asked.
void LogImportDialog::showQuestion() {
    while (QLayoutItem *item = m_answers->takeAt(0)) {
        if (item->widget()) item->widget()->deleteLater();
        delete item;
    }
    int row = m_columns->firstQuestion();
    const bool open = row >= 0;
    if (!open) row = m_table->currentIndex().row();
    if (row < 0 || row >= m_columns->rowCount()) {
        m_question->setText(m_columns->rowCount() > 0
                                ? tr("Nothing is open. Select a column to read it otherwise.")
                                : QString());
        return;
    }
    const MappedColumn m = m_columns->mapped(row);
    const std::vector<MapAnswer> answers = answersFor(m);
    m_question->setText(
        QStringLiteral("<b>%1</b>: %2")
            .arg(text(m.name).toHtmlEscaped(), open ? text(m.question, m_session.units()).toHtmlEscaped()
                                               : answers.empty() ? tr("nothing about it is open.")
                                                                 : tr("how is it to be read?")));
    const auto button = [&](const QString &words, const MappedColumn &as) {
        auto *b = new QPushButton(words, m_questionBox);
        b->setAutoDefault(false);
        connect(b, &QPushButton::clicked, this, [this, row, as] { m_columns->put(row, as); });
        m_answers->addWidget(b);
    };
    for (const MapAnswer &a : answers)
        button(text(a.words), a.column);
    if (open) {
        MappedColumn as = m;
        as.question = {};
        as.confidence = 1;
        if (answers.empty()) button(tr("It is right"), as);
        button(tr("It is something else"), withRole(m, ChannelRole::none, m_columns->columnOf(row)));
    }
}

QString LogImportDialog::trouble() const {
    return m_trouble->text();
}
QString LogImportDialog::question() const {
    return m_question->text();
}

void LogImportDialog::saySo(const QString &trouble) {
    if (!trouble.isEmpty()) m_trouble->setText(trouble);
    m_trouble->setStyleSheet(QStringLiteral("color: %1").arg(theme().trouble.name()));
    showState();
}

void LogImportDialog::showState() {
    const bool busy = m_arrival.looking().running() || m_arrival.bringing().running();
    const bool ready = m_arrival.preview() != nullptr;
    for (QWidget *w :
         std::initializer_list<QWidget *>{m_table, m_revision, m_content, m_note, m_textForm, m_questionBox})
        w->setEnabled(!busy && ready);
    m_bring->setEnabled(!busy && ready && !m_session.readOnly());
    m_bring->setToolTip(m_session.readOnly() ? m_session.stateText() : QString());
    m_save->setEnabled(!busy && ready);
    m_load->setEnabled(!busy && ready);
    m_partly->setEnabled(!busy);
}

std::optional<double> LogImportDialog::content() const {
    if (m_content->text().trimmed().isEmpty()) return std::nullopt;
    const double v = parse(m_content->text().toStdString(), Dimension::content, m_session.units(),
                           tr("Content").toStdString());
    if (!(v >= 0 && v <= 1))
        throw InputError(tr("Content").toStdString(),
                         MARKED("expected.content_share", "a content from 0 to 100 %"),
                         "'" + m_content->text().toStdString() + "'");
    return v;
}

void LogImportDialog::bring() {
    m_trouble->clear();
    try {
        LogStatement s;
        s.map = fitted(m_columns->map(), m_arrival.preview()->layout);
        s.revision = m_revision->currentData().toString().toStdString();
        s.content = content();
        s.note = m_note->text().toStdString();
        s.partly = m_partly->isChecked();
        m_arrival.bring(s);
    } catch (const InputError &e) {
        saySo(text(e.words()));
    }
    showState();
}

void LogImportDialog::next() {
    m_files.removeFirst();
    if (m_files.isEmpty()) return accept();
    m_skip->setVisible(m_files.size() > 1);
    lookAgain();
}

void LogImportDialog::reject() {
    if (m_arrival.bringing().running()) {
        m_arrival.cancel();
        return; // what was said of the file is still there; another Cancel closes
    }
    QDialog::reject();
}

void LogImportDialog::addWorked() {
    QString typed = QStringLiteral("torque = power / rpm * 9549");
    for (bool ok = false; m_arrival.preview();) {
        typed = QInputDialog::getText(
            this, tr("Work a channel out"),
            tr("Name = formula. Roles by their keys, in the units of the product (rpm, map in kPa, "
               "pulse_width in ms, "
               "lambda …); columns in square brackets as the file has them. + − * / ( ) min max abs."),
            QLineEdit::Normal, typed, &ok);
        if (!ok) return;
        try {
            return m_columns->addWorked(workedFrom(typed.toStdString()));
        } catch (const InputError &e) {
            saySo(text(e.words())); // and what was typed is still there
        }
    }
}

void LogImportDialog::saveMap() {
    const QString path = QFileDialog::getSaveFileName(this, tr("Keep this map"), {}, tr("JSON (*.json)"));
    if (path.isEmpty()) return;
    try {
        LogArrival::saveMap(m_columns->map(), path.toStdString());
    } catch (const InputError &e) {
        saySo(text(e.words()));
    }
}

void LogImportDialog::loadMap() {
    const QString path = QFileDialog::getOpenFileName(this, tr("Use a map"), {}, tr("JSON (*.json)"));
    if (path.isEmpty()) return;
    try {
        m_columns->setMap(fitted(LogArrival::loadMap(path.toStdString()), m_arrival.preview()->layout));
    } catch (const InputError &e) {
        saySo(text(e.words()));
    }
}

} // namespace wheelwright
