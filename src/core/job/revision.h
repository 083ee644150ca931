// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/job_change.h"

#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace wheelwright {

/// Everything that a controller's file holds, as text, exact: fields and curves of calibration, injectors,
/// spark, content sensor and limits, all tables, levels and other tables.
std::string stateOf(const Job &job);

/// The job with its calibration as it was in a state. What states do not hold (tank, shelf, notes, revisions)
/// stays. Throws InputError naming the revision's line.
Job restored(const Job &job, const Revision &revision);

/// Throws InputError naming the line when the text is no state: an unknown path, a value out of range.
void validateState(std::string_view state, const std::string &where);

/// A revision of the job as it is. Throws InputError for a name that stands already or is empty.
void keepRevision(Job &job, const std::string &name, const std::string &at, const std::string &note,
                  bool sent);

/// The one that the tables of now were made from; nullptr: nobody knows.
const Revision *currentRevision(const Job &job);

/// The job with its calibration as the revision at a place has it: the work goes on from there. Throws as
/// restored().
Job takenBack(const Job &job, std::size_t place);

/// Takes a revision away. What was made from it was then made from the one before it.
void removeRevision(Job &job, std::size_t place);

/// The fingerprint (calibrationPrint()) of what something ran with: a revision by its name, or, without one,
/// the calibration as it is, which is kept as a revision named after it, so that what ran can still be judged
/// when the tables have gone on. Throws InputError where there is no such revision.
std::string calibrationThatRan(Job &job, const std::string &revision, const std::string &what,
                               const std::string &at);

/// Finds what something ran with: the revision of its name, else the calibration as it is or the first
/// revision that holds it, where the fingerprint is theirs. Fingerprints are worked out when they are first
/// asked for. The job must outlive it, unchanged. For one thread at a time.
class RanWith {
  public:
    struct Found {
        bool known = false;                 ///< else it is gone
        const Revision *revision = nullptr; ///< none: the calibration as it is
    };

    explicit RanWith(const Job &job) : m_job(job) {}
    Found find(const std::string &revision, const std::string &calibration);

  private:
    const Job &m_job;
    std::string m_print;                            ///< of the calibration as it is; empty: not asked yet
    std::map<std::string, const Revision *> m_kept; ///< by fingerprint
};

/// The job with the calibration that something ran with, by RanWith. Empty where it is gone.
std::optional<Job> jobThatRan(const Job &job, const std::string &revision, const std::string &calibration);

/// Gives a revision another name, and whatever ran with it follows. Throws InputError as keepRevision().
void renameRevision(Job &job, std::size_t place, const std::string &name);

/// Whether a field or list must come back from a controller as it went.
bool isGuarded(std::string_view path);

/// One difference between two jobs, to be shown.
struct Difference {
    std::string path;
    Phrase title;
    Phrase before, after;      ///< as it is written in a file; of tables how many cells
    Phrase was, is;            ///< in words, for people; empty where `after` says all
    std::size_t cells = 0;     ///< of a table
    double worst = 0;          ///< largest step of a table, internal unit
    double rpm = 0, y = 0;     ///< of it
    std::size_t columns = 0;   ///< of a table with the same breakpoints
    std::vector<double> steps; ///< of its cells, in their order; 0: the same
    bool guarded = false;
};
std::vector<Difference> differencesOf(const Job &before, const Job &after);

} // namespace wheelwright
