// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/shell.h"

#include "core/base/error.h"
#include "core/study/cautions.h"
#include "ui/help_window.h"
#include "ui/line/line_panel.h"
#include "ui/new_job_dialog.h"
#include "ui/rail.h"
#include "ui/salvaged_dialog.h"
#include "ui/text.h"
#include "ui/text_size.h"
#include "ui/theme.h"
#include "ui/tour_bar.h"
#include "ui/widgets/caution_bar.h"
#include "ui/widgets/content_ruler.h"
#include "ui/widgets/fit_dialog.h"
#include "ui/widgets/least_size.h"
#include "ui/widgets/notice_bar.h"
#include "ui/widgets/page_switch.h"
#include "ui/widgets/refresh.h"
#include "ui/widgets/work_bar.h"
#include "ui/widgets/working_panel.h"

#include <QApplication>
#include <QCloseEvent>
#include <QDir>
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QMimeData>
#include <QPushButton>
#include <QScreen>
#include <QScrollArea>
#include <QScrollBar>
#include <QSettings>
#include <QStackedWidget>
#include <QStandardPaths>
#include <QStatusBar>
#include <QTemporaryDir>
#include <QVBoxLayout>

#include <algorithm>

namespace wheelwright {
namespace {

constexpr int roomForThePanel = 1180;
constexpr QSize smallest(320, 200);
constexpr QSize enough(1010, 640); // between menu and status bar of 1024 × 700

std::filesystem::path toPath(const QString &s) {
    return s.toStdString();
}

// A file name that is not taken yet: "thistle.wwjob", "thistle 2.wwjob" …
QString freeName(const QString &folder, const QString &stem) {
    for (int i = 1;; ++i) {
        QString name = folder + QLatin1Char('/') + stem + (i > 1 ? QStringLiteral(" %1").arg(i) : QString()) +
                       QStringLiteral(".wwjob");
        if (!QFileInfo::exists(name)) return name;
    }
}

// The logs that come with a demo job, laid out as files. The list says of each what no channel of it does.
class DemoLogs {
  public:
    explicit DemoLogs(const QString &job) {
        QFile list(QStringLiteral(":/demo/logs.tsv"));
        if (!list.open(QIODevice::ReadOnly)) return;
        for (const QString &line : QString::fromUtf8(list.readAll()).split(QLatin1Char('\n'))) {
            const QStringList parts = line.split(QLatin1Char('\t'));
            if (parts.size() < 3 || !parts[0].startsWith(job + QLatin1Char('-'))) continue;
            const QString path = m_folder.filePath(parts[0]);
            if (!QFile::copy(QStringLiteral(":/demo/logs/") + parts[0], path)) continue;
            Session::LogFile file{toPath(path), std::nullopt, parts[2].toStdString()};
            if (!parts[1].isEmpty()) file.content = parts[1].toDouble();
            m_files.push_back(std::move(file));
        }
    }
    const std::vector<Session::LogFile> &files() const { return m_files; }

  private:
    QTemporaryDir m_folder;
    std::vector<Session::LogFile> m_files;
};

/// Runs that come with a demo job: runs.tsv says file, fuel, hardware, change, verdict and next of each.
class DemoRuns {
  public:
    explicit DemoRuns(const QString &job) {
        QFile list(QStringLiteral(":/demo/runs.tsv"));
        if (!list.open(QIODevice::ReadOnly)) return;
        for (const QString &line : QString::fromUtf8(list.readAll()).split(QLatin1Char('\n'))) {
            const QStringList parts = line.split(QLatin1Char('\t'));
            constexpr int columns = 6;
            if (parts.size() < columns || !parts[0].startsWith(job + QLatin1Char('-'))) continue;
            const QString path = m_folder.filePath(parts[0]);
            if (!QFile::copy(QStringLiteral(":/demo/runs/") + parts[0], path)) continue;
            Session::RunsOfFile file;
            file.path = toPath(path);
            file.statement.name =
                QFileInfo(parts[0]).completeBaseName().section(QLatin1Char('-'), 2).toStdString();
            file.statement.fuel = parts[1].toStdString();
            file.statement.hardware = parts[2].toStdString();
            file.statement.change = parts[3].toStdString();
            file.verdict = parts[4].toStdString();
            file.next = parts[5].toStdString();
            file.statement.origin = RunOrigin::practice;
            m_files.push_back(std::move(file));
        }
    }
    const std::vector<Session::RunsOfFile> &files() const { return m_files; }

  private:
    QTemporaryDir m_folder;
    std::vector<Session::RunsOfFile> m_files;
};

} // namespace

Shell::Shell(Session &session, QSettings &settings, QWidget *parent)
    : QMainWindow(parent), m_session(session), m_settings(settings), m_ruler(new ContentRuler(session)),
      m_working(new WorkingPanel(session)), m_stack(new QStackedWidget), m_rail(new Rail(this)),
      m_since(new QPushButton), m_caution(new QPushButton), m_title(new QLabel), m_state(new QLabel),
      m_help(new HelpWindow(this)) {
    setWindowTitle(QStringLiteral("Wheelwright"));
    setAcceptDrops(true);
    resize(QSize(1280, 800).boundedTo(screen()->availableSize()));
    // Smaller than its content the window scrolls, so that it also fits a small screen, or a large scale.
    setMinimumSize(smallest);
    auto *middle = new QHBoxLayout;
    middle->setSpacing(0);
    middle->addWidget(m_rail);
    middle->addWidget(m_stack, 1);
    middle->addWidget(m_working);
    auto *center = new QWidget(this);
    auto *scroll = m_scroll = new QScrollArea(this);
    scroll->setFocusPolicy(Qt::NoFocus); // what is in it takes the keys, and is scrolled to
    scroll->setObjectName(QStringLiteral("content"));
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setWidgetResizable(true);
    m_line = new LinePanel(session, scroll->viewport());
    m_cautions = new CautionBar(settings, m_caution, scroll->viewport());
    m_notice = new NoticeBar(scroll->viewport(), m_rail);
    m_tour = new TourBar(center);
    m_cautions->standOver(m_tour);
    auto *layout = new QVBoxLayout(center);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addWidget(makeHead());
    layout->addWidget(m_ruler);
    layout->addLayout(middle, 1);
    layout->addWidget(m_tour);
    scroll->setWidget(new LeastSize(center, enough));
    setCentralWidget(scroll);
    makeMenus();
    statusBar()->setSizeGripEnabled(false);

    connect(&session, &Session::problem, m_notice, &NoticeBar::say);
    connect(&session, &Session::jobOpened, this, &Shell::remember);
    connect(&session, &Session::salvaged, this, [this](const QStringList &lost) {
        const QString file = QFileInfo(QString::fromStdString(m_session.path().string())).fileName();
        auto *dialog = new SalvagedDialog(lost, file, this);
        dialog->setAttribute(Qt::WA_DeleteOnClose);
        dialog->open();
    });
    auto *opening = new WorkBar(
        session.opening(), [this] { m_session.cancelOpening(); }, this);
    constexpr int asHighAsTheBar = 22;
    opening->setMaximumHeight(asHighAsTheBar);
    opening->setStyleSheet(QStringLiteral("QPushButton { padding: 0 10px; }"));
    statusBar()->addPermanentWidget(opening);
    connect(&session, &Session::done, this, [this](const QString &what) {
        m_notice->hide();
        statusBar()->showMessage(what);
    });
    (new Refresh(session, this))->on(Refresh::job | Refresh::state, [this] { refreshState(); }, {"name"});
    connect(&session, &Session::jobReplaced, this, [this] {
        m_notice->hide();
        refreshState();
        refreshActions();
    });
    connect(&session.undoStack(), &QUndoStack::indexChanged, this, &Shell::refreshActions);
    connect(m_line, &LinePanel::tablesWanted, this, [this] { showStation(QStringLiteral("tables")); });
    connect(m_line, &LinePanel::placeWanted, this, &Shell::goToInput);
    connect(m_line, &LinePanel::sinceChanged, this, [this] {
        constexpr int room = 320; // a long name must not widen the window
        m_since->setText(m_since->fontMetrics().elidedText(m_line->sinceWords(), Qt::ElideMiddle, room));
    });
    connect(m_tour, &TourBar::placeWanted, this, &Shell::showPlace);
    connect(m_help, &HelpWindow::placeWanted, this, [this](const QString &place) {
        showPlace(place);
        activateWindow();
    });
    connect(m_help, &HelpWindow::tourWanted, this, &Shell::startTour);
    connect(m_cautions, &CautionBar::helpWanted, this, [this] { m_help->open(QStringLiteral("safety")); });
    (new Refresh(session, this))
        ->on(Refresh::job, [this] { showCautions(); }, {"fuel.", "tank.", "aux.", "spark."});
    connect(m_rail, &Rail::stationWanted, this, &Shell::showStation);
    connect(m_ruler, &ContentRuler::worstPlaceWanted, this, &Shell::goToWorst);
    connect(m_working, &WorkingPanel::inputWanted, this, &Shell::goToInput);
    qApp->installEventFilter(this);
    restore();
    refreshState();
    refreshActions();
    showStation(QStringLiteral("job"));
}

QWidget *Shell::makeHead() {
    auto *head = new QWidget(this);
    auto *layout = new QHBoxLayout(head);
    layout->setContentsMargins(14, 4, 14, 2);
    m_title->setFont(sansFont(17, true));
    m_title->setStyleSheet(QStringLiteral("font-size: %1px; font-weight: bold;").arg(fontPixels(17)));
    m_state->setProperty("quiet", true);
    layout->addWidget(m_title);
    layout->addSpacing(14);
    layout->addWidget(m_state, 1);
    m_since->setObjectName(QStringLiteral("since"));
    m_since->setProperty("quietly", true);
    m_since->setToolTip(tr("The line of work: every revision from the first to now (Ctrl+R)"));
    connect(m_since, &QPushButton::clicked, this, &Shell::toggleLine);
    layout->addWidget(m_caution);
    layout->addWidget(m_since);
    return head;
}

QAction *Shell::addAction(QMenu *menu, const QString &title, const QKeySequence &keys,
                          const std::function<void()> &run) {
    QAction *action = menu->addAction(title);
    action->setShortcut(keys);
    connect(action, &QAction::triggered, this, run);
    return action;
}

void Shell::showStation(const QString &id) {
    View *wanted = view(id);
    if (!wanted) return;
    if (m_stack->currentWidget() != wanted) m_session.explainNothing(); // its number is no longer seen
    const bool other = m_stack->currentWidget() != wanted;
    m_stack->setCurrentWidget(wanted);
    m_rail->show(id);
    refreshPanel();
    showCautions();
    // What had the keys is gone, and the window has followed them to wherever they went.
    if (other)
        for (QScrollBar *bar : {m_scroll->horizontalScrollBar(), m_scroll->verticalScrollBar()})
            bar->setValue(0);
}

void Shell::showPlace(const QString &place) {
    const auto isPlace = [&](const ViewDefinition *v) { return place == QLatin1String(v->id); };
    const QString page = place.section(QLatin1Char('/'), 1);
    if (std::ranges::any_of(allViews(), isPlace))
        showStation(place);
    else if (!page.isEmpty())
        goTo({place.section(QLatin1Char('/'), 0, 0),
              {{place.section(QLatin1Char('/'), 0, 0), page}},
              {},
              m_panelOnNarrow});
    else
        goToInput(place);
}

Shell::Place Shell::place() const {
    Place place;
    place.station = station();
    for (const auto &[id, view] : m_views)
        if (const auto *pages = view->findChild<PageSwitch *>())
            place.pages[id] = pages->currentPage()->objectName();
    if (m_help->isVisible()) place.help = m_help->page();
    place.panelOnNarrow = m_panelOnNarrow;
    return place;
}

void Shell::goTo(const Place &place) {
    for (const auto &[id, name] : place.pages)
        if (auto *pages = view(id)->findChild<PageSwitch *>())
            for (QWidget *page : pages->pages())
                if (page->objectName() == name) pages->showPage(page);
    m_panelOnNarrow = place.panelOnNarrow;
    showStation(place.station);
    if (!place.help.isEmpty()) m_help->open(place.help);
}

QString Shell::station() const {
    for (const auto &[id, view] : m_views)
        if (view == m_stack->currentWidget()) return id;
    return {};
}

View *Shell::view(const QString &id) {
    if (const auto made = m_views.find(id); made != m_views.end()) return made->second;
    for (const ViewDefinition *v : allViews()) {
        if (id != QLatin1String(v->id)) continue;
        View *view = v->make(m_session, this);
        m_views[id] = view;
        m_stack->addWidget(view);
        connect(view, &View::stationWanted, this, &Shell::showStation);
        connect(view, &View::placeWanted, this, &Shell::showPlace);
        connect(view, &View::jobWanted, this, &Shell::getJob);
        const QString key = QStringLiteral("view/") + id;
        if (const QByteArray kept = m_settings.value(key).toByteArray(); !kept.isEmpty())
            view->keepFrom(kept);
        connect(view, &View::keptChanged, this,
                [this, view, key] { m_settings.setValue(key, view->kept()); });
        return view;
    }
    return nullptr;
}

void Shell::getJob(View::JobSource from) {
    switch (from) {
    case View::JobSource::file:
        return chooseJob();
    case View::JobSource::fresh:
        return newJob();
    case View::JobSource::demo:
        return openDemo();
    }
}

void Shell::attempt(const std::function<void()> &work) {
    try {
        work();
    } catch (const InputError &e) {
        m_notice->say(text(e.words()));
    } catch (const std::filesystem::filesystem_error &e) {
        m_notice->say(QString::fromUtf8(e.what()));
    }
}

void Shell::openPath(const QString &path) {
    openPaths({path});
}

// Files of one kind go to their station together; the others one by one.
void Shell::openPaths(const QStringList &paths) {
    std::map<QString, QStringList> ofView;
    for (const QString &path : paths) {
        const auto taker = std::ranges::find_if(allViews(), [&](const ViewDefinition *v) {
            return v->takesFile && v->takesFile(m_session, path);
        });
        if (taker == allViews().end())
            openOther(path);
        else
            ofView[QString::fromLatin1((*taker)->id)] << path;
    }
    for (const auto &[id, files] : ofView) {
        showStation(id);
        view(id)->takeFiles(files);
    }
}

void Shell::openOther(const QString &path) {
    const QString suffix = QFileInfo(path).suffix().toLower();
    if (suffix == QLatin1String("csv") || suffix == QLatin1String("tsv") || suffix == QLatin1String("txt")) {
        importTableFile(path);
        return;
    }
    if (suffix == QLatin1String("json")) {
        importJobDocument(path);
        return;
    }
    m_session.beginOpening(toPath(path));
}

void Shell::openDemo(const QString &name) {
    attempt([&] {
        const QString folder = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation);
        QDir().mkpath(folder);
        QFile source(QStringLiteral(":/demo/%1.json").arg(name));
        const QString document = folder + QStringLiteral("/%1.json").arg(name);
        QFile::remove(document);
        source.copy(document);
        const QString target = freeName(folder, name);
        const DemoLogs logs(name);
        const DemoRuns runs(name);
        m_session.importJob(toPath(document), toPath(target), logs.files(), runs.files());
        QFile::remove(document);
        remember(target);
    });
}

// On the demo: on another job its sentences would be of nothing.
void Shell::startTour() {
    m_help->hide();
    QFile demo(QStringLiteral(":/demo/thistle.json"));
    if (!demo.open(QIODevice::ReadOnly) || !m_session.beganAs(demo.readAll().toStdString())) openDemo();
    if (m_session.hasJob()) m_tour->start();
}

void Shell::showCautions() {
    m_cautions->show(m_session.hasJob() ? cautionsAt(m_session.job(), station().toStdString())
                                        : std::vector<const Caution *>());
}

void Shell::newJob() {
    NewJobDialog dialog(m_session, this);
    if (dialog.exec() != QDialog::Accepted) return;
    const QString path = QFileDialog::getSaveFileName(this, tr("Start a new job"),
                                                      text(dialog.job().name) + QStringLiteral(".wwjob"),
                                                      tr("Jobs (*.wwjob)"));
    if (path.isEmpty()) return;
    const QString name = path.endsWith(QStringLiteral(".wwjob")) ? path : path + QStringLiteral(".wwjob");
    attempt([&] {
        m_session.createJob(toPath(name), dialog.job());
        remember(name);
    });
}

void Shell::chooseJob() {
    const QString path =
        QFileDialog::getOpenFileName(this, tr("Open a job"), {}, tr("Jobs (*.wwjob);;All files (*)"));
    if (!path.isEmpty()) openPath(path);
}

void Shell::salvageJob() {
    const QString damaged = QFileDialog::getOpenFileName(this, tr("Read what is left of a damaged job"), {},
                                                         tr("Jobs (*.wwjob);;All files (*)"));
    if (damaged.isEmpty()) return;
    const QFileInfo info(damaged);
    const QString target = freeName(info.absolutePath(), info.completeBaseName() + tr(" salvaged"));
    m_session.beginSalvaging(toPath(damaged), toPath(target));
}

void Shell::importFile() {
    const QString path =
        QFileDialog::getOpenFileName(this, tr("Import"), {},
                                     tr("Tables, logs and jobs (*.csv *.tsv *.txt *.json *.log "
                                        "*.dat *.mf4 *.mdf);;All files (*)"));
    if (!path.isEmpty()) openPath(path);
}

void Shell::importTableFile(const QString &path) {
    if (!m_session.hasJob()) {
        m_notice->say(
            tr("%1 is a table. Open the job that it belongs to first.").arg(QFileInfo(path).fileName()));
        return;
    }
    if (m_session.frontIsBlend()) {
        m_notice->say(tr("Choose the table that %1 replaces: base or top, or one from the drawer, in Tables.")
                          .arg(QFileInfo(path).fileName()));
        return;
    }
    attempt([&] { m_session.importTable(toPath(path)); });
}

void Shell::importJobDocument(const QString &path) {
    attempt([&] {
        const QFileInfo info(path);
        const QString target = freeName(info.absolutePath(), info.completeBaseName());
        m_session.importJob(toPath(path), toPath(target));
        remember(target);
    });
}

void Shell::exportJob() {
    const QString path = QFileDialog::getSaveFileName(this, tr("Export the job"), {}, tr("JSON (*.json)"));
    if (!path.isEmpty()) attempt([&] { m_session.exportJob(toPath(path)); });
}

void Shell::exportTable() {
    const QString path =
        QFileDialog::getSaveFileName(this, tr("Export the table in front"), {}, tr("CSV (*.csv)"));
    if (!path.isEmpty()) attempt([&] { m_session.exportTable(toPath(path)); });
}

// Copy and paste act on whatever has the focus and knows how.
void Shell::toFocused(const char *slot) {
    const QByteArray signature = QByteArray(slot) + "()";
    for (QWidget *w = focusWidget(); w && w != this;
         w = w->parentWidget()) // a chart stands in what can copy it
        if (w->metaObject()->indexOfMethod(signature) >= 0) {
            QMetaObject::invokeMethod(w, slot);
            return;
        }
    statusBar()->showMessage(tr("Select a table, a chart or a text first."));
}

void Shell::goToWorst(double content) {
    const auto v = m_session.verdict();
    if (!v) return;
    const WorstAtContent worst = worstAt(*v, content);
    if (!worst.row) return;
    m_session.goTo({worst.place.content, worst.place.rpm, worst.place.loadKpa}, worst.row->check->tables);
    showStation(QStringLiteral("tables"));
    m_session.explain(worst.row->check->explain(v->study->evaluation(), worst.place));
    statusBar()->showMessage(tr("Worst at this content: %1").arg(text(worst.row->check->title)));
}

void Shell::toggleLine() {
    if (m_line->isVisible())
        m_line->hide();
    else if (m_session.hasJob())
        m_line->open();
}

void Shell::goToInput(const QString &link) {
    if (link.startsWith(QLatin1String("revision"))) return m_line->open(link.section(QLatin1Char(':'), 1));
    QStringList ids;
    for (const ViewDefinition *v : allViews())
        ids << QLatin1String(v->id);
    ids.sort(); // Flow before Job: what stands in both is changed where its effect is seen
    for (const QString &id : ids) {
        const QString before = station();
        showStation(id); // before, since a hidden field takes no focus
        if (view(id)->showInput(link)) return;
        showStation(before);
    }
}

QString Shell::stateWords() const {
    return m_state->text();
}

void Shell::refreshState() {
    m_title->setText(m_session.hasJob() ? text(m_session.job().name) : QStringLiteral("Wheelwright"));
    m_state->setText(m_session.stateText());
    setWindowTitle(m_session.hasJob() ? text(m_session.job().name) + QStringLiteral(" – Wheelwright")
                                      : QStringLiteral("Wheelwright"));
}

void Shell::refreshActions() {
    const bool job = m_session.hasJob();
    for (QAction *a : m_needJob)
        a->setEnabled(job);
    m_undo->setEnabled(m_session.undoStack().canUndo());
    m_redo->setEnabled(m_session.undoStack().canRedo());
    m_undo->setText(job && m_undo->isEnabled() ? tr("&Undo %1").arg(m_session.undoStack().undoText())
                                               : tr("&Undo"));
    m_redo->setText(job && m_redo->isEnabled() ? tr("&Redo %1").arg(m_session.undoStack().redoText())
                                               : tr("&Redo"));
    refreshPanel();
    m_rail->setJob(job);
    m_since->setVisible(job);
    if (!job) showStation(QStringLiteral("job"));
}

bool Shell::needsTheRoom() const {
    const QString front = station();
    const auto wide = [&](const ViewDefinition *v) { return v->wide && front == QLatin1String(v->id); };
    return width() < roomForThePanel || std::ranges::any_of(allViews(), wide);
}

// On a narrow window the tables need the room more than the panel does, unless it is asked for.
void Shell::refreshPanel() {
    const bool narrow = needsTheRoom();
    const bool wanted =
        narrow ? m_panelOnNarrow : m_settings.value(QStringLiteral("workingPanel"), true).toBool();
    m_working->setVisible(wanted && m_session.hasJob());
}

void Shell::togglePanel() {
    const bool show = !m_working->isVisible();
    if (needsTheRoom())
        m_panelOnNarrow = show;
    else
        m_settings.setValue(QStringLiteral("workingPanel"), show);
    refreshPanel();
}

bool Shell::eventFilter(QObject *watched, QEvent *event) {
    if (event->type() == QEvent::Show)
        if (auto *dialog = qobject_cast<QDialog *>(watched))
            fitDialog(*dialog, dialog->screen()->availableSize());
    return QMainWindow::eventFilter(watched, event);
}

void Shell::keyPressEvent(QKeyEvent *event) {
    if (event->key() == Qt::Key_Escape)
        m_notice->isVisible() ? m_notice->hide() : m_line->hide();
    else
        QMainWindow::keyPressEvent(event);
}

void Shell::resizeEvent(QResizeEvent *event) {
    QMainWindow::resizeEvent(event);
    refreshPanel();
}

void Shell::remember(const QString &path) {
    QStringList recent = m_settings.value(QStringLiteral("recent")).toStringList();
    const QString full = QFileInfo(path).absoluteFilePath();
    recent.removeAll(full);
    recent.prepend(full);
    constexpr int kept = 8;
    m_settings.setValue(QStringLiteral("recent"), QStringList(recent.mid(0, kept)));
    refreshRecent();
}

void Shell::refreshRecent() {
    m_recent->clear();
    for (const QString &path : m_settings.value(QStringLiteral("recent")).toStringList())
        if (QFileInfo::exists(path))
            addAction(m_recent,
                      QFileInfo(path).completeBaseName() + QStringLiteral("   ") +
                          QFileInfo(path).absolutePath(),
                      {}, [this, path] { openPath(path); });
    m_recent->setEnabled(!m_recent->isEmpty());
}

void Shell::setLook(const Look &look) {
    useTheme(look);
    m_settings.setValue(QStringLiteral("shopTheme"), look.shop);
    m_settings.setValue(QStringLiteral("highContrast"), look.contrast);
    m_settings.setValue(QStringLiteral("lessMotion"), look.still);
    m_session.setUnits(m_session.units()); // everything that holds colours in text is made anew
}

void Shell::restore() {
    if (m_settings.contains(QStringLiteral("geometry")))
        restoreGeometry(m_settings.value(QStringLiteral("geometry")).toByteArray());
    refreshRecent();
}

void Shell::closeEvent(QCloseEvent *event) {
    m_settings.setValue(QStringLiteral("geometry"), saveGeometry());
    m_help->close();
    QMainWindow::closeEvent(event);
}

void Shell::dragEnterEvent(QDragEnterEvent *event) {
    if (event->mimeData()->hasUrls()) event->acceptProposedAction();
}

void Shell::dropEvent(QDropEvent *event) {
    QStringList files;
    for (const QUrl &url : event->mimeData()->urls())
        if (url.isLocalFile()) files << url.toLocalFile();
    openPaths(files);
}

} // namespace wheelwright
