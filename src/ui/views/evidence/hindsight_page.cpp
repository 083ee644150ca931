// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/evidence/hindsight_page.h"

#include "core/base/error.h"
#include "core/proposal/proposed_map.h"
#include "session/evidence.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/widgets/card.h"
#include "ui/widgets/chart_plot.h"
#include "ui/widgets/choice_keys.h"
#include "ui/widgets/refresh.h"
#include "ui/widgets/report_view.h"
#include "ui/widgets/sheet_buttons.h"
#include "ui/widgets/work_bar.h"
#include "ui/widgets/wrap_row.h"

#include <QButtonGroup>
#include <QComboBox>
#include <QHBoxLayout>
#include <QPushButton>

#include <limits>

namespace wheelwright {

HindsightPage::HindsightPage(Session &session, QWidget *parent)
    : QWidget(parent), m_session(session), m_kinds(new QButtonGroup(this)),
      m_words(new ReportView(tr("In hindsight"), ReportView::Fit::fills, this)),
      m_note(new QPushButton(tr("Note these points"), this)),
      m_plot(new ChartPlot(session, tr("Spark under load"), "evidence", this)),
      m_work(WorkSignals::Length::lengthy) {
    setObjectName(QStringLiteral("hindsight"));
    constexpr int plotHeight = 210;
    m_plot->setFixedHeight(plotHeight);
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 6, 0, 0);
    layout->setSpacing(4);
    layout->addWidget(makeHeadRow());
    layout->addWidget(m_plot);
    layout->addWidget(m_words, 1);
    connect(&m_work, &WorkSignals::finished, this, &HindsightPage::show);
    connect(m_words, &ReportView::explained, this, [this](const Explanation &x) { m_session.explain(x); });
    connect(m_words, &ReportView::linkWanted, this, [this](const QString &link) {
        const std::size_t at = link.mid(link.indexOf(QLatin1Char(':')) + 1).toULong();
        if (!m_work.result() || at >= m_work.result()->moments.size()) return;
        const auto &[log, seconds] = m_work.result()->moments[at];
        m_session.evidence().setMoment(log, seconds);
        emit stripWanted();
    });
    for (auto signal : {&Evidence::logsChanged, &Evidence::reviewsChanged})
        connect(&session.evidence(), signal, this, [this] {
            if (isVisible()) refresh();
        });
    (new Refresh(session, this))->on(Refresh::job, [this] { refresh(); }).on(Refresh::units, [this] {
        show();
    });
}

QWidget *HindsightPage::makeHeadRow() {
    auto *head = new QWidget(this);
    head->setSizePolicy(QSizePolicy::Preferred,
                        QSizePolicy::Fixed); // it stays where it is, whatever is below
    auto *rows = new QVBoxLayout(head);
    rows->setContentsMargins(0, 0, 0, 0);
    rows->setSpacing(4);
    auto *first = new WrapRow;
    const std::array<std::pair<Kind, QString>, 4> titles{{{taken, tr("Who took the spark")},
                                                          {change, tr("Change of fuel")},
                                                          {corrections, tr("Corrections")},
                                                          {boost, tr("Boost")}}};
    for (const auto &[kind, title] : titles) {
        auto *button = new QPushButton(title, head);
        button->setCheckable(true);
        button->setChecked(kind == taken);
        constexpr std::array names{"taken", "change", "corrections", "boost"};
        button->setObjectName(QStringLiteral("propose.") + QLatin1String(names[kind]));
        m_kinds->addButton(button, kind);
        first->addWidget(button);
    }
    tabToTheOneDown(*m_kinds);
    connect(m_kinds, &QButtonGroup::idClicked, this, [this] { refresh(); });
    auto *work = new WorkBar(
        m_work, [this] { m_work.cancel(); }, head);
    first->addWidget(work);
    first->setAlignment(work, Qt::AlignRight);
    m_note->setObjectName(QStringLiteral("notePoints"));
    m_note->setToolTip(
        tr("Pulls that held still become points of boost over duty: what boost is planned by"));
    m_note->hide();
    connect(m_note, &QPushButton::clicked, this, &HindsightPage::notePoints);
    auto *second = new QHBoxLayout;
    for (std::size_t i = 0; i < m_picks.size(); ++i) {
        m_picks[i] = new QComboBox(head);
        m_picks[i]->setAccessibleName(i == 0 ? tr("First log") : tr("Second log"));
        m_picks[i]->setObjectName(i == 0 ? QStringLiteral("firstLog") : QStringLiteral("secondLog"));
        connect(m_picks[i], &QComboBox::activated, this, &HindsightPage::start);
        m_picks[i]->hide(); // until a change of fuel is looked at
        second->addWidget(m_picks[i], 1);
    }
    second->addStretch(1);
    second->addWidget(m_note);
    second->addWidget(
        new SheetButtons(m_session,
                         {tr("the sheet"), QStringLiteral("hindsight"), [this] { return m_report.report; },
                          [this] { return m_words->words(); }},
                         head));
    rows->addLayout(first);
    rows->addLayout(second);
    return head;
}

void HindsightPage::showEvent(QShowEvent *event) {
    QWidget::showEvent(event);
    refresh();
}

void HindsightPage::setKind(Kind kind) {
    m_kinds->button(kind)->setChecked(true);
    refresh();
}

QString HindsightPage::words() const {
    return m_words->words();
}

// Logs by name; the choice stays while its log is there, and begins with the two furthest apart in content.
void HindsightPage::refreshChoices() {
    std::vector<const LogInfo *> logs;
    for (const LogInfo &l : m_session.job().logs.values())
        logs.push_back(&l);
    const auto byContent = [](const LogInfo *a, const LogInfo *b) { return a->content < b->content; };
    const auto known = [](const LogInfo *l) { return l->contentBasis != ContentBasis::none; };
    std::vector<const LogInfo *> settled;
    for (const LogInfo *l : logs)
        if (const auto r = m_session.evidence().review(l->id); known(l) && r && r->content().usable())
            settled.push_back(l);
    for (std::size_t i = 0; i < m_picks.size(); ++i) {
        const QString was = m_picks[i]->currentData().toString();
        m_picks[i]->clear();
        for (const LogInfo *l : logs)
            m_picks[i]->addItem(text(l->name), text(l->id));
        int at = m_picks[i]->findData(was);
        if (at < 0 && !settled.empty()) {
            const auto ends = std::ranges::minmax_element(settled, byContent);
            at = m_picks[i]->findData(text((i == 0 ? *ends.min : *ends.max)->id));
        }
        m_picks[i]->setCurrentIndex(std::max(0, at));
        m_picks[i]->setVisible(m_kinds->checkedId() == change);
    }
}

void HindsightPage::refresh() {
    refreshChoices();
    start();
}

HindsightPage::Asked HindsightPage::asked() const {
    Asked a;
    a.kind = m_kinds->checkedId();
    a.logs = m_session.evidence().reviews().size();
    if (a.kind == taken) a.log = m_session.evidence().log();
    if (a.kind == change) {
        a.from = m_picks[0]->currentData().toString().toStdString();
        a.to = m_picks[1]->currentData().toString().toStdString();
    }
    return a;
}

bool HindsightPage::current() const {
    return m_work.version() == m_session.jobVersion() && m_asked == asked() && !m_work.running() &&
           (m_work.result() || !m_work.error().isEmpty());
}

HindsightPage::Sheet HindsightPage::makeSheet(const Study &study,
                                              const std::vector<std::shared_ptr<const LogReview>> &logs,
                                              const Asked &asked) {
    const auto named = [&](const std::string &id) -> const LogReview & {
        for (const auto &l : logs)
            if (l->info().id == id) return *l;
        throw InputError("log", MARKED("expected.read_log", "a log whose samples are at hand"),
                         MARKED("found.not_read", "one that is still being read, or laid aside"));
    };
    Sheet out;
    switch (asked.kind) {
    case taken: {
        const LogReview &log = named(asked.log);
        const SparkTaken t = sparkTaken(log);
        out.report = takenReport(t, log.info());
        for (const SparkTaker &who : t.takers)
            out.moments.emplace_back(asked.log, who.mostAtS);
        break;
    }
    case change:
        out.report = proofReport(proveFuelChange(study, named(asked.from), named(asked.to)), study.job());
        break;
    case corrections:
        out.report = {learningReport(learningSteps(study, logs), study.job()), {}};
        break;
    default: {
        const std::vector<PullBoost> pulls = readPulls(logs);
        out.report = boostPullsReport(pulls, compareBoostSensors(logs), study.job());
        for (const PullBoost &p : pulls)
            out.moments.emplace_back(p.log, p.beginS);
        Job noted = withBoostPoints(study.job(), pulls);
        out.points = noted.boost.points.size() - study.job().boost.points.size();
        if (out.points > 0) out.noted = std::move(noted);
    }
    }
    for (const Block &b : out.report.report.blocks)
        if (const auto *chart = std::get_if<ReportChart>(&b)) out.chart = *chart;
    return out;
}

void HindsightPage::start() {
    if (!isVisible() || !m_session.hasJob()) return;
    const Asked now = asked();
    if (now == m_asked && m_work.version() == m_session.jobVersion() && m_work.result()) return show();
    m_asked = now;
    std::vector<std::shared_ptr<const LogReview>> logs;
    for (const auto &r : m_session.evidence().reviews())
        if (r->hasSamples()) logs.push_back(r);
    m_work.forget();
    m_work.start(m_session.jobVersion(), [study = m_session.sharedStudy(), logs = std::move(logs),
                                          now](const WorkControl &) { return makeSheet(*study, logs, now); });
    show();
}

void HindsightPage::show() {
    m_report = {};
    if (m_work.result()) {
        m_report = m_work.result()->report;
        drawChart(m_work.result()->chart);
    } else {
        drawChart({});
        m_report.report.blocks.push_back(
            m_work.error().isEmpty() ? Sentence{MARKED("proposal.working", "Working it out …"), Tone::quiet}
                                     : Sentence{verbatim(m_work.error().toStdString()), Tone::caution});
    }
    const std::size_t points = m_kinds->checkedId() == boost && m_work.result() ? m_work.result()->points : 0;
    m_note->setVisible(points > 0);
    m_note->setEnabled(!m_session.readOnly());
    m_note->setText(tr("Note new points of boost: %1").arg(points));
    // The chart has a widget of its own here; on paper it is part of the sheet.
    WorkedReport inWindow = m_report;
    takeChart(inWindow.report);
    m_words->show(std::move(inWindow), m_session.units());
}

void HindsightPage::drawChart(const std::optional<ReportChart> &chart) {
    m_plot->setVisible(chart.has_value());
    if (!chart) return;
    Chart shown;
    shown.xTitle = text(chart->xTitle);
    shown.yTitle = text(chart->yTitle);
    shown.x = chart->x;
    shown.y = chart->y;
    constexpr std::array styles{Qt::SolidLine, Qt::DashLine, Qt::DotLine, Qt::SolidLine};
    for (std::size_t i = 0; i < chart->lines.size(); ++i) {
        const ReportChart::Line &line = chart->lines[i];
        ChartSeries s;
        // Nothing is drawn through times at which nothing is said.
        constexpr double holeS = 1;
        for (std::size_t k = 0; k < line.x.size(); ++k) {
            if (k > 0 && line.x[k] - line.x[k - 1] > holeS) {
                s.x.push_back(line.x[k]);
                s.y.push_back(std::numeric_limits<double>::quiet_NaN());
            }
            s.x.push_back(line.x[k]);
            s.y.push_back(line.y[k]);
        }
        const bool last = i + 1 == chart->lines.size();
        if (i == 0 || last) s.name = text(line.name);
        s.color = last ? theme().ink : theme().quiet;
        s.width = last ? 2 : 1;
        s.line = styles[std::min(i, styles.size() - 1)];
        shown.series.push_back(std::move(s));
    }
    m_plot->show(std::move(shown));
}

void HindsightPage::notePoints() {
    if (!current() || !m_work.result() || !m_work.result()->noted) return;
    const Job &noted = *m_work.result()->noted;
    m_session.perform(tr("Points of boost from pulls"), [&noted](Job &job) { job.boost = noted.boost; });
}

} // namespace wheelwright
