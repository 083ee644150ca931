// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "store/job_store.h"

#include <functional>
#include <optional>
#include <string>

namespace wheelwright {

/// Changes an open job file: the window's and the command line's only way to write. An edit is worked out on
/// a copy, gets its origins, is checked, written as one transaction, and only then becomes the job. Errors
/// are InputError with a sentence; after one, file and job are as they were.
///
/// Another program may have written meanwhile, past the lock. Its change is taken in when it touches other
/// rows than ours; otherwise ours is refused.
class JobEditor {
  public:
    explicit JobEditor(JobStore store);

    const Job &job() const { return m_job; }
    const JobStore &store() const { return m_store; }
    JobStore release() && { return std::move(m_store); } ///< for another editor of the same file

    /// How an edit treats what it finds.
    struct Manner {
        /// Where the numbers of the cells that it changes come from; none: the edit says so itself.
        std::optional<CellOrigin> origin = CellOrigin::typed;
        /// Cells that are locked stay as they are.
        bool heedLocks = false;
    };
    /// What the edit would come to, checked; empty where nothing differs. Writes nothing.
    JobChange plan(const std::function<void(Job &)> &edit, Manner manner) const;

    /// Writes a change that was planned, or the reverse of one that was written, as one action. `at`: the
    /// time now, ISO 8601. Returns what others had written meanwhile and is part of the job now; mostly
    /// empty.
    JobChange write(const JobChange &change, const std::string &what, const std::string &at);

  private:
    JobStore m_store;
    Job m_job;
    bool m_othersWrote = false;
};

/// Whether a job holds everywhere what a change begins with, so that the change can be made, or be made
/// again.
bool beginsFrom(const Job &job, const JobChange &change);

} // namespace wheelwright
