// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/evidence/ran_studies.h"

#include "core/job/revision.h"

#include <algorithm>

namespace wheelwright {

const RanStudies::Ran &RanStudies::of(const LogInfo &info) {
    const std::pair key(info.revision, info.calibration); // a revision that is gone says nothing
    if (const auto at = m_ran.find(key); at != m_ran.end()) return at->second;
    return m_ran.emplace(key, find(info)).first->second;
}

RanStudies::Ran RanStudies::find(const LogInfo &info) {
    const Job &job = m_now->job();
    if (const Revision *r = revisionOf(info)) return {std::make_shared<const Study>(restored(job, *r)), true};
    return {m_now, info.calibration == m_print};
}

// As jobThatRan() has it: the revision by its name; else the calibration as it is; else one that is kept.
const Revision *RanStudies::revisionOf(const LogInfo &info) {
    const auto &revisions = m_now->job().revisions.values();
    if (!info.revision.empty())
        if (const auto at = std::ranges::find(revisions, info.revision, &Revision::name);
            at != revisions.end())
            return &*at;
    if (m_print.empty()) {
        m_print = calibrationPrint(stateOf(m_now->job()));
        for (std::size_t i = 0; i < revisions.size(); ++i)
            m_kept.emplace(calibrationPrint(revisions[i].state.text()), i);
    }
    const auto kept = m_kept.find(info.calibration);
    return info.calibration == m_print || kept == m_kept.end() ? nullptr : &revisions[kept->second];
}

} // namespace wheelwright
