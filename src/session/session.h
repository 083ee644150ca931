// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/explanation.h"
#include "core/base/operating_point.h"
#include "core/job/job_change.h"
#include "core/runs/run_intake.h"
#include "core/study/cell_trust.h"
#include "core/tables/region_edit.h"
#include "core/verify/verdict.h"

#include <QDateTime>
#include <QObject>
#include <QString>
#include <QUndoStack>

#include <cstdint>
#include <filesystem>
#include <functional>
#include <memory>
#include <optional>

namespace wheelwright {

class Evidence;
class JobEditor;
class JobStore;
class LiveSeat;
class RunBook;
class TrainingRoom;
template <class T>
class Work;
class WorkSignals;

/// Which of the three tables of the quantity stands in front.
enum class TableSide { base, now, top };
TableEnd endOf(TableSide side);

/// The open job and what is looked at. Every change of the job goes through perform(), undo() or redo(): each
/// is one transaction of the job file, made before anything in memory changes, so that a failed one leaves
/// all as it was.
class Session : public QObject {
    Q_OBJECT
  public:
    using Clock = std::function<QDateTime()>;
    explicit Session(Clock clock, QObject *parent = nullptr);
    ~Session() override;

    // The job. open, create and import throw InputError and leave the open job alone when they do.
    bool hasJob() const { return m_editor != nullptr; }
    const Job &job() const;
    /// Another for every job and every change of one: what was worked out for an older one is stale.
    std::uint64_t jobVersion() const { return m_version; }
    /// What follows from this version of the job; shared with whoever works beside the window's thread.
    const Study &study() const { return *m_study; }
    std::shared_ptr<const Study> sharedStudy() const { return m_study; }
    void openJob(const std::filesystem::path &path);
    /// The same beside the window's thread: what is open stays until the other is there (jobOpened) or could
    /// not be read (problem). The newest request wins; cancelOpening() forgets it.
    void beginOpening(const std::filesystem::path &path);
    void cancelOpening();
    WorkSignals &opening();
    /// Reads what can be read of a damaged file, as opening does, and makes a new job of it: jobOpened(),
    /// then salvaged(). The damaged file stays as it is.
    void beginSalvaging(const std::filesystem::path &damaged, const std::filesystem::path &target);
    void createJob(const std::filesystem::path &path, const Job &job);
    /// logs: files that belong to it and come in with it, and what is known of each.
    struct LogFile {
        std::filesystem::path path;
        std::optional<double> content;
        std::string note;
    };
    /// runs: the same of files of runs, each with what is said of it.
    struct RunsOfFile {
        std::filesystem::path path;
        RunStatement statement;
        std::string verdict, next;
    };
    void importJob(const std::filesystem::path &document, const std::filesystem::path &target,
                   const std::vector<LogFile> &logs = {}, const std::vector<RunsOfFile> &runs = {});
    void exportJob(const std::filesystem::path &document) const;
    /// Whether the open job is the one of a document, whatever was done to it since: its name and its first
    /// revision.
    bool beganAs(const std::string &document) const;
    /// The table in front becomes what a file holds; not of a blend, which two tables could make.
    void importTable(const std::filesystem::path &csv);
    void exportTable(const std::filesystem::path &csv) const;
    void closeJob();
    std::filesystem::path path() const;
    /// Where samples of logs go; nullptr without a job. Valid until jobLeaving().
    const JobStore *store() const;
    bool readOnly() const;
    QString stateText() const; ///< whether all is saved, in words

    /// Changes a copy of the job, checks it, writes the difference as one transaction, then shows it. False
    /// when nothing came of it; the reason goes out as problem(). A change that changes nothing is quietly
    /// false.
    /// how: where the numbers of the cells that it changes come from; none: the change says so itself.
    bool perform(const QString &what, const std::function<void(Job &)> &change,
                 std::optional<CellOrigin> how = CellOrigin::typed, bool heedLocks = false);
    void undo();
    void redo();
    QUndoStack &undoStack() { return m_undo; }

    // What is looked at.
    double content() const { return m_content; }
    void setContent(double content); ///< held to 0–1
    CalibratedQuantity quantity() const { return m_quantity; }
    /// Puts its tables on the bench.
    void setQuantity(CalibratedQuantity quantity);
    /// The other table of the controller that lies on the bench instead; nullptr: the quantity's lie there.
    const ExtraTable *extra() const;
    std::optional<RecordId> extraId() const { return m_extra; }
    void setExtra(RecordId id); ///< nothing happens where the job has no such table
    TableSide side() const { return m_side; }
    void setSide(TableSide side);
    CellIndex cell() const { return m_cell; }
    CellRange selection() const; ///< from the anchor to the cell
    void setCell(CellIndex cell,
                 bool extend = false); ///< held to the base table; without extend the selection is the cell
    /// Selections of any shape: what is selected stays while the cursor goes on, until it is forgotten.
    void keepSelection();
    void forgetKept();            ///< the cursor's cell alone
    void addCell(CellIndex cell); ///< takes it out when it is selected already
    bool hasKept() const { return !m_kept.empty(); }
    CellSet chosenCells() const; ///< all of them, in the order of a CellSet
    /// Selects the cells of the table in front that answer a search such as "> 22 above 180 kPa".
    bool selectWhere(const QString &query);
    /// Looks at the cells nearest to a place. The quantity may be changed with it.
    void goTo(const OperatingPoint &at, CalibratedQuantity quantity);
    /// The breakpoints of another table nearest to a cell, or to the selected cells.
    CellIndex inFront(const Table2D &front, CellIndex cell) const;
    CellSet chosenIn(const Table2D &front) const;
    TableField frontField() const; ///< name, unit, range and axes of the table in front
    Table2D frontTable() const;    ///< what the table in front shows
    /// What the engine gets of both tables of the quantity is in front, rather than a table of its own.
    bool frontIsBlend() const { return !m_extra && m_side == TableSide::now; }
    /// The table in front as the job calls it; of a blend both ends.
    std::vector<std::string> frontPaths() const;
    Table2D &frontIn(Job &job) const;             ///< not of a blend
    const Table2D &tableAt(TableSide side) const; ///< base: the low end at the content, top: the high end
    const Table2D &
    table() const; ///< the base table, or the other table on the bench: its axes are the cursor's
    /// Where on the engine the cursor stands, or stood before it went to a table over something else than
    /// speed and load. A boost target stands at no load: then it is the ambient pressure.
    OperatingPoint place() const;

    QString today() const; ///< date by the session's clock, ISO 8601
    QString now() const;   ///< date and time, UTC, ISO 8601

    const UnitChoice &units() const { return m_units; }
    void setUnits(UnitChoice units); ///< ambient and fuel stoichiometry are filled in from the job

    /// Last verdict that was worked out; empty before the first. Current when not verdictPending().
    std::shared_ptr<const Verdict> verdict() const { return m_verdict; }
    bool verdictPending() const;
    /// The verdict is of the job as it is and of all that its logs say: no other is on its way.
    bool verdictSettled() const;

    /// Two calibrations of the line of work that the tables show the difference of: names of revisions.
    struct Comparison {
        std::string first;  ///< what the other is held against
        std::string second; ///< empty: now
        bool operator==(const Comparison &) const = default;
    };
    const std::optional<Comparison> &comparison() const { return m_comparison; }
    void compare(std::optional<Comparison> comparison); ///< none: the tables show what they did before
    /// The tables show numbers that are not those of the job as it is: nothing of them can be edited.
    bool looksBack() const { return m_comparison && !m_comparison->second.empty(); }

    const std::optional<Explanation> &explanation() const { return m_explanation; }
    void explain(Explanation explanation);
    void explainNothing();

    /// What the logs of the job say.
    Evidence &evidence() { return *m_evidence; }
    /// Its live engine.
    LiveSeat &live() { return *m_live; }
    /// Where one practises.
    TrainingRoom &training() { return *m_training; }
    /// Its runs.
    RunBook &runBook() { return *m_runBook; }

    void report(const QString &problem) { emit this->problem(problem); }

  signals:
    void jobLeaving();                        ///< the open one will be closed
    void jobReplaced();                       ///< another job, or none
    void jobOpened(const QString &path);      ///< that beginOpening() was asked for
    void salvaged(const QStringList &lost);   ///< what of it could not be read, and what stands there now
    void jobChanged(const JobChange &change); ///< the open job differs, by this
    void stateChanged();                      ///< stateText()
    void contentChanged();
    void selectionChanged(); ///< quantity, side or cell
    void unitsChanged();
    void verdictChanged();
    void explanationChanged();
    void comparisonChanged();
    void problem(QString sentence);
    void done(QString sentence); ///< what the last action did

  private:
    friend class ChangeCommand;
    struct Opened;
    void adopt(JobStore store);
    void takeOpened();
    void takeSalvaged(const Opened &opened);
    void leave();
    void tidy();
    bool isOpen(const std::filesystem::path &path) const;
    bool write(const JobChange &change, const QString &what, JobChange &theirs);
    void show(const JobChange &theirs, const JobChange &step);
    void renewStudy();
    void refreshUnits();
    void judge();
    void holdCell();
    void holdExtra();
    void standAt(double x, double y);
    bool overEngine() const;
    void stepHistory(bool forward);

    Clock m_clock;
    std::unique_ptr<JobEditor> m_editor;
    Job m_none; ///< while no job is open
    std::shared_ptr<const Study> m_study;
    QUndoStack m_undo;
    std::unique_ptr<Work<std::shared_ptr<const Verdict>>> m_verdictWork;
    std::unique_ptr<Work<Opened>> m_opening;
    std::uint64_t m_version = 0;
    std::shared_ptr<const Verdict> m_verdict;
    double m_content = 0;
    CalibratedQuantity m_quantity = CalibratedQuantity::spark;
    TableSide m_side = TableSide::now;
    std::optional<RecordId> m_extra;
    double m_rpm = 0, m_y = 0; ///< where the cursor stood in the tables of the quantity
    CellIndex m_cell, m_anchor;
    CellSet m_kept;         ///< selected beside the rectangle of anchor and cell
    bool m_keeping = false; ///< it stays when the cursor moves
    UnitChoice m_units;
    std::optional<Comparison> m_comparison;
    std::optional<Explanation> m_explanation;
    QDateTime m_savedAt;
    Evidence *m_evidence;     ///< a child
    RunBook *m_runBook;       ///< a child
    LiveSeat *m_live;         ///< a child
    TrainingRoom *m_training; ///< a child
    QString m_trouble;        ///< why the last write failed; empty when it did not
};

} // namespace wheelwright
