// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/handover/handover_view.h"

#include "core/base/error.h"
#include "core/job/revision.h"
#include "core/report/handover_reports.h"
#include "pages/seal.h"
#include "session/evidence.h"
#include "session/export_file.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/widgets/card.h"
#include "ui/widgets/field_form.h"
#include "ui/widgets/refresh.h"
#include "ui/widgets/report_text.h"

#include <QApplication>
#include <QClipboard>
#include <QComboBox>
#include <QFileDialog>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QPrintDialog>
#include <QPrinter>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

namespace wheelwright {
namespace {

constexpr int pageWidth = 596; // beside the working panel in a window of 1280

const Report &nothing() {
    static const Report none;
    return none;
}

} // namespace

HandoverView::HandoverView(Session &session, QWidget *parent)
    : View(parent), m_session(session), m_paper(new QComboBox(this)), m_words(makeQuiet({}, this)),
      m_scroll(new QScrollArea(this)), m_work(WorkSignals::Length::lengthy) {
    setProperty("helpPage", "handover");
    auto *sheets = new QWidget(m_scroll);
    m_column = new QVBoxLayout(sheets);
    m_column->setSpacing(14);
    m_column->addStretch(1);
    m_scroll->setWidget(sheets);
    m_scroll->setWidgetResizable(true);
    m_scroll->setAccessibleName(tr("Pages as they are printed"));
    auto *layout = new QHBoxLayout(this);
    layout->setContentsMargins(8, 8, 8, 6);
    layout->addWidget(makeSide(), 2);
    layout->addWidget(m_scroll, 5);
    connect(&m_work, &WorkSignals::finished, this, &HandoverView::show);
    connect(m_paper, &QComboBox::activated, this, &HandoverView::refresh);
    connect(&session.evidence(), &Evidence::coverageChanged, this, &HandoverView::refresh);
    (new Refresh(session, this))->on(Refresh::job | Refresh::verdict | Refresh::units, [this] { refresh(); });
}

QWidget *HandoverView::makeSide() {
    auto *side = new QWidget(this);
    m_form = new FieldForm(m_session, tr("On the owner's page"), {"handover."}, {}, side);
    m_paper->addItem(tr("A4"), static_cast<int>(Paper::a4));
    m_paper->addItem(tr("Letter"), static_cast<int>(Paper::letter));
    m_paper->setAccessibleName(tr("Paper"));
    const auto button = [side](const QString &title, const char *name, const QString &hint) {
        auto *made = new QPushButton(title, side);
        made->setObjectName(QLatin1String(name));
        made->setToolTip(hint);
        return made;
    };
    m_save = button(tr("Save…"), "saveHandover", tr("As PDF or HTML page, sealed: it can be checked later"));
    m_save->setProperty("main", true);
    m_print = button(tr("Print…"), "printHandover", {});
    m_card = button(tr("Copy the card"), "copyCard", tr("The pour tables as plain text, for a phone"));
    connect(m_save, &QPushButton::clicked, this, &HandoverView::save);
    connect(m_print, &QPushButton::clicked, this, &HandoverView::print);
    connect(m_card, &QPushButton::clicked, this, &HandoverView::copyCard);
    auto *paper = new QFormLayout;
    paper->addRow(tr("Paper"), m_paper);
    m_words->setWordWrap(true);
    auto *rows = new QVBoxLayout(side);
    rows->setContentsMargins(0, 0, 0, 0);
    rows->addWidget(m_save);
    rows->addWidget(m_print);
    rows->addWidget(m_card);
    rows->addLayout(paper);
    rows->addWidget(m_form);
    rows->addWidget(m_words);
    rows->addStretch(1);
    return side;
}

bool HandoverView::showInput(const QString &link) {
    return m_form->showInput(link);
}

Paper HandoverView::paper() const {
    return static_cast<Paper>(m_paper->currentData().toInt());
}

const Report &HandoverView::report() const {
    return m_work.result() ? m_work.result()->report : nothing();
}

void HandoverView::showEvent(QShowEvent *event) {
    View::showEvent(event);
    refresh();
}

// Beside the window's thread: the document has twenty pages, and every edit changes it.
void HandoverView::refresh() {
    if (!isVisible() || !m_session.hasJob()) return;
    const auto verdict = m_session.verdict();
    if (!verdict) return show();
    FlowLook look{m_session.sharedStudy(), verdict, m_session.content()};
    m_work.start(
        m_session.jobVersion(),
        [look, coverage = m_session.evidence().coverage(), on = m_session.now().left(10).toStdString(),
         wording = wordingOf(m_session.units()), paper = paper(),
         width = qRound(pageWidth * devicePixelRatioF())](const WorkControl &control) {
            Made made;
            made.report = handover(look, {coverage.get(), firstGain(look.study->job())}, on).report;
            made.card = pocketCard(*look.verdict, on);
            made.calibration = calibrationPrint(stateOf(look.study->job()));
            made.pages =
                reportPictures(made.report, wording, paper, width, [&control] { return control.stopped(); });
            return made;
        });
    show();
}

void HandoverView::show() {
    const auto made = m_work.result();
    const bool ready = made && !m_work.running();
    for (QPushButton *b : {m_save, m_print, m_card})
        b->setEnabled(ready);
    m_words->setText(
        !m_work.error().isEmpty() ? m_work.error()
        : !ready
            ? tr("Working it out …")
            : tr("%1 pages of calibration %2. A file that is saved carries its mark: 'handover check' on the "
                 "command line tells whether file and job are still as they were.")
                  .arg(made->pages.size())
                  .arg(text(made->calibration)));
    if (!ready) return;
    while (m_pages.size() < made->pages.size()) {
        auto *page = new QLabel(m_scroll->widget());
        page->setProperty("card", true);
        page->setAccessibleName(tr("Page %1").arg(m_pages.size() + 1));
        m_column->insertWidget(static_cast<int>(m_pages.size()), page, 0, Qt::AlignHCenter);
        m_pages.push_back(page);
    }
    for (std::size_t i = m_pages.size(); i-- > made->pages.size();) {
        delete m_pages.back();
        m_pages.pop_back();
    }
    for (std::size_t i = 0; i < m_pages.size(); ++i) {
        QPixmap sharp = QPixmap::fromImage(made->pages[i]); // as many pixels as the screen has
        sharp.setDevicePixelRatio(devicePixelRatioF());
        m_pages[i]->setPixmap(sharp);
    }
}

void HandoverView::saveTo(const QString &path) const {
    const auto made = m_work.result();
    if (!made) return;
    const std::string mark = unsealedMark(made->calibration);
    const Wording wording = wordingOf(m_session.units());
    const bool html = path.endsWith(QLatin1String(".html"), Qt::CaseInsensitive);
    exportFile(path.toStdString(), sealed(html ? htmlPage(made->report, wording, mark)
                                               : reportPdf(made->report, wording, paper(), mark)));
}

void HandoverView::save() {
    const QString path = QFileDialog::getSaveFileName(this, tr("Save the hand-over"),
                                                      text(m_session.job().name) + tr(" hand-over.pdf"),
                                                      tr("PDF (*.pdf);;HTML page (*.html)"));
    if (path.isEmpty()) return;
    try {
        saveTo(path);
    } catch (const InputError &e) {
        m_session.report(text(e.words()));
    }
}

void HandoverView::print() {
    QPrinter printer;
    QPrintDialog dialog(&printer, this);
    dialog.setWindowTitle(tr("Print the hand-over"));
    if (dialog.exec() == QDialog::Accepted) printReport(printer, report(), m_session.units());
}

void HandoverView::copyCard() const {
    if (m_work.result())
        QApplication::clipboard()->setText(
            text(plainText(m_work.result()->card, wordingOf(m_session.units()))));
}

const ViewDefinition &handoverView() {
    static const ViewDefinition definition{
        "handover", QT_TRANSLATE_NOOP("view", "Handover"), ":/icons/handover.svg", 10,
        [](Session &s, QWidget *parent) -> View * { return new HandoverView(s, parent); }};
    return definition;
}

} // namespace wheelwright
