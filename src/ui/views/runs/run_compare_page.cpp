// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/runs/run_compare_page.h"

#include "session/run_book.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/views/runs/run_chart.h"
#include "ui/widgets/card.h"
#include "ui/widgets/refresh.h"
#include "ui/widgets/report_view.h"
#include "ui/widgets/sheet_buttons.h"
#include "ui/widgets/work_bar.h"
#include "ui/widgets/wrap_row.h"

#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QSpinBox>

namespace wheelwright {

RunComparePage::RunComparePage(Session &session, QWidget *parent)
    : QWidget(parent), m_session(session), m_answer(new QLabel(this)), m_reading(new QLabel(this)),
      m_chart(new RunChart(session, this)),
      m_words(new ReportView(tr("What the comparison says"), ReportView::Fit::fills, this)) {
    setObjectName(QStringLiteral("compareRuns"));
    m_answer->setObjectName(QStringLiteral("answer"));
    m_answer->setProperty("answer", true);
    constexpr int readingSize = 12;
    m_answer->setWordWrap(true);
    m_answer->setTextInteractionFlags(Qt::TextSelectableByMouse);
    m_answer->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    m_reading->setFont(monoFont(readingSize));
    m_reading->setMinimumHeight(m_reading->fontMetrics().height() + 2); // nothing moves when the cursor comes
    m_reading->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    m_chart->setMinimumHeight(180);
    auto *drawn = new QVBoxLayout;
    drawn->setSpacing(2);
    drawn->addWidget(m_reading);
    drawn->addWidget(m_chart, 1);
    auto *said = new QVBoxLayout;
    said->setSpacing(4);
    said->addWidget(m_answer);
    said->addWidget(m_words, 1);
    auto *middle = new QHBoxLayout;
    middle->setSpacing(10);
    middle->addLayout(drawn, 3);
    middle->addLayout(said, 2);
    constexpr int answerHeight = 80; // three lines: what stands below stays where it is
    m_answer->setFixedHeight(answerHeight);
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 4, 0, 0);
    layout->setSpacing(4);
    layout->addLayout(middle, 1);
    layout->addWidget(makeControls());
    m_corner = new SheetButtons(m_session,
                                {tr("the comparison"), QStringLiteral("comparison"),
                                 [this] { return m_report.report; },
                                 [this] { return m_answer->text() + QLatin1Char('\n') + m_words->words(); }},
                                this);
    connect(&m_work, &WorkSignals::finished, this, &RunComparePage::show);
    connect(m_words, &ReportView::explained, this, [this](const Explanation &x) { m_session.explain(x); });
    RunBook &book = session.runBook();
    for (auto signal : {&RunBook::runsChanged, &RunBook::choiceChanged, &RunBook::viewingChanged})
        connect(&book, signal, this, &RunComparePage::start);
    connect(&book, &RunBook::cursorMoved, this, &RunComparePage::showReading);
    (new Refresh(session, this))->on(Refresh::units, [this] { show(); });
    start();
}

QWidget *RunComparePage::makeControls() {
    auto *row = new QWidget(this);
    auto *layout = new WrapRow(row);
    const auto label = [&](const QString &words, QWidget *buddy) {
        auto *both = new QWidget(row); // a word and its field stay together
        auto *pair = new QHBoxLayout(both);
        pair->setContentsMargins(0, 0, 0, 0);
        pair->setSpacing(6);
        auto *l = new QLabel(words, both);
        l->setBuddy(buddy);
        pair->addWidget(l);
        pair->addWidget(buddy);
        layout->addWidget(both);
    };
    const auto spin = [row](const char *name, const QString &title, const QString &none, int most, int step,
                            const QString &hint) {
        auto *box = new QSpinBox(row);
        box->setObjectName(QLatin1String(name));
        box->setRange(0, most);
        box->setSingleStep(step);
        box->setSuffix(tr(" rpm"));
        box->setSpecialValueText(none);
        box->setAccessibleName(title);
        box->findChild<QLineEdit *>()->setAccessibleName(title);
        box->setToolTip(hint);
        return box;
    };
    constexpr int widest = 2000, step = 50, fastest = 30'000, far = 100;
    m_smooth =
        spin("smoothRpm", tr("Smoothing"), tr("none"), widest, step,
             tr("One window for all runs, from what was measured. It hides peaks: the words say by how "
                "much."));
    m_from = spin("fromRpm", tr("From this speed"), tr("first"), fastest, far,
                  tr("The average counts from here on; the least: from where all runs begin"));
    m_to = spin("toRpm", tr("To this speed"), tr("last"), fastest, far,
                tr("The average counts up to here; the least: to where all runs end"));
    m_standard = new QComboBox(row);
    m_standard->setObjectName(QStringLiteral("standard"));
    m_standard->setAccessibleName(tr("Corrected to"));
    for (const CorrectionDefinition &d : allCorrections())
        m_standard->addItem(text(Phrase(d.title)), static_cast<int>(d.standard));
    m_drift = new QCheckBox(tr("Without drift"), row);
    m_drift->setObjectName(QStringLiteral("drift"));
    m_drift->setToolTip(
        tr("Heat that grows from run to run is told from what was changed, where the runs can tell"));
    const RunViewing &how = m_session.runBook().viewing();
    m_smooth->setValue(static_cast<int>(how.smoothRpm));
    m_from->setValue(static_cast<int>(how.fromRpm.value_or(0)));
    m_to->setValue(static_cast<int>(how.toRpm.value_or(0)));
    m_standard->setCurrentIndex(m_standard->findData(static_cast<int>(how.standard)));
    m_drift->setChecked(how.drift);
    const auto changed = [this] {
        RunViewing now = m_session.runBook().viewing();
        now.smoothRpm = m_smooth->value();
        const auto end = [](const QSpinBox *box) {
            return box->value() > 0 ? std::optional<double>(box->value()) : std::nullopt;
        };
        now.fromRpm = end(m_from);
        now.toRpm = end(m_to);
        now.standard = static_cast<CorrectionStandard>(m_standard->currentData().toInt());
        now.drift = m_drift->isChecked();
        m_session.runBook().setViewing(now);
    };
    for (QSpinBox *box : {m_smooth, m_from, m_to})
        connect(box, &QSpinBox::valueChanged, this, changed);
    connect(m_standard, &QComboBox::activated, this, changed);
    connect(m_drift, &QCheckBox::toggled, this, changed);
    label(tr("Smoothing"), m_smooth);
    label(tr("Average"), m_from);
    label(tr("to"), m_to);
    label(tr("Corrected to"), m_standard);
    layout->addWidget(m_drift);
    auto *work = new WorkBar(
        m_work, [this] { m_work.cancel(); }, row);
    layout->addWidget(work);
    layout->setAlignment(work, Qt::AlignRight);
    return row;
}

RunComparePage::Asked RunComparePage::asked() const {
    const RunBook &book = m_session.runBook();
    return {book.chosen(RunBook::Side::before),
            book.chosen(RunBook::Side::after),
            book.viewing().smoothRpm,
            book.viewing().fromRpm,
            book.viewing().toRpm,
            static_cast<int>(book.viewing().standard),
            book.viewing().drift,
            m_session.jobVersion(),
            book.runs().size()};
}

bool RunComparePage::current() const {
    const Asked now = asked();
    return !m_session.runBook().reading() && m_asked == now && !m_work.running();
}

QString RunComparePage::answer() const {
    return m_answer->text();
}

QString RunComparePage::words() const {
    return m_words->words();
}

QString RunComparePage::reading() const {
    return m_reading->text();
}

void RunComparePage::start() {
    m_asked = asked();
    const RunBook &book = m_session.runBook();
    const MeasuredRuns before = book.measured(RunBook::Side::before),
                       after = book.measured(RunBook::Side::after);
    if (before.empty() && after.empty()) {
        m_work.forget();
        show();
        return;
    }
    m_work.start(m_session.jobVersion(), [job = m_session.job(), before, after, all = book.runs(),
                                          how = book.viewing()](const WorkControl &) {
        Compared out;
        if (before.empty() || after.empty()) {
            out.picture = pictureOf(before.empty() ? after : before, before.empty(), how);
            out.report.report.blocks.push_back(
                Heading{MARKED("runs.one_side", "One side alone: choose runs for the other"), 0});
            return out;
        }
        const RunComparison c = compareRuns(job, before, after, how, all);
        out.picture = pictureOf(c, before, after);
        out.report = comparisonReport(c, job);
        out.judged = c.averageKw.judged();
        return out;
    });
}

void RunComparePage::show() {
    const Compared *found = m_work.result();
    m_report = {};
    if (!found && !m_work.error().isEmpty()) {
        m_answer->setText(tr("These runs cannot be laid over each other"));
        m_report.report.blocks.push_back(Sentence{verbatim(m_work.error().toStdString()), Tone::trouble});
        m_chart->clear();
    } else if (!found) {
        m_answer->setText(tr("Was it really better?"));
        m_report.report.blocks.push_back(Sentence{
            MARKED("runs.choose",
                   "Choose the runs before and those after: B and A on the selected rows, or a click on "
                   "their side. Three of each, turn and turn about, tell more than one "
                   "good pull.")});
        m_chart->clear();
    } else {
        // The answer stands by itself; the rest is what stands behind it.
        m_report = found->report;
        const auto *head =
            m_report.report.blocks.empty() ? nullptr : std::get_if<Heading>(&m_report.report.blocks.front());
        m_answer->setText(head ? text(head->words, m_session.units()) : QString());
        m_chart->show(found->picture);
    }
    WorkedReport rest = m_report;
    if (!rest.report.blocks.empty() && std::holds_alternative<Heading>(rest.report.blocks.front()))
        rest.report.blocks.erase(rest.report.blocks.begin());
    m_words->show(rest, m_session.units());
    showReading();
}

void RunComparePage::showReading() {
    const auto rpm = m_session.runBook().cursorRpm();
    const bool any = rpm && !m_chart->picture().rpm.empty();
    m_reading->setText(any ? text(m_chart->picture().at(*rpm).words(), m_session.units()) : QString());
}

} // namespace wheelwright
