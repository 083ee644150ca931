// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/lambda_delay.h"
#include "core/evidence/log_review.h"

#include <cstdint>
#include <memory>
#include <optional>
#include <span>
#include <stop_token>
#include <vector>

namespace wheelwright {

/// What one clean sample says of the fuel tables.
struct FuelSample {
    double rpm = 0, load = 0; ///< where the tables are read: load on the axis of the tables
    double loadKpa = 0;       ///< manifold pressure, absolute
    double content = 0;       ///< that the tables were read at, without the sensor's noise
    double error = 0;         ///< fuel needed over fuel given, less 1: over 0 it ran lean
    double timeS = 0;
    std::uint32_t log = 0;    ///< place in FuelSamples::logs
    bool supplyAtEnd = false; ///< injectors or rail could give no more: the tables are not to blame
};

/// Where the place of λ in time comes from.
enum class DelayBy {
    none,   ///< nobody has said it and the log does not: λ stands where it was read
    job,    ///< the job's limits
    log,    ///< found in the log
    stated, ///< one number for all, by whoever asked
};

struct FuelSampleOptions {
    std::optional<double> delayMs; ///< one delay of λ for all; empty: by the job, else by each log
};

/// The samples of several logs that say something of the fuel tables, and what became of each log.
struct FuelSamples {
    struct Log {
        LogInfo info;
        bool used = false;
        Phrase why; ///< it is not
        std::size_t samples = 0, supplyAtEnd = 0;
        DelayBy delay = DelayBy::none;
        bool trims = false;   ///< what a closed loop added is counted
        bool current = false; ///< it ran with the calibration as it is
    };
    std::vector<Log> logs;
    std::vector<FuelSample> samples; ///< of the logs that are used, by log, then by time
    std::size_t usedLogs() const;
};

/// needed/given = λ/λ_target · (1 + trim): Heywood (1988) section 3.4 for λ, the trim by what it means. Of a
/// log that ran with another calibration, of which the job still knows, what its tables gave counts against
/// what those of today would give. Left out, with the reason: logs of unsettled or unknown content, without
/// λ, or of tables that nobody knows any more. `now`: of the job as it is.
FuelSamples fuelSamples(const Study &now, std::span<const std::shared_ptr<const LogReview>> logs,
                        const FuelSampleOptions &options = {}, std::stop_token stop = {});

} // namespace wheelwright
