// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/ladder/ladder_status.h"
#include "support/practice_log.h"

#include <functional>
#include <string>
#include <vector>

namespace wheelwright::testing {

/// Somebody who does only what the ladder says, on an engine whose truth he does not know: looks, pours,
/// waits, confirms by tube, sets boost and cut, pulls, and does what the first gate that has not passed asks
/// for, by the proposals of the product. He stops where a gate says that a part has come to its end.
class LadderDriver {
  public:
    LadderDriver(Job job, HiddenEngine truth);

    /// Until the way down is next, or he cannot go on; so many steps at most.
    void climb(int mostSteps = 400);

    const Job &job() const { return m_job; }
    const HiddenEngine &truth() const { return m_truth; }
    bool destroyed() const { return !m_destroyedBy.empty(); }
    const std::string &destroyedBy() const { return m_destroyedBy; }
    bool atTop() const { return m_atTop; }
    /// The gate that ended it, or why the ladder does; empty: it did not.
    const std::string &endedBy() const { return m_endedBy; }
    const std::string &story() const { return m_story; } ///< a line a step
    /// Facts of all pulls so far, by the job as it is.
    LadderFacts facts() const;
    /// Highest duty of the last pulls, and least rail, as they really were.
    double lastDuty() const { return m_lastDuty; }

    /// Before a rung's first pull, and when it was passed.
    std::function<void(const LadderDriver &, const Ladder &, const Rung &)> beforeRung;
    std::function<void(const LadderDriver &, const Rung &, const RungPass &, const LadderFacts &)> passed;

  private:
    bool step();
    void retireLogs();
    std::string now();
    void say(const std::string &what);
    void doTank(const Rung &rung);
    void burn(double litres);
    void readTube();
    enum class Driving { light, shortPull, pull, waitAndPull };
    void drive(const Rung &rung, Driving how);
    bool remedy(const Rung &rung, const GateResult &first);
    std::vector<std::shared_ptr<const LogReview>> reviews() const;
    bool correctFuel(double content, bool allOfIt);
    bool takeSpark(double content);
    void takeSparkByHand(const Rung &rung);

    Job m_job;
    HiddenEngine m_truth;
    double m_trueVolumeL, m_trueContent;
    struct Kept {
        std::string id;
        std::shared_ptr<const LogReview> review;
    };
    std::vector<Kept> m_logs;       ///< of the calibration as it is
    std::vector<PullFacts> m_old;   ///< pulls of others
    std::optional<Ladder> m_ladder; ///< until something is poured, stated or passed
    int m_logNumber = 0, m_waits = 0, m_minutes = 0;
    bool m_atTop = false;
    std::string m_destroyedBy, m_endedBy, m_story, m_rung;
    double m_lastDuty = 0;
};

} // namespace wheelwright::testing
