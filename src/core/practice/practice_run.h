// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/practice/practice_script.h"

#include <functional>
#include <memory>
#include <stop_token>

namespace wheelwright {

/// Called for every row of the log, 100 a second.
using PracticeRowTaker = std::function<void(const PracticeSample &, const PracticeTruth &)>;

/// Somebody at the pedals of a practice engine who does one step after the other.
class PracticeDriver {
  public:
    /// Throws InputError for a truth or a fault that makes no sense.
    PracticeDriver(const Job &job, const HiddenEngine &truth, const std::vector<FaultSetting> &faults,
                   PracticeRowTaker row, std::stop_token stop = {});
    ~PracticeDriver();

    /// Tank, lines and temperatures as a script says that they are at its beginning.
    void fill(const PracticeScript &script);
    /// Does one thing to its end. Throws InputError for a step that cannot be done; rows before it have been
    /// given by then.
    void doStep(const PracticeStep &step);
    /// Foot off: the step under way ends where it is, a pull coasts down. To be called from within a row.
    void lift();
    /// The engine runs another calibration, or another state of it; what is in its tank stays. Throws
    /// InputError for a job that makes no sense.
    void load(const Job &job);
    const Job &job() const; ///< that it runs now
    bool over() const;      ///< stopped, or the engine was destroyed
    PracticeResult result() const;

  private:
    struct Driving;
    std::unique_ptr<Driving> m_driving;
};

/// Puts a practice engine through a script. It ends where the script ends, where the engine is destroyed, or
/// where it is stopped. Throws InputError naming the step that cannot be done ("step 3: litres: …").
PracticeResult runPractice(const Job &job, const HiddenEngine &truth, const std::vector<FaultSetting> &faults,
                           const PracticeScript &script, const PracticeRowTaker &row,
                           std::stop_token stop = {});

} // namespace wheelwright
