// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/job_editor.h"

#include "core/base/error.h"
#include "core/study/cell_trust.h"

namespace wheelwright {

namespace {

[[noreturn]] void refuseOverlap(const std::filesystem::path &path) {
    throw InputError(path.filename().string(), MARKED("expected.what_was_read_here", "what was read here"),
                     MARKED("found.another_program_has_changed_same",
                            "another program has changed the same meanwhile; open the job again to see it"));
}

} // namespace

JobEditor::JobEditor(JobStore store) : m_store(std::move(store)), m_job(m_store.read()) {}

JobChange JobEditor::plan(const std::function<void(Job &)> &edit, Manner manner) const {
    Job after = m_job;
    edit(after);
    if (manner.heedLocks) keepLocked(m_job, after);
    if (manner.origin) recordOrigins(m_job, after, *manner.origin);
    JobChange change = difference(m_job, after);
    if (!change.fields.empty() || !change.curves.empty()) {
        stateChanged(m_job, after, change);
        if (!after.stated.shares(m_job.stated)) change = difference(m_job, after);
    }
    if (!change.empty()) validateStep(m_job, after);
    return change;
}

JobChange JobEditor::write(const JobChange &change, const std::string &what, const std::string &at) {
    JobChange theirs;
    Job after = m_job;
    std::optional<std::int64_t> action;
    if (!m_store.readOnly() && m_store.writtenElsewhere()) {
        const JobStore::Reading found = m_store.readAgain();
        theirs = difference(m_job, found.job);
        after = found.job;
        if (overlap(theirs, change) || !beginsFrom(after, change)) refuseOverlap(m_store.path());
        apply(after, change);
        validate(after); // each was sound by itself
        action = found.lastAction;
    } else {
        // A step of the history that somebody else's change has overtaken.
        if (m_othersWrote && !beginsFrom(m_job, change)) refuseOverlap(m_store.path());
        apply(after, change);
    }
    m_store.commit(change, what, at, action); // one that fails has taken nothing in
    m_othersWrote = m_othersWrote || action.has_value();
    m_job = std::move(after);
    return theirs;
}

bool beginsFrom(const Job &job, const JobChange &change) {
    try {
        Job after = job;
        apply(after, change);
        return difference(job, after) == change;
    } catch (const InputError &) {
        return false; // a record or a cell that is not there
    }
}

} // namespace wheelwright
