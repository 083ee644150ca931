// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/session.h"

#include "core/base/error.h"
#include "core/job/named_tables.h"
#include "core/study/cell_trust.h"
#include "core/study/load_axis.h"
#include "core/study/mechanical_lambda.h"
#include "core/tables/table_kind.h"
#include "formats/job_json.h"
#include "formats/log_csv.h"
#include "formats/log_import/log_import.h"
#include "formats/run_file.h"
#include "formats/table_csv.h"
#include "session/evidence.h"
#include "session/live_seat.h"
#include "session/run_book.h"
#include "session/training_room.h"
#include "session/words.h"
#include "session/work.h"
#include "store/file_bytes.h"
#include "store/job_editor.h"
#include "store/log_documents.h"
#include "store/log_intake_store.h"
#include "store/sample_store.h"

#include <QUndoCommand>

#include <algorithm>
#include <cmath>
#include <fstream>

namespace wheelwright {
namespace fs = std::filesystem;

/// A confirmed change. The file was written and the job changed before: the stack only keeps count.
class ChangeCommand : public QUndoCommand {
  public:
    ChangeCommand(JobChange change, const QString &what) : QUndoCommand(what), m_change(std::move(change)) {}
    const JobChange &change() const { return m_change; }

  private:
    JobChange m_change;
};

namespace {

// "calibration.spark.base row 17" is for files; in the window the table has a title.
QString inWindowWords(const InputError &e) {
    std::string where = e.where();
    const auto titled = [&](const std::string &path, const Phrase &title) {
        if (where.starts_with(path)) where.replace(0, path.size(), text(title).toStdString());
    };
    for (const TableField &t : allTables())
        titled(t.path, t.title);
    for (const CurveField &c : allCurves())
        titled(c.path, c.title);
    for (const Field &f : allFields())
        titled(f.path, f.title);
    return text(e.wordsAt(where));
}

// The errors of a document speak of places in it; the user also wants to know which document.
template <class Work>
auto naming(const fs::path &path, Work work) {
    try {
        return work();
    } catch (const InputError &e) {
        const std::string name = path.filename().string();
        if (e.where() == path.string()) throw InputError(name, e.expected(), e.found());
        throw InputError(name + ", " + e.where(), e.expected(), e.found());
    }
}

// With the map that its columns suggest.
TakenLog takeWhole(const JobStore &store, const fs::path &file, double ambientKpa) {
    const OpenFile bytes(file);
    const auto source = openLog(bytes);
    return takeLog(store, bytes, *source, suggestMap(source->layout()), {.ambientKpa = ambientKpa}, {});
}

} // namespace

TableEnd endOf(TableSide side) {
    return side == TableSide::base  ? TableEnd::low
           : side == TableSide::top ? TableEnd::high
                                    : TableEnd::blended;
}

/// A job file that was opened, or what could be read of a damaged one and where that goes.
struct Session::Opened {
    std::shared_ptr<JobStore> store;
    std::shared_ptr<const JobStore::Salvage> salvage;
    fs::path target;
};

Session::Session(Clock clock, QObject *parent)
    : QObject(parent), m_clock(std::move(clock)), m_none(newJob("")),
      m_study(std::make_shared<const Study>(m_none)),
      m_verdictWork(std::make_unique<Work<std::shared_ptr<const Verdict>>>()),
      m_opening(std::make_unique<Work<Opened>>(WorkSignals::Length::lengthy)),
      m_evidence(new Evidence(*this)), m_runBook(new RunBook(*this)), m_live(new LiveSeat(*this)),
      m_training(new TrainingRoom(*this)) {
    connect(m_opening.get(), &WorkSignals::finished, this, [this] { takeOpened(); });
    connect(m_evidence, &Evidence::coverageChanged, this, [this] {
        if (m_evidence->proof()) judge(); // with what the logs have proven
    });
    connect(m_verdictWork.get(), &WorkSignals::finished, this, [this] {
        if (const auto *verdict = m_verdictWork->result()) m_verdict = *verdict;
        if (!m_verdictWork->error().isEmpty()) emit problem(m_verdictWork->error());
        emit verdictChanged();
    });
}

Session::~Session() {
    leave();
}

const Job &Session::job() const {
    return m_editor ? m_editor->job() : m_none;
}

void Session::adopt(JobStore store) {
    m_opening->forget(); // another job is here already
    leave();
    m_editor = std::make_unique<JobEditor>(std::move(store));
    m_undo.clear();
    m_verdict.reset();
    m_explanation.reset();
    m_comparison.reset();
    m_savedAt = {};
    m_trouble.clear();
    m_extra.reset();
    // A mechanical engine runs on one fuel; a blended one is looked at halfway.
    m_content = job().control == FuelControl::mechanical
                    ? mechanicalContent(job())
                    : (job().calibration.baseContent + job().calibration.topContent) / 2;
    m_content = std::round(m_content * 100) / 100;
    const Table2D &t = table();
    m_cell = m_anchor = {t.x().size() * 2 / 3, t.y().size() * 2 / 3};
    m_kept.clear();
    renewStudy();
    refreshUnits();
    judge();
    emit jobReplaced();
    emit stateChanged();
    emit contentChanged();
    emit selectionChanged();
}

void Session::openJob(const fs::path &path) {
    if (isOpen(path)) return; // it is open here already; a second opener would find it locked
    adopt(JobStore::open(path));
}

bool Session::isOpen(const fs::path &path) const {
    std::error_code none; // a file that is not there is not open
    return m_editor && fs::equivalent(m_editor->store().path(), path, none);
}

// A connection may go from thread to thread, one after the other: it is used by one at a time.
void Session::beginOpening(const fs::path &path) {
    if (isOpen(path)) return emit jobOpened(QString::fromStdString(path.string()));
    m_opening->start(0, [path](const WorkControl &) {
        return Opened{std::make_shared<JobStore>(JobStore::open(path)), {}, {}};
    });
}

void Session::beginSalvaging(const fs::path &damaged, const fs::path &target) {
    m_opening->start(0, [damaged, target](const WorkControl &) {
        return Opened{nullptr, std::make_shared<JobStore::Salvage>(JobStore::salvage(damaged)), target};
    });
}

void Session::cancelOpening() {
    m_opening->forget();
}

WorkSignals &Session::opening() {
    return *m_opening;
}

void Session::takeOpened() {
    const QString error = m_opening->error();
    const Opened opened = m_opening->result() ? *m_opening->result() : Opened{};
    m_opening->forget();
    if (opened.salvage) return takeSalvaged(opened);
    if (!opened.store) return emit problem(error);
    const QString path = QString::fromStdString(opened.store->path().string());
    adopt(std::move(*opened.store));
    emit jobOpened(path);
}

// The new file is made only now: one that was cancelled has left nothing.
void Session::takeSalvaged(const Opened &opened) {
    try {
        createJob(opened.target, opened.salvage->job);
    } catch (const InputError &e) {
        return emit problem(text(e.words()));
    }
    QStringList lost;
    for (const Phrase &what : opened.salvage->lost)
        lost << text(what, m_units);
    emit jobOpened(QString::fromStdString(opened.target.string()));
    emit salvaged(lost);
}

void Session::createJob(const fs::path &path, const Job &job) {
    adopt(JobStore::create(path, job, m_clock().toUTC().toString(Qt::ISODate).toStdString()));
}

bool Session::beganAs(const std::string &document) const {
    if (!hasJob() || job().revisions.empty()) return false;
    const Job first = jobFromJson(document);
    return first.name == job().name && !first.revisions.empty() &&
           first.revisions[0].state == job().revisions[0].state;
}

void Session::importJob(const fs::path &document, const fs::path &target, const std::vector<LogFile> &logs,
                        const std::vector<RunsOfFile> &runs) {
    const Job job = naming(document, [&] { return jobFromJson(wheelwright::readFile(document)); });
    const auto at = m_clock().toUTC().toString(Qt::ISODate).toStdString();
    JobStore store = wheelwright::importJob(target, job, at, document, seriesFromCsv).store;
    if (logs.empty() && runs.empty()) return adopt(std::move(store));
    JobEditor editor(std::move(store));
    const JobChange all = editor.plan(
        [&](Job &with) {
            for (const LogFile &log : logs)
                naming(log.path, [&] {
                    const TakenLog taken = takeWhole(editor.store(), log.path, job.conditions.ambientKpa);
                    addLog(with, taken.summary,
                           {log.path.filename().string(), at, {}, log.content, log.note});
                });
            for (const RunsOfFile &file : runs) {
                RunFile found =
                    readRunFile(OpenFile(file.path), file.path.filename().string(), file.statement, {},
                                {job.conditions.ambientKpa, Study(job).fuelAt(0).stoichiometricAfr});
                found.statement.added = at;
                for (const std::string &id : addRuns(with, found.pulls, found.statement)) {
                    Run &run =
                        with.runs[static_cast<std::size_t>(runById(with, id) - with.runs.values().data())];
                    run.verdict = file.verdict;
                    run.next = file.next;
                }
            }
        },
        {});
    editor.write(all, tr("Bring in logs").toStdString(), at);
    adopt(std::move(editor).release());
}

void Session::exportJob(const fs::path &document) const {
    replaceFile(document, jobToJson(job()));
    if (hasJob()) exportLogs(path(), job(), document, seriesToCsv);
}

void Session::importTable(const fs::path &csv) {
    if (frontIsBlend())
        throw InputError(
            "import",
            MARKED("expected.table_of_its_own", "a table of its own in front: base, top, or another"),
            MARKED("found.what_the_engine_gets_now", "what the engine gets now"));
    const TableField field = frontField();
    TableImport imported = naming(csv, [&] {
        requireReadable(csv);
        std::ifstream file(csv, std::ios::binary);
        return tableFromCsv(readCsv(file), field);
    });
    const bool applied = perform(
        tr("Import %1").arg(text(field.title)), [&](Job &job) { frontIn(job) = std::move(imported.table); },
        CellOrigin::copied);
    if (applied && !imported.doubt.empty())
        emit problem(tr("%1 Undo takes the import back.").arg(text(imported.doubt)));
}

void Session::exportTable(const fs::path &csv) const {
    replaceFile(csv, tableToCsv(frontTable(), frontField()));
}

// What was removed, or imported by something that died, has no undo any more.
void Session::tidy() {
    if (!m_editor || readOnly()) return;
    try {
        tidySamples(m_editor->store(), job());
    } catch (const InputError &) {
        // It stays until the next time: the job itself is as it was saved.
    }
}

const JobStore *Session::store() const {
    return m_editor ? &m_editor->store() : nullptr;
}

void Session::leave() {
    if (!m_editor) return;
    emit jobLeaving();
    tidy();
}

void Session::closeJob() {
    leave();
    m_editor.reset();
    ++m_version;
    m_study = std::make_shared<const Study>(m_none);
    m_verdictWork->forget();
    m_opening->forget();
    m_undo.clear();
    m_extra.reset();
    m_cell = m_anchor = {};
    m_verdict.reset();
    m_comparison.reset();
    m_explanation.reset();
    m_trouble.clear();
    emit jobReplaced();
    emit stateChanged();
}

fs::path Session::path() const {
    return m_editor ? m_editor->store().path() : fs::path();
}
bool Session::readOnly() const {
    return m_editor && m_editor->store().readOnly();
}
bool Session::verdictSettled() const {
    return m_verdict && !verdictPending() && m_evidence->settled();
}

bool Session::verdictPending() const {
    return m_verdictWork->running();
}

QString Session::stateText() const {
    if (!m_editor) return tr("No job is open.");
    if (m_editor->store().readOnly()) return text(m_editor->store().whyReadOnly());
    if (!m_trouble.isEmpty()) return tr("The last change was NOT saved and has been taken back.");
    if (m_savedAt.isNull()) return tr("Saved. Nothing changed since opening.");
    return tr("Every change is saved. Last: %1.").arg(m_savedAt.toString(QStringLiteral("HH:mm:ss")));
}

bool Session::write(const JobChange &change, const QString &what, JobChange &theirs) {
    const QDateTime now = m_clock();
    try {
        theirs = m_editor->write(change, what.toStdString(), now.toUTC().toString(Qt::ISODate).toStdString());
        if (!theirs.empty())
            emit problem(
                tr("Another program had changed this job. Its change and yours are both in it now."));
    } catch (const InputError &e) {
        m_trouble = text(e.words());
        emit stateChanged();
        emit problem(m_trouble);
        return false;
    }
    m_trouble.clear();
    m_savedAt = now;
    emit stateChanged();
    return true;
}

bool Session::perform(const QString &what, const std::function<void(Job &)> &change,
                      std::optional<CellOrigin> how, bool heedLocks) {
    if (!m_editor) return false;
    JobChange step, theirs;
    try {
        step = m_editor->plan(change, {how, heedLocks});
    } catch (const InputError &e) {
        emit problem(inWindowWords(e));
        return false;
    }
    if (step.empty() || !write(step, what, theirs)) return false;
    m_undo.push(new ChangeCommand(step, what));
    show(theirs, step);
    emit done(what);
    return true;
}

void Session::stepHistory(bool forward) {
    const int index = m_undo.index() - (forward ? 0 : 1);
    const auto *command = dynamic_cast<const ChangeCommand *>(m_undo.command(index));
    if (!command) return;
    const QString what = (forward ? tr("Redo: %1") : tr("Undo: %1")).arg(command->text());
    const JobChange step = forward ? command->change() : reversed(command->change());
    JobChange theirs;
    if (!write(step, what, theirs)) return;
    forward ? m_undo.redo() : m_undo.undo();
    show(theirs, step);
    emit done(what);
}

void Session::undo() {
    if (m_undo.canUndo()) stepHistory(false);
}

void Session::redo() {
    if (m_undo.canRedo()) stepHistory(true);
}

void Session::renewStudy() {
    ++m_version;
    m_study = std::make_shared<const Study>(job());
}

void Session::judge() {
    m_verdictWork->start(m_version,
                         [study = m_study, proof = m_evidence->proof()](const WorkControl &control) {
                             return verify(study, proof ? *proof : Proof(), control.token());
                         });
}

// theirs: what another program had changed meanwhile and was taken in with the step.
void Session::show(const JobChange &theirs, const JobChange &step) {
    renewStudy();
    refreshUnits();
    holdExtra();
    holdCell();
    judge();
    if (!theirs.empty()) emit jobChanged(theirs);
    emit jobChanged(step);
}

QString Session::today() const {
    return m_clock().date().toString(Qt::ISODate);
}

QString Session::now() const {
    return m_clock().toUTC().toString(Qt::ISODate);
}

void Session::setContent(double content) {
    const double held = std::clamp(content, 0.0, 1.0);
    if (held == m_content) return;
    m_content = held;
    refreshUnits();
    holdCell(); // levels of content may have axes of their own
    emit contentChanged();
}

// Back into the table when its axes have become shorter.
void Session::holdCell() {
    std::erase_if(m_kept, [this](const CellIndex &i) {
        return i.x >= table().x().size() || i.y >= table().y().size();
    });
    if (m_anchor.x >= table().x().size() || m_anchor.y >= table().y().size() ||
        m_cell.x >= table().x().size() || m_cell.y >= table().y().size())
        setCell(m_cell);
}

const Table2D &Session::tableAt(TableSide side) const {
    return endTable(job(), m_quantity, m_content, side == TableSide::top);
}

const Table2D &Session::table() const {
    const ExtraTable *other = extra();
    return other ? other->table : tableAt(TableSide::base);
}

const ExtraTable *Session::extra() const {
    if (!m_extra) return nullptr;
    const std::size_t place = job().extras.placeOf(*m_extra);
    return place < job().extras.size() ? &job().extras[place] : nullptr;
}

// The rows of the tables of the quantity, or of the one that lies there, are loads of the engine.
bool Session::overEngine() const {
    const ExtraTable *other = extra();
    if (!other) return true;
    const TableKindDefinition &kind = definitionOf(other->kind);
    return kind.x.key == axes::engineSpeed.key && kind.y.key == axes::load.key;
}

OperatingPoint Session::place() const {
    const double ambient = job().conditions.ambientKpa;
    if (extra() && overEngine()) return {m_content, table().x()[m_cell.x], table().y()[m_cell.y]};
    const double rpm = extra() ? m_rpm : table().x()[m_cell.x], y = extra() ? m_y : table().y()[m_cell.y];
    return {m_content, rpm, m_quantity == CalibratedQuantity::boost ? ambient : loadOfAxis(job(), y)};
}

// The cursor stays where it was, as well as the axes allow.
void Session::standAt(double x, double y) {
    m_cell = m_anchor = {table().x().nearest(x), table().y().nearest(y)};
    m_kept.clear();
    m_keeping = false;
}

void Session::setExtra(RecordId id) {
    if (m_extra == id || job().extras.placeOf(id) >= job().extras.size()) return;
    const OperatingPoint here = place();
    if (!extra()) {
        m_rpm = table().x()[m_cell.x];
        m_y = table().y()[m_cell.y];
    }
    m_extra = id;
    if (overEngine())
        standAt(here.rpm, here.loadKpa);
    else
        standAt(table().x().first(), table().y().first());
    emit selectionChanged();
}

// The table may have gone, by undo too: then the quantity's lie there again.
void Session::holdExtra() {
    if (!m_extra || extra()) return;
    m_extra.reset();
    standAt(m_rpm, m_y);
    emit selectionChanged();
}

void Session::setQuantity(CalibratedQuantity quantity) {
    if (quantity == m_quantity && !extra()) return;
    double rpm = extra() ? m_rpm : table().x()[m_cell.x], y = extra() ? m_y : table().y()[m_cell.y];
    if (extra() && overEngine()) {
        rpm = table().x()[m_cell.x];
        if (quantity != CalibratedQuantity::boost) y = axisOfLoad(job(), table().y()[m_cell.y]);
    }
    m_extra.reset();
    m_quantity = quantity;
    standAt(rpm, y);
    emit selectionChanged();
}

void Session::setSide(TableSide side) {
    if (side == m_side) return;
    m_side = side;
    emit selectionChanged();
}

void Session::setCell(CellIndex cell, bool extend) {
    const CellIndex held{std::min(cell.x, table().x().size() - 1), std::min(cell.y, table().y().size() - 1)};
    const CellIndex anchor = extend ? m_anchor : held;
    if (held == m_cell && anchor == m_anchor && (extend || m_keeping || m_kept.empty())) return;
    if (!extend && !m_keeping) m_kept.clear();
    m_cell = held;
    m_anchor = anchor;
    emit selectionChanged();
}

CellRange Session::selection() const {
    return normalised({m_anchor, m_cell}, table());
}

Table2D Session::frontTable() const {
    if (extra()) return table();
    if (m_side == TableSide::now) return study().blended(m_quantity, m_content);
    return tableAt(m_side);
}

void Session::goTo(const OperatingPoint &at, CalibratedQuantity quantity) {
    setContent(at.content);
    m_extra.reset();
    m_quantity = quantity;
    const bool boost = quantity == CalibratedQuantity::boost;
    m_cell = m_anchor = {table().x().nearest(at.rpm),
                         boost ? table().y().size() - 1 : table().y().nearest(axisOfLoad(job(), at.loadKpa))};
    m_kept.clear();
    m_keeping = false;
    emit selectionChanged();
}

void Session::setUnits(UnitChoice units) {
    m_units = std::move(units);
    refreshUnits();
    emit unitsChanged();
}

void Session::refreshUnits() {
    m_units.ambientKpa = job().conditions.ambientKpa;
    m_units.methanol = job().alcohol == Alcohol::methanol;
    m_units.fuelStoichiometry = study().fuelAt(m_content).stoichiometricAfr;
}

void Session::explainNothing() {
    if (!m_explanation) return;
    m_explanation.reset();
    emit explanationChanged();
}

void Session::compare(std::optional<Comparison> comparison) {
    m_comparison = std::move(comparison);
    emit comparisonChanged();
}

void Session::explain(Explanation explanation) {
    m_explanation = std::move(explanation);
    emit explanationChanged();
}

} // namespace wheelwright
