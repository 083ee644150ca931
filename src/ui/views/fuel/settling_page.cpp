// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/fuel/settling_page.h"

#include "core/job/tank_history.h"
#include "core/report/fuel_reports.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/widgets/card.h"
#include "ui/widgets/field_form.h"
#include "ui/widgets/plot_style.h"
#include "ui/widgets/refresh.h"
#include "ui/widgets/report_view.h"

#include <QApplication>
#include <QClipboard>
#include <QEvent>
#include <QHBoxLayout>
#include <QScrollArea>
#include <QVBoxLayout>

#include <qcustomplot.h>

#include <algorithm>

namespace wheelwright {
SettlingPage::SettlingPage(Session &session, QWidget *parent) : QWidget(parent), m_session(session) {
    auto *card = makeCard(this);
    m_words = new ReportView(tr("Until it has settled"), ReportView::Fit::steady, card, 8);
    connect(m_words, &ReportView::explained, this, [this](const Explanation &x) { m_session.explain(x); });
    makePlot();
    auto *cardLayout = new QVBoxLayout(card);
    cardLayout->addWidget(m_words);
    cardLayout->addWidget(m_plot, 1);
    cardLayout->addWidget(
        makeQuiet(tr("A model of plug flow and a stirred vessel, to know how long to wait. The reading has "
                     "settled when it moves less than 0.5 % in a minute for 60 s; then a tube, then a pull."),
                  card));
    m_form = new FieldForm(session, tr("Tank and fuel path"), {"tank."}, {}, this);
    auto *scroll = new QScrollArea(this);
    scroll->setFocusPolicy(Qt::NoFocus); // what is in it takes the keys, and is scrolled to
    scroll->setWidgetResizable(true);
    scroll->setWidget(m_form);
    scroll->setFixedWidth(310);
    auto *layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(card, 1);
    layout->addWidget(scroll);
    (new Refresh(session, this))->on(Refresh::job | Refresh::units | Refresh::content, [this] { refresh(); });
    restyle();
}

void SettlingPage::makePlot() {
    m_plot = new QCustomPlot(this);
    m_plot->setAccessibleName(tr("Content at sensor and injectors over time"));
    m_plot->setFocusPolicy(Qt::StrongFocus); // copying acts on what has the focus
    m_plot->setAntialiasedElements(QCP::aePlottables);
    std::size_t i = 0;
    for (const bool cruise : {false, true})
        for (const bool injector : {false, true})
            m_curves[i++] = {cruise, injector, m_plot->addGraph()};
    const std::array names{tr("sensor, idle"), tr("injectors, idle"), tr("sensor, cruise"),
                           tr("injectors, cruise")};
    for (std::size_t k = 0; k < m_curves.size(); ++k)
        m_curves[k].graph->setName(names[k]);
    m_settled = new QCPItemStraightLine(m_plot);
    m_settledText = new QCPItemText(m_plot);
    m_settledText->setPositionAlignment(Qt::AlignRight | Qt::AlignBottom);
    m_plot->legend->setVisible(true);
    m_plot->axisRect()->insetLayout()->setInsetAlignment(0, Qt::AlignRight | Qt::AlignVCenter);
    m_plot->xAxis->setLabel(tr("minutes after the pour, engine running"));
}

// Idle thin, cruise thick; the sensor solid, the injectors dotted.
void SettlingPage::restyle() {
    stylePlot(*m_plot);
    tickAs(*m_plot->yAxis, Dimension::content, m_session.units());
    m_plot->legend->setBrush(theme().raised);
    m_plot->legend->setBorderPen(theme().line);
    m_plot->legend->setTextColor(theme().ink);
    m_plot->legend->setFont(sansFont(11));
    m_settled->setPen(QPen(theme().quiet, 1, Qt::DashLine));
    m_settledText->setColor(theme().quiet);
    m_settledText->setFont(sansFont(11));
    refresh();
}

void SettlingPage::refresh() {
    if (!m_session.hasJob() || !isVisible()) return;
    const Job &job = m_session.job();
    m_before = alcoholOf(tankNow(job).content);
    m_after = m_session.content();
    double end = 0;
    for (const bool cruise : {false, true})
        end = std::max(end, settlingCurve(fuelPathOf(job, cruise), m_before, m_after, 2).back().minutes);
    constexpr std::size_t points = 241;
    for (const Curve &c : m_curves) {
        QVector<double> x, y;
        for (const SettlingPoint &p :
             settlingCurve(fuelPathOf(job, c.cruise), m_before, m_after, points, end)) {
            x.push_back(p.minutes);
            y.push_back(100 * (c.injector ? p.injector : p.content));
        }
        c.graph->setData(x, y, true);
        c.graph->setPen(
            QPen(theme().content(m_after), c.cruise ? 3 : 1.5, c.injector ? Qt::DotLine : Qt::SolidLine));
    }
    m_plot->xAxis->setRange(0, end);
    const double low = std::min(m_before, m_after) * 100, high = std::max(m_before, m_after) * 100;
    m_plot->yAxis->setRange(low - 3, high + 3);
    const double slowest = settlingMinutes(fuelPathOf(job, false), m_before, m_after);
    m_settled->point1->setCoords(slowest, 0);
    m_settled->point2->setCoords(slowest, 1);
    m_settledText->setText(tr("sensor within 1 % at idle "));
    m_settledText->position->setCoords(slowest, low - 2);
    m_plot->replot(QCustomPlot::rpQueuedReplot);
    m_words->show(settlingReport(job, m_before, m_after), m_session.units());
}

QString SettlingPage::wordsText() const {
    return m_words->words();
}

void SettlingPage::changeEvent(QEvent *event) {
    QWidget::changeEvent(event);
    if (event->type() == QEvent::PaletteChange) restyle();
}

void SettlingPage::copy() const {
    QString out = tr("minutes");
    for (const Curve &c : m_curves)
        out += u'\t' + c.graph->name();
    const auto points = m_curves.front().graph->dataCount();
    for (int i = 0; i < points; ++i) {
        out += u'\n' + briefText(m_curves.front().graph->dataMainKey(i), m_session.units());
        for (const Curve &c : m_curves)
            out += u'\t' + briefText(c.graph->dataMainValue(i), m_session.units());
    }
    QApplication::clipboard()->setText(out + u'\n');
}

void SettlingPage::copyPicture() {
    QApplication::clipboard()->setPixmap(m_plot->toPixmap());
}

} // namespace wheelwright
