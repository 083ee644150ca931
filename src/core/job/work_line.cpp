// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/work_line.h"

#include "core/base/error.h"

#include <algorithm>
#include <map>
#include <string>

namespace wheelwright {
namespace {

// The part of a job that a revision keeps and everything else as it is now: what differs is the calibration.
std::optional<Job> jobOf(const Job &job, const WorkMark &mark, Phrase &problem) {
    if (!mark.revision) return job;
    try {
        return restored(job, job.revisions.values()[*mark.revision]);
    } catch (const InputError &e) {
        problem = e.words();
        return std::nullopt;
    }
}

class LineBuilder {
  public:
    LineBuilder(const Job &job, ChangesOf changes) : m_job(job), m_changes(changes) {}

    WorkLine build() {
        addRevisions();
        addNow();
        findParents();
        findLanes();
        findChanges();
        if (m_changes == ChangesOf::all) hangAll();
        return std::move(m_line);
    }

  private:
    void hangAll() {
        for (std::size_t i = 0; i < m_job.logs.size(); ++i) {
            const LogInfo &log = m_job.logs.values()[i];
            hang(i, log.revision, log.calibration, &WorkMark::logs, m_line.strayLogs);
        }
        for (std::size_t i = 0; i < m_job.runs.size(); ++i) {
            const Run &run = m_job.runs.values()[i];
            hang(i, run.revision, run.calibration, &WorkMark::runs, m_line.strayRuns);
        }
        for (std::size_t i = 0; i < m_job.ladderPassed.size(); ++i)
            hang(i, {}, m_job.ladderPassed.values()[i].calibration, &WorkMark::rungs, m_line.strayRungs);
    }

    void addRevisions() {
        const std::vector<Revision> &all = m_job.revisions.values();
        for (std::size_t i = 0; i < all.size(); ++i) {
            WorkMark mark;
            mark.revision = i;
            m_line.marks.push_back(std::move(mark));
            m_byName.emplace(all[i].name, i);
            if (m_changes == ChangesOf::all) // of two that are alike the first
                m_byPrint.emplace(calibrationPrint(all[i].state.text()), i);
        }
    }

    // Now is the revision that it was made from until something is changed.
    void addNow() {
        const Revision *from = currentRevision(m_job);
        const std::string print = calibrationPrint(stateOf(m_job));
        if (from && calibrationPrint(from->state.text()) == print) {
            m_line.marks[m_byName[from->name]].now = true;
            return;
        }
        WorkMark now;
        now.now = true;
        if (from) now.from = m_byName[from->name];
        m_byPrint.emplace(print, m_line.marks.size());
        m_line.marks.push_back(std::move(now));
    }

    void findParents() {
        for (WorkMark &mark : m_line.marks) {
            if (!mark.revision) continue;
            const auto parent = m_byName.find(m_job.revisions.values()[*mark.revision].parent);
            // A parent that stands later would be a circle: a file can say so, work cannot.
            if (parent != m_byName.end() && parent->second < *mark.revision) mark.from = parent->second;
        }
    }

    void findLanes() {
        std::vector<bool> onTheWay(m_line.marks.size());
        const auto now = std::ranges::find(m_line.marks, true, &WorkMark::now);
        for (std::optional<std::size_t> at = static_cast<std::size_t>(now - m_line.marks.begin()); at;
             at = m_line.marks[*at].from)
            onTheWay[*at] = true;
        std::vector<std::size_t> endsAt{0}; // of each lane its last mark
        for (std::size_t i = 0; i < m_line.marks.size(); ++i) {
            WorkMark &mark = m_line.marks[i];
            if (onTheWay[i]) continue;
            const bool goesOn = mark.from && m_line.marks[*mark.from].lane > 0 &&
                                endsAt[m_line.marks[*mark.from].lane] == *mark.from;
            mark.lane = goesOn ? m_line.marks[*mark.from].lane : freeLane(endsAt, i);
            endsAt.resize(std::max(endsAt.size(), mark.lane + 1));
            endsAt[mark.lane] = i;
        }
        m_line.lanes = endsAt.size();
    }

    // The first beside the way whose last mark nothing was made from later: there the line ends.
    std::size_t freeLane(const std::vector<std::size_t> &endsAt, std::size_t from) const {
        for (std::size_t lane = 1; lane < endsAt.size(); ++lane) {
            const auto later = std::ranges::find_if(
                m_line.marks.begin() + static_cast<std::ptrdiff_t>(from), m_line.marks.end(),
                [&](const WorkMark &m) { return m.from == endsAt[lane]; });
            if (later == m_line.marks.end()) return lane;
        }
        return endsAt.size();
    }

    void findChanges() {
        std::map<std::size_t, std::optional<Job>> jobs;
        std::map<std::size_t, Phrase> problems;
        const auto of = [&](std::size_t mark) -> const std::optional<Job> & {
            const auto [at, fresh] = jobs.try_emplace(mark);
            if (fresh) at->second = jobOf(m_job, m_line.marks[mark], problems[mark]);
            return at->second;
        };
        for (std::size_t i = 0; i < m_line.marks.size(); ++i) {
            WorkMark &mark = m_line.marks[i];
            if (!mark.from || (m_changes == ChangesOf::now && !mark.now)) continue;
            const std::optional<Job> &before = of(*mark.from), &after = of(i);
            if (before && after)
                mark.changed = differencesOf(*before, *after);
            else
                mark.unread = before ? problems[i] : problems[*mark.from];
        }
    }

    void hang(std::size_t what, const std::string &revision, const std::string &calibration,
              std::vector<std::size_t> WorkMark::*onto, std::vector<std::size_t> &stray) {
        const auto named = m_byName.find(revision);
        if (!revision.empty() && named != m_byName.end())
            return (m_line.marks[named->second].*onto).push_back(what);
        const auto printed = m_byPrint.find(calibration);
        if (!calibration.empty() && printed != m_byPrint.end())
            (m_line.marks[printed->second].*onto).push_back(what);
        else
            stray.push_back(what);
    }

    const Job &m_job;
    ChangesOf m_changes;
    WorkLine m_line;
    std::map<std::string, std::size_t> m_byName, m_byPrint; ///< places of marks
};

} // namespace

WorkLine workLineOf(const Job &job, ChangesOf changes) {
    return LineBuilder(job, changes).build();
}

std::vector<Difference> differencesBetween(const Job &job, std::optional<std::size_t> first,
                                           std::optional<std::size_t> second) {
    const auto of = [&](std::optional<std::size_t> place) {
        return place ? restored(job, job.revisions.values()[*place]) : job;
    };
    return differencesOf(of(first), of(second));
}

} // namespace wheelwright
