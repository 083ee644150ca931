// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/evidence/strip_page.h"

#include "core/report/log_reports.h"
#include "session/evidence.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/views/evidence/time_strip.h"
#include "ui/widgets/refresh.h"
#include "ui/widgets/report_view.h"
#include "ui/widgets/steady.h"
#include "ui/widgets/wrap_row.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPushButton>

#include <algorithm>

namespace wheelwright {

StripPage::StripPage(Session &session, QWidget *parent)
    : QWidget(parent), m_session(session), m_strip(new TimeStrip(session, this)),
      m_found(new ReportView(tr("Found in this log"), ReportView::Fit::fills, this)),
      m_place(new QLabel(this)), m_lanes(new QMenu(this)) {
    constexpr int foundWidth = 244;
    m_found->setFixedWidth(foundWidth);
    auto *left = new QVBoxLayout;
    left->setSpacing(4);
    left->addWidget(makeBar());
    left->addWidget(m_strip, 1);
    auto *layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 4, 0, 0);
    layout->addLayout(left, 1);
    layout->addWidget(m_found);
    connect(m_lanes, &QMenu::aboutToShow, this, &StripPage::fillLanes);
    connect(m_strip, &TimeStrip::placeWanted, this, &StripPage::toTables);
    connect(m_found, &ReportView::explained, this, [this](const Explanation &x) { m_session.explain(x); });
    connect(m_found, &ReportView::linkWanted, this, [this](const QString &link) {
        if (link == QLatin1String("delay:keep")) return keepDelay();
        const QString before = QStringLiteral("finding:");
        if (link.startsWith(before)) showFinding(link.mid(before.size()).toULong());
    });
    Evidence &evidence = session.evidence();
    for (auto signal : {&Evidence::logsChanged, &Evidence::reviewsChanged, &Evidence::delayChanged})
        connect(&evidence, signal, this, [this] {
            refreshFound();
            refreshPlace();
        });
    connect(&evidence, &Evidence::momentChanged, this, &StripPage::refreshPlace);
    connect(&evidence, &Evidence::reviewsChanged, this, &StripPage::lookAtTheFirst);
    (new Refresh(session, this))->on(Refresh::units, [this] {
        refreshFound();
        refreshPlace();
    });
    refreshFound();
    refreshPlace();
}

QWidget *StripPage::makeBar() {
    auto *bar = new QWidget(this);
    auto *rows = new QVBoxLayout(bar);
    rows->setContentsMargins(0, 0, 0, 0);
    rows->setSpacing(4);
    auto *layout = new WrapRow;
    auto *lanes = new QPushButton(tr("Lanes"), bar);
    lanes->setToolTip(tr("Which channels are drawn"));
    lanes->setMenu(m_lanes);
    auto *all = new QPushButton(tr("Whole log"), bar);
    all->setToolTip(tr("Show all of the log (0)"));
    connect(all, &QPushButton::clicked, this, [this] { m_strip->showAll(); });
    m_moved = new QPushButton(tr("λ in its place"), bar);
    m_moved->setObjectName(QStringLiteral("moved"));
    m_moved->setCheckable(true);
    m_moved->setToolTip(tr("Takes the delay of the exhaust and the lag of the sensor out of λ"));
    connect(m_moved, &QPushButton::toggled, this, [this](bool on) {
        if (on) m_session.evidence().delay(m_session.evidence().log());
        m_strip->setShowsMoved(on);
        refreshFound();
    });
    m_tables = new QPushButton(tr("To the tables"), bar);
    m_tables->setObjectName(QStringLiteral("toTables"));
    m_tables->setProperty("main", true);
    m_tables->setToolTip(tr("Opens the tables at this moment's content, speed and load (Enter)"));
    connect(m_tables, &QPushButton::clicked, this, &StripPage::toTables);
    m_place->setObjectName(QStringLiteral("place"));
    m_place->setTextInteractionFlags(Qt::TextSelectableByMouse);
    layout->addWidget(lanes);
    layout->addWidget(all);
    layout->addWidget(m_moved);
    layout->addWidget(m_tables);
    layout->setAlignment(m_tables, Qt::AlignRight);
    rows->addLayout(layout);
    rows->addWidget(makeStill(m_place, bar));
    return bar;
}

QString StripPage::found() const {
    return m_found->words();
}

// All that the log has got; those that are drawn are ticked.
void StripPage::fillLanes() {
    m_lanes->clear();
    for (const LogChannel *c : channelsOf(m_session.job(), m_session.evidence().log())) {
        if (c->role == ChannelRole::none || c->kind != ChannelKind::number) continue;
        QAction *a = m_lanes->addAction(text(definitionOf(c->role).title));
        a->setCheckable(true);
        a->setChecked(std::ranges::count(m_strip->lanes(), c->role) > 0);
        connect(a, &QAction::toggled, this, [this, role = c->role](bool on) {
            std::vector<ChannelRole> lanes = m_strip->lanes();
            std::erase(lanes, role);
            if (on) lanes.push_back(role);
            m_strip->setLanes(std::move(lanes));
        });
    }
}

void StripPage::refreshFound() {
    Evidence &evidence = m_session.evidence();
    WorkedReport worked;
    Report &report = worked.report;
    if (const auto review = evidence.review(evidence.log())) {
        if (m_moved->isChecked()) {
            const LambdaDelay *delay = evidence.delay(evidence.log());
            const QString trouble = evidence.delayTrouble(evidence.log());
            if (delay) {
                worked.append(delayReport(*delay));
            } else {
                report.blocks.push_back(Sentence{
                    trouble.isEmpty() ? Phrase(MARKED("delay.working", "Looking for the delay of λ …"))
                                      : verbatim(trouble.toStdString()),
                    trouble.isEmpty() ? Tone::quiet : Tone::caution});
            }
        }
        worked.append({findingsReport(*review), {}});
        worked.append({logContentReport(*review), {}});
    } else if (const QString trouble = evidence.trouble(evidence.log()); !trouble.isEmpty()) {
        report.blocks.push_back(Sentence{verbatim(trouble.toStdString()), Tone::trouble});
    } else {
        report.blocks.push_back(
            Sentence{MARKED("findings.reading", "Reading through the log …"), Tone::quiet});
    }
    m_found->show(std::move(worked), m_session.units());
    m_found->moveCursor(QTextCursor::Start);
}

void StripPage::refreshPlace() {
    Evidence &evidence = m_session.evidence();
    const auto review = evidence.review(evidence.log());
    const auto sample = evidence.sampleNow();
    m_tables->setEnabled(review && sample);
    if (!review || !sample) return m_place->setText({});
    const LogTrace &t = review->trace();
    QStringList words;
    const auto put = [&](double v, Dimension d) {
        if (v == v) words << shown(v, d, m_session.units());
    };
    put(t.at(ChannelRole::rpm, *sample), Dimension::engineSpeed);
    put(t.at(ChannelRole::map, *sample), Dimension::pressure);
    if (const double c = t.content(*sample); c == c)
        words << text(contentName(std::clamp(c, 0.0, 1.0), m_session.job().alcohol == Alcohol::methanol));
    if (const Episode *e = evidence.episodeNow()) words << text(definitionOf(e->kind).title);
    m_place->setText(words.join(QStringLiteral(" · ")));
}

// A log that nobody has looked at yet opens where something was found.
void StripPage::lookAtTheFirst() {
    Evidence &evidence = m_session.evidence();
    const auto review = evidence.review(evidence.log());
    if (!review || evidence.momentChosen() || review->findings().found.empty() || !isVisible()) return;
    evidence.setMoment(review->findings().found.front().worstS);
}

void StripPage::keepDelay() {
    Evidence &evidence = m_session.evidence();
    if (const LambdaDelay *found = evidence.delay(evidence.log()))
        m_session.perform(tr("Keep the delay of λ"), [delay = *found](Job &job) { stateDelay(job, delay); });
}

void StripPage::showFinding(std::size_t index) {
    Evidence &evidence = m_session.evidence();
    const auto review = evidence.review(evidence.log());
    if (!review || index >= review->findings().found.size()) return;
    const LogFinding &f = review->findings().found[index];
    m_strip->showFinding(f);
    m_session.explain(explain(*review, f));
}

void StripPage::toTables() {
    Evidence &evidence = m_session.evidence();
    const auto review = evidence.review(evidence.log());
    const auto sample = evidence.sampleNow();
    if (!review || !sample) return;
    const LogTrace &t = review->trace();
    const double rpm = t.at(ChannelRole::rpm, *sample), load = t.at(ChannelRole::map, *sample);
    if (rpm != rpm || load != load) return m_session.report(tr("The log does not say speed and load here."));
    const double content = t.content(*sample);
    m_session.goTo({content == content ? std::clamp(content, 0.0, 1.0) : m_session.content(), rpm, load},
                   m_session.quantity());
    emit tablesWanted();
}

void StripPage::showEvent(QShowEvent *event) {
    QWidget::showEvent(event);
    m_strip->setFocus();
    lookAtTheFirst();
}

} // namespace wheelwright
