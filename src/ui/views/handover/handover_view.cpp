// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/handover/handover_view.h"

#include "core/base/error.h"
#include "core/job/job_photos.h"
#include "core/job/revision.h"
#include "core/report/handover_reports.h"
#include "core/report/pour_tables.h"
#include "pages/photos.h"
#include "pages/seal.h"
#include "session/evidence.h"
#include "session/export_file.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/views/handover/page_sheet.h"
#include "ui/widgets/card.h"
#include "ui/widgets/field_form.h"
#include "ui/widgets/photo_strip.h"
#include "ui/widgets/refresh.h"
#include "ui/widgets/work_bar.h"

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
#include <QTimerEvent>
#include <QVBoxLayout>

#include <algorithm>

namespace wheelwright {
namespace {

constexpr int narrowestPage = 596; // beside the working panel in a window of 1280
constexpr int widestPage = 900;    // wider, and a whole page is higher than most windows
constexpr int widestSide = 360;

const Report &nothing() {
    static const Report none;
    return none;
}

} // namespace

HandoverView::HandoverView(Session &session, QWidget *parent)
    : View(parent), m_session(session), m_paper(new QComboBox(this)), m_words(makeQuiet({}, this)),
      m_scroll(new QScrollArea(this)), m_read(std::make_shared<PhotoReader>()),
      m_work(WorkSignals::Length::lengthy), m_saving(WorkSignals::Length::lengthy) {
    setProperty("helpPage", "handover");
    auto *sheets = new QWidget(m_scroll);
    m_column = new QVBoxLayout(sheets);
    m_column->setSpacing(14);
    m_column->addStretch(1);
    m_scroll->setWidget(sheets);
    m_scroll->setWidgetResizable(true);
    m_scroll->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOn); // pages are drawn as wide as it leaves
    m_scroll->setAccessibleName(tr("Pages as they are printed"));
    auto *layout = new QHBoxLayout(this);
    layout->setContentsMargins(8, 8, 8, 6);
    layout->addWidget(makeSide(), 2);
    layout->addWidget(m_scroll, 5);
    connect(&m_work, &WorkSignals::finished, this, &HandoverView::show);
    connect(&m_saving, &WorkSignals::finished, this, &HandoverView::keepWritten);
    connect(m_paper, &QComboBox::activated, this, &HandoverView::refresh);
    connect(&session.evidence(), &Evidence::coverageChanged, this, &HandoverView::refresh);
    // Where no log can be read nothing is ever counted.
    connect(&session.evidence(), &Evidence::reviewsChanged, this, [this] {
        if (!m_work.result() || m_work.version() != m_session.jobVersion()) refresh();
    });
    (new Refresh(session, this))->on(Refresh::job | Refresh::verdict | Refresh::units, [this] { refresh(); });
}

QWidget *HandoverView::makeSide() {
    auto *side = new QWidget(this);
    side->setMaximumWidth(widestSide);
    m_form =
        new FieldForm(m_session, tr("On the owner's page"), {"handover.call", "handover.note"}, {}, side);
    m_photos = new PhotoStrip(side);
    m_photos->setAccessibleName(tr("Photos that go along"));
    m_noPhotos = makeQuiet(tr("This job has no photos: runs and tubes may have some."), side);
    connect(m_photos, &PhotoStrip::ticked, this, [this](const QString &path, bool on) {
        m_session.perform(tr("Choose a photo"), [&](Job &job) { choosePhoto(job, path.toStdString(), on); });
    });
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
    rows->addWidget(makeHead(tr("Photos that go along"), side));
    rows->addWidget(m_noPhotos);
    rows->addWidget(m_photos);
    rows->addWidget(m_words);
    rows->addWidget(new WorkBar(
        m_saving, [this] { stopSaving(); }, side));
    rows->addStretch(1);
    return side;
}

bool HandoverView::showInput(const QString &link) {
    if (link != QLatin1String("handover.photos")) return m_form->showInput(link);
    m_photos->setFocus();
    return true;
}

Paper HandoverView::paper() const {
    return static_cast<Paper>(m_paper->currentData().toInt());
}

const Report &HandoverView::report() const {
    return m_work.result() ? m_work.result()->report.report : nothing();
}

void HandoverView::showEvent(QShowEvent *event) {
    View::showEvent(event);
    refresh();
}

// Pages are drawn as wide as there is room: anew when somebody has stopped making the window another size.
void HandoverView::resizeEvent(QResizeEvent *event) {
    View::resizeEvent(event);
    constexpr int pause = 250; // ms
    m_settled.start(pause, this);
}

void HandoverView::timerEvent(QTimerEvent *event) {
    if (event->timerId() != m_settled.timerId()) return View::timerEvent(event);
    m_settled.stop();
    if (pageWidth() != m_drawnWidth) refresh();
}

int HandoverView::pageWidth() const {
    constexpr int ofWholeDots = 2; // a page is drawn in whole dots, and never less than was asked
    const int beside = m_column->contentsMargins().left() + m_column->contentsMargins().right() + ofWholeDots;
    return std::clamp(m_scroll->viewport()->width() - beside, narrowestPage, widestPage);
}

// Beside the window's thread: the document has twenty pages, and every edit changes it.
void HandoverView::refresh() {
    if (!isVisible() || !m_session.hasJob()) return;
    showPhotos();
    const auto verdict = m_session.verdict();
    if (!m_session.verdictSettled()) return show(); // what logs have proven belongs on its first page
    FlowLook look{m_session.sharedStudy(), verdict, m_session.content()};
    m_drawnWidth = pageWidth();
    m_work.start(
        m_session.jobVersion(),
        [look, coverage = m_session.evidence().coverage(), on = m_session.now().left(10).toStdString(),
         wording = wordingOf(m_session.units()), paper = paper(), folder = m_session.path().parent_path(),
         photos = m_read, width = qRound(pageWidth() * devicePixelRatioF())](const WorkControl &control) {
            Made made;
            const auto stopped = [&control] { return control.stopped(); };
            const Job &job = look.study->job();
            made.report = handover(
                look, {coverage.get(), firstGain(job), chosenPhotos(job, folder, *photos, stopped)}, on);
            made.card = pocketCard(*look.verdict, on).report;
            made.calibration = calibrationPrint(stateOf(look.study->job()));
            made.pages = reportPictures(made.report.report, wording, paper, width, stopped);
            return made;
        });
    show();
}

void HandoverView::show() {
    const auto made = m_work.result();
    const bool ready =
        made && !m_work.running() && m_work.version() == m_session.jobVersion() && m_session.verdictSettled();
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
        auto *page = new PageSheet(m_scroll->widget());
        connect(page, &PageSheet::followed, this, &HandoverView::follow);
        m_column->insertWidget(static_cast<int>(m_pages.size()), page, 0, Qt::AlignHCenter);
        m_pages.push_back(page);
    }
    for (std::size_t i = m_pages.size(); i-- > made->pages.size();) {
        delete m_pages.back();
        m_pages.pop_back();
    }
    for (std::size_t i = 0; i < m_pages.size(); ++i)
        m_pages[i]->show(made->pages[i], static_cast<int>(i) + 1);
}

void HandoverView::showPhotos() {
    std::vector<PhotoStrip::Choice> choices;
    for (const JobPhoto &p : photosOf(m_session.job()))
        choices.push_back({text(p.path), text(p.of, m_session.units()), p.chosen});
    m_photos->offer(choices, m_session.path().parent_path());
    m_photos->setEnabled(!m_session.readOnly());
    m_photos->setVisible(!choices.empty());
    m_noPhotos->setVisible(choices.empty());
}

void HandoverView::follow(const QString &link) {
    constexpr QLatin1String working("working:");
    if (!link.startsWith(working)) return emit placeWanted(link);
    const auto made = m_work.result();
    const auto at = static_cast<std::size_t>(link.mid(working.size()).toUInt());
    if (made && at < made->report.workings.size()) m_session.explain(made->report.workings[at]());
}

void HandoverView::saveTo(const QString &path) {
    const auto made = m_work.result();
    if (!made) return;
    m_saving.start(0, [path, report = made->report.report, mark = unsealedMark(made->calibration),
                       wording = wordingOf(m_session.units()), paper = paper()](const WorkControl &) {
        const bool html = path.endsWith(QLatin1String(".html"), Qt::CaseInsensitive);
        return Written{
            path, sealed(html ? htmlPage(report, wording, mark) : reportPdf(report, wording, paper, mark))};
    });
}

// In the window's thread, so that a cancelled one has written nothing.
void HandoverView::keepWritten() {
    const auto written = m_saving.result();
    if (!written || written->path.isEmpty()) return;
    try {
        exportFile(written->path.toStdString(), written->bytes);
    } catch (const InputError &e) {
        m_session.report(text(e.words()));
    }
}

void HandoverView::save() {
    const QString path = QFileDialog::getSaveFileName(this, tr("Save the hand-over"),
                                                      text(m_session.job().name) + tr(" hand-over.pdf"),
                                                      tr("PDF (*.pdf);;HTML page (*.html)"));
    if (!path.isEmpty()) saveTo(path);
}

void HandoverView::print() {
    const auto printer = std::make_shared<QPrinter>();
    QPrintDialog dialog(printer.get(), this);
    dialog.setWindowTitle(tr("Print the hand-over"));
    if (dialog.exec() != QDialog::Accepted) return;
    m_saving.start(0,
                   [printer, report = report(), wording = wordingOf(m_session.units())](const WorkControl &) {
                       paintReport(*printer, report, wording);
                       return Written{};
                   });
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
