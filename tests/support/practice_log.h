// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/log_review.h"
#include "core/practice/practice_run.h"

#include <memory>
#include <string>
#include <vector>

namespace wheelwright::testing {

/// A log of a practice engine in memory, as it would come out of its text: rounded, in the units of the
/// roles. Beside it the truth, row by row.
class PracticeLog {
  public:
    /// every: one row of so many of a hundred a second.
    PracticeLog(const Job &job, const HiddenEngine &engine, const PracticeScript &script, int every = 2,
                const std::vector<FaultSetting> &faults = {});
    PracticeLog(const Job &job, const HiddenEngine &engine, const std::string &script, int every = 2,
                const std::vector<FaultSetting> &faults = {});

    /// The job with this log in it, run with the calibration as it is.
    Job in(Job job, const std::string &id, const std::string &added = "2026-05-10T12:00:00Z") const;
    std::shared_ptr<const LogReview> review(const Job &job, const std::string &id) const;

    const std::vector<PracticeSample> &samples() const { return m_samples; }
    const std::vector<PracticeTruth> &truth() const { return m_truth; }
    const PracticeResult &result() const { return m_result; }

  private:
    double m_ambientKpa;
    std::vector<PracticeSample> m_samples;
    std::vector<PracticeTruth> m_truth;
    PracticeResult m_result;
};

/// The spark from which on the hottest cylinder of a hidden engine knocks, as its controller would command
/// it, at a λ and intake air. Cycles scatter: the first knock is heard a degree or two before it.
double hiddenKnockLimit(const Study &study, const HiddenEngine &engine, const OperatingPoint &at,
                        double lambda, double intakeC);

/// The role of a practice channel; none for those without.
ChannelRole roleOfPractice(std::string_view key);

} // namespace wheelwright::testing
