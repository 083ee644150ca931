// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/ladder/ladder_page.h"

#include "core/report/forecast_reports.h"
#include "core/report/ladder_reports.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/views/ladder/gate_list.h"
#include "ui/views/ladder/ladder_drawing.h"
#include "ui/views/ladder/preflight_list.h"
#include "ui/widgets/card.h"
#include "ui/widgets/refresh.h"
#include "ui/widgets/report_view.h"
#include "ui/widgets/work_bar.h"
#include "ui/widgets/wrap_row.h"

#include <QHBoxLayout>
#include <QInputDialog>
#include <QPushButton>
#include <QScrollArea>
#include <QStackedWidget>
#include <QTimer>
#include <QVBoxLayout>

#include <algorithm>

namespace wheelwright {
namespace {

QPushButton *button(const QString &title, const QString &hint, QWidget *parent) {
    auto *b = new QPushButton(title, parent);
    b->setToolTip(hint);
    return b;
}

} // namespace

LadderPage::LadderPage(Session &session, QWidget *parent)
    : QWidget(parent), m_session(session), m_book(session), m_drawing(new LadderDrawing(session)) {
    auto *scroll = m_scroll = new QScrollArea(this);
    scroll->setFocusPolicy(Qt::NoFocus); // what is in it takes the keys, and is scrolled to
    scroll->setWidget(m_drawing);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto *left = makeCard(this);
    auto *rows = new QVBoxLayout(left);
    rows->setContentsMargins(4, 4, 4, 4);
    rows->addWidget(scroll, 1);
    rows->addWidget(new WorkBar(
        m_book.work(), [this] { m_book.cancel(); }, left));
    auto *layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(left, 7);
    layout->addWidget(makeRight(), 5);
    connect(m_drawing, &LadderDrawing::chosenChanged, this, &LadderPage::refresh);
    connect(m_gates, &GateList::chosenChanged, this, &LadderPage::refreshGate);
    connect(&m_book, &LadderBook::changed, this, &LadderPage::refresh);
    connect(m_preflight, &PreflightList::looked, this,
            [this](const QString &item) { m_book.look("preflight", item.toStdString(), {}); });
    (new Refresh(session, this))
        ->on(Refresh::job | Refresh::units, [this] { refresh(); }, {"ladder."})
        .on(Refresh::units, [this] { refresh(); });
}

QWidget *LadderPage::makeRight() {
    auto *right = new QWidget(this);
    constexpr int least = 300;
    right->setMinimumWidth(least);
    auto *rung = makeCard(right);
    constexpr int rungLines = 6, lightLines = 1, gateLines = 4;
    m_rung = new ReportView(tr("Rung"), ReportView::Fit::steady, rung, rungLines);
    connect(m_rung, &ReportView::explained, this, [this](const Explanation &x) { m_session.explain(x); });
    m_boost = button(tr("Set boost and cut"),
                     tr("Boost target and overboost cut of the job become those of this rung"), rung);
    m_pass = button(tr("Pass"), tr("By what the gates say (Ctrl+Return)"), rung);
    m_pass->setProperty("main", true);
    m_pass->setShortcut(QKeySequence(Qt::CTRL | Qt::Key_Return));
    m_hand = button(tr("Pass by hand…"), tr("With a reason, which is kept"), rung);
    auto *buttons = new WrapRow;
    for (QPushButton *b : {m_boost, m_hand, m_pass})
        buttons->addWidget(b);
    buttons->setAlignment(m_hand, Qt::AlignRight);
    auto *words = new QVBoxLayout(rung);
    words->addWidget(m_rung);
    words->addLayout(buttons);

    auto *judged = makeCard(right);
    m_light = new ReportView(tr("What the gates say together"), ReportView::Fit::steady, judged, lightLines);
    m_gates = new GateList(m_session, judged);
    m_gate = new ReportView(tr("Gate"), ReportView::Fit::steady, judged, gateLines);
    m_do = button(tr("Do it"), tr("What the gate asks for, as one step"), judged);
    m_show = button(tr("Show the log"), tr("Opens the log that it went by"), judged);
    auto *gateButtons = new QHBoxLayout;
    gateButtons->addStretch(1);
    gateButtons->addWidget(m_show);
    gateButtons->addWidget(m_do);
    auto *gates = new QWidget(judged);
    auto *gateRows = new QVBoxLayout(gates);
    gateRows->setContentsMargins(0, 0, 0, 0);
    gateRows->addWidget(m_gates, 1);
    gateRows->addWidget(m_gate);
    gateRows->addLayout(gateButtons);
    m_preflight = new PreflightList(m_session, judged);
    m_below = new QStackedWidget(judged);
    m_below->addWidget(gates);
    m_below->addWidget(m_preflight);
    auto *judgedRows = new QVBoxLayout(judged);
    judgedRows->addWidget(m_light);
    judgedRows->addWidget(m_below, 1);

    auto *layout = new QVBoxLayout(right);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(rung);
    layout->addWidget(judged, 1);
    layout->addWidget(makeQuiet(
        tr("Lean mixture, knock and overboost destroy engines and can hurt people: a dyno or a closed "
           "course, in steps, with cuts set."),
        right));
    connect(m_pass, &QPushButton::clicked, this, &LadderPage::pass);
    connect(m_hand, &QPushButton::clicked, this, &LadderPage::passByHand);
    connect(m_boost, &QPushButton::clicked, this, [this] {
        if (const Rung *r = chosen()) m_book.setBoost(r->id);
    });
    connect(m_do, &QPushButton::clicked, this, &LadderPage::doIt);
    connect(m_show, &QPushButton::clicked, this, &LadderPage::showLog);
    return right;
}

const Rung *LadderPage::chosen() const {
    return m_book.shown() ? m_book.shown()->ladder.byId(m_drawing->chosen()) : nullptr;
}

const RungStatus *LadderPage::status() const {
    if (!m_book.shown()) return nullptr;
    const auto at = m_book.shown()->status.find(m_drawing->chosen());
    return at == m_book.shown()->status.end() ? nullptr : &at->second;
}

QString LadderPage::words() const {
    return m_rung->words() + QLatin1Char('\n') + m_light->words() + QLatin1Char('\n') + m_gate->words();
}

// What is next may stand at the lower end of a ladder that is higher than the window.
void LadderPage::showChosen() {
    const std::vector<Rung> &rungs = m_book.shown()->ladder.rungs;
    const auto at = std::ranges::find(rungs, m_drawing->chosen(), &Rung::id);
    if (at == rungs.end()) return;
    const QRect row = m_drawing->rectOf(static_cast<std::size_t>(at - rungs.begin()));
    m_scroll->ensureVisible(0, row.center().y(), 0, row.height() / 2 + 30);
}

void LadderPage::refresh() {
    const UnitChoice &units = m_session.units();
    if (!m_session.hasJob() || (!m_book.shown() && m_book.trouble().isEmpty())) {
        m_drawing->setLadder({});
        m_rung->say(m_session.hasJob() ? MARKED("ladder.working", "Working it out…")
                                       : MARKED("ladder.no_job", "Open a job to see the way up."),
                    units);
    } else if (!m_book.shown()) {
        m_drawing->setLadder({});
        m_rung->say(Sentence{Phrase{MARKED("ladder.trouble", "{a}"), {}, {m_book.trouble().toStdString()}},
                             Tone::trouble},
                    units);
    } else {
        m_drawing->setLadder(m_book.shown()->ladder);
        showChosen();
    }
    const Rung *r = chosen();
    const RungStatus *s = status();
    if (r)
        showRung(*r);
    else if (m_book.shown())
        m_rung->say(Sentence{m_book.shown()->ladder.ends, Tone::caution}, units);
    const bool open = r && (r->state == RungState::next || r->state == RungState::later);
    const bool next = r && r->state == RungState::next && m_book.current();
    m_boost->setEnabled(open && (r->boostKpa || r->pass) && m_book.current());
    m_boost->setText(m_book.shown() && m_book.shown()->ladder.passes ? tr("Fit this pill")
                                                                     : tr("Set boost and cut"));
    m_pass->setEnabled(next && s && s->passes());
    m_hand->setEnabled(next && s && !s->passes());
    m_gates->setStatus(s);
    if (r && s)
        m_light->show(lightReport(*r, *s, m_book.shown()->laidAside, false), units);
    else if (r)
        m_light->show(passReport(m_session.job(), *r), units);
    else
        m_light->say(Phrase{}, units);
    const bool preflight = r && r->kind == RungKind::preflight && s;
    m_below->setCurrentWidget(preflight ? static_cast<QWidget *>(m_preflight) : m_below->widget(0));
    m_preflight->refresh();
    refreshGate();
}

void LadderPage::showRung(const Rung &rung) {
    WorkedReport words = rungReport(rung);
    const LadderForecast &forecast = m_book.shown()->forecast;
    if (const RungForecast *f = forecast.of(rung.id)) {
        WorkedReport said = rungForecastReport(*f, forecast.rungs);
        words.report.blocks.push_back(Heading{said.report.title, 2});
        words.append(std::move(said));
    }
    m_rung->show(std::move(words), m_session.units());
}

void LadderPage::refreshGate() {
    const GateResult *g = m_gates->chosen();
    if (g)
        m_gate->show(gateReport(*g), m_session.units());
    else
        m_gate->say(Phrase{}, m_session.units());
    const bool now = g && m_book.current();
    m_do->setEnabled(now && (!g->answer.link.empty() || g->answer.remedy == GateRemedy::lookAt));
    m_do->setText(g && g->answer.remedy == GateRemedy::lookAt ? tr("Looked at…") : tr("Do it"));
    m_show->setEnabled(g && std::ranges::any_of(g->answer.used, [](const GateUse &u) {
                           return u.kind == GateUse::Kind::log;
                       }));
}

void LadderPage::pass() {
    if (const Rung *r = chosen()) m_book.pass(r->id);
}

void LadderPage::passByHand() {
    const Rung *r = chosen();
    if (!r) return;
    const std::string id = r->id; // the ladder may be another when the dialog ends
    bool wanted = false;
    const QString reason =
        QInputDialog::getMultiLineText(this, tr("Pass by hand"),
                                       tr("Why is %1 passed although a gate has not? This is kept with it.")
                                           .arg(text(rungName(*r), m_session.units())),
                                       {}, &wanted);
    if (!wanted) return;
    if (reason.trimmed().isEmpty())
        m_session.report(tr("Not passed: a reason is needed."));
    else
        m_book.pass(id, reason);
}

void LadderPage::takeBack() {
    m_book.takeBack();
}

void LadderPage::doIt() {
    const GateResult *g = m_gates->chosen();
    const Rung *r = chosen();
    if (!g || !r) return;
    const std::string id = r->id, gate(g->gate->id);
    if (g->answer.remedy == GateRemedy::set) {
        if (g->answer.link == "boost.cut_kpa")
            m_book.setBoost(id);
        else
            m_book.set(id, GateAnswer(g->answer));
        return;
    }
    bool wanted = false;
    const QString seen = QInputDialog::getText(this, text(g->gate->title), tr("What was seen?"),
                                               QLineEdit::Normal, {}, &wanted);
    if (wanted) m_book.look(id, gate, seen);
}

void LadderPage::showLog() {
    const GateResult *g = m_gates->chosen();
    if (!g) return;
    for (const GateUse &u : g->answer.used)
        if (u.kind == GateUse::Kind::log) {
            emit logWanted(u.id, u.fromS);
            return;
        }
}

void LadderPage::showEvent(QShowEvent *event) {
    QWidget::showEvent(event);
    refresh();
    QTimer::singleShot(0, this, [this] { // once it is laid out
        if (m_book.shown()) showChosen();
    });
}

} // namespace wheelwright
