// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/evidence/pulls_page.h"

#include "session/evidence.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/widgets/card.h"
#include "ui/widgets/chart_plot.h"
#include "ui/widgets/choice_keys.h"
#include "ui/widgets/refresh.h"

#include <QButtonGroup>
#include <QComboBox>
#include <QFileInfo>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QPushButton>

#include <algorithm>

namespace wheelwright {

PullsPage::PullsPage(Session &session, QWidget *parent)
    : QWidget(parent), m_session(session), m_role(new QComboBox(this)), m_axis(new QButtonGroup(this)),
      m_words(makeQuiet({}, this)),
      m_plot(new ChartPlot(session, tr("Two stretches over one another"), "evidence", this)) {
    setObjectName(QStringLiteral("pulls"));
    auto *grid = new QGridLayout;
    for (std::size_t i = 0; i < m_picks.size(); ++i) {
        m_picks[i] = new QComboBox(this);
        m_picks[i]->setAccessibleName(i == 0 ? tr("First stretch") : tr("Second stretch"));
        m_picks[i]->setObjectName(i == 0 ? QStringLiteral("first") : QStringLiteral("second"));
        m_picks[i]->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        m_picks[i]->setMinimumContentsLength(20);
        connect(m_picks[i], &QComboBox::activated, this, &PullsPage::draw);
        auto *label = new QLabel(i == 0 ? tr("Solid") : tr("Broken"), this);
        label->setBuddy(m_picks[i]);
        grid->addWidget(label, static_cast<int>(i), 0);
        grid->addWidget(m_picks[i], static_cast<int>(i), 1);
    }
    grid->setColumnStretch(1, 1);
    for (const ChannelRoleDefinition &d : allChannelRoles())
        if (d.role != ChannelRole::none && d.role != ChannelRole::time)
            m_role->addItem(text(d.title), static_cast<int>(d.role));
    m_role->setAccessibleName(tr("What is drawn"));
    m_role->setCurrentIndex(m_role->findData(static_cast<int>(ChannelRole::lambda)));
    connect(m_role, &QComboBox::activated, this, &PullsPage::draw);
    auto *by = new QHBoxLayout;
    by->setSpacing(4);
    by->addWidget(m_role);
    by->addSpacing(8);
    for (const auto &[axis, title] : {std::pair{EpisodeAxis::rpm, tr("over rpm")},
                                      {EpisodeAxis::time, tr("over time")},
                                      {EpisodeAxis::distance, tr("over distance")}}) {
        auto *button = new QPushButton(title, this);
        button->setCheckable(true);
        button->setChecked(axis == EpisodeAxis::rpm);
        m_axis->addButton(button, static_cast<int>(axis));
        by->addWidget(button);
    }
    by->addStretch(1);
    tabToTheOneDown(*m_axis);
    connect(m_axis, &QButtonGroup::idClicked, this, &PullsPage::draw);
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 6, 0, 0);
    layout->addLayout(grid);
    layout->addLayout(by);
    layout->addWidget(m_plot, 1);
    layout->addWidget(m_words);
    for (auto signal : {&Evidence::logsChanged, &Evidence::reviewsChanged})
        connect(&session.evidence(), signal, this, &PullsPage::refreshChoices);
    (new Refresh(session, this))->on(Refresh::units, [this] { draw(); });
    refreshChoices();
}

ChannelRole PullsPage::role() const {
    return static_cast<ChannelRole>(m_role->currentData().toInt());
}

void PullsPage::refreshChoices() {
    std::array<QString, 2> kept{m_picks[0]->currentText(), m_picks[1]->currentText()};
    m_choices.clear();
    for (const auto &log : m_session.evidence().reviews())
        for (std::size_t i = 0; i < log->episodes().size(); ++i) {
            const EpisodeKind kind = log->episodes()[i].kind;
            if (log->hasSamples() && (kind == EpisodeKind::pull || kind == EpisodeKind::hold))
                m_choices.push_back({log, i});
        }
    for (QComboBox *pick : m_picks)
        pick->clear();
    for (const Choice &c : m_choices) {
        const Episode &e = c.of();
        const QString words =
            tr("%1 at %2 s: %3")
                .arg(QFileInfo(text(c.log->info().name)).completeBaseName(),
                     fixedText(e.beginS, 1, m_session.units()), text(inWords(e), m_session.units()));
        for (QComboBox *pick : m_picks)
            pick->addItem(words);
    }
    // At first the first and the last: two contents, most often.
    for (std::size_t i = 0; i < m_picks.size(); ++i) {
        const int before = m_picks[i]->findText(kept[i]);
        m_picks[i]->setCurrentIndex(before >= 0 ? before : i == 0 ? 0 : m_picks[i]->count() - 1);
    }
    draw();
}

void PullsPage::addTo(Chart &chart, const Choice &choice, bool second) {
    const auto axis = static_cast<EpisodeAxis>(m_axis->checkedId());
    const LogTrace &t = choice.log->trace();
    const Episode &e = choice.of();
    const std::vector<double> x = along(t, e, axis);
    ChartSeries series;
    for (std::size_t i = 0; i < x.size(); ++i) {
        const double y = t.at(role(), e.from + i);
        if (x[i] != x[i] || y != y) continue;
        series.x.push_back(x[i]);
        series.y.push_back(y);
    }
    const bool methanol = m_session.job().alcohol == Alcohol::methanol;
    series.name =
        e.content == e.content ? text(contentName(std::clamp(e.content, 0.0, 1.0), methanol)) : QString();
    series.color = e.content == e.content ? theme().content(std::clamp(e.content, 0.0, 1.0)) : theme().ink;
    series.line = second ? Qt::DashLine : Qt::SolidLine;
    chart.series.push_back(std::move(series));
}

void PullsPage::draw() {
    Chart chart;
    const ChannelRoleDefinition &definition = definitionOf(role());
    chart.yTitle = text(definition.title);
    chart.y = definition.dimension;
    const auto axis = static_cast<EpisodeAxis>(m_axis->checkedId());
    chart.xTitle = axis == EpisodeAxis::rpm    ? tr("rpm")
                   : axis == EpisodeAxis::time ? tr("s from its start")
                                               : tr("m from its start");
    chart.x = Dimension::none;
    QStringList words;
    for (std::size_t i = 0; i < m_picks.size(); ++i) {
        const int at = m_picks[i]->currentIndex();
        if (at < 0 || at >= static_cast<int>(m_choices.size())) continue;
        addTo(chart, m_choices[static_cast<std::size_t>(at)], i == 1);
        if (chart.series.back().x.empty())
            words << (axis == EpisodeAxis::distance ? tr("%1 has no road speed, or not this channel.")
                                                    : tr("%1 has not got this channel."))
                         .arg(text(m_choices[static_cast<std::size_t>(at)].log->info().name));
    }
    if (m_choices.empty()) words << tr("No pull or hold has been found in any log yet.");
    if (const std::size_t aside = m_session.evidence().laidAside(); aside > 0)
        words << tr("%1 long logs are laid aside: look at one to have its stretches here.").arg(aside);
    words << tr("Two logs of different days are only as alike as their air and their heat.");
    m_words->setText(words.join(QLatin1Char(' ')));
    m_plot->show(std::move(chart));
}

} // namespace wheelwright
