// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/evidence/cleaning_page.h"

#include "session/evidence.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/widgets/card.h"
#include "ui/widgets/limit_edit.h"

#include <QApplication>
#include <QClipboard>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QPainter>
#include <QScrollArea>

namespace wheelwright {

/// What comes in from above, what is taken out of it, what goes on.
class WaterfallBar : public QWidget {
  public:
    explicit WaterfallBar(QWidget *parent) : QWidget(parent) { setMinimumSize(120, 26); }
    void show(double before, double taken, bool asked, const QColor &hue) {
        m_before = before;
        m_taken = taken;
        m_asked = asked;
        m_hue = hue;
        update();
    }

  protected:
    void paintEvent(QPaintEvent *) override {
        QPainter p(this);
        const double w = width() - 1;
        const QRectF kept(0, 3, w * (m_before - m_taken), height() - 6);
        const QRectF gone(kept.right(), 3, w * m_taken, height() - 6);
        p.fillRect(kept, m_asked ? QBrush(m_hue) : QBrush(m_hue, Qt::Dense6Pattern));
        p.fillRect(gone, QBrush(theme().quiet, Qt::BDiagPattern));
        p.setPen(theme().line);
        p.drawLine(QPointF(0, height() - 1), QPointF(w, height() - 1));
    }

  private:
    double m_before = 0, m_taken = 0; ///< shares of all samples
    bool m_asked = true;
    QColor m_hue;
};

CleaningPage::CleaningPage(Session &session, QWidget *parent)
    : QWidget(parent), m_session(session), m_left(nullptr) {
    setObjectName(QStringLiteral("cleaning"));
    setFocusPolicy(Qt::ClickFocus);
    auto *page = makeCard(this);
    auto *grid = new QGridLayout(page);
    grid->setVerticalSpacing(2);
    grid->addWidget(
        makeQuiet(tr("What is left of a log before it says anything of a table. Each filter sees what "
                     "those above it have left; hatched: taken; pale: not asked, since the log has not got "
                     "what it needs. Thresholds belong to the job and can be undone."),
                  page),
        0, 0, 1, 4);
    int row = 1;
    for (const CleaningFilter &f : allCleaningFilters()) {
        auto *title = new QLabel(text(f.title), page);
        title->setToolTip(text(f.help));
        auto *bar = new WaterfallBar(page);
        bar->setToolTip(text(f.help));
        auto *taken = new QLabel(page);
        taken->setMinimumWidth(150);
        grid->addWidget(title, row, 0);
        grid->addWidget(bar, row, 1);
        grid->addWidget(taken, row, 2);
        auto *limits = new QHBoxLayout;
        for (const std::string_view id : {f.limit, f.second})
            if (!id.empty()) {
                auto *edit = new LimitEdit(session, id, page);
                edit->setObjectName(text(id));
                edit->setMaximumWidth(96);
                limits->addWidget(edit);
            }
        limits->addStretch(1);
        grid->addLayout(limits, row, 3);
        grid->setRowMinimumHeight(row, 34);
        m_rows.push_back({bar, taken});
        ++row;
    }
    auto *delay = new QLabel(tr("Delay of λ, its lag"), page);
    delay->setToolTip(
        tr("How late λ comes: so much at any flow, and so much more at 1 g/s of air, less as the flow "
           "grows; then the lag of the sensor. Zeroes: not taken out when logs are counted. 'λ in its "
           "place' on the strip finds it."));
    grid->addWidget(delay, row, 0);
    auto *typed = new QHBoxLayout;
    for (const char *id : {"evidence.delay.at_once", "evidence.delay.by_flow", "evidence.delay.lag"}) {
        auto *edit = new LimitEdit(session, id, page);
        edit->setObjectName(QLatin1String(id));
        edit->setMaximumWidth(96);
        typed->addWidget(edit);
    }
    typed->addStretch(1);
    grid->addLayout(typed, row++, 1, 1, 3);
    m_left = makeHead({}, page);
    grid->addWidget(m_left, row, 0, 1, 4);
    grid->setRowStretch(row + 1, 1);
    grid->setColumnStretch(1, 1);
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 6, 0, 0);
    auto *scroll = new QScrollArea(this);
    scroll->setFocusPolicy(Qt::NoFocus); // what is in it takes the keys, and is scrolled to
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setWidget(page);
    layout->addWidget(scroll);
    for (auto signal : {&Evidence::logsChanged, &Evidence::reviewsChanged})
        connect(&session.evidence(), signal, this, &CleaningPage::refresh);
    refresh();
}

void CleaningPage::refresh() {
    const auto review = m_session.evidence().review(m_session.evidence().log());
    const LogInfo *info = logById(m_session.job(), m_session.evidence().log());
    const QColor hue =
        info && info->contentBasis != ContentBasis::none ? theme().content(info->content) : theme().ink;
    if (!review) {
        for (const Row &r : m_rows) {
            r.bar->show(0, 0, true, hue);
            r.taken->setText({});
        }
        const QString trouble = m_session.evidence().trouble(m_session.evidence().log());
        m_left->setText(!info ? tr("No log") : trouble.isEmpty() ? tr("Reading through the log …") : trouble);
        return;
    }
    const CleanLog &clean = review->cleaned();
    const auto all = static_cast<double>(std::max<std::size_t>(1, review->trace().size()));
    for (std::size_t i = 0; i < m_rows.size(); ++i) {
        const CleanLog::Step &s = clean.steps[i];
        m_rows[i].bar->show(static_cast<double>(s.before) / all, static_cast<double>(s.taken) / all, s.asked,
                            hue);
        m_rows[i].taken->setText(s.asked ? tr("takes %L1 of %L2").arg(s.taken).arg(s.before)
                                         : tr("not asked"));
        m_rows[i].bar->setAccessibleName(text(s.filter->title) + QStringLiteral(": ") +
                                         m_rows[i].taken->text());
    }
    m_left->setText(tr("Left: %L1 of %L2 samples, %3 %")
                        .arg(clean.left)
                        .arg(review->trace().size())
                        .arg(static_cast<double>(clean.left) / all * 100, 0, 'f', 0));
}

QStringList CleaningPage::words() const {
    QStringList out;
    for (std::size_t i = 0; i < m_rows.size(); ++i)
        out << text(allCleaningFilters()[i].title) + QLatin1Char('\t') + m_rows[i].taken->text();
    out << m_left->text();
    return out;
}

void CleaningPage::copy() const {
    QApplication::clipboard()->setText(words().join(QLatin1Char('\n')) + QLatin1Char('\n'));
}

} // namespace wheelwright
