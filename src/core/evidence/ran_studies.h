// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/logs.h"
#include "core/job/revision.h"
#include "core/study/study.h"

#include <map>
#include <memory>
#include <string>
#include <utility>

namespace wheelwright {

/// What the logs of one job ran with: of each calibration one study, made when it is first asked for. A
/// hundred logs of a job have some dozen calibrations. For one thread at a time.
class RanStudies {
  public:
    struct Ran {
        std::shared_ptr<const Study> study; ///< of the job as it is where the calibration is gone
        bool known = false;
    };

    /// now: of the job as it is.
    explicit RanStudies(std::shared_ptr<const Study> now) : m_now(std::move(now)), m_ranWith(m_now->job()) {}
    explicit RanStudies(const Job &job) : RanStudies(std::make_shared<const Study>(job)) {}

    const std::shared_ptr<const Study> &now() const { return m_now; }
    /// Throws InputError where the revision cannot be read.
    const Ran &of(const LogInfo &info);

  private:
    Ran find(const LogInfo &info);

    std::shared_ptr<const Study> m_now;
    RanWith m_ranWith;
    std::map<std::pair<std::string, std::string>, Ran> m_ran; ///< by revision and fingerprint
};

} // namespace wheelwright
