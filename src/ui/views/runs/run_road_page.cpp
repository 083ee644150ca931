// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/runs/run_road_page.h"

#include "core/report/run_reports.h"
#include "session/evidence.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/widgets/card.h"
#include "ui/widgets/chart_plot.h"
#include "ui/widgets/field_form.h"
#include "ui/widgets/record_table.h"
#include "ui/widgets/refresh.h"
#include "ui/widgets/report_view.h"
#include "ui/widgets/sheet_buttons.h"
#include "ui/widgets/work_bar.h"

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QFileInfo>
#include <QGridLayout>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>

#include <array>
#include <tuple>

namespace wheelwright {
namespace {

QComboBox *makePick(const char *name, const QString &title, QWidget *parent) {
    auto *box = new QComboBox(parent);
    box->setObjectName(QLatin1String(name));
    box->setAccessibleName(title);
    box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    constexpr int letters = 18;
    box->setMinimumContentsLength(letters);
    return box;
}

QDoubleSpinBox *makeSeconds(const char *name, const QString &title, QWidget *parent) {
    auto *box = new QDoubleSpinBox(parent);
    box->setObjectName(QLatin1String(name));
    box->setAccessibleName(title);
    box->findChild<QLineEdit *>()->setAccessibleName(title);
    constexpr double most = 1e6;
    box->setRange(-most, most);
    box->setDecimals(1);
    box->setSuffix(QObject::tr(" s"));
    return box;
}

} // namespace

RunRoadPage::RunRoadPage(Session &session, QWidget *parent)
    : QWidget(parent), m_session(session), m_there(makePick("there", tr("Pull"), this)),
      m_back(makePick("back", tr("Pull the other way"), this)),
      m_coastLog(makePick("coastLog", tr("Log of the coast-down"), this)),
      m_from(makeSeconds("coastFrom", tr("Coast-down from"), this)),
      m_to(makeSeconds("coastTo", tr("Coast-down to"), this)),
      m_take(new QPushButton(tr("Take as a run"), this)),
      m_takeLosses(new QPushButton(tr("Take into the car"), this)),
      m_words(new ReportView(tr("Power from the road"), ReportView::Fit::fills, this)),
      m_coastWords(new ReportView(tr("What holds the car back"), ReportView::Fit::fills, this)),
      m_plot(new ChartPlot(session, tr("Power over engine speed"), "runs", this)) {
    setObjectName(QStringLiteral("runRoad"));
    auto *side = new QScrollArea(this);
    side->setFocusPolicy(Qt::NoFocus); // what is in it takes the keys, and is scrolled to
    side->setWidgetResizable(true);
    side->setFrameShape(QFrame::NoFrame);
    constexpr int sideWidth = 370;
    side->setFixedWidth(sideWidth);
    side->setWidget(makeControls());
    auto *right = new QVBoxLayout;
    m_corner = new SheetButtons(m_session,
                                {tr("the estimate"), QStringLiteral("road"),
                                 [this] { return m_report.report; }, [this] { return m_words->words(); }},
                                this);
    auto *said = new QHBoxLayout;
    said->addWidget(m_words, 1);
    said->addWidget(m_coastWords, 1);
    QSizePolicy kept = m_plot->sizePolicy(); // words stay where they are when a curve comes
    kept.setRetainSizeWhenHidden(true);
    m_plot->setSizePolicy(kept);
    m_plot->hide();
    m_coastWords->hide();
    right->addWidget(m_plot, 3);
    right->addLayout(said, 2);
    right->addWidget(new WorkBar(
        m_work, [this] { m_work.cancel(); }, this));
    auto *layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 4, 0, 0);
    layout->addWidget(side);
    layout->addLayout(right, 1);
    connect(&m_work, &WorkSignals::finished, this, &RunRoadPage::show);
    for (ReportView *v : {m_words, m_coastWords})
        connect(v, &ReportView::explained, this, [this](const Explanation &x) { m_session.explain(x); });
    for (auto signal : {&Evidence::logsChanged, &Evidence::reviewsChanged})
        connect(&session.evidence(), signal, this, &RunRoadPage::refreshChoices);
    // Any change: what is taken goes by the job as it is.
    (new Refresh(session, this))->on(Refresh::job, [this] { start(); }).on(Refresh::units, [this] {
        show();
    });
    refreshChoices();
}

QWidget *RunRoadPage::makeControls() {
    auto *all = new QWidget(this);
    auto *layout = new QVBoxLayout(all);
    layout->setContentsMargins(0, 0, 0, 0);
    auto *pulls = makeCard(all);
    auto *grid = new QGridLayout(pulls);
    const auto addRow = [](QGridLayout *to, int row, const QString &title, QWidget *editor) {
        auto *label = new QLabel(title);
        label->setBuddy(editor);
        to->addWidget(label, row, 0);
        to->addWidget(editor, row, 1);
    };
    grid->setColumnStretch(1, 1);
    grid->addWidget(makeHead(tr("Pull on the road"), pulls), 0, 0, 1, 2);
    addRow(grid, 1, tr("There"), m_there);
    addRow(grid, 2, tr("Back"), m_back);
    m_take->setObjectName(QStringLiteral("takeRoad"));
    m_take->setToolTip(tr("An estimate, of mode Road: it is never laid over runs of a dyno"));
    grid->addWidget(m_take, 3, 1, Qt::AlignLeft);
    grid->addWidget(
        makeQuiet(tr("On a closed road alone. The same stretch both ways takes the slope out; wait "
                     "for a calm hour."),
                  pulls),
        4, 0, 1, 2);
    auto *coast = makeCard(all);
    auto *rows = new QGridLayout(coast);
    rows->setColumnStretch(1, 1);
    rows->addWidget(makeHead(tr("Coast-down: clutch out, rolling"), coast), 0, 0, 1, 2);
    addRow(rows, 1, tr("Log"), m_coastLog);
    addRow(rows, 2, tr("From"), m_from);
    addRow(rows, 3, tr("To"), m_to);
    m_takeLosses->setObjectName(QStringLiteral("takeLosses"));
    m_takeLosses->setToolTip(tr("Rolling resistance and drag area of the car become these"));
    rows->addWidget(m_takeLosses, 4, 1, Qt::AlignLeft);
    m_car = new FieldForm(m_session, tr("Car"), {"vehicle."}, {}, all);
    auto *gears = new RecordTable(m_session, tr("Gears"), tr("Where a log has the gear and no road speed."),
                                  "vehicle.gears", all);
    constexpr int tableHeight = 170;
    gears->setMinimumHeight(tableHeight);
    for (QWidget *w : {static_cast<QWidget *>(pulls), static_cast<QWidget *>(coast),
                       static_cast<QWidget *>(m_car), static_cast<QWidget *>(gears)})
        layout->addWidget(w);
    layout->addStretch(1);
    for (QComboBox *box : {m_there, m_back})
        connect(box, &QComboBox::activated, this, &RunRoadPage::start);
    connect(m_coastLog, &QComboBox::activated, this, [this] {
        m_longest = true;
        start();
    });
    for (QDoubleSpinBox *box : {m_from, m_to})
        connect(box, &QDoubleSpinBox::valueChanged, this, [this] {
            m_longest = false;
            start();
        });
    connect(m_take, &QPushButton::clicked, this, &RunRoadPage::take);
    connect(m_takeLosses, &QPushButton::clicked, this, &RunRoadPage::takeLosses);
    return all;
}

bool RunRoadPage::showInput(const QString &path) {
    return m_car->showInput(path);
}

QString RunRoadPage::words() const {
    return m_words->words();
}

QString RunRoadPage::coastWords() const {
    return m_coastWords->words();
}

// What is chosen stays while it is there.
void RunRoadPage::refreshChoices() {
    const std::array kept{m_there->currentText(), m_back->currentText()};
    const QString keptLog = m_coastLog->currentData().toString();
    m_choices.clear();
    for (QComboBox *box : {m_there, m_back, m_coastLog})
        box->clear();
    m_there->addItem(tr("choose a pull on the road"), -1);
    m_back->addItem(tr("one way alone"), -1);
    m_coastLog->addItem(tr("none"), QString());
    for (const auto &log : m_session.evidence().reviews()) {
        if (!log->hasSamples()) continue;
        m_coastLog->addItem(QFileInfo(text(log->info().name)).completeBaseName(), text(log->info().id));
        for (std::size_t i = 0; i < log->episodes().size(); ++i) {
            const Episode &e = log->episodes()[i];
            if (e.kind != EpisodeKind::pull) continue;
            const QString words = tr("%1 at %2 s")
                                      .arg(QFileInfo(text(log->info().name)).completeBaseName(),
                                           fixedText(e.beginS, 1, m_session.units()));
            for (QComboBox *box : {m_there, m_back})
                box->addItem(words, static_cast<int>(m_choices.size()));
            m_choices.push_back({log, i});
        }
    }
    m_there->setCurrentIndex(std::max(m_there->findText(kept[0]), 0));
    m_back->setCurrentIndex(std::max(m_back->findText(kept[1]), 0));
    m_coastLog->setCurrentIndex(std::max(m_coastLog->findData(keptLog), 0));
    start();
}

RunRoadPage::Asked RunRoadPage::asked() const {
    return {m_there->currentIndex() < 0 ? -1 : m_there->currentData().toInt(),
            m_back->currentIndex() < 0 ? -1 : m_back->currentData().toInt(),
            m_coastLog->currentData().toString().toStdString(),
            m_longest ? 0 : m_from->value(),
            m_longest ? 0 : m_to->value(),
            m_longest,
            m_choices.size(),
            m_session.jobVersion()};
}

bool RunRoadPage::current() const {
    return m_asked == asked() && !m_work.running();
}

RunRoadPage::Found RunRoadPage::make(const Job &job, const std::optional<Choice> &there,
                                     const std::optional<Choice> &back,
                                     const std::shared_ptr<const LogReview> &coast, const Asked &asked) {
    Found out;
    const auto powerOf = [&job](const Choice &c) {
        const Episode &e = c.of();
        return roadPower(job.vehicle, motionOf(job, *c.log, e.beginS, e.endS), roadAirKgM3(job),
                         roadDoubtOf(job));
    };
    try {
        if (there) {
            out.power = powerOf(*there);
            if (back) out.power = bothWays(*out.power, powerOf(*back));
            out.road = roadReport(*out.power);
            out.log = there->log;
        } else {
            out.road.say(MARKED("runs.road.none", "Choose a pull that was made on the road: on a dyno "
                                                  "neither air nor tyres hold the car back, "
                                                  "and its rollers are no mass of the car. The log needs the "
                                                  "road speed, or the gear with the "
                                                  "ratios of the job."),
                         Tone::quiet);
        }
    } catch (const InputError &e) {
        out.power.reset();
        out.road = {};
        out.road.say(e.words(), Tone::caution);
    }
    if (!coast) return out;
    out.fromS = asked.fromS;
    out.toS = asked.toS;
    try {
        if (asked.longest) {
            const auto longest = longestCoast(job, *coast);
            if (!longest) {
                out.coast.say(MARKED("runs.coast.none",
                                     "In this log the car rolls out nowhere, as far as its speed "
                                     "and its throttle say."),
                              Tone::quiet);
                return out;
            }
            std::tie(out.fromS, out.toS) = *longest;
        }
        out.losses = coastDown(job.vehicle, motionOf(job, *coast, out.fromS, out.toS), roadAirKgM3(job));
        out.coast = coastReport(*out.losses);
    } catch (const InputError &e) {
        out.coast.say(e.words(), Tone::caution);
    }
    return out;
}

void RunRoadPage::showEvent(QShowEvent *event) {
    QWidget::showEvent(event);
    start();
}

void RunRoadPage::start() {
    if (!isVisible() || !m_session.hasJob()) return;
    const Asked now = asked();
    if (now == m_asked && (m_work.result() || m_work.running())) return;
    m_asked = now;
    const auto choice = [this](int at) -> std::optional<Choice> {
        return at >= 0 && at < static_cast<int>(m_choices.size())
                   ? std::optional(m_choices[static_cast<std::size_t>(at)])
                   : std::nullopt;
    };
    std::shared_ptr<const LogReview> coast = m_session.evidence().review(now.coastLog);
    if (coast && !coast->hasSamples()) coast.reset();
    m_work.start(m_session.jobVersion(),
                 [job = m_session.job(), there = choice(now.there), back = choice(now.back), coast,
                  now](const WorkControl &) { return make(job, there, back, coast, now); });
}

void RunRoadPage::show() {
    const Found *found = m_work.result();
    const bool canChange = !m_session.readOnly();
    m_take->setEnabled(found && found->power && canChange);
    m_takeLosses->setEnabled(found && found->losses && canChange);
    if (found && m_longest) {
        const QSignalBlocker quietFrom(m_from), quietTo(m_to);
        m_from->setValue(found->fromS);
        m_to->setValue(found->toS);
    }
    m_report = found ? found->road : WorkedReport();
    WorkedReport said = m_report;
    const std::optional<ReportChart> drawn = takeChart(said.report);
    m_words->show(std::move(said), m_session.units());
    m_coastWords->setVisible(found && !found->coast.report.blocks.empty());
    m_coastWords->show(found ? found->coast : WorkedReport(), m_session.units());
    m_plot->setVisible(drawn.has_value());
    m_plot->show(drawn ? chartOf(*drawn) : Chart());
}

void RunRoadPage::take() {
    const Found *found = m_work.result();
    if (!current() || !found || !found->power) return;
    RunStatement s = statementOf(*found->power, *found->log);
    s.added = m_session.now().toStdString();
    try {
        if (m_session.perform(tr("Take a run from the road"),
                              [&](Job &job) { addRuns(job, {pullOf(*found->power)}, s); }))
            emit m_session.done(tr("The estimate is among the runs, as Road"));
    } catch (const InputError &e) {
        m_session.report(text(e.words()));
    }
}

void RunRoadPage::takeLosses() {
    const Found *found = m_work.result();
    if (!current() || !found || !found->losses) return;
    const CoastDown c = *found->losses;
    m_session.perform(tr("Losses by a coast-down"), [&c](Job &job) {
        job.vehicle.rolling = c.rolling;
        job.vehicle.dragAreaM2 = c.dragAreaM2;
    });
}

} // namespace wheelwright
