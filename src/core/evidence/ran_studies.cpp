// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/evidence/ran_studies.h"

namespace wheelwright {

const RanStudies::Ran &RanStudies::of(const LogInfo &info) {
    const std::pair key(info.revision, info.calibration); // a revision that is gone says nothing
    if (const auto at = m_ran.find(key); at != m_ran.end()) return at->second;
    return m_ran.emplace(key, find(info)).first->second;
}

RanStudies::Ran RanStudies::find(const LogInfo &info) {
    const RanWith::Found found = m_ranWith.find(info.revision, info.calibration);
    if (!found.revision) return {m_now, found.known};
    return {std::make_shared<const Study>(restored(m_now->job(), *found.revision)), true};
}

} // namespace wheelwright
