// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/fuel/compare_page.h"

#include "core/explain/explain_fuel.h"
#include "core/job/tank_history.h"
#include "core/report/fuel_reports.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/views/fuel/comparison_model.h"
#include "ui/views/fuel/mix_plot.h"
#include "ui/widgets/card.h"
#include "ui/widgets/copy_table.h"
#include "ui/widgets/refresh.h"
#include "ui/widgets/report_view.h"

#include <QComboBox>
#include <QEvent>
#include <QGridLayout>
#include <QHeaderView>
#include <QScrollArea>
#include <QSlider>

namespace wheelwright {
namespace {

constexpr std::size_t mixPoints = 101; // a step of the slider is a point of the curve

} // namespace

ComparePage::ComparePage(Session &session, QWidget *parent) : QWidget(parent), m_session(session) {
    auto *layout = new QGridLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(makeTable(), 0, 0, 1, 2);
    auto *card = makeCard(this);
    m_change = new ReportView(tr("What must change"), ReportView::Fit::fills, card);
    (new QVBoxLayout(card))->addWidget(m_change);
    layout->addWidget(card, 1, 0);
    layout->addWidget(makeMix(), 1, 1);
    layout->setColumnStretch(0, 2);
    layout->setColumnStretch(1, 5);
    layout->setRowStretch(0, 1);
    layout->setRowStretch(1, 1);
    (new Refresh(session, this))->on(Refresh::job | Refresh::units | Refresh::verdict, [this] { refresh(); });
}

QWidget *ComparePage::makeTable() {
    auto *card = makeCard(this);
    m_model = new ComparisonModel(m_session, card);
    m_view = new CopyTable(card);
    m_view->setModel(m_model);
    m_view->setItemDelegate(new BarDelegate(m_view));
    m_view->setAccessibleName(tr("Fuels side by side"));
    m_view->setFrameShape(QFrame::NoFrame);
    m_view->setShowGrid(false);
    m_view->verticalHeader()->setDefaultSectionSize(27);
    m_view->verticalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    m_view->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    m_view->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    connect(m_view->selectionModel(), &QItemSelectionModel::currentChanged, this,
            &ComparePage::refreshChange);
    auto *layout = new QVBoxLayout(card);
    layout->addWidget(makeHead(tr("Side by side: shelf and mixtures, against the fuel in the tank"), card));
    layout->addWidget(m_view, 1);
    return card;
}

QWidget *ComparePage::makeMix() {
    auto *card = makeCard(this);
    m_first = new QComboBox(card);
    m_first->setAccessibleName(tr("First fuel of the mixture"));
    m_second = new QComboBox(card);
    m_second->setAccessibleName(tr("Second fuel of the mixture"));
    m_share = new QSlider(Qt::Horizontal, card);
    m_share->setRange(0, static_cast<int>(mixPoints) - 1);
    m_share->setValue(25);
    m_share->setAccessibleName(tr("Share of the second fuel in per cent"));
    m_mix = new ReportView(tr("What the mixture is"), ReportView::Fit::steady, card, 1);
    m_plot = new MixPlot(m_session, card);
    for (QComboBox *box : {m_first, m_second})
        connect(box, &QComboBox::activated, this, &ComparePage::refreshMix);
    connect(m_share, &QSlider::valueChanged, this, &ComparePage::moveShare);
    auto *layout = new QGridLayout(card);
    layout->addWidget(makeHead(tr("Mix"), card), 0, 0);
    layout->addWidget(m_first, 0, 1);
    layout->addWidget(m_share, 0, 2);
    layout->addWidget(m_second, 0, 3);
    layout->addWidget(m_mix, 1, 0, 1, 4);
    layout->addWidget(m_plot, 2, 0, 1, 4);
    layout->setColumnStretch(2, 1);
    layout->setRowStretch(2, 1);
    return card;
}

void ComparePage::refresh() {
    if (!m_session.hasJob() || !isVisible()) return;
    const QModelIndex kept = m_view->currentIndex();
    m_model->refresh();
    m_view->setCurrentIndex(m_model->index(std::max(0, kept.row()), std::max(0, kept.column())));
    m_shelf = shelfOf(m_session.job(), m_session.today().toStdString());
    const QString first = m_first->currentText(), second = m_second->currentText();
    for (QComboBox *box : {m_first, m_second}) {
        box->clear();
        for (const Fuel &f : m_shelf)
            box->addItem(text(f.name));
    }
    m_first->setCurrentIndex(std::max(0, m_first->findText(first)));
    const int other = m_second->findText(second);
    m_second->setCurrentIndex(other >= 0 ? other : std::min(1, m_second->count() - 1));
    refreshChange();
    refreshMix();
}

void ComparePage::refreshChange() {
    const QModelIndex at = m_view->currentIndex();
    if (!at.isValid()) {
        m_change->say(MARKED("compare.empty", "Put fuels on the shelf to compare them."), m_session.units());
        return;
    }
    const ComparedFuel &f = m_model->fuels()[static_cast<std::size_t>(at.row())];
    m_change->show(mustChangeReport(f), m_session.units());
    const FuelColumn &column = allFuelColumns()[static_cast<std::size_t>(at.column())];
    const Job &job = m_session.job();
    if (column.of(f) && m_view->hasFocus())
        m_session.explain(explainComparison(
            f, column, contentName(alcoholOf(tankNow(job).content), job.alcohol == Alcohol::methanol)));
}

void ComparePage::refreshMix() {
    const int a = m_first->currentIndex(), b = m_second->currentIndex();
    if (a < 0 || b < 0) return;
    m_plot->show(mixCurve(m_session.job(), m_shelf[static_cast<std::size_t>(a)],
                          m_shelf[static_cast<std::size_t>(b)], mixPoints));
    moveShare();
}

void ComparePage::moveShare() {
    const int a = m_first->currentIndex(), b = m_second->currentIndex();
    if (a < 0 || b < 0) return;
    const double share = m_share->value() / 100.0;
    const ComparedFuel f = mixed(m_session.job(), m_shelf[static_cast<std::size_t>(a)],
                                 m_shelf[static_cast<std::size_t>(b)], share);
    m_mix->show(
        mixReport(m_first->currentText().toStdString(), m_second->currentText().toStdString(), share, f),
        m_session.units());
    m_plot->setShare(share);
}

QString ComparePage::changeText() const {
    return m_change->words();
}

QString ComparePage::mixText() const {
    return m_mix->words();
}

void ComparePage::changeEvent(QEvent *event) {
    QWidget::changeEvent(event);
    if (event->type() == QEvent::PaletteChange) m_plot->restyle();
}

} // namespace wheelwright
