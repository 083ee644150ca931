// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/runs/run_details_page.h"

#include "core/job/job_photos.h"
#include "core/report/run_reports.h"
#include "session/run_book.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/widgets/card.h"
#include "ui/widgets/photo_strip.h"
#include "ui/widgets/record_form.h"
#include "ui/widgets/record_table.h"
#include "ui/widgets/refresh.h"
#include "ui/widgets/report_view.h"

#include <QFileDialog>
#include <QGridLayout>
#include <QPushButton>

#include <algorithm>

namespace wheelwright {

RunDetailsPage::RunDetailsPage(Session &session, QWidget *parent)
    : QScrollArea(parent), m_session(session), m_head(makeHead({}, this)),
      m_corrections(new ReportView(tr("What standards make of it"), ReportView::Fit::steady, this, 10)),
      m_photos(new PhotoStrip(this)), m_add(new QPushButton(tr("Add photos…"), this)) {
    setObjectName(QStringLiteral("runDetails"));
    setWidgetResizable(true);
    setFrameShape(QFrame::NoFrame);
    setFocusPolicy(Qt::NoFocus); // what is in it takes the keys
    auto *page = new QWidget(this);
    auto *grid = new QGridLayout(page);
    grid->setContentsMargins(0, 4, 0, 0);
    const auto form = [&](const QString &title, const std::vector<std::string> &keys) {
        m_forms.push_back(new RecordForm(session, "runs.runs", title, keys, {"note", "photos"}, page));
        return m_forms.back();
    };
    RecordForm *engine = form(tr("Fuel and engine"), {"name", "fuel", "content", "content_basis", "revision",
                                                      "hardware", "cam", "change", "verdict", "next"});
    RecordForm *made = form(tr("How it was made"),
                            {"day", "order", "dyno", "mode", "load_share", "gear", "standard", "smoothed_rpm",
                             "known_within", "start_intake_c", "start_coolant_c", "start_oil_c"});
    RecordForm *air = form(tr("Air"), {"ambient", "ambient_kpa", "ambient_c", "humidity"});
    RecordForm *seen = form(tr("What was seen"), {"plugs", "oil", "note", "photos"});
    // Who types a number says it.
    engine->alsoSets("content", "content_basis", std::string("stated"));
    for (const char *key : {"ambient_kpa", "ambient_c", "humidity"})
        air->alsoSets(key, "ambient", std::string("stated"));
    auto *standards = makeCard(page);
    auto *inStandards = new QVBoxLayout(standards);
    inStandards->addWidget(makeHead(tr("What standards make of it"), standards));
    inStandards->addWidget(m_corrections);
    auto *pictures = makeCard(page);
    auto *inPictures = new QVBoxLayout(pictures);
    m_add->setObjectName(QStringLiteral("addPhotos"));
    m_add->setToolTip(tr("Their paths are kept, not the pictures: they stay where they lie"));
    connect(m_add, &QPushButton::clicked, this, [this] {
        addPhotos(QFileDialog::getOpenFileNames(this, tr("Add photos"), {},
                                                tr("Pictures (*.jpg *.jpeg *.png *.webp);;All files (*)")));
    });
    inPictures->addWidget(makeHead(tr("Photos"), pictures));
    inPictures->addWidget(m_photos);
    inPictures->addWidget(m_add, 0, Qt::AlignLeft);
    auto *list = new RecordTable(session, tr("Dynos"), tr("Numbers of two dynos are never mixed in silence."),
                                 "runs.dynos", page);
    constexpr int tableHeight = 150;
    list->setMinimumHeight(tableHeight);
    grid->addWidget(m_head, 0, 0, 1, 3);
    grid->addWidget(engine, 1, 0, 2, 1);
    grid->addWidget(made, 1, 1, 2, 1);
    grid->addWidget(air, 1, 2);
    grid->addWidget(standards, 2, 2);
    grid->addWidget(seen, 3, 0);
    grid->addWidget(pictures, 3, 1);
    grid->addWidget(list, 3, 2);
    for (int column = 0; column < 3; ++column)
        grid->setColumnStretch(column, 1);
    grid->setRowStretch(4, 1);
    setWidget(page);
    connect(m_corrections, &ReportView::explained, this,
            [this](const Explanation &x) { m_session.explain(x); });
    connect(&session.runBook(), &RunBook::runsChanged, this, &RunDetailsPage::refresh);
    (new Refresh(session, this))->on(Refresh::units | Refresh::state, [this] { refresh(); });
    refresh();
}

void RunDetailsPage::show(std::vector<std::string> ids) {
    if (ids == m_ids) return;
    m_ids = std::move(ids);
    refresh();
}

QWidget *RunDetailsPage::editor(const std::string &key) const {
    for (const RecordForm *f : m_forms)
        if (QWidget *found = f->editor(key)) return found;
    return nullptr;
}

QString RunDetailsPage::words() const {
    return m_corrections->words();
}

QString RunDetailsPage::heading() const {
    return m_head->text();
}

void RunDetailsPage::refresh() {
    const std::vector<Run> &runs = m_session.job().runs.values();
    std::vector<std::size_t> places;
    for (std::size_t i = 0; i < runs.size(); ++i)
        if (std::ranges::find(m_ids, runs[i].id) != m_ids.end()) places.push_back(i);
    for (RecordForm *f : m_forms)
        f->show(places);
    m_add->setEnabled(!m_session.readOnly() && !places.empty());
    if (places.empty()) {
        m_head->setText(tr("Select a run in the table above, or several to put the same right in all"));
        m_corrections->show(Report{}, m_session.units());
        m_photos->show({});
        return;
    }
    const Run &first = runs[places.front()];
    m_head->setText(places.size() > 1 ? tr("%n runs: what is typed goes into all of them", nullptr,
                                           static_cast<int>(places.size()))
                                      : text(runOrigin(first), m_session.units()));
    const auto measured = m_session.runBook().run(first.id);
    m_corrections->show(measured ? correctionsReport(*measured) : WorkedReport(), m_session.units());
    QStringList photos;
    for (const std::size_t i : places)
        for (const std::string &path : photoPaths(runs[i].photos))
            if (!photos.contains(text(path))) photos << text(path);
    m_photos->show(photos, m_session.path().parent_path());
}

void RunDetailsPage::addPhotos(const QStringList &paths) {
    if (paths.isEmpty() || m_ids.empty()) return;
    std::vector<std::string> more;
    more.reserve(static_cast<std::size_t>(paths.size()));
    for (const QString &path : paths)
        more.push_back(path.toStdString());
    m_session.perform(tr("Add photos"), [&](Job &job) {
        for (std::size_t i = 0; i < job.runs.values().size(); ++i) {
            if (std::ranges::find(m_ids, job.runs.values()[i].id) == m_ids.end()) continue;
            job.runs[i].photos = withPhotos(job.runs.values()[i].photos, more);
        }
    });
}

} // namespace wheelwright
