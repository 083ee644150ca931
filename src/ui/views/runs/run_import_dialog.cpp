// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/runs/run_import_dialog.h"

#include "core/base/error.h"
#include "session/run_book.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/widgets/card.h"
#include "ui/widgets/chart_plot.h"
#include "ui/widgets/report_view.h"

#include <QComboBox>
#include <QDialogButtonBox>
#include <QFileInfo>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

#include <filesystem>

namespace wheelwright {

RunImportDialog::RunImportDialog(Session &session, const QStringList &files, QWidget *parent)
    : QDialog(parent), m_session(session), m_files(files), m_mode(new QComboBox(this)),
      m_standard(new QComboBox(this)), m_fuel(new QComboBox(this)), m_dyno(new QComboBox(this)),
      m_words(new ReportView(tr("What the files hold"), ReportView::Fit::steady, this, 12)),
      m_plot(new ChartPlot(session, tr("Power of the pulls"), "runs", this)), m_trouble(new QLabel(this)),
      m_work(WorkSignals::Length::brief) {
    setWindowTitle(tr("Bring in runs"));
    setProperty("helpPage", "runs");
    constexpr int width = 640, height = 700, wordsHeight = 64, plotHeight = 150;
    setMinimumWidth(width);
    resize(width, height);
    m_words->setMinimumHeight(wordsHeight);
    m_plot->setMinimumHeight(plotHeight);
    m_trouble->setProperty("trouble", true);
    m_trouble->setWordWrap(true);
    for (QComboBox *box : {m_fuel, m_dyno}) {
        box->setEditable(true);
        box->addItem(QString());
    }
    for (const ShelfEntry &f : session.job().shelf.values())
        m_fuel->addItem(text(f.name));
    for (const Dyno &d : session.job().dynos.values())
        m_dyno->addItem(text(d.name));
    m_mode->addItem(tr("As the file says"), -1);
    m_mode->addItem(tr("Inertia"), static_cast<int>(RunMode::inertia));
    m_mode->addItem(tr("Loaded"), static_cast<int>(RunMode::loaded));
    m_mode->addItem(tr("Road"), static_cast<int>(RunMode::road));
    m_standard->addItem(tr("As the file says"), -1);
    for (const CorrectionDefinition &d : allCorrections())
        m_standard->addItem(text(Phrase(d.title)), static_cast<int>(d.standard));
    auto *form = new QFormLayout;
    const auto addBox = [&](const QString &title, const char *name, QComboBox *box) {
        box->setAccessibleName(title);
        if (box->lineEdit()) box->lineEdit()->setAccessibleName(title);
        box->setObjectName(QLatin1String(name));
        form->addRow(title, box);
    };
    addBox(tr("Fuel"), "fuel", m_fuel);
    addField(form, tr("Content"), "content", m_content, tr("empty: as a column of it reads"));
    addBox(tr("Dyno"), "dyno", m_dyno);
    addBox(tr("Mode"), "mode", m_mode);
    addBox(tr("Already corrected to"), "standard", m_standard);
    addField(form, tr("Air pressure"), "pressure", m_pressure,
             tr("at the dyno; empty: as the file or its columns, or the job's today"));
    addField(form, tr("Air temperature"), "temperature", m_temperature, {});
    addField(form, tr("Humidity, %"), "humidity", m_humidity, {});
    addField(form, tr("Hardware"), "hardware", m_hardware, tr("what is on the engine that matters"));
    addField(form, tr("Change"), "change", m_change, tr("what was changed before it"));
    addField(form, tr("Note"), "note", m_note, {});
    auto *buttons = new QDialogButtonBox(QDialogButtonBox::Cancel, this);
    m_bring = buttons->addButton(tr("Bring them in"), QDialogButtonBox::AcceptRole);
    m_bring->setObjectName(QStringLiteral("bring"));
    m_bring->setEnabled(false);
    connect(buttons, &QDialogButtonBox::accepted, this, &RunImportDialog::bring);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    auto *layout = new QVBoxLayout(this);
    layout->addWidget(m_plot, 2);
    layout->addWidget(m_words, 1);
    layout->addLayout(form);
    layout->addWidget(m_trouble);
    layout->addWidget(buttons);
    connect(&m_work, &WorkSignals::finished, this, &RunImportDialog::show);
    look();
}

void RunImportDialog::addField(QFormLayout *form, const QString &title, const char *name, QLineEdit *&edit,
                               const QString &hint) {
    edit = new QLineEdit(this);
    edit->setObjectName(QLatin1String(name));
    edit->setPlaceholderText(hint);
    edit->setAccessibleName(title);
    form->addRow(title, edit);
}

// Beside the window's thread: a file may be long, and lie on a stick.
void RunImportDialog::look() {
    const MapSurroundings around = surroundingsIn(m_session.study(), m_session.content());
    m_work.start(m_session.jobVersion(), [files = m_files, around](const WorkControl &control) {
        std::vector<Found> out;
        for (const QString &file : files) {
            if (control.stopped()) break;
            Found f{QFileInfo(file).fileName(), {}, {}};
            try {
                f.runs = RunBook::readFile(std::filesystem::path(file.toStdString()), {}, around);
                if (f.runs->pulls.empty())
                    f.trouble = text(Phrase(MARKED(
                        "run.said.no_pull", "no pull: engine speed neither rises nor falls far enough")));
            } catch (const InputError &e) {
                f.trouble = text(e.words());
            }
            out.push_back(std::move(f));
        }
        return out;
    });
}

void RunImportDialog::show() {
    Report said;
    ReportChart chart;
    chart.xTitle = MARKED("runs.chart.rpm", "engine speed");
    chart.yTitle = MARKED("run.found.power", "power");
    chart.x = Dimension::engineSpeed;
    chart.y = Dimension::power;
    std::size_t pulls = 0;
    for (const Found &f : *m_work.result()) {
        said.blocks.push_back(Sentence{verbatim(f.file.toStdString()), Tone::strong});
        if (!f.trouble.isEmpty()) {
            said.blocks.push_back(Sentence{verbatim(f.trouble.toStdString()), Tone::trouble});
            continue;
        }
        pulls += f.runs->pulls.size();
        for (const FoundPull &p : f.runs->pulls) {
            const RunCurve c = curveOf(p.samples, "");
            const RunPeak peak = peakOf(c.rpm, c.powerKw);
            chart.lines.push_back({{}, c.rpm, c.powerKw});
            said.blocks.push_back(
                Sentence{{p.down ? MARKED("run.found.down", "A pull down from {1} to {0}, {2} at {3}")
                                 : MARKED("run.found.up", "A pull from {0} to {1}, {2} at {3}"),
                          {{c.rpm.front(), Dimension::engineSpeed},
                           {c.rpm.back(), Dimension::engineSpeed},
                           {peak.value, Dimension::power, 1},
                           {peak.rpm, Dimension::engineSpeed}}}});
        }
        for (const Phrase &p : f.runs->said)
            said.blocks.push_back(Sentence{p, Tone::caution});
    }
    Chart drawn = chartOf(chart);
    if (pulls > 1)
        for (std::size_t i = 0; i < pulls; ++i)
            drawn.series[i].name = QString::number(i + 1);
    m_plot->show(std::move(drawn));
    m_words->show(std::move(said), m_session.units());
    m_bring->setEnabled(pulls > 0 && !m_session.readOnly());
    m_bring->setText(pulls == 1 ? tr("Bring in the run") : tr("Bring in %1 runs").arg(pulls));
}

QString RunImportDialog::found() const {
    return m_words->words();
}

QString RunImportDialog::trouble() const {
    return m_trouble->text();
}

RunStatement RunImportDialog::statement() const {
    RunStatement s;
    const auto number = [this](const QLineEdit *edit, Dimension dimension,
                               const RecordField &range) -> std::optional<double> {
        const std::string typed = edit->text().trimmed().toStdString();
        if (typed.empty()) return std::nullopt;
        const std::string where = edit->accessibleName().toStdString();
        const double v = parse(typed, dimension, m_session.units(), where);
        if (v < range.least || v > range.most)
            throw InputError(where,
                             Phrase{MARKED("expected.from_to", "{0} to {1}"),
                                    {{range.least, dimension}, {range.most, dimension}}},
                             "'" + typed + "'");
        return v;
    };
    const auto field = [](std::string_view key) -> const RecordField & {
        const RecordList &list = *recordListByPath("runs.runs");
        return *std::ranges::find(list.fields, key, &RecordField::key);
    };
    s.fuel = m_fuel->currentText().trimmed().toStdString();
    s.dyno = m_dyno->currentText().trimmed().toStdString();
    s.content = number(m_content, Dimension::content, field("content"));
    if (m_mode->currentData().toInt() >= 0) s.mode = static_cast<RunMode>(m_mode->currentData().toInt());
    if (m_standard->currentData().toInt() >= 0)
        s.standard = static_cast<CorrectionStandard>(m_standard->currentData().toInt());
    const auto kpa = number(m_pressure, Dimension::pressure, field("ambient_kpa"));
    const auto c = number(m_temperature, Dimension::temperature, field("ambient_c"));
    const auto humidity = number(m_humidity, Dimension::ratio, field("humidity"));
    const auto today = airOfTheDay(m_session.job());
    if (kpa || c || humidity) {
        if (!today && !(kpa && c && humidity))
            throw InputError(tr("Air").toStdString(),
                             MARKED("expected.all_of_air", "pressure, temperature and humidity together"),
                             MARKED("found.some_of_them", "some of them"));
        s.air = Weather{kpa ? *kpa : today->pressureKpa, c ? *c : today->temperatureC,
                        humidity ? *humidity : today->humidity};
    }
    s.hardware = m_hardware->text().trimmed().toStdString();
    s.change = m_change->text().trimmed().toStdString();
    s.note = m_note->text().trimmed().toStdString();
    return s;
}

void RunImportDialog::bring() {
    m_trouble->clear();
    if (!m_work.result()) return;
    try {
        const RunStatement stated = statement();
        std::vector<std::string> ids;
        const bool done = m_session.perform(tr("Bring in runs"), [&](Job &job) {
            for (const Found &f : *m_work.result()) {
                if (!f.runs || f.runs->pulls.empty()) continue;
                // What is typed goes over what the file says of itself.
                RunStatement s = f.runs->statement;
                const auto over = [](auto &to, const auto &from) {
                    if (from) to = from;
                };
                over(s.content, stated.content);
                over(s.mode, stated.mode);
                over(s.standard, stated.standard);
                over(s.air, stated.air);
                for (const auto member : {&RunStatement::fuel, &RunStatement::dyno, &RunStatement::hardware,
                                          &RunStatement::change, &RunStatement::note})
                    if (!(stated.*member).empty()) s.*member = stated.*member;
                s.added = m_session.now().toStdString();
                const auto some = addRuns(job, f.runs->pulls, s);
                ids.insert(ids.end(), some.begin(), some.end());
            }
        });
        if (!done) return;
        emit cameIn(ids);
        accept();
    } catch (const InputError &e) {
        m_trouble->setText(text(e.words()));
    }
}

} // namespace wheelwright
