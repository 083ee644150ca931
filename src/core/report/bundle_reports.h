// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/ladder/bundle.h"
#include "core/report/report.h"

#include <string>
#include <vector>

namespace wheelwright {

/// What somebody far away does with a bundle: load, pour, pull, log, and send back. rung: nullptr: none.
Report bundleReport(const Job &job, const BundleHead &head, const Rung *rung);
/// The same in a line or two, to be sent beside it.
Phrase bundleMessage(const BundleHead &head, const Rung *rung);

/// All that came back, for a page.
struct CameBack {
    std::string job;
    std::string revision;                 ///< that it belongs to
    bool asked = false;                   ///< by what somebody said; else by its fingerprint
    bool goneOn = false;                  ///< the job has another calibration since
    std::vector<std::string> logs, known; ///< names of files: taken in, and there already
    ReadBack back;
    const Rung *rung = nullptr; ///< that is next
    const RungStatus *status = nullptr;

    RungLight light() const { return lightOf(back, status); }
};
Report cameBackReport(const CameBack &came);
/// The answer in a line or two: the light, why, and what to do next.
Phrase cameBackMessage(const CameBack &came);

} // namespace wheelwright
